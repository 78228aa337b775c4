package stitch

import (
	"fmt"
	"sync"
	"sync/atomic"
)

// A Role says what a stop sews.
type Role string

// The roles a stop can have; see the handbook's words on appliqué.
const (
	Placement Role = "placement"
	TackDown  Role = "tackdown"
	Cover     Role = "cover"
	Fill      Role = "fill"
	Satin     Role = "satin"
	Run       Role = "run"
	Anchor    Role = "anchor"
)

// Roles in the order a person would choose from them.
var Roles = []Role{Fill, Satin, Run, Placement, TackDown, Cover, Anchor}

// A Stop is one run of stitches between two thread changes.
type Stop struct {
	// N counts from 1.
	N int
	// Moves of the stop, the change that opens it included.
	Moves []Move
	// Color is nil where the file has none.
	Color    *RGB
	Role     Role
	Stitches int
	Jumps    int
	Trims    int
	// Snips counts the moves without stitching that no trim cuts: each leaves
	// a thread to snip by hand.
	Snips int
	// ThreadMM is the face path: the distance between consecutive
	// penetrations, except across a trim or a change.
	ThreadMM float64
	// Pieces are laid after a placement and trimmed after a tack-down; 0 for
	// stops of other roles.
	Pieces int
	// Bounds of the penetrations from the centre of the whole design.
	Bounds Bounds
}

// An Analysis is what can be said of a pattern by counting and measuring.
type Analysis struct {
	WidthMM, HeightMM float64
	Stitches          int
	Jumps             int
	Trims             int
	// ColorChanges counts change commands: each halts the machine, even one
	// that no stitch follows.
	ColorChanges int
	Stops        []Stop
	Warnings     []string
	// CentreX and CentreY are the middle of the penetrations, in tenths of a
	// millimetre from the start of the file.
	CentreX, CentreY float64
}

// worthHelp moves are looked at by two, who take one stretch after another: what
// takes long lies anywhere.
const (
	worthHelp = 10_000
	shares    = 10
)

// stretchesOf cuts moves into a few stretches, each beginning with a change; a
// design that is read in no time is one.
func stretchesOf(moves []Move) [][]Move {
	var stretches [][]Move
	from := 0
	for from+worthHelp < len(moves) {
		to := nextChange(moves, from+len(moves)/shares+1)
		if to == 0 {
			break
		}
		stretches = append(stretches, moves[from:to])
		from = to
	}
	return append(stretches, moves[from:])
}

// Analyse counts and measures a pattern and guesses what each stop sews. A
// run between changes that has no stitch in it is not a stop.
func Analyse(p *Pattern) Analysis {
	stretches := stretchesOf(p.Moves)
	of := make([]looked, len(stretches))
	var next atomic.Int32
	look := func() {
		for i := int(next.Add(1)) - 1; i < len(stretches); i = int(next.Add(1)) - 1 {
			of[i] = lookAt(stretches[i])
		}
	}
	var other sync.WaitGroup
	if len(stretches) > 1 {
		other.Go(look)
	}
	look()
	other.Wait()
	a := Analysis{Warnings: append([]string(nil), p.Warnings...)}
	var surveys []survey
	for _, l := range of {
		a.Stitches += l.stitches
		a.Jumps += l.jumps
		a.Trims += l.trims
		a.ColorChanges += l.changes
		a.Stops, surveys = append(a.Stops, l.stops...), append(surveys, l.surveys...)
	}
	if len(a.Stops) == 0 {
		return a
	}
	for i := range a.Stops {
		s := &a.Stops[i]
		s.N = i + 1
		if i < len(p.Colors) {
			s.Color = &p.Colors[i]
		}
	}
	a.placeFromCentre(surveys)
	if empty := a.ColorChanges - (len(a.Stops) - 1); empty > 0 {
		a.Warnings = append(a.Warnings,
			fmt.Sprintf("The machine halts for %d thread changes, but only %d are followed by stitches.", a.ColorChanges,
				len(a.Stops)-1))
	}
	guessFromNeighbours(a.Stops, surveys)
	return a
}

// nextChange is where the first change from a move on is, 0 for nowhere.
func nextChange(moves []Move, from int) int {
	for i := from; i < len(moves); i++ {
		if moves[i].Kind == Change {
			return i
		}
	}
	return 0
}

// looked is what is seen of a stretch of moves by itself.
type looked struct {
	stops                           []Stop
	surveys                         []survey
	stitches, jumps, trims, changes int
}

// lookAt counts and measures a stretch of moves, stop by stop.
func lookAt(moves []Move) looked {
	var l looked
	for from := 0; from < len(moves); {
		var s Stop
		measured, end := measureRun(moves, from, &s)
		if moves[from].Kind == Change {
			l.changes++
		}
		s.Moves = moves[from:end]
		from = end
		l.stitches += s.Stitches
		l.jumps += s.Jumps
		l.trims += s.Trims
		if s.Stitches == 0 {
			continue
		}
		s.ThreadMM = measured.thread / 10
		s.Role = measured.role(s.Moves, s.Stitches)
		measured.closed = s.Role == Run && s.closes()
		l.stops, l.surveys = append(l.stops, s), append(l.surveys, measured)
	}
	return l
}

// placeFromCentre finds the middle of the whole design and gives each stop
// its bounds from there.
func (a *Analysis) placeFromCentre(surveys []survey) {
	all := surveys[0]
	for _, s := range surveys[1:] {
		all.left, all.right = min(all.left, s.left), max(all.right, s.right)
		all.bottom, all.top = min(all.bottom, s.bottom), max(all.top, s.top)
	}
	a.WidthMM, a.HeightMM = float64(all.right-all.left)/10, float64(all.top-all.bottom)/10
	a.CentreX, a.CentreY = float64(all.left+all.right)/2, float64(all.bottom+all.top)/2
	for i, s := range surveys {
		a.Stops[i].Bounds = Bounds{
			Left: (float64(s.left) - a.CentreX) / 10, Right: (float64(s.right) - a.CentreX) / 10,
			Bottom: (float64(s.bottom) - a.CentreY) / 10, Top: (float64(s.top) - a.CentreY) / 10,
		}
	}
}

// A DensityClass says how close the stitches lie.
type DensityClass string

// Density classes from light to heavy.
const (
	Open     DensityClass = "open"
	Medium   DensityClass = "medium"
	Dense    DensityClass = "dense"
	TooDense DensityClass = "too dense"
)

// DensityOf classes a design by its totals: stitches per square centimetre
// of its bounding box, under 35 open, to 80 medium, to 130 dense (handbook,
// Designs).
func DensityOf(stitches int, widthMM, heightMM float64) (class DensityClass, perCM2 float64) {
	area := widthMM * heightMM / 100
	if area <= 0 {
		return Open, 0
	}
	perCM2 = float64(stitches) / area
	switch {
	case perCM2 < 35:
		return Open, perCM2
	case perCM2 <= 80:
		return Medium, perCM2
	case perCM2 <= 130:
		return Dense, perCM2
	}
	return TooDense, perCM2
}
