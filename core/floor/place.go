package floor

// A placement is the times of one block.
type placement struct {
	start, end []tick
	with       []int
	options    []int // by the block's chains
}

// placeTurn places a person's next turn, and tells the least time at which they can
// be done.
func (d *decoder) placeTurn(person int, choice []int, out *schedule) tick {
	j := &d.people[person]
	turn := d.turn[person]
	d.turn[person]++
	for d.next[person] < j.turns[turn] {
		b := &j.blocks[d.next[person]]
		if b.free && d.closed.flat() {
			d.next[person]++
			d.placeAtBench(person, b.from, d.free[person], out)
			continue
		}
		d.placeNext(person, choice, out)
	}
	return d.free[person] + j.left[turn]
}

// placeAtBench gives a block of one step at the bench its times.
func (d *decoder) placeAtBench(person, step int, start tick, out *schedule) {
	end := start + d.people[person].steps[step].minutes
	out.start[person][step], out.end[person][step], d.free[person] = start, end, end
}

// placeNext places the next block of a person.
func (d *decoder) placeNext(person int, choice []int, out *schedule) {
	j := &d.people[person]
	b := &j.blocks[d.next[person]]
	if d.placeWhole(person, b, choice, out) {
		return
	}
	d.next[person]++
	if b.alone != nil && d.closed.flat() {
		if start := d.fit(b.alone, d.free[person], never); start < never {
			d.take(b.alone, start)
			d.placeAtBench(person, b.from, start, out)
			return
		}
	}
	if b.sure && d.closed.flat() && d.placeSure(person, b, choice[b.chains[0].index], out) {
		return
	}
	d.placeBlock(person, b, choice, out)
}

// placeBlock places a block as early as it can be. Where it would wait for ever for what others
// keep between parts of theirs, those come first.
func (d *decoder) placeBlock(person int, b *block, choice []int, out *schedule) {
	j := &d.people[person]
	d.placeBest(person, b, d.free[person], choice, out)
	last := b.to - b.from - 1
	if d.parted && d.best.end[last] >= never && !b.later && d.endParts(person, choice, out) {
		d.placeBest(person, b, d.free[person], choice, out)
	}
	d.commit(j, b)
	d.free[person] = d.best.end[last]
	for i := b.from; i < b.to; i++ {
		out.start[person][i], out.end[person][i], out.with[person][i] = d.best.start[i-b.from], d.best.end[i-b.from], d.best.with[i-b.from]
		out.option[person][i] = d.optionOf(b, j.steps[i].chain, &d.best)
	}
	if b.later {
		d.giveBack(j, b, out.option[person])
	}
}

// take takes what windows ask for around a time.
func (d *decoder) take(windows []window, at tick) {
	for i := range windows {
		w := &windows[i]
		d.profiles[w.resource].add(at+w.from, at+w.to, w.units)
	}
}

// placeSure places a block that waits for the windows of its one chain alone, with the
// option that is chosen, or, −1, with the one that ends earliest. It is false where there
// is none.
func (d *decoder) placeSure(person int, b *block, chosen int, out *schedule) bool {
	c := &b.chains[0]
	start, ends := never, never
	from := d.free[person]
	if chosen >= 0 {
		start = d.soonest(c, chosen, from, never)
	} else {
		for option := range c.options {
			rest := c.length[option] + c.after
			if at := d.soonest(c, option, from, ends-rest); at < never {
				chosen, start, ends = option, at, at+rest
			}
		}
	}
	if start >= never {
		return false
	}
	d.take(c.windows[chosen], start)
	at := start - c.before
	steps := d.people[person].steps[b.from:b.to]
	starts, endings, options := out.start[person][b.from:b.to], out.end[person][b.from:b.to], out.option[person][b.from:b.to]
	for i := range steps {
		starts[i] = at
		if o := &steps[i]; o.chain >= 0 {
			options[i] = chosen
			at += o.on[chosen]
		} else {
			at += o.minutes
		}
		endings[i] = at
	}
	d.free[person] = at
	return true
}

// optionOf finds the option a placement gives a chain; 0 at the bench.
func (d *decoder) optionOf(b *block, chain int, p *placement) int {
	for i := range b.chains {
		if b.chains[i].index == chain {
			return p.options[i]
		}
	}
	return 0
}

