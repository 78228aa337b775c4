package supply

import (
	"cmp"
	"slices"

	"chalkstep/core/say"
	"chalkstep/core/thread"
)

// A StandIn is something that may be taken for what is wanted.
type StandIn struct {
	// Index of it among those looked through.
	Index int
	// Same tells that it is what was wanted; otherwise Off says how far it is
	// from that, in no unit, and Why in words.
	Same bool
	Off  float64
	Why  say.Text
}

// StandsIn tells whether one thing may be taken for another, and how near it
// comes: a thread of the same fibre by its colour (CIEDE2000); tear-away light
// for medium and medium for light (handbook: woven cottons take either); a
// ballpoint of the next size (75/11 or 80/12 for knits). Bobbins never: a style
// is a physical size.
func StandsIn(have, want Key) (StandIn, bool) {
	if have.Kind != want.Kind {
		return StandIn{}, false
	}
	if have == want {
		return StandIn{Same: true}, true
	}
	switch want.Kind {
	case Thread:
		if have.Fibre != want.Fibre {
			return StandIn{}, false
		}
		m := thread.Match{Difference: thread.Difference(want.Color, have.Color)}
		return StandIn{Off: m.Difference, Why: m.Say()}, true
	case Stabilizer:
		woven := func(weight string) bool { return weight == Light || weight == Medium }
		if have.Material == TearAway && want.Material == TearAway && woven(have.Weight) && woven(want.Weight) {
			return StandIn{Off: 1, Why: say.T("%s instead of %s", say.Word(have.Weight), say.Word(want.Weight))}, true
		}
	case Needle:
		knit := func(size string) bool { return size == "75/11" || size == "80/12" }
		if have.Style == Ballpoint && want.Style == Ballpoint && knit(have.Size) && knit(want.Size) {
			return StandIn{Off: 1, Why: say.T("%s instead of %s", have.Size, want.Size)}, true
		}
	}
	return StandIn{}, false
}

// StandIns lists what may be taken for a thing, what was wanted first and then
// the nearest.
func StandIns(have []Key, want Key) []StandIn {
	var all []StandIn
	for i, k := range have {
		if s, ok := StandsIn(k, want); ok {
			s.Index = i
			all = append(all, s)
		}
	}
	slices.SortStableFunc(all, func(a, b StandIn) int {
		if a.Same != b.Same {
			if a.Same {
				return -1
			}
			return 1
		}
		return cmp.Compare(a.Off, b.Off)
	})
	return all
}
