package floor

import "slices"

// A step of the search from one graph to the next: uses of a unit in another
// order, a use on another unit, or a person at another station.
type step struct {
	kind     stepKind
	use      int32 // what is moved
	other    int32 // behind or before which other use of its unit
	unit     int32
	prev     int32
	chain    int
	option   int
	estimate tick
}

type stepKind uint8

const (
	behind    stepKind = iota // use goes right behind other, further along its unit
	before                    // use goes right before other, further back on its unit
	elsewhere                 // use goes to unit, behind prev
	restation                 // chain takes option
)

// A walker estimates what a step would bring, without making it: the longest path
// through what is moved, with the times of all else as they are.
type walker struct {
	*graph
	head, tail []tick // by node, as far as stamped
	stamp      []int32
	now        int32
	moved      []int32 // uses in their new order
	spots      []spot  // by use of the chain that is moved
	passed     []int32 // blocks
}

// A spot on a unit is behind a use, −1 for before all.
type spot struct{ unit, prev int32 }

func newWalker(g *graph) *walker {
	n := len(g.person)
	return &walker{graph: g, head: make([]tick, n), tail: make([]tick, n), stamp: make([]int32, n)}
}

func (w *walker) endOf(n int32) tick {
	if w.stamp[n] == w.now {
		return w.head[n] + w.length[n]
	}
	return w.graph.head[n] + w.length[n]
}

func (w *walker) tailOf(n int32) tick {
	if w.stamp[n] == w.now {
		return w.tail[n]
	}
	return w.graph.tail[n]
}

// reorder estimates the makespan with the uses of w.moved in that order between
// two others of their unit.
func (w *walker) reorder(prev, next int32) tick {
	w.now++
	at := tick(0)
	if prev >= 0 {
		at = w.graph.head[w.uses[prev].to] + w.length[w.uses[prev].to]
	}
	for _, u := range w.moved {
		at = w.forward(u, at)
	}
	rest := tick(0)
	if next >= 0 {
		rest = w.graph.tail[w.uses[next].from]
	}
	longest := tick(0)
	for i := len(w.moved) - 1; i >= 0; i-- {
		var most tick
		rest, most = w.backward(w.moved[i], rest)
		longest = max(longest, most)
	}
	return longest
}

// forward gives the nodes of a use their heads, where its unit is free from a
// time on, and tells when it is free again.
func (w *walker) forward(u int32, from tick) tick {
	at := &w.uses[u]
	for n := at.from; ; n++ {
		head := w.ready[n]
		if n == at.from {
			head = max(head, from)
		}
		if !w.first[n] {
			head = max(head, w.endOf(n-1))
		}
		for _, other := range w.begins[n] {
			if prev := w.uses[other].prev; other != u && prev >= 0 {
				head = max(head, w.endOf(w.uses[prev].to))
			}
		}
		w.head[n], w.tail[n], w.stamp[n] = head, w.graph.tail[n], w.now
		if n == at.to {
			return head + w.length[n]
		}
	}
}

// backward gives the nodes of a use their tails, where so much is left to do on
// its unit after it, and tells what is left with it and the longest path through it.
func (w *walker) backward(u int32, rest tick) (with, longest tick) {
	at := &w.uses[u]
	last := int32(len(w.person) - 1)
	for n := at.to; ; n-- {
		tail := tick(0)
		if n == at.to {
			tail = rest
		}
		if n < last && !w.first[n+1] {
			tail = max(tail, w.tailOf(n+1))
		}
		for _, other := range w.ends[n] {
			if next := w.uses[other].next; other != u && next >= 0 {
				tail = max(tail, w.tailOf(w.uses[next].from))
			}
		}
		w.tail[n] = tail + w.length[n]
		longest = max(longest, w.head[n]+w.tail[n])
		if n == at.from {
			return w.tail[n], longest
		}
	}
}

// along estimates the makespan with use u right behind other, which comes later
// on its unit.
func (w *walker) along(u, other int32) tick {
	w.moved = w.moved[:0]
	for x := w.uses[u].next; ; x = w.uses[x].next {
		w.moved = append(w.moved, x)
		if x == other {
			break
		}
	}
	w.moved = append(w.moved, u)
	return w.reorder(w.uses[u].prev, w.uses[other].next)
}

// back estimates the makespan with use u right before other, which comes earlier
// on its unit.
func (w *walker) back(u, other int32) tick {
	w.moved = append(w.moved[:0], u)
	for x := other; x != u; x = w.uses[x].next {
		w.moved = append(w.moved, x)
	}
	return w.reorder(w.uses[other].prev, w.uses[u].next)
}

// on estimates the makespan with use u on a unit behind another use.
func (w *walker) on(u int32, at spot) tick {
	w.moved = append(w.moved[:0], u)
	next := w.firstUse[at.unit]
	if at.prev >= 0 {
		next = w.uses[at.prev].next
	}
	return w.reorder(at.prev, next)
}

// spotOn is where on a unit something would go that could begin at a time: behind
// the last use that begins before it.
func (w *walker) spotOn(unit int32, from tick) spot {
	at := spot{unit, -1}
	for x := w.firstUse[unit]; x >= 0 && w.graph.head[w.uses[x].from] < from; x = w.uses[x].next {
		at.prev = x
	}
	return at
}

