package design_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/design"
	"chalkstep/core/stitch"
	_ "chalkstep/core/stitch/dst"
	_ "chalkstep/core/stitch/pes"
	"chalkstep/core/stitch/stitchtest"
)

// A machine gets the file that came in its format, or the drawn one converted
// and in the threads that were chosen.
func TestTheFileAMachineGets(t *testing.T) {
	p := &stitch.Pattern{Moves: []stitch.Move{{X: 0, Y: 0}}}
	stitchtest.Line(p, 300, 100, 30)
	p.Moves = append(p.Moves, stitch.Move{X: 300, Y: 100, Kind: stitch.Change})
	stitchtest.Line(p, 0, 100, 30)
	data, err := stitch.Encode("oar.dst", p)
	require.NoError(t, err)
	green, red := stitch.RGB{G: 0x80}, stitch.RGB{R: 0xb5}
	d := design.Design{Stops: []design.Stop{{Color: green}, {Color: red}}}
	drawn, exp := design.Original{Format: "dst", Name: "oar.dst", Data: data},
		design.Original{Format: "exp", Name: "oar.exp", Data: []byte("as it came")}
	files := []design.Original{drawn, exp}

	asCame, err := d.As(files, "exp")
	require.NoError(t, err)
	assert.Equal(t, exp, asCame)

	converted, err := d.As(files, "pes")
	require.NoError(t, err)
	assert.Equal(t, "oar.pes", converted.Name)
	read, _, err := stitch.Decode(converted.Name, converted.Data)
	require.NoError(t, err)
	require.Len(t, read.Colors, 2)
	upright := stitch.Analyse(read)

	turned, err := d.Turned(files, "dst")
	require.NoError(t, err)
	read, _, err = stitch.Decode(turned.Name, turned.Data)
	require.NoError(t, err)
	quarter := stitch.Analyse(read)
	assert.InDelta(t, upright.WidthMM, quarter.HeightMM, 0.2)
	assert.InDelta(t, upright.HeightMM, quarter.WidthMM, 0.2)

	_, err = d.As(nil, "dst")
	assert.ErrorContains(t, err, "there is no file")
	_, err = d.As([]design.Original{{Format: "dst", Name: "oar.dst", Data: []byte("no stitches")}}, "pes")
	assert.Error(t, err)
}
