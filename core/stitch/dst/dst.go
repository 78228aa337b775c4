// Package dst reads and writes .dst stitch files: a 512-byte text header and
// three-byte records of moves up to 12.1 mm. The format holds no colours and
// has no trim command; three or more jumps in a row are one trim.
package dst

import "chalkstep/core/stitch"

const (
	headerBytes = 512
	recordBytes = 3
	// The design's name stands in the header after LA:.
	nameFrom, nameTo = 3, 19
	// maxMove is the largest move of one record along an axis, in tenths of a millimetre.
	maxMove = 121
	// trimJumps is how many jumps in a row count as a trim.
	trimJumps = 3
)

// What the third byte of a record holds besides its part of the move.
const (
	markMask   = 0xC3
	markStitch = 0x03
	markJump   = 0x83
	markChange = 0xC3
	endByte    = 0xF3
)

func init() {
	stitch.Register(stitch.Format{Name: "dst", Magic: "LA:", Decode: Decode, Encode: Encode})
}

// axisBit is a bit of a record and the part of the move it stands for.
type axisBit struct {
	index int
	bit   byte
	x, y  int32
}

// axisBits in the order in which Encode takes them: largest part first.
var axisBits = []axisBit{
	{2, 0x04, 81, 0}, {2, 0x08, -81, 0}, {2, 0x20, 0, 81}, {2, 0x10, 0, -81},
	{1, 0x04, 27, 0}, {1, 0x08, -27, 0}, {1, 0x20, 0, 27}, {1, 0x10, 0, -27},
	{0, 0x04, 9, 0}, {0, 0x08, -9, 0}, {0, 0x20, 0, 9}, {0, 0x10, 0, -9},
	{1, 0x01, 3, 0}, {1, 0x02, -3, 0}, {1, 0x80, 0, 3}, {1, 0x40, 0, -3},
	{0, 0x01, 1, 0}, {0, 0x02, -1, 0}, {0, 0x80, 0, 1}, {0, 0x40, 0, -1},
}

// moveOf holds the move of every value of each of a record's three bytes, so
// that reading a record is three look-ups.
var moveOf = func() (table [recordBytes][256]struct{ x, y int32 }) {
	for _, part := range axisBits {
		for value := range 256 {
			if byte(value)&part.bit != 0 {
				table[part.index][value].x += part.x
				table[part.index][value].y += part.y
			}
		}
	}
	return table
}()
