package kit

import (
	"cmp"
	"slices"
)

// A Sewing is a stretch of time in which a machine sews one colour, in
// minutes from the start of the class.
type Sewing struct {
	Color    string
	From, To float64
}

// SpoolsAtOnce counts, for each colour, how many machines sew it at the same
// time at the most: so many spools have to be there, however little thread
// each of them gives. Threads that only meet in one moment do not count as
// sewn at once.
func SpoolsAtOnce(sewing []Sewing) map[string]int {
	type edge struct {
		at    float64
		delta int
	}
	edges := map[string][]edge{}
	for _, s := range sewing {
		if s.To > s.From {
			edges[s.Color] = append(edges[s.Color], edge{s.From, 1}, edge{s.To, -1})
		}
	}
	most := map[string]int{}
	for color, list := range edges {
		slices.SortFunc(list, func(a, b edge) int { return cmp.Or(cmp.Compare(a.at, b.at), cmp.Compare(a.delta, b.delta)) })
		now := 0
		for _, e := range list {
			now += e.delta
			most[color] = max(most[color], now)
		}
	}
	return most
}
