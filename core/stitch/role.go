package stitch

import "math"

// Figures by which a stop's role is guessed. They are readings of how these
// stitches are made: a satin column turns about at nearly every penetration,
// a fill lies in parallel rows over an area, a run does neither.
const (
	satinReversals    = 0.5 // share of turns sharper than 120° in satin
	splitReversals    = 0.3 // share in satin that is split, or goes round narrow bends
	splitAcross       = 0.7
	splitWidth        = 120  // tenths of a millimetre from side to side: more are rows
	fillParallel      = 0.6  // share of path that runs along the rows of a fill
	fillCoverage      = 0.2  // thread laid per sewn area, from which rows are a fill
	closeCoverage     = 0.4  // and from which they are one however narrow
	innerShare        = 0.3  // of an open fill's area that is not at its edge
	threadWidth       = 4    // 0.4 mm, in tenths
	fillMinimum       = 30   // a fill is more than 3 mm each way
	satinAcross       = 0.55 // share of satin's thread that lies across its way
	satinStride       = 0.65
	leastStride       = 13 // tenths of a millimetre, of crosses
	anchorMaxStitches = 40
	cornerMaxStitches = 12
	anchorClusterMM   = 4
	anchorEdgeMM      = 2
)

// A survey is what one pass over the moves between two changes measures, in
// tenths of a millimetre.
type survey struct {
	thread                   float64
	left, right, bottom, top int32
	// closed tells that it is a run whose lines come back to where they set out.
	closed bool
}

// measureRun measures the moves from one change to the next, counts them
// into s, and returns where the next begins. The move at from may itself be
// the change that opens the run. It is one loop without calls over local
// variables, because a large design has a hundred thousand moves and a page
// waits for it.
func measureRun(moves []Move, from int, s *Stop) (survey, int) {
	var left, bottom, right, top int32 = math.MaxInt32, math.MaxInt32, math.MinInt32, math.MinInt32
	var thread float64
	var stitches int
	var lastX, lastY int32
	// sewing is whether thread joins the last penetration to the next;
	// travelling whether jumps have been made since then.
	sewing, travelling := false, false
	at := from
loop:
	for ; at < len(moves); at++ {
		m := &moves[at]
		if m.Kind != Stitch {
			switch m.Kind {
			case Jump:
				s.Jumps++
				travelling = true
			case Trim:
				s.Trims++
				sewing = false
			case Change:
				if at > from {
					break loop
				}
			}
			continue
		}
		x, y := m.X, m.Y
		stitches++
		left, right = min(left, x), max(right, x)
		bottom, top = min(bottom, y), max(top, y)
		if sewing {
			dx, dy := float64(x-lastX), float64(y-lastY)
			thread += math.Sqrt(dx*dx + dy*dy)
			if travelling {
				s.Snips++
			}
		}
		lastX, lastY, sewing, travelling = x, y, true, false
		// Then stitch after stitch, which is nearly all of a design: roots of
		// half the length take half the time, and seven digits are enough.
		for at+1 < len(moves) && moves[at+1].Kind == Stitch {
			at++
			m := &moves[at]
			x, y := m.X, m.Y
			left, right = min(left, x), max(right, x)
			bottom, top = min(bottom, y), max(top, y)
			dx, dy := float32(x-lastX), float32(y-lastY)
			thread += float64(float32(math.Sqrt(float64(dx*dx + dy*dy))))
			stitches++
			lastX, lastY = x, y
		}
	}
	s.Stitches = stitches
	return survey{thread: thread, left: left, bottom: bottom, right: right, top: top}, at
}

// A shape is how a stop's stitches turn and run.
type shape struct {
	// turns counts the places where one stitch follows another, reversals
	// those sharper than 120°.
	turns, reversals int
	// alongX and alongY sum the stitches as vectors of doubled angle and
	// squared length, and squares sums those lengths: opposite directions add
	// up, so their ratio tells how much of the sewing is parallel. crossX and
	// crossY do so with the angle quadrupled, in which directions at right
	// angles add up too, as those of a fill and the underlay across it.
	squares, alongX, alongY, crossX, crossY float64
}

// Long stops are looked at in samples: so many moves of every so many.
const (
	wholeUnder   = 1024
	manyStitches = 4096
	sampleMoves  = 64
	samplePeriod = 384
)

