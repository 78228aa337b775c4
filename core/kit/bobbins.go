package kit

import (
	"math"
	"slices"

	"chalkstep/core/say"
	"chalkstep/core/stitch"
	"chalkstep/core/supply"
)

// A winding is what is sewn at a machine of one class with one style of bobbin: so many pieces of each length
// of bobbin thread.
type winding struct {
	machine string
	style   supply.Key
	holdsMM float64
	pieces  []pieces
}

type pieces struct {
	eachMM float64
	n      int
}

// bobbins counts full bobbins by style. A machine goes on with its bobbin from one student to the next, in whatever
// hoop they sew. A bobbin is not run out inside a piece when it holds at least one: what is left of it then
// does not count.
func (f Figures) bobbins(requests []Request) []Line {
	var lines []Line
	for _, w := range f.windings(requests) {
		count, left, sewn := 0, 0.0, say.List{}
		for _, p := range w.pieces {
			sewn = append(sewn, say.T("%s of %s", say.N{N: p.n, Noun: "piece"}, say.Thread(p.eachMM)))
			if p.eachMM > w.holdsMM { // swapped between stops
				count += p.n * int(math.Ceil(p.eachMM/w.holdsMM))
				left = 0
				continue
			}
			for range p.n {
				if p.eachMM > left {
					count, left = count+1, w.holdsMM
				}
				left -= p.eachMM
			}
		}
		line := Line{Key: w.style, Count: float64(count), Working: []say.Text{
			say.T("%s sews %s; a full bobbin holds %s, and none runs out inside a piece that it could sew whole: %s",
				say.Name(w.machine), sewn, say.Thread(w.holdsMM), say.Count(count))}}
		lines = add(lines, line)
	}
	return lines
}

// windings are those of the machines of a class, in the order in which they are named.
func (f Figures) windings(requests []Request) []winding {
	var all []winding
	for _, r := range requests {
		students, most := r.students()
		for i, s := range r.Seats {
			n := s.Students
			if i == most {
				n += f.Tests + f.Spares(students)
			}
			var stops []stitch.Stop
			for _, h := range s.Hoopings {
				stops = append(stops, h.Stops...)
			}
			eachMM := f.BobbinMM(stops)
			if n == 0 || s.BobbinMetres <= 0 || eachMM <= 0 {
				continue
			}
			at := slices.IndexFunc(all, func(w winding) bool { return w.machine == s.Machine && w.style == s.Bobbin })
			if at < 0 {
				at = len(all)
				all = append(all, winding{machine: s.Machine, style: s.Bobbin, holdsMM: s.BobbinMetres * 1000})
			}
			w := &all[at]
			if k := slices.IndexFunc(w.pieces, func(p pieces) bool { return p.eachMM == eachMM }); k >= 0 {
				w.pieces[k].n += n
			} else {
				w.pieces = append(w.pieces, pieces{eachMM, n})
			}
		}
	}
	return all
}

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
