package floor

import "slices"

// Somebody who comes back to a machine, as after each piece that is trimmed at the bench, keeps
// the hoop meanwhile and not the machine: others sew in between. Placed whole, such a block leaves
// nobody more than the minutes of the trimming. So it has parts, each of which is a turn of its
// own, and what is taken in the first is kept for ever until the part is placed that gives it back.
// Where an order says all of them one after the other, the block is placed whole.

// part cuts a block where somebody leaves a machine to come back to it; one that is not cut is
// whole. Its parts after the first take nothing that is kept, so that they never wait for ever: of
// somebody else they wait for what is given back with a step.
func (j *job) part(b *block, taken map[int]bool) []block {
	var cuts []int
	for _, c := range b.chains {
		if c.tied >= 0 {
			first, _ := j.chainSpan(c.index)
			for first--; j.steps[first].chain < 0; first-- {
			}
			cuts = append(cuts, first+1)
		} else if len(cuts) > 0 {
			return []block{*b}
		}
	}
	if len(cuts) == 0 {
		return []block{*b}
	}
	for _, h := range b.holds {
		if h.isNothing() {
			continue
		}
		if h.from >= cuts[0] || h.chain >= 0 && slices.Equal(h.byOption, j.stationsOf(b, h.chain)) && h.to >= cuts[0] {
			return []block{*b}
		}
	}
	for k := cuts[0]; k < b.to; k++ {
		o := &j.steps[k]
		if slices.ContainsFunc(o.needs, func(c claim) bool { return taken[c.resource] }) ||
			slices.ContainsFunc(o.oneOf, func(r int) bool { return taken[r] }) {
			return []block{*b}
		}
	}
	var parts []block
	from := b.from
	for i, to := range append(cuts, b.to) {
		part := block{from: from, to: to, parted: b, parts: len(cuts) + 1 - i, later: i > 0}
		for _, h := range b.holds {
			if !h.isNothing() && h.from >= from && h.from < to {
				part.holds = append(part.holds, h)
			}
		}
		for _, c := range b.chains {
			if first, _ := j.chainSpan(c.index); first >= from && first < to {
				c.length, c.windows = nil, make([][]window, len(c.options))
				j.measure(&part, &c)
				part.chains = append(part.chains, c)
			}
		}
		parts, from = append(parts, part), to
	}
	return parts
}

// stationsOf are the options of a chain of a block.
func (j *job) stationsOf(b *block, index int) []int {
	for _, c := range b.chains {
		if c.index == index {
			return c.options
		}
	}
	return nil
}

// isNothing tells that a hold takes nothing, and is there to keep steps in one block.
func (h hold) isNothing() bool {
	return h.resource < 0 && !slices.ContainsFunc(h.byOption, func(r int) bool { return r >= 0 })
}

// placeWhole places all parts of a block at once where an order says them one after the other; it
// is false where it does not.
func (d *decoder) placeWhole(person int, b *block, choice []int, out *schedule) bool {
	if b.parted == nil || b.later || d.saidTogether < b.parts {
		return false
	}
	d.next[person] += b.parts
	d.placeBlock(person, b.parted, choice, out)
	return true
}

// endParts places the parts that others have begun and not ended, so that nothing is kept for ever
// any more. It tells whether there are any.
func (d *decoder) endParts(except int, choice []int, out *schedule) (any bool) {
	for person := range d.people {
		for person != except && d.isParted(person) {
			d.placeTurn(person, choice, out)
			d.skip[person]++
			any = true
		}
	}
	return any
}

// isParted tells that somebody has begun a block in parts, and not ended it.
func (d *decoder) isParted(person int) bool {
	blocks, next := d.people[person].blocks, d.next[person]
	return next < len(blocks) && blocks[next].later
}

// follow gives the chains of a later part the stations of the first, as it was placed.
func (d *decoder) followFirst(person int, b *block, out *schedule) {
	for i, c := range b.chains {
		d.trial.options[i] = c.follows[out.option[person][c.leader]]
	}
}

// giveBack ends with a part what was kept for ever until then.
func (d *decoder) giveBack(j *job, b *block, options []int) {
	for _, h := range b.parted.holds {
		if h.from >= b.from || h.to < b.from || h.to >= b.to {
			continue
		}
		if resource := j.held(h, options); resource >= 0 {
			d.profiles[resource].add(d.best.end[h.to-b.from], never, -1)
		}
	}
}