// shapeOf looks at how a stop's stitches turn and run.
func shapeOf(moves []Move) shape {
	var s shape
	if len(moves) <= wholeUnder {
		s.add(moves)
		return s
	}
	for from := 0; from < len(moves); from += samplePeriod {
		s.add(moves[from:min(len(moves), from+sampleMoves)])
	}
	return s
}

func (s *shape) add(moves []Move) {
	var lastDX, lastDY, lastSquare float64
	for i := 1; i < len(moves); i++ {
		from, to := &moves[i-1], &moves[i]
		if from.Kind != Stitch || to.Kind != Stitch {
			lastSquare = 0
			continue
		}
		dx, dy := float64(to.X-from.X), float64(to.Y-from.Y)
		square := dx*dx + dy*dy
		s.squares += square
		x, y := dx*dx-dy*dy, 2*dx*dy
		s.alongX, s.alongY = s.alongX+x, s.alongY+y
		if square > 0 {
			s.crossX, s.crossY = s.crossX+(x*x-y*y)/square, s.crossY+2*x*y/square
		}
		if lastSquare > 0 && square > 0 {
			s.turns++
			// Sharper than 120°: the cosine is below −1/2.
			if dot := dx*lastDX + dy*lastDY; dot < 0 && 4*dot*dot > square*lastSquare {
				s.reversals++
			}
		}
		lastDX, lastDY, lastSquare = dx, dy, square
	}
}

// role tells satin, fill and run apart by how a stop turns and covers.
func (r *survey) role(moves []Move, stitches int) Role {
	s := shapeOf(moves)
	if s.turns == 0 {
		return Run
	}
	crosses := false
	switch share := float64(s.reversals) / float64(s.turns); {
	case share >= satinReversals:
		switch over, stride := across(moves); {
		case over < satinAcross:
			return Run // to and fro along one line
		case stride < satinStride:
			return Satin
		}
		crosses = true // or a zigzag as open as they are
	case share >= splitReversals && r.thread <= splitWidth*float64(stitches)*share:
		if over, _ := across(moves); over >= splitAcross {
			return Satin
		}
	}
	parallel := max(math.Hypot(s.alongX, s.alongY), math.Hypot(s.crossX, s.crossY)) / s.squares
	isArea := r.right-r.left > fillMinimum && r.top-r.bottom > fillMinimum
	if !isArea || parallel < fillParallel && !crosses {
		return Run
	}
	coverage, inner := r.coverage(moves, stitches, crosses)
	if coverage >= fillCoverage && (coverage >= closeCoverage && !crosses || inner >= innerShare) {
		return Fill
	}
	return Run
}

// across is the share of thread, in stitches that turn back, that lies across
// the way in which a stop moves on: of satin nearly all, of stitches that go to
// and fro along a line little. stride is how far a stitch there and one back move
// on, in lengths of a stitch: in satin they lie close, in cross stitch not. It is 0
// for what is finer than crosses are.
func across(moves []Move) (share, stride float64) {
	const (
		ahead      = 4 // stitches, over which the way is taken
		mostAcross = 256
	)
	var kept [mostAcross]Move
	n := 0
	for i := 0; i < len(moves) && n < mostAcross; i++ {
		if moves[i].Kind == Stitch {
			kept[n] = moves[i]
			n++
		}
	}
	points := kept[:n]
	over, all, moved, turns := 0.0, 0.0, 0.0, 0
	for i := ahead; i+ahead < len(points); i++ {
		wayX, wayY := float64(points[i+ahead].X-points[i-ahead].X), float64(points[i+ahead].Y-points[i-ahead].Y)
		x, y := float64(points[i].X-points[i-1].X), float64(points[i].Y-points[i-1].Y)
		lastX, lastY := float64(points[i-1].X-points[i-2].X), float64(points[i-1].Y-points[i-2].Y)
		if x*lastX+y*lastY > -math.Sqrt((x*x+y*y)*(lastX*lastX+lastY*lastY))/2 {
			continue
		}
		if way := math.Sqrt(wayX*wayX + wayY*wayY); way > 0 {
			over += math.Abs(x*wayY-y*wayX) / way
			all += math.Sqrt(x*x + y*y)
			moved += way / ahead
			turns++
		}
	}
	if all == 0 {
		return 1, 0
	}
	if moved < leastStride*float64(turns) {
		return over / all, 0
	}
	return over / all, moved / all
}

