// Package exp reads and writes .exp stitch files: pairs of signed bytes and
// nothing else, neither a header nor an end mark nor colours. A first byte of
// 0x80 escapes to a command.
package exp

import (
	"fmt"

	"chalkstep/core/stitch"
)

const (
	escape     = 0x80
	cmdChange  = 0x01
	cmdStitch  = 0x02
	cmdJump    = 0x04
	cmdTrim    = 0x80
	maxMove    = 127
	cmdBytes   = 4
	trimFiller = 0x07
)

func init() {
	stitch.Register(stitch.Format{Name: "exp", Decode: Decode, Encode: Encode})
}

// Decode reads a .exp file.
func Decode(data []byte) (*stitch.Pattern, error) {
	b := stitch.NewBuilder(len(data) / 2)
	at := 0
	for at+2 <= len(data) {
		took, within := b.Pairs(data[at:], escape)
		if at += took; !within {
			return nil, fmt.Errorf("at byte %d: %w", at, b.Err())
		}
		if took > 0 {
			continue
		}
		if at+cmdBytes > len(data) {
			break
		}
		kind, pair := stitch.Stitch, at+2
		switch data[at+1] {
		case cmdChange:
			kind = stitch.Change
		case cmdStitch:
		case cmdJump:
			kind = stitch.Jump
		case cmdTrim:
			kind = stitch.Trim
		default:
			return nil, &stitch.FormatError{Format: "exp", Offset: at + 1,
				Expected: "the command of a change, stitch, jump or trim (01, 02, 04 or 80)",
				Found:    fmt.Sprintf("0x%02X", data[at+1])}
		}
		dx, dy := int32(int8(data[pair])), int32(int8(data[pair+1]))
		if kind == stitch.Trim {
			dx, dy = 0, 0
		}
		if !b.Add(kind, dx, dy) {
			return nil, fmt.Errorf("at byte %d: %w", at, b.Err())
		}
		if kind == stitch.Change {
			b.Halt()
		}
		at += cmdBytes
	}
	if at < len(data) {
		b.Warn("The file ends inside a move: it may be cut off.")
	}
	return b.Finish("exp", at)
}

// Encode writes a .exp file. Moves longer than 12.7 mm are split into jumps,
// so that no penetration is added.
func Encode(p *stitch.Pattern) ([]byte, error) {
	out := make([]byte, 0, len(p.Moves)*2+cmdBytes)
	var x, y int32
	for _, m := range p.Moves {
		if m.Kind == stitch.Trim {
			out = append(out, escape, cmdTrim, trimFiller, 0)
			continue
		}
		dx, dy := m.X-x, m.Y-y
		for steps := stitch.Hops(dx, dy, maxMove); steps > 1; steps-- {
			stepX, stepY := dx/steps, dy/steps
			out = append(out, escape, cmdJump, byte(int8(stepX)), byte(int8(stepY)))
			x, y = x+stepX, y+stepY
			dx, dy = m.X-x, m.Y-y
		}
		switch m.Kind {
		case stitch.Jump:
			out = append(out, escape, cmdJump)
		case stitch.Change:
			out = append(out, escape, cmdChange)
		}
		out = append(out, byte(int8(dx)), byte(int8(dy)))
		x, y = m.X, m.Y
	}
	return out, nil
}