// withOption finds where the uses of a chain would go with another option, and
// estimates the makespan; w.spots has them in the order of the chain's uses.
func (w *walker) withOption(chain, option int) (tick, bool) {
	w.now++
	group := w.chainUses[chain]
	w.spots = w.spots[:0]
	first, end := w.uses[group[0]].from, w.uses[group[0]].to
	for _, u := range group {
		first, end = min(first, w.uses[u].from), max(end, w.uses[u].to)
		w.spots = append(w.spots, spot{-1, -1})
	}
	j := &w.people[w.person[first]]
	base := int32(w.base[w.person[first]])
	lengthOf := func(n int32) tick {
		if w.chainAt[n] == chain {
			return j.steps[n-base].on[w.optionAt(n, option)]
		}
		return w.length[n]
	}
	at := tick(0)
	for n := first; n <= end; n++ {
		head := max(w.ready[n], at)
		if n == first && !w.first[n] {
			head = max(head, w.endOf(n-1))
		}
		for _, other := range w.begins[n] {
			if prev := w.uses[other].prev; prev >= 0 && w.uses[other].chain != chain {
				head = max(head, w.endOf(w.uses[prev].to))
			}
		}
		for i, u := range group {
			if w.uses[u].from != n {
				continue
			}
			resource := w.uses[u].byOption[option]
			if resource < 0 {
				continue
			}
			soonest := never
			for unit := w.unitOf[resource]; unit < w.unitOf[resource+1]; unit++ {
				s := w.spotOn(int32(unit), head)
				for s.prev >= 0 && w.uses[s.prev].chain == chain {
					s.prev = w.uses[s.prev].prev
				}
				free := head
				if s.prev >= 0 {
					free = max(free, w.endOf(w.uses[s.prev].to))
				}
				if free < soonest {
					soonest, w.spots[i] = free, s
				}
			}
			if soonest == never {
				return never, false
			}
			head = soonest
		}
		w.head[n], w.stamp[n] = head, w.now
		at = head + lengthOf(n)
	}
	rest, longest := tick(0), tick(0)
	last := int32(len(w.person) - 1)
	for n := end; n >= first; n-- {
		if n == end && n < last && !w.first[n+1] {
			rest = max(rest, w.graph.tail[n+1])
		}
		for _, other := range w.ends[n] {
			if next := w.uses[other].next; next >= 0 && w.uses[other].chain != chain {
				rest = max(rest, w.graph.tail[w.uses[next].from])
			}
		}
		for i, u := range group {
			if w.uses[u].to != n || w.spots[i].unit < 0 {
				continue
			}
			next := w.firstUse[w.spots[i].unit]
			if prev := w.spots[i].prev; prev >= 0 {
				next = w.uses[prev].next
			}
			if next >= 0 && w.uses[next].chain != chain {
				rest = max(rest, w.graph.tail[w.uses[next].from])
			}
		}
		rest += lengthOf(n)
		longest = max(longest, w.head[n]+rest)
	}
	return longest, true
}

// make makes a step; it is false where the graph then waits for itself, and the
// step is to be undone.
func (w *walker) make(s step) bool {
	w.journal = w.journal[:0]
	switch s.kind {
	case behind:
		w.moveBehind(s.use, s.other)
	case before:
		w.moveBefore(s.use, s.other)
	case elsewhere:
		w.move(s.use, s.unit, s.prev)
	case restation:
		if _, can := w.withOption(s.chain, s.option); !can {
			return false
		}
		for _, u := range w.chainUses[s.chain] {
			w.move(u, -1, -1)
		}
		w.rechoose(s.chain, s.option)
		for i, u := range w.chainUses[s.chain] {
			at := w.spots[i]
			for k, earlier := range w.spots[:i] {
				if earlier == w.spots[i] { // the same person's, and before it
					at.prev = w.chainUses[s.chain][k]
				}
			}
			if at.unit >= 0 {
				w.move(u, at.unit, at.prev)
			}
		}
	}
	return w.evaluate()
}

// moveBehind puts a use behind another of its unit, and what else lies in its block
// behind those of the blocks it passes: whoever sews later also has the hoop later.
func (w *walker) moveBehind(u, other int32) {
	w.passed = w.passed[:0]
	for x := w.uses[u].next; ; x = w.uses[x].next {
		w.passed = append(w.passed, w.uses[x].block)
		if x == other {
			break
		}
	}
	w.move(u, w.uses[u].unit, other)
	for _, mine := range w.together[w.uses[u].block] {
		if mine == u || w.uses[mine].unit < 0 || w.again(mine, u) {
			continue
		}
		last := int32(-1)
		for x := w.uses[mine].next; x >= 0; x = w.uses[x].next {
			if slices.Contains(w.passed, w.uses[x].block) {
				last = x
			}
		}
		if last >= 0 {
			w.move(mine, w.uses[mine].unit, last)
		}
	}
}

// again tells two uses of a station by the same person with others in between, who may
// stay there.
func (w *walker) again(a, b int32) bool {
	return w.uses[a].chain >= 0 && w.uses[a].chain == w.uses[b].chain && w.uses[a].unit == w.uses[b].unit
}

// moveBefore is the other way.
func (w *walker) moveBefore(u, other int32) {
	w.passed = w.passed[:0]
	for x := other; x != u; x = w.uses[x].next {
		w.passed = append(w.passed, w.uses[x].block)
	}
	w.move(u, w.uses[u].unit, w.uses[other].prev)
	for _, mine := range w.together[w.uses[u].block] {
		if mine == u || w.uses[mine].unit < 0 || w.again(mine, u) {
			continue
		}
		first := int32(-1)
		for x := w.uses[mine].prev; x >= 0; x = w.uses[x].prev {
			if slices.Contains(w.passed, w.uses[x].block) {
				first = x
			}
		}
		if first >= 0 {
			w.move(mine, w.uses[mine].unit, w.uses[first].prev)
		}
	}
}
