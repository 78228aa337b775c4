package technique

import (
	"slices"

	"chalkstep/core/say"
	"chalkstep/core/stitch"
)

// An Ordered stop is one in the order in which it is sewn.
type Ordered struct {
	// Index counts the stops of the file from 0.
	Index int
	// Why says why a placement could not be sewn with the others, silent for all
	// else.
	Why say.Text
}

// OrderOf is the order in which the stops of a design are sewn, and those that
// are skipped. Where placements come first, each follows the one before it, but
// for those that something sewn earlier would cover: a line under a fill or under
// another piece is not seen (handbook, Sewing order traps).
func OrderOf(stops []stitch.Stop, e Effects) (order []Ordered, skipped []int) {
	for i, s := range stops {
		switch {
		case e.SkipsMarks && s.Role == stitch.Anchor:
			skipped = append(skipped, i)
		case e.PlacementsFirst && s.Role == stitch.Placement:
			order = insertPlacement(order, stops, i)
		default:
			order = append(order, Ordered{Index: i})
		}
	}
	return order, skipped
}

// insertPlacement puts a placement line after the last of those that are sewn
// together, or after what would cover it.
func insertPlacement(order []Ordered, stops []stitch.Stop, index int) []Ordered {
	isLine := func(o Ordered) bool { return stops[o.Index].Role == stitch.Placement }
	first := slices.IndexFunc(order, isLine)
	if first < 0 {
		return append(order, Ordered{Index: index})
	}
	to := first
	for to < len(order) && isLine(order[to]) {
		to++
	}
	moved := Ordered{Index: index}
	for k := len(order) - 1; k >= to; k-- {
		if earlier := stops[order[k].Index]; !isLine(order[k]) && overlap(earlier.Bounds, stops[index].Bounds) {
			to, moved.Why = k+1, say.T("its line stays behind stop %s, which would cover it", say.Count(earlier.N))
			break
		}
	}
	return slices.Insert(order, to, moved)
}

// overlap tells whether two boxes share an area.
func overlap(a, b stitch.Bounds) bool {
	return a.Left < b.Right && b.Left < a.Right && a.Bottom < b.Top && b.Bottom < a.Top
}
