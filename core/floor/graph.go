package floor

import (
	"cmp"
	"math/rand/v2"
	"slices"
)

// A graph is a plan as orders alone: which unit of a resource each use has, and
// who has it after whom. Its nodes are the steps of all people; an arc leads from
// a step to the next of its person, and from the last step of a use to the first
// of the next use of the same unit. Longest paths give the earliest times. It
// knows nothing of stretches in which something is out: whoever takes a plan from
// it places it again.
type graph struct {
	*shop
	// By node: a person's steps follow one another.
	base   []int // by person: their first node
	person []int32
	ready  []tick
	length []tick
	first  []bool
	// head is the earliest start, tail the least time from the start to the end
	// of the day.
	head, tail []tick
	// begins and ends list the uses that begin with a node and end with it.
	begins, ends [][]int32
	// By chain; what is tied to one is counted with it.
	chainNodes [][]int32
	chainUses  [][]int32
	// follows has, by node, the option of a tied step for each of the other's, nil for
	// all that choose for themselves.
	follows [][]int
	// chainAt is, by node, the chain it is counted with, −1 at the bench.
	chainAt []int

	uses []use
	// together has, by block, the uses that lie in it: they go before or behind
	// those of another block as one.
	together [][]int32
	// option is by chain.
	option []int
	// By unit: the first and the last use.
	unitOf    []int // by resource: its first unit
	belongsTo []int // by unit: its resource
	firstUse  []int32
	lastUse   []int32
	makespan  tick
	order     []int32 // nodes, each after all that come before it
	waitingOn []int32
	journal   []change
}

// A use has one unit of a resource from the start of node from to the end of
// node to.
type use struct {
	from, to int32
	// resource is fixed, or −1: then byOption has it by the chain's option (−1
	// for none), or oneOf lists the resources of which any will do.
	resource int
	chain    int
	byOption []int
	oneOf    []int
	// block is which of together it lies in.
	block int32
	// unit is the one it has, −1 for none; prev and next are the uses of it before
	// and after.
	unit, prev, next int32
}

// A change is a use taken off its unit or a chain with another option, to be undone.
type change struct {
	use, unit, prev int32
	chain, option   int
}

// mostUses bounds the memory of the search.
const mostUses = 1200

