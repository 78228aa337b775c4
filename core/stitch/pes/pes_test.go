package pes_test

import (
	"bytes"
	"encoding/binary"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/stitch"
	"chalkstep/core/stitch/pes"
)

// file puts a stitch stream into a block with two colours, for any version.
func file(version string, stream ...byte) []byte {
	block := bytes.Repeat([]byte{' '}, 532)
	copy(block, "LA:Crab            \r")
	block[48], block[49], block[50] = 1, 5, 20
	head := []byte("#PES" + version)
	// Versions after the first have an object section before the block.
	objects := bytes.Repeat([]byte{0xAB}, 40)
	head = binary.LittleEndian.AppendUint32(head, uint32(12+len(objects)))
	return append(append(append(head, objects...), block...), stream...)
}

func TestTheStreamIsReadByteByByte(t *testing.T) {
	for name, c := range map[string]struct {
		stream []byte
		want   []stitch.Move
	}{
		"short moves, y down":      {[]byte{5, 0x7D}, []stitch.Move{{X: 5, Y: 3}}},
		"the shortest and longest": {[]byte{0x40, 0x3F}, []stitch.Move{{X: -64, Y: -63}}},
		"a long x and a short y":   {[]byte{0x80, 100, 1}, []stitch.Move{{X: 100, Y: -1}}},
		"a long way back":          {[]byte{0x8F, 0x9C, 0x8F, 0xFF}, []stitch.Move{{X: -100, Y: 1}}},
		"a jump":                   {[]byte{0x90, 200, 0x90, 10}, []stitch.Move{{X: 200, Y: -10, Kind: stitch.Jump}}},
		"a trim, then its jump": {[]byte{0xA0, 200, 0xA0, 10},
			[]stitch.Move{{Kind: stitch.Trim}, {X: 200, Y: -10, Kind: stitch.Jump}}},
		"a change that stays put": {[]byte{1, 0, 0xFE, 0xB0, 2}, []stitch.Move{{X: 1}, {X: 1, Kind: stitch.Change}}},
	} {
		t.Run(name, func(t *testing.T) {
			p, err := pes.Decode(file("0001", append(c.stream, 1, 1, 0xFF)...))
			require.NoError(t, err)
			assert.Equal(t, c.want, p.Moves[:len(c.want)])
			assert.Empty(t, p.Warnings)
			assert.Equal(t, "Crab", p.Name)
		})
	}
}

func TestVersionsOneToSixAreReadAlike(t *testing.T) {
	for _, version := range []string{"0001", "0020", "0030", "0040", "0050", "0060"} {
		p, err := pes.Decode(file(version, 5, 5, 0xFE, 0xB0, 2, 7, 7, 0xFF))
		require.NoError(t, err, version)
		require.Len(t, p.Colors, 2)
		assert.Greater(t, p.Colors[0].R, uint8(200), "thread 5 is a red")
		assert.Equal(t, "#000000", p.Colors[1].String(), "thread 20 is black")
	}
}

func TestWhatIsNotOneIsNamed(t *testing.T) {
	lost := file("0001", 5, 5, 0xFF)
	binary.LittleEndian.PutUint32(lost[8:], 1<<30)
	for says, data := range map[string][]byte{
		`at byte 0 expected "#PES"`:                              []byte("#PEC0001"),
		"at byte 8 expected the offset of a stitch block":        lost,
		"expected a coordinate, a change or the end, found 0xC1": file("0001", 0xC1, 0, 0xFF),
		"expected 0xB0 after 0xFE":                               file("0001", 0xFE, 0x11, 2, 0xFF),
		"expected at least one stitch":                           file("0001", 0xFF),
	} {
		_, err := pes.Decode(data)
		assert.ErrorContains(t, err, says)
	}
}

func TestAWrittenFileHasTheLayoutOfVersionOne(t *testing.T) {
	data, err := pes.Encode(
		&stitch.Pattern{Name: "Buoy",
			Moves: []stitch.Move{{X: 0}, {X: 100, Y: 50}, {X: 100, Y: 50, Kind: stitch.Change}, {X: 20, Y: 10}}})
	require.NoError(t, err)
	assert.Equal(t, "#PES0001", string(data[:8]))
	block := data[binary.LittleEndian.Uint32(data[8:]):]
	assert.Equal(t, "LA:Buoy            \r", string(block[:20]))
	assert.Equal(t, byte(1), block[48], "two colours")
	length := int(block[514]) | int(block[515])<<8 | int(block[516])<<16
	assert.Equal(t, []byte{0x31, 0xFF, 0xF0, 100, 0, 50, 0, 0xE0, 1, 0xB0, 1}, block[517:528])
	assert.Equal(t, 3*228, len(block)-512-length, "a picture of 48 × 38 dots for each colour and one for all")
	assert.Equal(t, byte(0xFF), block[512+length-2])
}
