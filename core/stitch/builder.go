package stitch

import (
	"fmt"
	"slices"

	"chalkstep/core/measure"
)

// A Builder collects the moves of a file being read, and refuses what lies
// outside the limits. Readers share it so that each of them is bounded alike.
type Builder struct {
	Pattern Pattern
	moves   []Move
	x, y    int32
	// halts are where the changes are.
	halts []int
}

// NewBuilder makes room for most moves, the most that the bytes at hand can
// hold, and never for more than the limit.
func NewBuilder(most int) *Builder {
	return &Builder{moves: make([]Move, 0, min(max(most, 0), MaxMoves))}
}

// Add appends a move by (dx, dy) tenths of a millimetre; when it returns
// false, Err says which limit the move breaks. It is small enough for the
// compiler to put it into a reader's loop.
func (b *Builder) Add(kind Kind, dx, dy int32) bool {
	x, y, n := b.x+dx, b.y+dy, len(b.moves)
	if n == cap(b.moves) || uint32(x+MaxReach) > 2*MaxReach || uint32(y+MaxReach) > 2*MaxReach {
		return false
	}
	b.x, b.y = x, y
	b.moves = b.moves[:n+1]
	b.moves[n] = Move{x, y, kind}
	return true
}

// Pairs adds the stitches at the head of data, each a pair of signed bytes, up
// to a pair that begins with the escape or is not whole; it returns how many
// bytes it took. When it returns false, Err says which limit the next move
// breaks.
func (b *Builder) Pairs(data []byte, escape byte) (took int, within bool) {
	for {
		x, y, n := b.x, b.y, len(b.moves)
		free := b.unchecked(len(data) - took)
		if free == 0 {
			break
		}
		room, pairs := b.moves[n:n+free], data[took:took+2*free]
		i := 0
		for ; i < len(room) && len(pairs) >= 2 && pairs[0] != escape; i++ {
			x, y = x+int32(int8(pairs[0])), y+int32(int8(pairs[1]))
			room[i] = Move{x, y, Stitch}
			pairs = pairs[2:]
		}
		b.x, b.y, b.moves = x, y, b.moves[:n+i]
		if took += 2 * i; i < free {
			return took, true
		}
	}
	for took+1 < len(data) && data[took] != escape {
		if !b.Add(Stitch, int32(int8(data[took])), int32(int8(data[took+1]))) {
			return took, false
		}
		took += 2
	}
	return took, true
}

// ShortPairs is [Builder.Pairs] for pairs of signed numbers of seven bits, y
// down, up to a pair of which a byte has its eighth bit set.
func (b *Builder) ShortPairs(data []byte) (took int, within bool) {
	for {
		x, y, n := b.x, b.y, len(b.moves)
		free := b.unchecked(len(data) - took)
		if free == 0 {
			break
		}
		room, pairs := b.moves[n:n+free], data[took:took+2*free]
		i := 0
		for ; i < len(room) && len(pairs) >= 2 && (pairs[0]|pairs[1])&0x80 == 0; i++ {
			x, y = x+int32(int8(pairs[0]<<1)>>1), y-int32(int8(pairs[1]<<1)>>1)
			room[i] = Move{x, y, Stitch}
			pairs = pairs[2:]
		}
		b.x, b.y, b.moves = x, y, b.moves[:n+i]
		if took += 2 * i; i < free {
			return took, true
		}
	}
	for took+1 < len(data) && (data[took]|data[took+1])&0x80 == 0 {
		if !b.Add(Stitch, int32(int8(data[took]<<1)>>1), -int32(int8(data[took+1]<<1)>>1)) {
			return took, false
		}
		took += 2
	}
	return took, true
}

// unchecked is how many moves of a byte each way can be added of so many bytes
// without reaching a limit: to look at each of them takes longer.
func (b *Builder) unchecked(bytes int) int {
	const longest = 128
	reach := (MaxReach - max(b.x, -b.x, b.y, -b.y)) / longest
	return max(0, min(int(reach), cap(b.moves)-len(b.moves), bytes/2))
}

// Halt notes that the move which was added last is a change. Looking through all
// the moves for the few changes would take longer than reading them.
func (b *Builder) Halt() { b.halts = append(b.halts, len(b.moves)-1) }

// eachRun calls f for each run between changes, with whether anything is sewn
// in it.
func (b *Builder) eachRun(f func(sewn bool)) {
	from := 0
	for i := range len(b.halts) + 1 {
		to := len(b.moves)
		if i < len(b.halts) {
			to = b.halts[i]
		}
		f(slices.ContainsFunc(b.moves[from:to], func(m Move) bool { return m.Kind == Stitch }))
		from = to
	}
}

// Err says why Add or TrimBefore returned false.
func (b *Builder) Err() error {
	if len(b.moves) == cap(b.moves) {
		return fmt.Errorf("more than %s moves: no design for these machines is that large", measure.Count(MaxMoves))
	}
	return fmt.Errorf("move %s lies more than 2 m from the start", measure.Count(len(b.moves)+1))
}

// TrimBefore marks a trim before the last n moves, for formats in which a
// run of jumps stands for one.
func (b *Builder) TrimBefore(n int) bool {
	if len(b.moves) == cap(b.moves) {
		return false
	}
	at := len(b.moves) - n
	trim := Move{Kind: Trim}
	if at > 0 {
		trim.X, trim.Y = b.moves[at-1].X, b.moves[at-1].Y
	}
	b.moves = append(b.moves, Move{})
	copy(b.moves[at+1:], b.moves[at:])
	b.moves[at] = trim
	return true
}

// Warn notes something wrong that does not stop the file being read.
func (b *Builder) Warn(format string, args ...any) {
	b.Pattern.Warnings = append(b.Pattern.Warnings, fmt.Sprintf(format, args...))
}

// Finish returns the pattern; a file in which nothing is sewn is an error
// that names format, and offset, where reading ended.
func (b *Builder) Finish(format string, offset int) (*Pattern, error) {
	sewn := false
	b.eachRun(func(s bool) { sewn = sewn || s })
	if !sewn {
		return nil, &FormatError{Format: format, Offset: offset, Expected: "at least one stitch",
			Found: "the end of the design"}
	}
	if len(b.halts) > MaxChanges {
		return nil, fmt.Errorf("more than %s thread changes", measure.Count(MaxChanges))
	}
	b.Pattern.Moves = b.moves
	return &b.Pattern, nil
}