// placeBest fills d.best with the placement of a block that ends earliest
// among the stations it may choose from.
func (d *decoder) placeBest(person int, b *block, from tick, choice []int, out *schedule) {
	j := &d.people[person]
	if b.later {
		d.followFirst(person, b, out)
		d.place(j, b, from)
		d.keepTrial(b)
		return
	}
	if len(b.chains) == 1 {
		d.placeOne(j, b, from, choice[b.chains[0].index])
		return
	}
	options := d.trial.options[:len(b.chains)]
	for i, c := range b.chains {
		options[i] = max(0, choice[c.index])
	}
	b.tie(options)
	d.place(j, b, from)
	d.keepTrial(b)
	last := b.to - b.from - 1
	for i, c := range b.chains {
		if choice[c.index] >= 0 || c.tied >= 0 {
			continue
		}
		for option := 1; option < len(c.options); option++ {
			copy(options, d.best.options)
			options[i] = option
			b.tie(options)
			d.place(j, b, from)
			if d.trial.end[last] < d.best.end[last] {
				d.keepTrial(b)
			}
		}
	}
}

// placeOne places a block of one chain: with the option that is chosen, or, −1, with
// the one that ends earliest, those first that may end soonest.
func (d *decoder) placeOne(j *job, b *block, from tick, chosen int) {
	c := &b.chains[0]
	last := b.to - b.from - 1
	starts := d.starts[:len(c.options)]
	for option := range starts {
		if starts[option] = never; chosen < 0 || option == chosen {
			starts[option] = d.soonest(c, option, from, never)
		}
	}
	d.best.end[last] = never
	for first := true; ; first = false {
		next, ends := -1, d.best.end[last]
		for option, start := range starts {
			if end := start + c.length[option] + c.after; start < never && (end < ends || first && next < 0) {
				next, ends = option, end
			}
		}
		if next < 0 {
			if first { // there is none: whoever asks is told never
				d.trial.options[0] = max(0, chosen)
				d.place(j, b, from)
				d.keepTrial(b)
			}
			return
		}
		begin := from
		if b.leads {
			begin = max(from, starts[next]-c.before)
		}
		starts[next] = never
		d.trial.options[0] = next
		d.place(j, b, begin)
		if first || d.trial.end[last] < d.best.end[last] {
			d.keepTrial(b)
		}
	}
}

// tie has chains follow the stations of those they are tied to.
func (b *block) tie(options []int) {
	for i, c := range b.chains {
		if c.tied >= 0 {
			options[i] = c.follows[options[c.tied]]
		}
	}
}

// soonest is a time before which a chain of a block cannot start with an option, as far
// as its windows tell; never where that is not before a limit.
func (d *decoder) soonest(c *chain, option int, from, limit tick) tick {
	return d.fit(c.windows[option], from+c.before, limit)
}

// fit is the first time from start on around which all windows have room, never where that
// is not before a limit.
func (d *decoder) fit(windows []window, start, limit tick) tick {
	for fits, i := 0, 0; fits < len(windows) && start < limit; i++ {
		if i == len(windows) {
			i = 0
		}
		w := &windows[i]
		at := d.profiles[w.resource].room(start+w.from, w.to-w.from, w.units, d.capacity[w.resource]) - w.from
		if fits++; at > start {
			start, fits = at, 1
		}
	}
	if start >= limit {
		return never
	}
	return start
}

func (d *decoder) keepTrial(b *block) {
	n := b.to - b.from
	copy(d.best.start[:n], d.trial.start[:n])
	copy(d.best.end[:n], d.trial.end[:n])
	copy(d.best.with[:n], d.trial.with[:n])
	copy(d.best.options, d.trial.options[:len(b.chains)])
}

// place finds times for a block with the trial's stations: each step as early
// as it can be; where a thing held over several steps is not free for all of
// them, the step that takes it moves behind what is in the way and the rest
// follows. Then the early steps close up to the last one, so that nothing is
// held longer than it has to be.
func (d *decoder) place(j *job, b *block, from tick) {
	n := b.to - b.from
	start, end := d.trial.start[:n], d.trial.end[:n]
	earliest := from
	for i := 0; i < n; {
		start[i], end[i] = d.firstFit(j, b, i, max(earliest, j.steps[b.from+i].at))
		earliest = end[i]
		if earliest >= never {
			start[n-1], end[n-1] = never, never
			return
		}
		if i++; i < n {
			continue
		}
		for _, h := range b.holds {
			resource := d.resourceOf(b, h)
			if resource < 0 {
				continue
			}
			from, until := h.from-b.from, never // until a later part
			if h.to < b.to {
				until = end[h.to-b.from]
			}
			if free, blocked := d.heldConflict(j, b, resource, start[from], until); blocked {
				i, earliest = from, free
				break
			}
		}
	}
	for i := n - 2; i >= 0; i-- {
		d.closeUp(j, b, i, start, end)
	}
}