// coverage is the thread's area on the face over the area of the squares its
// penetrations fall in; it is 0 for thread too sparse in its box to be a
// fill. inner is the share of the squares that have sewn ones all around, of
// which the squares of a line have none; it is told of open stitching, and of
// any when asked. The squares are 3.2 mm, so that the rows of a fill leave none out
// although a stitch may be longer than a millimetre or two.
func (r *survey) coverage(moves []Move, stitches int, ask bool) (coverage, inner float64) {
	const shift = 5
	const square = (1 << shift) * (1 << shift)
	columns, rows := int(r.right-r.left)>>shift+1, int(r.top-r.bottom)>>shift+1
	if columns*rows > 8*stitches+1<<12 {
		return 0, 0
	}
	sewn := make([]bool, columns*rows)
	every := 1
	if stitches > manyStitches {
		every = 2 // so many fill their squares all the same
	}
	for i := 0; i < len(moves); i += every {
		if moves[i].Kind == Stitch {
			sewn[int(moves[i].Y-r.bottom)>>shift*columns+int(moves[i].X-r.left)>>shift] = true
		}
	}
	squares := 0
	for _, s := range sewn {
		if s {
			squares++
		}
	}
	all := float64(max(1, squares))
	coverage = r.thread * threadWidth / square / all
	if coverage < fillCoverage || coverage >= closeCoverage && !ask {
		return coverage, 0 // told without
	}
	within := 0
	for row := 1; row < rows-1; row++ {
		for at := row*columns + 1; at < (row+1)*columns-1; at++ {
			if sewn[at] && sewn[at-1] && sewn[at+1] && sewn[at-columns] && sewn[at+columns] {
				within++
			}
		}
	}
	return coverage, float64(within) / all
}

func abs(n int32) int32 { return max(n, -n) }

// eachStitch calls f for every stretch of thread on the face that no jump,
// trim or change interrupts.
func eachStitch(moves []Move, f func(from, to *Move)) {
	for i := 1; i < len(moves); i++ {
		if moves[i].Kind == Stitch && moves[i-1].Kind == Stitch {
			f(&moves[i-1], &moves[i])
		}
	}
}

// guessFromNeighbours finds the roles that one stop alone does not show.
func guessFromNeighbours(stops []Stop, surveys []survey) {
	guessApplique(stops, surveys)
	if n := len(stops); n > 1 && isAnchor(&stops[n-1], designBounds(stops)) {
		stops[n-1].Role = Anchor
	}
}

func boundsAgree(a, b Bounds, within float64) bool {
	return math.Abs(a.Left-b.Left) <= within && math.Abs(a.Right-b.Right) <= within &&
		math.Abs(a.Top-b.Top) <= within && math.Abs(a.Bottom-b.Bottom) <= within
}

// A trace answers how near a point lies to a stop's path, which it keeps as
// the half-millimetre squares the path passes.
type trace map[[2]int32]struct{}

const traceCell = 5 // tenths of a millimetre

func newTrace(s *Stop) trace {
	t := trace{}
	eachStitch(s.Moves, func(from, to *Move) {
		dx, dy := to.X-from.X, to.Y-from.Y
		steps := max(abs(dx), abs(dy))/traceCell + 1
		for step := range steps + 1 {
			t[traceSquare(from.X+dx*step/steps, from.Y+dy*step/steps)] = struct{}{}
		}
	})
	return t
}

func traceSquare(x, y int32) [2]int32 {
	return [2]int32{(x + MaxReach) / traceCell, (y + MaxReach) / traceCell}
}

