// Package jef reads and writes .jef stitch files: a little-endian header with
// the offset of the stitches, the extents and a palette index for each
// colour, then pairs of signed bytes, y up, with 0x80 as the escape.
package jef

import (
	"bytes"
	"encoding/binary"
	"fmt"

	"chalkstep/core/stitch"
)

const (
	escape    = 0x80
	cmdChange = 0x01
	cmdJump   = 0x02
	cmdEnd    = 0x10
	maxMove   = 127
	cmdBytes  = 4

	colorCountAt = 24
	// colorsAt is where the palette indices begin: behind offset, flags,
	// date, two bytes, counts, hoop code and five blocks of extents.
	colorsAt   = 116
	threadType = 0x0D
	mostColors = 1000
)

func init() {
	stitch.Register(stitch.Format{Name: "jef", HasColors: true, Decode: Decode, Encode: Encode})
}

// palette approximates the first colours of the format's table; the rest of
// it shows as grey.
var palette = stitch.PaletteOf(`
	#000000 #ffffff #ffff11 #ff6600 #335533 #227733 #66bbcc #aa5599 #ff6699 #ff0000 #bb7755 #113388
	#ddbb66 #442200 #aa99cc #ffee99 #ff99bb #ffbb88 #ccaa88 #990033 #99bbcc #77bb22 #dddddd #889999
`)

func wrong(offset int, expected, found string) error {
	return &stitch.FormatError{Format: "jef", Offset: offset, Expected: expected, Found: found}
}

// Decode reads a .jef file. The offset of the stitches is trusted, the
// counts are not.
func Decode(data []byte) (*stitch.Pattern, error) {
	if len(data) < colorsAt {
		return nil, wrong(len(data), fmt.Sprintf("a header of %d bytes", colorsAt), "the end of the file")
	}
	start := int64(binary.LittleEndian.Uint32(data))
	if start < colorsAt || start > int64(len(data)) {
		return nil, wrong(0, "the offset of the stitches, inside the file and behind its header", fmt.Sprint(start))
	}
	count := int64(binary.LittleEndian.Uint32(data[colorCountAt:]))
	if count < 1 || count > mostColors {
		return nil, wrong(colorCountAt, fmt.Sprintf("a number of colours from 1 to %d", mostColors), fmt.Sprint(count))
	}
	b := stitch.NewBuilder((len(data) - int(start)) / 2)
	at, err := stitches(b, data, int(start))
	if err != nil {
		return nil, err
	}
	colors := make([]int, 0, min(count, (start-colorsAt)/4))
	for i := range cap(colors) {
		colors = append(colors, int(int32(binary.LittleEndian.Uint32(data[colorsAt+4*i:]))))
	}
	b.IndexColors(palette, colors)
	return b.Finish("jef", at)
}

// stitches reads the stream up to its end mark and returns where that is.
func stitches(b *stitch.Builder, data []byte, at int) (int, error) {
	for at+2 <= len(data) {
		took, within := b.Pairs(data[at:], escape)
		if at += took; !within {
			return at, fmt.Errorf("at byte %d: %w", at, b.Err())
		}
		if took > 0 {
			continue
		}
		command := data[at+1]
		if command == cmdEnd {
			return at, nil
		}
		if at+cmdBytes > len(data) {
			break
		}
		kind, pair := stitch.Stitch, at+2
		switch command {
		case cmdChange:
			kind = stitch.Change
		case cmdJump:
			kind = stitch.Jump
			if data[pair] == 0 && data[pair+1] == 0 {
				kind = stitch.Trim
			}
		default:
			return at, wrong(at+1, "the command of a change, jump or end (01, 02 or 10)", fmt.Sprintf("0x%02X", command))
		}
		if !b.Add(kind, int32(int8(data[pair])), int32(int8(data[pair+1]))) {
			return at, fmt.Errorf("at byte %d: %w", at, b.Err())
		}
		if kind == stitch.Change {
			b.Halt()
		}
		at += cmdBytes
	}
	b.Warn("The file ends without an end mark: it may be cut off.")
	return at, nil
}

// Encode writes a .jef file. A jump that goes nowhere would be a trim, so it
// is left out; moves longer than 12.7 mm are split into jumps.
func Encode(p *stitch.Pattern) ([]byte, error) {
	indices := p.RunColors(palette)
	if len(indices) > mostColors {
		return nil, stitch.ErrTooManyColors("jef", len(indices), mostColors)
	}
	stream := encodeStitches(p)
	start := colorsAt + 8*len(indices)
	var out bytes.Buffer
	put := func(values ...int32) {
		for _, v := range values {
			out.Write(binary.LittleEndian.AppendUint32(nil, uint32(v)))
		}
	}
	put(int32(start), 0x14)
	// A date is asked for; a fixed one keeps the same design the same file.
	out.WriteString("20000101000000\x00\x00")
	left, bottom, right, top, _ := stitch.Extent(p.Moves)
	halfX, halfY := (right-left+1)/2, (top-bottom+1)/2
	put(int32(len(indices)), int32(len(stream)/2), hoopCode(halfX, halfY), halfX, halfY, halfX, halfY)
	for _, h := range standardHoops {
		if halfX <= h.halfX && halfY <= h.halfY {
			put(h.halfX-halfX, h.halfY-halfY, h.halfX-halfX, h.halfY-halfY)
		} else {
			put(-1, -1, -1, -1)
		}
	}
	for _, index := range indices {
		put(int32(index))
	}
	for range indices {
		put(threadType)
	}
	out.Write(stream)
	return out.Bytes(), nil
}

// standardHoops are half the fields of the hoops the header speaks of, in
// tenths of a millimetre.
var standardHoops = []struct{ code, halfX, halfY int32 }{{1, 250, 250}, {0, 550, 550}, {2, 700, 1000}, {3, 630, 550}}

// hoopCode is the smallest standard hoop that fits, or the largest.
func hoopCode(halfX, halfY int32) int32 {
	for _, h := range standardHoops {
		if halfX <= h.halfX && halfY <= h.halfY {
			return h.code
		}
	}
	return 2
}

func encodeStitches(p *stitch.Pattern) []byte {
	var out []byte
	var x, y int32
	for _, m := range p.Moves {
		if m.Kind == stitch.Trim {
			out = append(out, escape, cmdJump, 0, 0)
			continue
		}
		dx, dy := m.X-x, m.Y-y
		for steps := stitch.Hops(dx, dy, maxMove); steps > 1; steps-- {
			stepX, stepY := dx/steps, dy/steps
			out = append(out, escape, cmdJump, byte(stepX), byte(stepY))
			x, y = x+stepX, y+stepY
			dx, dy = m.X-x, m.Y-y
		}
		switch m.Kind {
		case stitch.Jump:
			if dx == 0 && dy == 0 {
				continue
			}
			out = append(out, escape, cmdJump)
		case stitch.Change:
			out = append(out, escape, cmdChange)
		}
		out = append(out, byte(dx), byte(dy))
		x, y = m.X, m.Y
	}
	return append(out, escape, cmdEnd)
}
