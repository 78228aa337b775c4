package technique

import (
	"slices"

	"chalkstep/core/recipe"
	"chalkstep/core/say"
	"chalkstep/core/stitch"
)

// Work is what techniques are chosen for.
type Work struct {
	Fabric recipe.Fabric
	Uses   []recipe.Use
	// Roles are what the stops of its design sew.
	Roles []stitch.Role
	// Pieces are laid by a layer, though no stop of the design places one.
	Pieces bool
	// InHoop is built up in the hoop; Bound has a binding among its layers.
	InHoop, Bound bool
	// Floated is what the recipe would do with the blank.
	Floated bool
	// Hoopings counts them, Copies the blanks of one sitting that are alike.
	Hoopings int
	// Garment comes in sizes; Corner goes on the 45° line of one.
	Garment, Corner bool
	// Dense tells that it is sewn densely.
	Dense bool
}

func (w Work) uses(any ...recipe.Use) bool {
	return slices.ContainsFunc(any, func(u recipe.Use) bool { return slices.Contains(w.Uses, u) })
}

func (w Work) of(any ...recipe.Fabric) bool { return slices.Contains(any, w.Fabric) }

// pieces tells whether appliqué pieces are laid.
func (w Work) pieces() bool { return w.Pieces || slices.Contains(w.Roles, stitch.Placement) }

// melts tells whether an iron would spoil it.
func (w Work) melts() bool { return w.Fabric == recipe.Vinyl || w.uses(recipe.FilmOverlay) }

// mayShrink tells whether its first wash could shrink it.
func (w Work) mayShrink() bool {
	return !w.of(recipe.Felt, recipe.Vinyl, recipe.Velvet, recipe.Sheer)
}

// Unfit says why work cannot be made by the technique; it is silent where it
// can.
func (t Technique) Unfit(w Work) say.Text {
	if irons(t) && w.melts() {
		return say.T("it takes an iron, and this melts")
	}
	if t.unfit == nil {
		return say.Text{}
	}
	return t.unfit(w)
}

// irons tells whether one of the steps of a technique is done at the iron.
func irons(t Technique) bool {
	return slices.ContainsFunc(t.Steps, func(s Step) bool { return s.Iron })
}

// A Proposal is a technique that the house would take for some work, and why;
// the others of its group stand with it, as far as they fit.
type Proposal struct {
	Technique
	Why    say.Text
	Others []Technique
}

// Propose lists what the house would take for some work, in the order of the
// work, without any that another of them excludes.
func Propose(w Work) []Proposal {
	var list []Proposal
	var taken []Technique
	for _, t := range All {
		if t.proposed == nil || !t.Unfit(w).Silent() {
			continue
		}
		why := t.proposed(w)
		if why.Silent() || !Excluded(append(slices.Clone(taken), t)).Silent() {
			continue
		}
		taken = append(taken, t)
		p := Proposal{Technique: t, Why: why}
		if g, _ := GroupByKey(t.Group); g.One {
			for _, other := range All {
				if other.Group == t.Group && other.Key != t.Key && other.Unfit(w).Silent() {
					p.Others = append(p.Others, other)
				}
			}
		}
		list = append(list, p)
	}
	return list
}

// Excluded says which two of some techniques cannot go together, and why; it is
// silent where all can.
func Excluded(chosen []Technique) say.Text {
	for i, a := range chosen {
		for _, b := range chosen[i+1:] {
			if why, bad := Excludes(a, b); bad {
				return say.T("“%s” and “%s” do not go together: %s. Take one of them off.", a.Name, b.Name, why)
			}
		}
	}
	return say.Text{}
}

// Excludes tells whether two techniques cannot go together, and why.
func Excludes(a, b Technique) (why say.Text, excluded bool) {
	if a.Key == b.Key {
		return say.T("it is there twice"), true
	}
	if g, _ := GroupByKey(a.Group); g.One && a.Group == b.Group {
		return g.Because, true
	}
	for _, pair := range [][2]Technique{{a, b}, {b, a}} {
		for _, not := range pair[0].Not {
			if not.Key == pair[1].Key {
				return not.Because, true
			}
		}
	}
	for _, s := range a.Steps {
		if slices.ContainsFunc(b.Steps, func(o Step) bool { return o.Key == s.Key }) {
			return say.T("both say how the same step is done: %s", s.Title), true
		}
	}
	return say.Text{}, false
}

// WorkFor is the work that a recipe was asked for, as far as the request tells.
func WorkFor(r recipe.Request, made recipe.Recipe) Work {
	w := Work{Fabric: r.Fabric, Uses: r.Uses, Roles: r.Roles, InHoop: r.InHoop, Hoopings: 1,
		Floated: made.Hooping == recipe.Floated}
	w.Garment = w.uses(recipe.Worn, recipe.NextToSkin, recipe.Child)
	density := r.Density
	if density == "" {
		density, _ = stitch.DensityOf(r.Stitches, r.WidthMM, r.HeightMM)
	}
	w.Dense = density == stitch.Dense || density == stitch.TooDense
	return w
}
