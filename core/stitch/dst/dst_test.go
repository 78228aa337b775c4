package dst_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/stitch"
	"chalkstep/core/stitch/dst"
)

// file puts records behind a minimal header.
func file(records ...byte) []byte {
	return append([]byte("LA:"+strings.Repeat(" ", 509)), records...)
}

func TestRecordsAreReadBitByBit(t *testing.T) {
	for name, c := range map[string]struct {
		record [3]byte
		want   stitch.Move
	}{
		"one right":               {[3]byte{0x01, 0, 0x03}, stitch.Move{X: 1}},
		"one up":                  {[3]byte{0x80, 0, 0x03}, stitch.Move{Y: 1}},
		"nine left, nine down":    {[3]byte{0x18, 0, 0x03}, stitch.Move{X: -9, Y: -9}},
		"as far as it goes":       {[3]byte{0x05 | 0x50, 0x05 | 0x50, 0x07 | 0x10}, stitch.Move{X: 121, Y: -121}},
		"a jump of 81 down":       {[3]byte{0, 0, 0x93}, stitch.Move{Y: -81, Kind: stitch.Jump}},
		"a change with its move":  {[3]byte{0x02, 0, 0xC3}, stitch.Move{X: -1, Kind: stitch.Change}},
		"27 right and 3 up by 30": {[3]byte{0, 0x84, 0x03}, stitch.Move{X: 27, Y: 3}},
	} {
		t.Run(name, func(t *testing.T) {
			p, err := dst.Decode(file(append(c.record[:], 0, 0, 0x03, 0, 0, 0xF3)...))
			require.NoError(t, err)
			assert.Equal(t, c.want, p.Moves[0])
			assert.Empty(t, p.Warnings)
		})
	}
}

func TestThreeJumpsAreOneTrim(t *testing.T) {
	jump, sewn, end := []byte{1, 0, 0x83}, []byte{1, 0, 0x03}, []byte{0, 0, 0xF3}
	for jumps, trims := range map[int]int{0: 0, 1: 0, 2: 0, 3: 1, 4: 1, 7: 1} {
		records := append([]byte{}, sewn...)
		for range jumps {
			records = append(records, jump...)
		}
		p, err := dst.Decode(file(append(append(records, sewn...), end...)...))
		require.NoError(t, err)
		a := stitch.Analyse(p)
		assert.Equal(t, trims, a.Trims, "%d jumps", jumps)
		assert.Equal(t, jumps, a.Jumps)
	}
}

func TestHeaderSaysWhatTheRecordsDo(t *testing.T) {
	data, err := dst.Encode(
		&stitch.Pattern{Name: "Buoy",
			Moves: []stitch.Move{{X: 100, Y: -20}, {X: 100, Y: -20, Kind: stitch.Change}, {X: -30, Y: 50}}})
	require.NoError(t, err)
	header := string(data[:512])
	// 100 right is one record; 130 left is two, as a record reaches 121.
	for _, field := range []string{"LA:Buoy            \r", "ST:      5\r", "CO:  1\r", "+X:  100\r", "-X:   30\r",
		"+Y:   50\r", "-Y:   20\r", "AX:-   30\r", "AY:+   50\r", "PD:******\r\x1a"} {
		assert.Contains(t, header, field)
	}
	assert.True(t, strings.HasSuffix(header, "  "), "padded with spaces")
}

func TestNamesInFilesAreUntrusted(t *testing.T) {
	data := file(1, 0, 3, 0, 0, 0xF3)
	copy(data[3:], "\x07<b>\x00Crab\xff")
	p, err := dst.Decode(data)
	require.NoError(t, err)
	assert.Equal(t, "<b>Crab", p.Name)
}
