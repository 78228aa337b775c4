package project

import (
	"slices"

	"chalkstep/core/design"
	"chalkstep/core/kit"
	"chalkstep/core/pace"
	"chalkstep/core/recipe"
	"chalkstep/core/say"
	"chalkstep/core/stitch"
	"chalkstep/core/supply"
)

// Tape that is usual: what could flap is held, corners where the piece lies out
// of sight (handbook, Appliqué and layers in the hoop).
var (
	tapeOver  = say.T("tape all sides it could flap")
	tapeUnder = say.T("tape the corners")
)

// A Lying layer is a layer as it lies over the stops.
type Lying struct {
	Layer
	// N counts from 1 in the order in which a person wrote them.
	N int
	// Before is the stop it is laid before; 0 is off the machine, after the last.
	Before int
	// Held says how: on which side, and taped where.
	Held say.Text
	// Piece is what is cut for it.
	Piece kit.Piece
	// Trimmed tells that it is trimmed in the hoop once it is tacked down.
	Trimmed bool
}

// OffMachine tells that a layer is put on after the sewing: a binding of which
// nobody says a stop.
func (l Layer) OffMachine() bool { return l.As == kit.Binding && l.BeforeStop == 0 }

// before is the stop a layer is laid before.
func (l Layer) before() int {
	if l.OffMachine() {
		return 0
	}
	return max(1, l.BeforeStop)
}

// Held says on which side a layer lies, and how it is taped.
func (l Layer) Held() say.Text {
	switch {
	case l.OffMachine():
		return say.T("round the edge, off the machine: join mid-side, mitre, never pulled")
	case l.As == kit.Binding:
		return say.T("on top: join mid-side, mitre, never pulled")
	case l.Under:
		return say.T("from below, %s", l.taped(tapeUnder))
	}
	return say.T("on top, %s", l.taped(tapeOver))
}

// taped is where it is taped: as a person wrote it, or as is usual.
func (l Layer) taped(usual say.Text) say.Text {
	if l.Tape != "" {
		return say.Name(l.Tape)
	}
	return usual
}

// Lying lists the layers as they lie over the stops; widthMM is how wide a
// material lies on the shelf, house what the workshop and the project hold to.
func (p Project) Lying(widthMM func(supply.Key) float64, house recipe.Rules) []Lying {
	pieces := p.Pieces(widthMM)
	lying := make([]Lying, len(p.Layers))
	for i, l := range p.Layers {
		lying[i] = Lying{Layer: l, N: i + 1, Before: l.before(), Held: l.Held(), Piece: pieces[i], Trimmed: l.trimmed(house)}
	}
	return lying
}

// trimmed tells that a layer is trimmed in the hoop: batting close to its line,
// and pieces, unless they have their shape before.
func (l Layer) trimmed(house recipe.Rules) bool {
	return l.As == kit.Batting || l.As == kit.PieceLayer && !house.CutsBefore()
}

// Pacing is what the minutes of a hooping's stops depend on, counted from 0: in
// the first, layers are laid and trimmed by hand. A piece that is laid after its
// placement line is counted with that line.
func (p Project) Pacing(hooping int) []pace.Stop {
	sewn := p.Sewn(hooping)
	stops := sewn.Pacing()
	if hooping > 0 {
		return stops
	}
	for _, l := range p.Layers {
		at := slices.IndexFunc(sewn.Stops, func(s design.Stop) bool { return s.N == l.before() })
		if at < 0 || l.As == kit.PieceLayer && at > 0 && stops[at-1].Role == stitch.Placement {
			continue
		}
		stops[at].Lays++
		if l.As == kit.Batting {
			stops[at].Trimmed++
		}
	}
	return stops
}

// Hands counts how often something is laid, taped or trimmed while the first
// hooping is sewn.
func (p Project) Hands(house recipe.Rules) int {
	n := 0
	for _, s := range p.Pacing(0) {
		pieces := max(1, s.Pieces)
		switch {
		case s.Role == stitch.Placement, s.Role == stitch.TackDown && !house.CutsBefore():
			n += pieces
		}
		n += s.Lays + s.Trimmed
	}
	return n
}

// LayersTeach tells that the project has more in the hoop than appliqué pieces:
// a step of the ladder of its own.
func (p Project) LayersTeach() bool {
	return slices.ContainsFunc(p.Layers, func(l Layer) bool { return l.As != kit.PieceLayer && l.As != kit.Film })
}
