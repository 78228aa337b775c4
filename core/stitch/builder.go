package stitch

import "fmt"

// A Builder collects the moves of a file being read, and refuses what lies
// outside the limits. Readers share it so that each of them is bounded alike.
type Builder struct {
	Pattern Pattern
	x, y    int32
	counts  [4]int // by Kind
}

// NewBuilder prepares for about moves moves; a claim of more than the limit
// reserves no more than the limit.
func NewBuilder(moves int) *Builder {
	b := &Builder{}
	b.Pattern.Moves = make([]Move, 0, min(max(moves, 0), MaxMoves))
	return b
}

// Add appends a move by (dx, dy) tenths of a millimetre.
func (b *Builder) Add(kind Kind, dx, dy int32) error {
	x, y := b.x+dx, b.y+dy
	b.x, b.y = x, y
	b.counts[kind]++
	moves := b.Pattern.Moves
	if len(moves) == MaxMoves || uint32(x+MaxReach) > 2*MaxReach || uint32(y+MaxReach) > 2*MaxReach || b.counts[Change] > MaxChanges {
		return b.refuse()
	}
	b.Pattern.Moves = append(moves, Move{X: x, Y: y, Kind: kind})
	return nil
}

// refuse says which limit the move just taken breaks.
func (b *Builder) refuse() error {
	switch {
	case len(b.Pattern.Moves) >= MaxMoves:
		return fmt.Errorf("more than %s moves: no design for these machines is that large", thousands(MaxMoves))
	case b.counts[Change] > MaxChanges:
		return fmt.Errorf("more than %s thread changes", thousands(MaxChanges))
	}
	return fmt.Errorf("move %s lies more than 2 m from the start", thousands(len(b.Pattern.Moves)+1))
}

// TrimBefore marks a trim before the last n moves, for formats in which a
// run of jumps stands for one.
func (b *Builder) TrimBefore(n int) error {
	if len(b.Pattern.Moves) == MaxMoves {
		return b.refuse()
	}
	moves := b.Pattern.Moves
	at := len(moves) - n
	trim := Move{Kind: Trim}
	if at > 0 {
		trim.X, trim.Y = moves[at-1].X, moves[at-1].Y
	}
	moves = append(moves, Move{})
	copy(moves[at+1:], moves[at:])
	moves[at] = trim
	b.Pattern.Moves = moves
	return nil
}

// Warn notes something wrong that does not stop the file being read.
func (b *Builder) Warn(format string, args ...any) {
	b.Pattern.Warnings = append(b.Pattern.Warnings, fmt.Sprintf(format, args...))
}

// Finish returns the pattern; a file in which nothing is sewn is an error
// that names format, and offset, where reading ended.
func (b *Builder) Finish(format string, offset int) (*Pattern, error) {
	if b.counts[Stitch] == 0 {
		return nil, &FormatError{Format: format, Offset: offset, Expected: "at least one stitch", Found: "the end of the design"}
	}
	return &b.Pattern, nil
}
