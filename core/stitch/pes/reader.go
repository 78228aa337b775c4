package pes

import (
	"bytes"
	"encoding/binary"
	"fmt"

	"chalkstep/core/stitch"
)

func wrong(offset int, expected, found string) error {
	return &stitch.FormatError{Format: "pes", Offset: offset, Expected: expected, Found: found}
}

// Decode reads a .pes file through its stitch block.
func Decode(data []byte) (*stitch.Pattern, error) {
	const prefix = 12
	if !bytes.HasPrefix(data, []byte("#PES")) {
		return nil, wrong(0, `"#PES"`, fmt.Sprintf("%q", data[:min(len(data), 8)]))
	}
	if len(data) < prefix {
		return nil, wrong(len(data), "the offset of the stitch block", "the end of the file")
	}
	block := int64(binary.LittleEndian.Uint32(data[8:]))
	if block < prefix || block+stitchesAt >= int64(len(data)) {
		return nil, wrong(8, "the offset of a stitch block inside the file", fmt.Sprint(block))
	}
	start := int(block)
	r := reader{data: data, at: start + stitchesAt, b: stitch.NewBuilder((len(data)-start-stitchesAt)/2 + 1)}
	r.b.Pattern.Name = blockName(data[start:])
	if err := r.stitches(); err != nil {
		return nil, err
	}
	indices := data[start+colorsAt+1 : start+sectionAt]
	colors := make([]int, min(int(data[start+colorsAt])+1, len(indices)))
	for i := range colors {
		colors[i] = int(indices[i])
	}
	r.b.IndexColors(palette, colors)
	return r.b.Finish("pes", r.at)
}

// blockName is the untrusted name after LA:.
func blockName(block []byte) string {
	if !bytes.HasPrefix(block, []byte("LA:")) {
		return ""
	}
	return stitch.Printable(block[nameAt : nameAt+nameBytes])
}

type reader struct {
	data []byte
	at   int
	b    *stitch.Builder
}

// stitches reads the stream up to its end mark.
func (r *reader) stitches() error {
	data := r.data
	for r.at < len(data) {
		at := r.at
		first := data[at]
		if first < longBit && at+1 < len(data) && data[at+1] < longBit {
			took, within := r.b.ShortPairs(data[at:])
			if r.at += took; !within {
				return fmt.Errorf("at byte %d: %w", r.at, r.b.Err())
			}
			continue
		}
		switch first {
		case endMark:
			return nil
		case changeMark:
			if at+3 > len(data) {
				r.at = len(data)
				continue
			}
			if data[at+1] != changeByte {
				return wrong(at+1, "0xB0 after 0xFE", fmt.Sprintf("0x%02X", data[at+1]))
			}
			if !r.b.Add(stitch.Change, 0, 0) {
				return fmt.Errorf("at byte %d: %w", at, r.b.Err())
			}
			r.b.Halt()
			r.at += 3
			continue
		}
		if err := r.long(); err != nil {
			return err
		}
	}
	r.b.Warn("The file ends without an end mark: it may be cut off.")
	return nil
}

// long reads a move of which at least one coordinate has two bytes.
func (r *reader) long() error {
	at := r.at
	dx, flagsX, ok, err := r.coordinate()
	if err != nil || !ok {
		return err
	}
	dy, flagsY, ok, err := r.coordinate()
	if err != nil || !ok {
		return err
	}
	kind, added := stitch.Stitch, true
	flags := flagsX | flagsY
	if flags&(jumpFlag|trimFlag) != 0 {
		kind = stitch.Jump
	}
	if flags&trimFlag != 0 {
		added = r.b.Add(stitch.Trim, 0, 0)
	}
	if !added || !r.b.Add(kind, dx, -dy) {
		return fmt.Errorf("at byte %d: %w", at, r.b.Err())
	}
	return nil
}

// coordinate reads one; ok is false when the file ends inside it.
func (r *reader) coordinate() (value int32, flags byte, ok bool, err error) {
	if r.at >= len(r.data) {
		return 0, 0, false, nil
	}
	first := r.data[r.at]
	if first < longBit {
		r.at++
		return short(first), 0, true, nil
	}
	if first&0x40 != 0 {
		return 0, 0, false, wrong(r.at, "a coordinate, a change or the end", fmt.Sprintf("0x%02X", first))
	}
	if r.at+1 >= len(r.data) {
		r.at = len(r.data)
		return 0, 0, false, nil
	}
	value = int32(first&0x0F)<<8 | int32(r.data[r.at+1])
	if value > maxLong {
		value -= 4096
	}
	r.at += 2
	return value, first & (jumpFlag | trimFlag), true, nil
}

// short is a 7-bit two's complement coordinate.
func short(b byte) int32 { return int32(int8(b<<1)) >> 1 }