// newGraph lists the uses of a shop; ok is false where there are too many.
// Resources of which there is enough for everyone are left out.
func newGraph(s *shop) (g *graph, ok bool) {
	g = &graph{shop: s, option: make([]int, len(s.options)), chainNodes: make([][]int32, len(s.options)), chainUses: make([][]int32, len(s.options))}
	scarce := s.scarce()
	for i := range s.people {
		j := &s.people[i]
		g.base = append(g.base, len(g.person))
		for k := range j.steps {
			n := int32(len(g.person))
			g.person, g.first, g.length = append(g.person, int32(i)), append(g.first, k == 0), append(g.length, j.steps[k].minutes)
			g.ready = append(g.ready, max(j.steps[k].at, j.ready))
			for _, need := range j.steps[k].needs {
				for range need.units {
					if scarce[need.resource] {
						g.uses = append(g.uses, use{from: n, to: n, resource: need.resource, chain: -1})
					}
				}
			}
			if len(j.steps[k].oneOf) > 0 {
				g.uses = append(g.uses, use{from: n, to: n, resource: -1, chain: -1, oneOf: j.steps[k].oneOf})
			}
			root, follows := j.steps[k].chain, []int(nil)
			if root >= 0 {
				root, follows = j.rootOf(root)
				g.chainNodes[root] = append(g.chainNodes[root], n)
			}
			g.follows, g.chainAt = append(g.follows, follows), append(g.chainAt, root)
		}
		base := int32(g.base[i])
		for _, b := range j.blocks {
			for _, c := range b.chains {
				first, last := j.chainSpan(c.index)
				root, _ := j.rootOf(c.index)
				g.uses = append(g.uses, use{from: base + int32(first), to: base + int32(last), resource: -1, chain: root, byOption: s.options[root]})
			}
			for _, h := range b.holds {
				switch {
				case h.resource >= 0 && scarce[h.resource]:
					g.uses = append(g.uses, use{from: base + int32(h.from), to: base + int32(h.to), resource: h.resource, chain: -1})
				case h.resource < 0 && !slices.ContainsFunc(h.byOption, func(r int) bool { return r >= 0 && r < s.stations }):
					root, follows := j.rootOf(h.chain)
					byOption := h.byOption
					if follows != nil {
						byOption = make([]int, len(follows))
						for o, own := range follows {
							byOption[o] = h.byOption[own]
						}
					}
					g.uses = append(g.uses, use{from: base + int32(h.from), to: base + int32(h.to), resource: -1, chain: root, byOption: byOption})
				}
			}
		}
	}
	if len(g.uses) > mostUses {
		return nil, false
	}
	n := len(g.person)
	g.head, g.tail, g.waitingOn = make([]tick, n), make([]tick, n), make([]int32, n)
	g.begins, g.ends = make([][]int32, n), make([][]int32, n)
	blocks, count := make([]int32, len(s.people)), int32(0)
	for i := range s.people {
		blocks[i] = count
		count += int32(len(s.people[i].blocks))
	}
	g.together = make([][]int32, count)
	for u, at := range g.uses {
		g.begins[at.from] = append(g.begins[at.from], int32(u))
		g.ends[at.to] = append(g.ends[at.to], int32(u))
		i := g.person[at.from]
		at.block = blocks[i] + int32(slices.IndexFunc(s.people[i].blocks, func(b block) bool { return int(at.from)-g.base[i] < b.to }))
		g.uses[u].block = at.block
		g.together[at.block] = append(g.together[at.block], int32(u))
		if at.chain >= 0 {
			g.chainUses[at.chain] = append(g.chainUses[at.chain], int32(u))
		}
	}
	units := 0
	for r := range s.capacity {
		g.unitOf = append(g.unitOf, units)
		for range min(s.capacity[r], len(g.uses)) {
			g.belongsTo = append(g.belongsTo, r)
			units++
		}
	}
	g.unitOf = append(g.unitOf, units)
	g.firstUse, g.lastUse = make([]int32, units), make([]int32, units)
	return g, true
}

// scarce tells which resources may be short: others never make anybody wait.
func (s *shop) scarce() []bool {
	most := make([]int, len(s.capacity))
	for i := range s.people {
		mine := make([]int, len(s.capacity))
		for _, o := range s.people[i].steps {
			for _, need := range o.needs {
				mine[need.resource] = max(mine[need.resource], need.units)
			}
		}
		for r := range mine {
			for _, b := range s.people[i].blocks {
				for _, h := range b.holds {
					if h.resource == r || h.resource < 0 && slices.Contains(h.byOption, r) {
						mine[r]++
					}
				}
			}
			most[r] += mine[r]
		}
	}
	scarce := make([]bool, len(s.capacity))
	for r := range scarce {
		scarce[r] = r < s.stations || most[r] > s.capacity[r]
	}
	return scarce
}

// take makes the graph the orders of a schedule; ok is false where they cannot be
// told, as those of steps that take no time.
func (g *graph) take(from *schedule) (ok bool) {
	for u := range g.firstUse {
		g.firstUse[u], g.lastUse[u] = -1, -1
	}
	start := func(n int32) tick { return from.start[g.person[n]][int(n)-g.base[g.person[n]]] }
	end := func(n int32) tick { return from.end[g.person[n]][int(n)-g.base[g.person[n]]] }
	for c, nodes := range g.chainNodes {
		if len(nodes) == 0 {
			continue
		}
		i := g.person[nodes[0]]
		g.choose(c, from.option[i][int(nodes[0])-g.base[i]])
	}
	byStart := make([]int32, len(g.uses))
	for u := range byStart {
		byStart[u] = int32(u)
		g.uses[u].unit, g.uses[u].prev, g.uses[u].next = -1, -1, -1
	}
	slices.SortStableFunc(byStart, func(a, b int32) int {
		return cmp.Or(cmp.Compare(start(g.uses[a].from), start(g.uses[b].from)), cmp.Compare(end(g.uses[a].to), end(g.uses[b].to)), cmp.Compare(a, b))
	})
	for _, u := range byStart {
		at := &g.uses[u]
		resource := g.resourceOf(at)
		if len(at.oneOf) > 0 {
			i := g.person[at.from]
			resource = from.with[i][int(at.from)-g.base[i]]
		}
		if resource < 0 {
			continue
		}
		// The unit that is free and was used last.
		best := -1
		for unit := g.unitOf[resource]; unit < g.unitOf[resource+1]; unit++ {
			if last := g.lastUse[unit]; last < 0 {
				if best < 0 {
					best = unit
				}
			} else if end(g.uses[last].to) <= start(at.from) && (best < 0 || g.lastUse[best] < 0 || end(g.uses[last].to) > end(g.uses[g.lastUse[best]].to)) {
				best = unit
			}
		}
		if best < 0 {
			return false
		}
		g.insert(u, int32(best), g.lastUse[best])
	}
	return g.evaluate()
}

