package kit

import (
	"cmp"
	"slices"

	"chalkstep/core/supply"
)

// A Sewing is a stretch of time in which a machine sews one thread, in
// minutes from the start of the class.
type Sewing struct {
	Thread   supply.Key
	From, To float64
}

// SpoolsAtOnce counts, for each thread, how many machines sew it at the same
// time at the most: so many spools have to be there, however little thread
// each of them gives. Threads that only meet in one moment do not count as
// sewn at once.
func SpoolsAtOnce(sewing []Sewing) map[supply.Key]int {
	type edge struct {
		at    float64
		delta int
	}
	edges := map[supply.Key][]edge{}
	for _, s := range sewing {
		if s.To > s.From {
			edges[s.Thread] = append(edges[s.Thread], edge{s.From, 1}, edge{s.To, -1})
		}
	}
	most := map[supply.Key]int{}
	for key, list := range edges {
		slices.SortFunc(list, func(a, b edge) int { return cmp.Or(cmp.Compare(a.at, b.at), cmp.Compare(a.delta, b.delta)) })
		now := 0
		for _, e := range list {
			now += e.delta
			most[key] = max(most[key], now)
		}
	}
	return most
}
