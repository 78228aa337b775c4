package stitch

import "math/bits"

// mostSorted is how many stops colour sorting looks at; a design with more
// is sewn in its own order.
const mostSorted = 64

// ColorOrder orders the stops of one design for sewing many copies of it
// colour by colour. after[i] lists the stops that have to be sewn before stop
// i; thread[i] is the thread it sews with. The result is runs of stops that
// share a thread, as few as the precedence allows: between runs the thread is
// changed, once for all copies (handbook, Many at once).
//
// It searches breadth-first over sets of sewn stops. Within a run everything
// of that thread which may be sewn is sewn, as leaving it for later can never
// save a change. When the sets become too many, the run that sews the most
// is taken instead.
func ColorOrder(thread []string, after [][]int) [][]int {
	n := len(thread)
	if n == 0 {
		return nil
	}
	if n > mostSorted {
		return ownOrder(n)
	}
	s := newSorter(thread, after)
	if runs, ok := s.search(); ok {
		return runs
	}
	return s.greedy()
}

// ownOrder is one run for each stop.
func ownOrder(n int) [][]int {
	runs := make([][]int, n)
	for i := range runs {
		runs[i] = []int{i}
	}
	return runs
}

// A sorter holds the stops as bits of a word.
type sorter struct {
	n       int
	all     uint64
	before  []uint64 // by stop: what has to be sewn first
	threads []uint64 // by thread, in order of first use: its stops
}

func newSorter(thread []string, after [][]int) *sorter {
	s := &sorter{n: len(thread), all: ^uint64(0) >> (mostSorted - len(thread)), before: make([]uint64, len(thread))}
	index := map[string]int{}
	for i, name := range thread {
		t, seen := index[name]
		if !seen {
			t = len(s.threads)
			index[name] = t
			s.threads = append(s.threads, 0)
		}
		s.threads[t] |= 1 << i
		for _, earlier := range after[i] {
			s.before[i] |= 1 << earlier
		}
	}
	return s
}

// sew adds to the done stops all of a thread that may be sewn now.
func (s *sorter) sew(done, stops uint64) uint64 {
	for {
		grown := done
		for left := stops &^ done; left != 0; left &= left - 1 {
			i := bits.TrailingZeros64(left)
			if s.before[i]&^grown == 0 {
				grown |= 1 << i
			}
		}
		if grown == done {
			return done
		}
		done = grown
	}
}

// search finds the fewest runs; ok is false when there are too many sets.
func (s *sorter) search() (runs [][]int, ok bool) {
	const mostSets = 200_000
	cameFrom := map[uint64]uint64{0: 0}
	level := []uint64{0}
	for len(level) > 0 {
		var next []uint64
		for _, done := range level {
			for _, stops := range s.threads {
				sewn := s.sew(done, stops)
				if _, seen := cameFrom[sewn]; seen {
					continue
				}
				cameFrom[sewn] = done
				if sewn == s.all {
					return s.trace(cameFrom), true
				}
				next = append(next, sewn)
			}
		}
		if len(cameFrom) > mostSets {
			return nil, false
		}
		level = next
	}
	return ownOrder(s.n), true // what waits for itself is left as it is
}

func (s *sorter) trace(cameFrom map[uint64]uint64) [][]int {
	var runs [][]int
	for done := s.all; done != 0; done = cameFrom[done] {
		runs = append([][]int{s.list(done&^cameFrom[done], cameFrom[done])}, runs...)
	}
	return runs
}

// list orders the stops of a run so that none comes before what it waits for.
func (s *sorter) list(run, done uint64) []int {
	var order []int
	for run != 0 {
		for left := run; left != 0; left &= left - 1 {
			i := bits.TrailingZeros64(left)
			if s.before[i]&^done == 0 {
				order = append(order, i)
				done |= 1 << i
				run &^= 1 << i
			}
		}
	}
	return order
}

func (s *sorter) greedy() [][]int {
	var runs [][]int
	for done := uint64(0); done != s.all; {
		best := done
		for _, stops := range s.threads {
			if sewn := s.sew(done, stops); bits.OnesCount64(sewn) > bits.OnesCount64(best) {
				best = sewn
			}
		}
		if best == done {
			return ownOrder(s.n)
		}
		runs = append(runs, s.list(best&^done, done))
		done = best
	}
	return runs
}
