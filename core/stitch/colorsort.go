package stitch

import (
	"cmp"
	"encoding/binary"
	"math/bits"
	"slices"
)

// An Order is what has to be sewn before what, by stops from 0.
type Order struct {
	// After lists, for each stop, those that have to be sewn before it.
	After [][]int
	// Halted lists those of them after which the machine has to have halted, as
	// cloth is laid or cut away then.
	Halted [][]int
}

// Of the sets of sewn stops that are found from one run to the next, all are
// gone on with while they are not too many, and then the best: fewer in designs
// of many stops, where each takes longer, so that a page need not wait.
const (
	mostSorted = 2000 // a design of more stops is sewn in its own order
	bestSets   = 400
	setsPerSet = 50
	wideUnder  = 150
)

// width is how many sets are gone on with, of n stops.
func width(n int) int {
	const least = 4
	return max(least, min(bestSets, bestSets*wideUnder*wideUnder/max(1, n*n)))
}

// ColorOrder orders the stops of one design for sewing many copies of it
// colour by colour. thread[i] is the thread that stop i sews with. The result
// is runs of stops that share a thread, as few as the order allows: between
// runs the machine halts, once for all copies (handbook, Many at once).
//
// It searches breadth-first over sets of sewn stops. Within a run everything of
// that thread which may be sewn is sewn, as leaving it for later can never save
// a run. When the sets become too many, those with the most sewn are gone on
// with, so that the runs are few, but perhaps not the fewest.
func ColorOrder(thread []string, order Order) [][]int {
	if len(thread) > mostSorted {
		return ownOrder(len(thread))
	}
	s, most := newSorter(thread, order), width(len(thread))
	cameFrom := map[string]string{string(s.none()): ""}
	level := []set{s.none()}
	for len(level) > 0 {
		var next []set
		for _, done := range level {
			for _, stops := range s.threads {
				sewn := s.sew(done, stops)
				if _, seen := cameFrom[string(sewn)]; seen {
					continue
				}
				cameFrom[string(sewn)] = string(done)
				if sewn.count() == s.n {
					return s.runs(cameFrom, sewn)
				}
				next = append(next, sewn)
			}
		}
		if len(next) > most*setsPerSet {
			slices.SortStableFunc(next, func(a, b set) int { return cmp.Compare(b.count(), a.count()) })
			next = next[:most]
		}
		level = next
	}
	return ownOrder(s.n) // what waits for itself is left as it is
}

// ownOrder is one run for each stop.
func ownOrder(n int) [][]int {
	runs := make([][]int, n)
	for i := range runs {
		runs[i] = []int{i}
	}
	return runs
}

// A set of stops, a bit for each, in whole words.
type set []byte

func (s set) has(i int) bool { return s[i/8]&(1<<(i%8)) != 0 }
func (s set) add(i int)      { s[i/8] |= 1 << (i % 8) }

func (s set) count() int {
	n := 0
	for i := 0; i < len(s); i += 8 {
		n += bits.OnesCount64(binary.NativeEndian.Uint64(s[i:]))
	}
	return n
}

// within tells whether all of the set is in another.
func (s set) within(other set) bool {
	for i := 0; i < len(s); i += 8 {
		if binary.NativeEndian.Uint64(s[i:])&^binary.NativeEndian.Uint64(other[i:]) != 0 {
			return false
		}
	}
	return true
}

// A sorter holds what each stop waits for, and the stops of each thread, the
// threads in the order of their first use.
type sorter struct {
	n              int
	before, halted []set
	threads        [][]int
}

func (s *sorter) none() set { return make(set, (s.n+63)/64*8) }

func newSorter(thread []string, order Order) *sorter {
	s := &sorter{n: len(thread)}
	index := map[string]int{}
	for i, name := range thread {
		t, seen := index[name]
		if !seen {
			t = len(s.threads)
			index[name] = t
			s.threads = append(s.threads, nil)
		}
		s.threads[t] = append(s.threads[t], i)
		s.before, s.halted = append(s.before, s.none()), append(s.halted, s.none())
		for _, earlier := range order.After[i] {
			s.before[i].add(earlier)
		}
		if order.Halted != nil {
			for _, earlier := range order.Halted[i] {
				s.halted[i].add(earlier)
			}
		}
	}
	return s
}

// run lists what of a thread may be sewn in one go when some stops are done, in
// an order in which none comes before what it waits for, and all that is done
// then.
func (s *sorter) run(done set, stops []int) (order []int, sewn set) {
	sewn = slices.Clone(done)
	for more := true; more; {
		more = false
		for _, i := range stops {
			if !sewn.has(i) && s.before[i].within(sewn) && s.halted[i].within(done) {
				sewn.add(i)
				order = append(order, i)
				more = true
			}
		}
	}
	return order, sewn
}

func (s *sorter) sew(done set, stops []int) set {
	_, sewn := s.run(done, stops)
	return sewn
}

// runs lists the runs by which all came to be sewn.
func (s *sorter) runs(cameFrom map[string]string, all set) [][]int {
	var runs [][]int
	for sewn := string(all); set(sewn).count() > 0; sewn = cameFrom[sewn] {
		done := set(cameFrom[sewn])
		for _, stops := range s.threads {
			if order, same := s.run(done, stops); len(order) > 0 && string(same) == sewn {
				runs = append(runs, order)
				break
			}
		}
	}
	slices.Reverse(runs)
	return runs
}
