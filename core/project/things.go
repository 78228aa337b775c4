package project

import (
	"math"
	"slices"

	"chalkstep/core/kit"
	"chalkstep/core/say"
	"chalkstep/core/stitch"
	"chalkstep/core/supply"
	"chalkstep/core/technique"
)

// CutThings are what is cut for one set beside its layers: a pattern piece as its
// box, with the grain, and what the techniques of the project need.
func (p Project) CutThings() []kit.Piece {
	var pieces []kit.Piece
	if p.cutOut() {
		w, h := p.Blank.Piece.SizeMM()
		pieces = append(pieces, kit.Piece{
			Key: supply.Cloth(string(p.Fabric)), Count: p.Blank.Piece.Count, SizeMM: [2]float64{math.Ceil(w), math.Ceil(h)},
			Working: say.T("the box of the pattern piece “%s”, its grain along the length; cut out along its outline",
				p.Blank.Name),
		})
	}
	for _, t := range p.Techniques {
		for _, thing := range t.Things {
			if thing.Of == "" {
				continue
			}
			for _, box := range p.covered(thing.Of) {
				pieces = append(pieces, kit.Piece{
					Key: thing.Key, Count: thing.Count, Turn: thing.Key.Kind != supply.Fabric,
					SizeMM:  [2]float64{math.Ceil(box[0] + 2*thing.MarginMM), math.Ceil(box[1] + 2*thing.MarginMM)},
					Working: say.T("%s: what it covers, %s, and %s on every side", t.Name, say.Size(box), say.MM(thing.MarginMM)),
				})
			}
		}
	}
	return pieces
}

// covered are the sizes of what a thing has to cover.
func (p Project) covered(of technique.Cut) [][2]float64 {
	d := p.Design()
	if of == technique.Design {
		return [][2]float64{{d.WidthMM, d.HeightMM}}
	}
	var boxes [][2]float64
	for _, s := range d.Stops {
		if s.Role == stitch.Placement && s.Bounds.Width() > 0 {
			boxes = append(boxes, [2]float64{s.Bounds.Width(), s.Bounds.Top - s.Bounds.Bottom})
		}
	}
	if len(boxes) == 0 {
		boxes = [][2]float64{{d.WidthMM, d.HeightMM}}
	}
	return boxes
}

// SharedThings are what of its techniques a class shares, each once, for the
// fewest students that one of them says.
func (p Project) SharedThings() []kit.Shared {
	var shared []kit.Shared
	for _, t := range p.Techniques {
		for _, thing := range t.Things {
			if thing.Per == technique.EachSet {
				continue
			}
			made := kit.Shared{Key: thing.Key}
			if thing.Per == technique.Students {
				made.Students = thing.Count
			}
			if i := slices.IndexFunc(shared, func(s kit.Shared) bool { return s.Key == made.Key }); i < 0 {
				shared = append(shared, made)
			} else {
				shared[i].Students = min(shared[i].Students, made.Students)
			}
		}
	}
	return shared
}

// Ahead is what staff do before the day for so many sets.
func (p Project) Ahead(sets int) []technique.Task {
	var tasks []technique.Task
	for _, t := range p.Techniques {
		for _, task := range t.Ahead {
			if !task.Once {
				task.Minutes *= float64(sets)
			}
			tasks = append(tasks, task)
		}
	}
	return tasks
}

// HasTechnique tells whether the project is made by a technique.
func (p Project) HasTechnique(key technique.Key) bool {
	for _, t := range p.Techniques {
		if t.Key == key {
			return true
		}
	}
	return false
}