// resourceOf is what a use takes under the chosen options, −1 for none or for any
// of some.
func (g *graph) resourceOf(u *use) int {
	if u.resource >= 0 || u.chain < 0 {
		return u.resource
	}
	return u.byOption[g.option[u.chain]]
}

// choose gives a chain an option, and its steps their length.
func (g *graph) choose(chain, option int) {
	g.option[chain] = option
	for _, n := range g.chainNodes[chain] {
		i := g.person[n]
		g.length[n] = g.people[i].steps[int(n)-g.base[i]].on[g.optionAt(n, option)]
	}
}

// optionAt is the option of a node's own chain, by that of the chain it is counted
// with.
func (g *graph) optionAt(n int32, option int) int {
	if f := g.follows[n]; f != nil {
		return f[option]
	}
	return option
}

// rootOf is the chain that another is tied to, with what it follows; itself for one
// that is not.
func (j *job) rootOf(index int) (root int, follows []int) {
	for _, b := range j.blocks {
		for _, c := range b.chains {
			if c.index == index && c.tied >= 0 {
				return b.chains[c.tied].index, c.follows
			}
		}
	}
	return index, nil
}

// insert puts a use behind another of a unit, −1 for before all.
func (g *graph) insert(u, unit, prev int32) {
	at := &g.uses[u]
	at.unit, at.prev = unit, prev
	if prev >= 0 {
		at.next = g.uses[prev].next
		g.uses[prev].next = u
	} else {
		at.next = g.firstUse[unit]
		g.firstUse[unit] = u
	}
	if at.next >= 0 {
		g.uses[at.next].prev = u
	} else {
		g.lastUse[unit] = u
	}
}

func (g *graph) remove(u int32) {
	at := &g.uses[u]
	if at.unit < 0 {
		return
	}
	if at.prev >= 0 {
		g.uses[at.prev].next = at.next
	} else {
		g.firstUse[at.unit] = at.next
	}
	if at.next >= 0 {
		g.uses[at.next].prev = at.prev
	} else {
		g.lastUse[at.unit] = at.prev
	}
	at.unit, at.prev, at.next = -1, -1, -1
}

// move takes a use off its unit and puts it behind another of a unit, to be
// undone; unit −1 leaves it off.
func (g *graph) move(u, unit, prev int32) {
	g.journal = append(g.journal, change{use: u, unit: g.uses[u].unit, prev: g.uses[u].prev, chain: -1})
	g.remove(u)
	if unit >= 0 {
		g.insert(u, unit, prev)
	}
}

// rechoose gives a chain another option, to be undone.
func (g *graph) rechoose(chain, option int) {
	g.journal = append(g.journal, change{chain: chain, option: g.option[chain]})
	g.choose(chain, option)
}

// undo takes everything back since the journal was emptied.
func (g *graph) undo() {
	for i := len(g.journal) - 1; i >= 0; i-- {
		c := g.journal[i]
		if c.chain >= 0 {
			g.choose(c.chain, c.option)
			continue
		}
		g.remove(c.use)
		if c.unit >= 0 {
			g.insert(c.use, c.unit, c.prev)
		}
	}
	g.journal = g.journal[:0]
}

