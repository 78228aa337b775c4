package pes

import (
	"bytes"
	"encoding/binary"

	"chalkstep/core/stitch"
)

// Encode writes a .pes file of version 1 with no object section. A trim is
// written with the move after it; moves longer than 204.7 mm are split into
// jumps, so that no penetration is added.
func Encode(p *stitch.Pattern) ([]byte, error) {
	indices := p.RunColors(palette)
	if len(indices) > mostColors {
		return nil, stitch.ErrTooManyColors("pes", len(indices), mostColors)
	}
	var out bytes.Buffer
	const prefix = 22
	out.WriteString("#PES0001")
	out.Write(binary.LittleEndian.AppendUint32(nil, prefix))
	out.Write(make([]byte, prefix-out.Len()))
	out.Write(blockHeader(p, indices))
	stream := encodeStitches(p)
	out.Write(section(p, stream))
	out.Write(stream)
	for range len(indices) + 1 {
		out.Write(thumbnail(p))
	}
	return out.Bytes(), nil
}

// blockHeader is the first 512 bytes of the stitch block.
func blockHeader(p *stitch.Pattern, indices []int) []byte {
	header := bytes.Repeat([]byte{' '}, sectionAt)
	copy(header, "LA:")
	copy(header[nameAt:nameAt+nameBytes], stitch.Printable([]byte(p.Name)))
	header[nameAt+nameBytes] = '\r'
	header[34], header[35] = thumbWidth/8, thumbHeight
	header[colorsAt] = byte(len(indices) - 1)
	for i, index := range indices {
		header[colorsAt+1+i] = byte(index)
	}
	return header
}

// section is what stands between the block's header and its stitches.
func section(p *stitch.Pattern, stream []byte) []byte {
	left, bottom, right, top, _ := stitch.Extent(p.Moves)
	length := stitchesAt - sectionAt + len(stream)
	s := []byte{0, 0, byte(length), byte(length >> 8), byte(length >> 16), 0x31, 0xFF, 0xF0}
	for _, n := range []int32{right - left, top - bottom, 0x01E0, 0x01B0, 0, 0} {
		s = binary.LittleEndian.AppendUint16(s, uint16(n))
	}
	return s
}

func encodeStitches(p *stitch.Pattern) []byte {
	var out []byte
	var x, y int32
	flags, second := byte(0), false
	for _, m := range p.Moves {
		if m.Kind == stitch.Trim {
			flags |= trimFlag
			continue
		}
		if m.Kind != stitch.Jump && flags != 0 {
			// The trim asks for a jump; one that goes nowhere will do.
			out = appendLong(appendLong(out, 0, flags), 0, flags)
			flags = 0
		}
		dx, dy := m.X-x, y-m.Y
		for steps := stitch.Hops(dx, dy, maxLong); steps > 1 || m.Kind == stitch.Change &&
			(dx != 0 || dy != 0); steps = stitch.Hops(dx, dy, maxLong) {
			stepX, stepY := dx/steps, dy/steps
			out = appendLong(appendLong(out, stepX, jumpFlag|flags), stepY, jumpFlag|flags)
			x, y, flags = x+stepX, y-stepY, 0
			dx, dy = m.X-x, y-m.Y
		}
		switch m.Kind {
		case stitch.Stitch:
			out = appendCoordinate(appendCoordinate(out, dx), dy)
		case stitch.Jump:
			kind := byte(jumpFlag)
			if flags != 0 {
				kind = flags
			}
			out = appendLong(appendLong(out, dx, kind), dy, kind)
			flags = 0
		case stitch.Change:
			// The byte after the mark goes 2, 1, 2, 1.
			out = append(out, changeMark, changeByte, byte(2-b2i(second)))
			second = !second
		}
		x, y = m.X, m.Y
	}
	if flags != 0 {
		out = appendLong(appendLong(out, 0, flags), 0, flags)
	}
	return append(out, endMark, 0)
}

func b2i(b bool) int {
	if b {
		return 1
	}
	return 0
}

func appendCoordinate(out []byte, v int32) []byte {
	if v >= -64 && v <= 63 {
		return append(out, byte(v)&0x7F)
	}
	return appendLong(out, v, 0)
}

func appendLong(out []byte, v int32, flags byte) []byte {
	return append(out, longBit|flags|byte(v>>8)&0x0F, byte(v))
}

// thumbnail is the small picture the machine's screen shows: the frame of a
// card with the design's penetrations in it.
func thumbnail(p *stitch.Pattern) []byte {
	bits := make([]byte, thumbBytes)
	dot := func(x, y int) { bits[y*thumbWidth/8+x/8] |= 1 << (x % 8) }
	for x := 1; x < thumbWidth-1; x++ {
		dot(x, 0)
		dot(x, thumbHeight-1)
	}
	for y := 1; y < thumbHeight-1; y++ {
		dot(0, y)
		dot(thumbWidth-1, y)
	}
	const margin = 4
	left, bottom, right, top, ok := stitch.Extent(p.Moves)
	if !ok {
		return bits
	}
	scale := min(float64(thumbWidth-2*margin)/float64(max(1, right-left)),
		float64(thumbHeight-2*margin)/float64(max(1, top-bottom)))
	for _, m := range p.Moves {
		if m.Kind == stitch.Stitch {
			x := thumbWidth/2 + (float64(m.X)-float64(left+right)/2)*scale
			y := thumbHeight/2 - (float64(m.Y)-float64(bottom+top)/2)*scale
			dot(int(x), int(y))
		}
	}
	return bits
}
