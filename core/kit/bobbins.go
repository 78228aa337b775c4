package kit

import "chalkstep/core/stitch"

// BobbinSwaps lists the stops before which a fresh bobbin is fitted, when
// bobbins hold so many metres: the swap is planned at a stop's boundary,
// never inside a satin border (handbook, Estimating thread). A full one is in
// at the start. A stop that takes more than a bobbin begins with a fresh one,
// and is all the same listed once: it runs out in its middle.
func (f Figures) BobbinSwaps(stops []stitch.Stop, metres float64) []int {
	var swaps []int
	left := metres * 1000
	for i, s := range stops {
		takes := f.TopThreadMM(s) * f.BobbinShare
		if takes > left && i > 0 && left < metres*1000 {
			swaps = append(swaps, s.N)
			left = metres * 1000
		}
		left = max(0, left-takes)
	}
	return swaps
}
