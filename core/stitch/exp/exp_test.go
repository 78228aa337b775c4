package exp_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/stitch"
	"chalkstep/core/stitch/exp"
)

func TestPairsAndCommandsAreRead(t *testing.T) {
	for name, c := range map[string]struct {
		bytes []byte
		want  []stitch.Move
	}{
		"a stitch right and up":  {[]byte{5, 7}, []stitch.Move{{X: 5, Y: 7}}},
		"a stitch left and down": {[]byte{0xFB, 0x81}, []stitch.Move{{X: -5, Y: -127}}},
		"a jump, then a stitch from there": {[]byte{0x80, 4, 100, 0, 1, 1},
			[]stitch.Move{{X: 100, Kind: stitch.Jump}, {X: 101, Y: 1}}},
		"a trim whose pair is no move": {[]byte{1, 1, 0x80, 0x80, 7, 0, 1, 1},
			[]stitch.Move{{X: 1, Y: 1}, {X: 1, Y: 1, Kind: stitch.Trim}, {X: 2, Y: 2}}},
		"a change that moves": {[]byte{1, 1, 0x80, 1, 9, 0, 1, 1},
			[]stitch.Move{{X: 1, Y: 1}, {X: 10, Y: 1, Kind: stitch.Change}, {X: 11, Y: 2}}},
		"a stitch of −128": {[]byte{0x80, 2, 0x80, 0x80}, []stitch.Move{{X: -128, Y: -128}}},
	} {
		t.Run(name, func(t *testing.T) {
			p, err := exp.Decode(c.bytes)
			require.NoError(t, err)
			assert.Equal(t, c.want, p.Moves)
			assert.Empty(t, p.Warnings)
		})
	}
}

func TestWhatIsWrittenIsWhatTheFormatSays(t *testing.T) {
	data, err := exp.Encode(
		&stitch.Pattern{Moves: []stitch.Move{{X: 10, Y: -3}, {X: 10, Y: -3, Kind: stitch.Trim},
			{X: 40, Y: -3, Kind: stitch.Jump}, {X: 40, Y: -3, Kind: stitch.Change}, {X: 200, Y: -3}}})
	require.NoError(t, err)
	assert.Equal(t, []byte{10, 0xFD, 0x80, 0x80, 7, 0, 0x80, 4, 30, 0, 0x80, 1, 0, 0, 0x80, 4, 80, 0, 80, 0}, data,
		"160 is more than a pair holds: a jump, then the stitch")
}

func TestAStitchToTheVeryLeftIsNotTheEscape(t *testing.T) {
	data, err := exp.Encode(&stitch.Pattern{Moves: []stitch.Move{{X: -128, Y: 0}}})
	require.NoError(t, err)
	back, err := exp.Decode(data)
	require.NoError(t, err)
	assert.Equal(t, int32(-128), back.Moves[len(back.Moves)-1].X)
	assert.Equal(t, stitch.Stitch, back.Moves[len(back.Moves)-1].Kind)
}
