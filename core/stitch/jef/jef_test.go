package jef_test

import (
	"encoding/binary"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/stitch"
	"chalkstep/core/stitch/jef"
)

// file puts a stream behind a header of two colours.
func file(stream ...byte) []byte {
	head := make([]byte, 116+16)
	binary.LittleEndian.PutUint32(head, uint32(len(head)))
	binary.LittleEndian.PutUint32(head[4:], 0x14)
	binary.LittleEndian.PutUint32(head[24:], 2)
	binary.LittleEndian.PutUint32(head[116:], 10)
	binary.LittleEndian.PutUint32(head[120:], 2)
	return append(head, stream...)
}

func TestTheStreamIsReadByteByByte(t *testing.T) {
	p, err := jef.Decode(file(5, 7, 0x80, 2, 0x9C, 0, 0x80, 2, 0, 0, 1, 1, 0x80, 1, 3, 0, 2, 0xFF, 0x80, 0x10))
	require.NoError(t, err)
	assert.Equal(t, []stitch.Move{
		{X: 5, Y: 7}, {X: -95, Y: 7, Kind: stitch.Jump}, {X: -95, Y: 7, Kind: stitch.Trim}, {X: -94, Y: 8},
		{X: -91, Y: 8, Kind: stitch.Change}, {X: -89, Y: 7},
	}, p.Moves)
	assert.Equal(t, []stitch.RGB{{R: 255}, {R: 255, G: 255, B: 255}}, p.Colors)
	assert.Empty(t, p.Warnings)
}

func TestWhatIsNotOneIsNamed(t *testing.T) {
	noColors, lost := file(1, 1), file(1, 1)
	binary.LittleEndian.PutUint32(noColors[24:], 0)
	binary.LittleEndian.PutUint32(lost, 1<<31)
	for says, data := range map[string][]byte{
		"expected a header of 116 bytes":                []byte("short"),
		"at byte 24 expected a number of colours":       noColors,
		"at byte 0 expected the offset of the stitches": lost,
		"expected the command of a change, jump or end": file(0x80, 0x55, 0, 0),
		"expected at least one stitch":                  file(0x80, 0x10),
	} {
		_, err := jef.Decode(data)
		assert.ErrorContains(t, err, says)
	}
}

func TestTheHeaderSaysWhereAndHowLarge(t *testing.T) {
	data, err := jef.Encode(
		&stitch.Pattern{Moves: []stitch.Move{{X: -300, Y: 100}, {X: 300, Y: -100}, {X: 300, Y: -100, Kind: stitch.Change},
			{X: 0, Y: 0}}})
	require.NoError(t, err)
	number := func(at int) int32 { return int32(binary.LittleEndian.Uint32(data[at:])) }
	assert.Equal(t, int32(116+16), number(0))
	assert.Equal(t, int32(2), number(24))
	assert.Equal(t, []int32{300, 100, 300, 100}, []int32{number(36), number(40), number(44), number(48)})
	assert.Equal(t, int32(0), number(32), "60 mm wide: too wide for the smallest standard hoop")
	assert.Equal(t, int32(-1), number(52), "so it does not fit there")
	assert.Equal(t, int32(250), number(68), "and has room in the next")
	assert.Equal(t, []byte{0x80, 0x10}, data[len(data)-2:])
}
