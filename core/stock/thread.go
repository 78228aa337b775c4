package stock

import (
	"chalkstep/core/pace"
	"chalkstep/core/supply"
)

// Drawn is the thread that was measured after a class, in millimetres by the item it came
// from, with what was sewn of it by key. Of a thread that came from an item nobody
// measured, too, nothing is known.
func Drawn(needs []Need, measuredMM map[int64]float64, sewn map[supply.Key]pace.Drawn) pace.Drawn {
	items := map[supply.Key]map[int64]bool{}
	unknown := map[int64]bool{}
	for _, n := range needs {
		if n.Item == nil || n.Reserved <= 0 || n.Key.Kind != supply.Thread {
			continue
		}
		if items[n.Key] == nil {
			items[n.Key] = map[int64]bool{}
		}
		items[n.Key][n.Item.ID] = true
	}
	// An item that serves a thread together with one that is not known is not known either.
	for again := true; again; {
		again = false
		for key, from := range items {
			bad := sewn[key].PathMM <= 0
			for id := range from {
				bad = bad || measuredMM[id] <= 0 || unknown[id]
			}
			if !bad {
				continue
			}
			delete(items, key)
			for id := range from {
				again, unknown[id] = true, true
			}
		}
	}
	var all pace.Drawn
	counted := map[int64]bool{}
	for key, from := range items {
		all = all.And(sewn[key])
		for id := range from {
			if !counted[id] {
				counted[id] = true
				all.RealMM += measuredMM[id]
			}
		}
	}
	return all
}
