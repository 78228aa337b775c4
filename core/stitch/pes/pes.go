// Package pes reads and writes .pes stitch files. Everything that is needed
// stands in the file's stitch block, so versions 1 to 6 are read alike; files
// are written as version 1 with no object section. Thread colours are indices
// into a table of the machine's own; x runs right and y down.
package pes

import "chalkstep/core/stitch"

// Offsets inside the stitch block.
const (
	nameAt     = 3
	nameBytes  = 16
	colorsAt   = 48
	sectionAt  = 512
	stitchesAt = 532
)

// Marks in the stitch stream.
const (
	endMark    = 0xFF
	changeMark = 0xFE
	changeByte = 0xB0
	longBit    = 0x80
	jumpFlag   = 0x10
	trimFlag   = 0x20
)

// maxLong is the largest move of two bytes along an axis.
const maxLong = 2047

// Thumbnails are drawn one bit a dot.
const (
	thumbWidth  = 48
	thumbHeight = 38
	thumbBytes  = thumbWidth / 8 * thumbHeight
)

const mostColors = 256

func init() {
	stitch.Register(stitch.Format{Name: "pes", Magic: "#PES", HasColors: true, Decode: Decode, Encode: Encode})
}

// palette approximates the format's table: good enough to tell threads
// apart on a drawing, not to match them.
var palette = stitch.PaletteOf(`
	#112277 #1155aa #008877 #4466aa #ee1122 #cc5500 #993399 #dd99cc #9966aa #99dd77 #eeaa00 #ffbb33
	#ffff00 #77bb22 #bb9900 #aaaaaa #776600 #ffffbb #555555 #000000 #114499 #770077 #223333 #221100
	#ff4488 #bb7722 #ffbbcc #ff3311 #eeeeee #662288 #aaddcc #2288bb #ffbb44 #ffee66 #ccaa66 #cc5511
	#66bb44 #114444 #888888 #ddcccc #445500 #ffdddd #ff99bb #003322 #bbaadd #6666bb #eeddbb #ff3366
	#bb4466 #113311 #cc0055 #ff9933 #aaddee #006644 #552299 #337722 #ffcccc #ffdd11 #0055aa #eeff77
	#ddee55 #ff9900 #ffee88 #ffccbb
`)
