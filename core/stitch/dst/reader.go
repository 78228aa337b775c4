package dst

import (
	"bytes"
	"fmt"

	"chalkstep/core/stitch"
)

// Decode reads a .dst file. Headers in the wild lie, so only the design's
// name is taken from it; everything else comes from the records.
func Decode(data []byte) (*stitch.Pattern, error) {
	if !bytes.HasPrefix(data, []byte("LA:")) {
		return nil, &stitch.FormatError{Format: "dst", Offset: 0, Expected: `"LA:"`, Found: quoteStart(data)}
	}
	if len(data) < headerBytes+recordBytes {
		return nil, &stitch.FormatError{Format: "dst", Offset: len(data), Expected: "a header of 512 bytes and a stitch",
			Found: "the end of the file"}
	}
	records := (len(data) - headerBytes) / recordBytes
	b := stitch.NewBuilder(records + records/trimJumps)
	b.Pattern.Name = stitch.Printable(data[nameFrom:nameTo])

	jumps, ended, at := 0, false, headerBytes
	for ; at+recordBytes <= len(data); at += recordBytes {
		mark := data[at+2]
		if mark == endByte {
			ended = true
			break
		}
		first, second, third := &moveOf[0][data[at]], &moveOf[1][data[at+1]], &moveOf[2][mark]
		dx, dy := first.x+second.x+third.x, first.y+second.y+third.y
		var kind stitch.Kind
		switch mark & markMask {
		case markStitch:
			kind = stitch.Stitch
		case markJump:
			kind = stitch.Jump
		case markChange:
			kind = stitch.Change
		default:
			return nil, &stitch.FormatError{Format: "dst", Offset: at + 2, Expected: "the mark of a stitch, jump, change or end",
				Found: fmt.Sprintf("0x%02X", mark)}
		}
		if !b.Add(kind, dx, dy) {
			return nil, fmt.Errorf("at byte %d: %w", at, b.Err())
		}
		if kind != stitch.Jump {
			if jumps = 0; kind == stitch.Change {
				b.Halt()
			}
			continue
		}
		if jumps++; jumps == trimJumps {
			if !b.TrimBefore(trimJumps) {
				return nil, fmt.Errorf("at byte %d: %w", at, b.Err())
			}
		}
	}
	if !ended {
		b.Warn("The file ends without an end mark: it may be cut off.")
	}
	return b.Finish("dst", at)
}

func quoteStart(data []byte) string {
	if len(data) == 0 {
		return "an empty file"
	}
	return fmt.Sprintf("%q", data[:min(len(data), 8)])
}