// fill adds the squares that the path encloses. A gap that an outline leaves
// where it closes counts as closed.
func (t trace) fill() {
	const gap = 1 // squares to either side of the path
	left, bottom, right, top := int32(math.MaxInt32), int32(math.MaxInt32), int32(math.MinInt32), int32(math.MinInt32)
	for s := range t {
		left, right, bottom, top = min(left, s[0]), max(right, s[0]), min(bottom, s[1]), max(top, s[1])
	}
	if len(t) == 0 {
		return
	}
	left, bottom, right, top = left-gap-1, bottom-gap-1, right+gap+1, top+gap+1
	columns, rows := int(right-left)+1, int(top-bottom)+1
	const most = 4_000_000
	if columns*rows > most {
		return // larger than any hoop
	}
	// 0 is not looked at, 1 the path or beside it, 2 outside.
	cells := make([]uint8, columns*rows)
	for s := range t {
		for dx := -gap; dx <= gap; dx++ {
			for dy := -gap; dy <= gap; dy++ {
				cells[(int(s[1]-bottom)+dy)*columns+int(s[0]-left)+dx] = 1
			}
		}
	}
	reached := []int{0}
	cells[0] = 2
	for len(reached) > 0 {
		at := reached[len(reached)-1]
		reached = reached[:len(reached)-1]
		column := at % columns
		for _, next := range [4]int{at - 1, at + 1, at - columns, at + columns} {
			if next < 0 || next >= len(cells) || (next == at-1 && column == 0) || (next == at+1 && column == columns-1) ||
				cells[next] != 0 {
				continue
			}
			cells[next] = 2
			reached = append(reached, next)
		}
	}
	for at, state := range cells {
		if state == 0 {
			t[[2]int32{left + int32(at%columns), bottom + int32(at/columns)}] = struct{}{}
		}
	}
}

func (t trace) nearSquare(centre [2]int32, reachMM float64) bool {
	reach := int32(reachMM * 10 / traceCell)
	for dx := -reach; dx <= reach; dx++ {
		for dy := -reach; dy <= reach; dy++ {
			if _, ok := t[[2]int32{centre[0] + dx, centre[1] + dy}]; ok {
				return true
			}
		}
	}
	return false
}

// isAnchor recognises the tiny registration marks that close some designs: few
// stitches, in small clusters in the corners of everything else; in a single
// corner, very few. A small detail that is sewn last is a detail.
func isAnchor(s *Stop, all Bounds) bool {
	if s.Stitches > anchorMaxStitches {
		return false
	}
	corners := map[[2]bool]bool{}
	own := Bounds{Left: math.Inf(1), Bottom: math.Inf(1), Right: math.Inf(-1), Top: math.Inf(-1)}
	var marks []Bounds
	for _, cluster := range clusters(s.Moves) {
		left, bottom, right, top, _ := Extent(cluster)
		mark := Bounds{Left: float64(left) / 10, Bottom: float64(bottom) / 10, Right: float64(right) / 10,
			Top: float64(top) / 10}
		if mark.Width() > anchorClusterMM || mark.Height() > anchorClusterMM {
			return false
		}
		own = Bounds{Left: min(own.Left, mark.Left), Bottom: min(own.Bottom, mark.Bottom), Right: max(own.Right, mark.Right),
			Top: max(own.Top, mark.Top)}
		marks = append(marks, mark)
	}
	// Moves are counted from another point than bounds.
	dx, dy := s.Bounds.Left-own.Left, s.Bounds.Bottom-own.Bottom
	for _, m := range marks {
		left, right := m.Left+dx-all.Left <= anchorEdgeMM, all.Right-m.Right-dx <= anchorEdgeMM
		bottom, top := m.Bottom+dy-all.Bottom <= anchorEdgeMM, all.Top-m.Top-dy <= anchorEdgeMM
		if left == right || bottom == top {
			return false // beside no corner
		}
		corners[[2]bool{left, bottom}] = true
	}
	return len(corners) > 1 || len(corners) == 1 && s.Stitches <= cornerMaxStitches
}

// clusters cuts moves wherever the needle travels without stitching.
func clusters(moves []Move) [][]Move {
	var all [][]Move
	from := 0
	for i := 0; i <= len(moves); i++ {
		if i == len(moves) || moves[i].Kind != Stitch {
			if i > from {
				all = append(all, moves[from:i])
			}
			from = i + 1
		}
	}
	return all
}

func designBounds(stops []Stop) Bounds {
	all := stops[0].Bounds
	for _, s := range stops[1:] {
		all.Left, all.Right = min(all.Left, s.Bounds.Left), max(all.Right, s.Bounds.Right)
		all.Bottom, all.Top = min(all.Bottom, s.Bounds.Bottom), max(all.Top, s.Bounds.Top)
	}
	return all
}