// closeUp moves step i as late as it can be before the next step.
func (d *decoder) closeUp(j *job, b *block, i int, start, end []tick) {
	latest := start[i+1] - (end[i] - start[i])
	o := &j.steps[b.from+i]
	if latest == start[i] || o.at > 0 {
		return
	}
	with, _, blocked := d.stepConflict(b, o, latest, start[i+1])
	if blocked {
		return
	}
	// What the step gives back at its end is now held for longer.
	for _, h := range b.holds {
		if h.to != b.from+i {
			continue
		}
		if resource := d.resourceOf(b, h); resource >= 0 {
			if _, blocked := d.heldConflict(j, b, resource, start[h.from-b.from], start[i+1]); blocked {
				return
			}
		}
	}
	start[i], end[i], d.trial.with[i] = latest, start[i+1], with
}

// duration of step i of a block with the trial's stations.
func (d *decoder) duration(j *job, b *block, i int) tick {
	o := &j.steps[b.from+i]
	if o.chain < 0 {
		return o.minutes
	}
	return o.on[d.optionOf(b, o.chain, &d.trial)]
}

// firstFit finds when step i can be done at the earliest, by its own station
// and needs and the first unit of what it takes.
func (d *decoder) firstFit(j *job, b *block, i int, earliest tick) (start, end tick) {
	o := &j.steps[b.from+i]
	duration := d.duration(j, b, i)
	start = earliest
	for {
		end = start + duration
		if start >= never {
			return start, end
		}
		with, free, blocked := d.stepConflict(b, o, start, end)
		if !blocked {
			d.trial.with[i] = with
			return start, end
		}
		start = free
	}
}

// stepConflict finds whether a step can be done from start to end, and with
// which of the resources of which one will do.
func (d *decoder) stepConflict(b *block, o *op, start, end tick) (with int, free tick, blocked bool) {
	if !d.closed.flat() {
		if free, blocked := d.closed.conflict(start, end, 1, 1); blocked {
			return -1, free, true
		}
	}
	if o.chain >= 0 {
		if free, blocked := d.profiles[d.stationOf(b, o.chain)].conflict(start, end, 1, 1); blocked {
			return -1, free, true
		}
	}
	for _, need := range o.needs {
		if free, blocked := d.profiles[need.resource].conflict(start, end, need.units, d.capacity[need.resource]); blocked {
			return -1, free, true
		}
	}
	if len(o.oneOf) == 0 {
		return -1, 0, false
	}
	soonest := never
	for _, resource := range o.oneOf {
		free, blocked := d.profiles[resource].conflict(start, end, 1, d.capacity[resource])
		if !blocked {
			return resource, 0, false
		}
		soonest = min(soonest, free)
	}
	return -1, soonest, true
}

func (d *decoder) stationOf(b *block, chain int) int {
	return d.options[chain][d.optionOf(b, chain, &d.trial)]
}

func (d *decoder) resourceOf(b *block, h hold) int {
	if h.resource >= 0 {
		return h.resource
	}
	return h.byOption[d.optionOf(b, h.chain, &d.trial)]
}

// heldConflict checks one hold together with everything else the same block
// asks of that resource meanwhile.
func (d *decoder) heldConflict(j *job, b *block, resource int, start, end tick) (tick, bool) {
	own := 1
	if resource >= d.stations {
		own = d.ownUse(j, b, resource)
	}
	return d.profiles[resource].conflict(start, end, own, d.capacity[resource])
}

// ownUse is the most units of a pool the block asks for at one of its steps.
func (d *decoder) ownUse(j *job, b *block, resource int) int {
	most := 0
	for i := b.from; i < b.to; i++ {
		units := 0
		for _, need := range j.steps[i].needs {
			if need.resource == resource {
				units += need.units
			}
		}
		for _, h := range b.holds {
			if h.from <= i && i <= h.to && d.resourceOf(b, h) == resource {
				units++
			}
		}
		most = max(most, units)
	}
	return most
}

// commit puts the best placement into the profiles.
func (d *decoder) commit(j *job, b *block) {
	copy(d.trial.options, d.best.options[:len(b.chains)])
	start, end := d.best.start, d.best.end
	for i := b.from; i < b.to; i++ {
		o := &j.steps[i]
		if o.chain >= 0 {
			d.profiles[d.stationOf(b, o.chain)].add(start[i-b.from], end[i-b.from], 1)
		}
		for _, need := range o.needs {
			d.profiles[need.resource].add(start[i-b.from], end[i-b.from], need.units)
		}
		if with := d.best.with[i-b.from]; with >= 0 {
			d.profiles[with].add(start[i-b.from], end[i-b.from], 1)
		}
	}
	// A kept station is counted once for the keeping and once for each step
	// on it; more than its one unit in use means no more than busy.
	for _, h := range b.holds {
		if resource := d.resourceOf(b, h); resource >= 0 {
			until := never
			if h.to < b.to {
				until = end[h.to-b.from]
			}
			d.profiles[resource].add(start[h.from-b.from], until, 1)
		}
	}
}