// evaluate finds heads, tails and the makespan; it is false where the orders
// wait for each other.
func (g *graph) evaluate() bool {
	g.order = g.order[:0]
	for n := range g.waitingOn {
		g.waitingOn[n] = 0
		if !g.first[n] {
			g.waitingOn[n] = 1
		}
		for _, u := range g.begins[n] {
			if g.uses[u].prev >= 0 {
				g.waitingOn[n]++
			}
		}
		if g.waitingOn[n] == 0 {
			g.order = append(g.order, int32(n))
		}
	}
	last := int32(len(g.person) - 1)
	g.makespan = 0
	for i := 0; i < len(g.order); i++ {
		n := g.order[i]
		head := g.ready[n]
		if !g.first[n] {
			head = max(head, g.head[n-1]+g.length[n-1])
		}
		for _, u := range g.begins[n] {
			if prev := g.uses[u].prev; prev >= 0 {
				to := g.uses[prev].to
				head = max(head, g.head[to]+g.length[to])
			}
		}
		g.head[n] = head
		end := head + g.length[n]
		g.makespan = max(g.makespan, end)
		if n < last && !g.first[n+1] {
			if g.waitingOn[n+1]--; g.waitingOn[n+1] == 0 {
				g.order = append(g.order, n+1)
			}
		}
		for _, u := range g.ends[n] {
			if next := g.uses[u].next; next >= 0 {
				from := g.uses[next].from
				if g.waitingOn[from]--; g.waitingOn[from] == 0 {
					g.order = append(g.order, from)
				}
			}
		}
	}
	if len(g.order) < len(g.person) {
		return false
	}
	for i := len(g.order) - 1; i >= 0; i-- {
		n := g.order[i]
		tail := tick(0)
		if n < last && !g.first[n+1] {
			tail = g.tail[n+1]
		}
		for _, u := range g.ends[n] {
			if next := g.uses[u].next; next >= 0 {
				tail = max(tail, g.tail[g.uses[next].from])
			}
		}
		g.tail[n] = tail + g.length[n]
	}
	return true
}

// critical walks a longest path back from the end of the day and gives the uses
// on it that follow one another on a unit, in runs, the last run first and each
// in order.
func (g *graph) critical(rng *rand.Rand, runs [][]int32) [][]int32 {
	runs = runs[:0]
	at := int32(-1)
	count := 0
	for n := range g.person {
		if g.head[n]+g.length[n] == g.makespan && g.tail[n] == g.length[n] {
			if count++; rng.IntN(count) == 0 {
				at = int32(n)
			}
		}
	}
	entered := int32(-1) // the use by which the run behind began
	for at >= 0 {
		// Which arcs are tight?
		var by int32 = -1
		found := 0
		if !g.first[at] && g.head[at-1]+g.length[at-1] == g.head[at] {
			found = 1
		}
		for _, u := range g.begins[at] {
			prev := g.uses[u].prev
			if prev < 0 {
				continue
			}
			if to := g.uses[prev].to; g.head[to]+g.length[to] == g.head[at] {
				if found++; rng.IntN(found) == 0 {
					by = u
				}
			}
		}
		switch {
		case found == 0:
			at = -1
		case by < 0:
			at--
		default:
			prev := g.uses[by].prev
			if len(runs) > 0 && entered == by {
				last := &runs[len(runs)-1]
				*last = append(*last, prev)
			} else {
				runs = append(runs, []int32{by, prev})
			}
			entered = prev
			at = g.uses[prev].to
		}
	}
	for _, run := range runs {
		slices.Reverse(run)
	}
	return runs
}

// schedule is the graph's earliest times; what is held from step to step is
// taken as late as that allows.
func (g *graph) schedule(out *schedule) {
	out.makespan, out.sumEnds = g.makespan, 0
	for n, i := range g.person {
		k := n - g.base[i]
		out.start[i][k], out.end[i][k], out.with[i][k] = g.head[n], g.head[n]+g.length[n], -1
		if c := g.chainAt[n]; c >= 0 {
			out.option[i][k] = g.optionAt(int32(n), g.option[c])
		}
	}
	for u := range g.uses {
		if at := &g.uses[u]; len(at.oneOf) > 0 {
			i := g.person[at.from]
			out.with[i][int(at.from)-g.base[i]] = g.belongsTo[at.unit]
		}
	}
	for i := range g.people {
		out.done[i] = out.end[i][len(out.end[i])-1]
		out.sumEnds += out.done[i]
	}
}
