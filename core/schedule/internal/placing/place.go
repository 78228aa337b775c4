package placing

import (
	"chalkstep/core/schedule"
	"chalkstep/core/schedule/internal/instance"
)

// A placement is the times of one block.
type placement struct {
	Start, end []schedule.Tick
	with       []int
	options    []int // by the block's chains
}

// PlaceTurn places a job's next turn, and tells the least time at which they can
// be done.
func (d *Generator) PlaceTurn(job int, choice []int, out *Schedule) schedule.Tick {
	j := &d.Jobs[job]
	turn := d.Turn[job]
	d.Turn[job]++
	for d.next[job] < j.Turns[turn] {
		b := &j.Blocks[d.next[job]]
		if b.Free && d.Closed.Flat() {
			d.next[job]++
			d.placeAtBench(job, b.From, d.free[job], out)
			continue
		}
		d.placeNext(job, choice, out)
	}
	return d.free[job] + j.Left[turn]
}

// placeAtBench gives a block of one operation at the bench its times.
func (d *Generator) placeAtBench(job, step int, start schedule.Tick, out *Schedule) {
	end := start + d.Jobs[job].Operations[step].Minutes
	out.Start[job][step], out.End[job][step], d.free[job] = start, end, end
}

// placeNext places the next block of a job.
func (d *Generator) placeNext(job int, choice []int, out *Schedule) {
	j := &d.Jobs[job]
	b := &j.Blocks[d.next[job]]
	if d.placeWhole(job, b, choice, out) {
		return
	}
	d.next[job]++
	if b.Alone != nil && d.Closed.Flat() {
		if start := d.fit(b.Alone, d.free[job], schedule.Never); start < schedule.Never {
			d.take(b.Alone, start)
			d.placeAtBench(job, b.From, start, out)
			return
		}
	}
	if b.Sure && d.Closed.Flat() && d.placeSure(job, b, choice[b.Chains[0].Index], out) {
		return
	}
	d.placeBlock(job, b, choice, out)
}

// placeBlock places a block as early as possible. Where it needs a resource that another job holds
// without an end, the parts of those jobs come first.
func (d *Generator) placeBlock(job int, b *instance.Block, choice []int, out *Schedule) {
	j := &d.Jobs[job]
	d.PlaceBest(job, b, d.free[job], choice, out)
	last := b.To - b.From - 1
	if d.Parted && d.Best.end[last] >= schedule.Never && !b.Later && d.endParts(job, choice, out) {
		d.PlaceBest(job, b, d.free[job], choice, out)
	}
	d.commit(j, b)
	d.free[job] = d.Best.end[last]
	for i := b.From; i < b.To; i++ {
		out.Start[job][i], out.End[job][i], out.With[job][i] = d.Best.Start[i-b.From], d.Best.end[i-b.From],
			d.Best.with[i-b.From]
		out.Option[job][i] = d.optionOf(b, j.Operations[i].Chain, &d.Best)
	}
	if b.Later {
		d.giveBack(j, b, out.Option[job])
	}
}

// take takes what windows ask for around a time.
func (d *Generator) take(windows []instance.Window, at schedule.Tick) {
	for i := range windows {
		w := &windows[i]
		d.profiles[w.Resource].Add(at+w.From, at+w.To, w.Units)
	}
}

// placeSure places a block that waits for the windows of its one chain alone, with the
// option that is chosen, or, −1, with the one that ends earliest. It is false where there
// is none.
func (d *Generator) placeSure(job int, b *instance.Block, chosen int, out *Schedule) bool {
	c := &b.Chains[0]
	start, ends := schedule.Never, schedule.Never
	from := d.free[job]
	if chosen >= 0 {
		start = d.soonest(c, chosen, from, schedule.Never)
	} else {
		for option := range c.Options {
			rest := c.Length[option] + c.After
			if at := d.soonest(c, option, from, ends-rest); at < schedule.Never {
				chosen, start, ends = option, at, at+rest
			}
		}
	}
	if start >= schedule.Never {
		return false
	}
	d.take(c.Windows[chosen], start)
	at := start - c.Before
	steps := d.Jobs[job].Operations[b.From:b.To]
	starts, endings, options := out.Start[job][b.From:b.To], out.End[job][b.From:b.To], out.Option[job][b.From:b.To]
	for i := range steps {
		starts[i] = at
		if o := &steps[i]; o.Chain >= 0 {
			options[i] = chosen
			at += o.On[chosen]
		} else {
			at += o.Minutes
		}
		endings[i] = at
	}
	d.free[job] = at
	return true
}

// optionOf finds the option a placement gives a chain; 0 at the bench.
func (d *Generator) optionOf(b *instance.Block, chain int, p *placement) int {
	for i := range b.Chains {
		if b.Chains[i].Index == chain {
			return p.options[i]
		}
	}
	return 0
}

// PlaceBest fills d.best with the placement of a block that ends earliest
// among the machines it may choose from.
func (d *Generator) PlaceBest(job int, b *instance.Block, from schedule.Tick, choice []int, out *Schedule) {
	j := &d.Jobs[job]
	if b.Later {
		d.followFirst(job, b, out)
		d.place(j, b, from)
		d.keepTrial(b)
		return
	}
	if len(b.Chains) == 1 {
		d.placeOne(j, b, from, choice[b.Chains[0].Index])
		return
	}
	options := d.trial.options[:len(b.Chains)]
	for i, c := range b.Chains {
		options[i] = max(0, choice[c.Index])
	}
	b.Tie(options)
	d.place(j, b, from)
	d.keepTrial(b)
	last := b.To - b.From - 1
	for i, c := range b.Chains {
		if choice[c.Index] >= 0 || c.Tied >= 0 {
			continue
		}
		for option := 1; option < len(c.Options); option++ {
			copy(options, d.Best.options)
			options[i] = option
			b.Tie(options)
			d.place(j, b, from)
			if d.trial.end[last] < d.Best.end[last] {
				d.keepTrial(b)
			}
		}
	}
}

// placeOne places a block of one chain: with the option that is chosen, or, −1, with
// the one that ends earliest, those first that may end soonest.
func (d *Generator) placeOne(j *instance.CompiledJob, b *instance.Block, from schedule.Tick, chosen int) {
	c := &b.Chains[0]
	last := b.To - b.From - 1
	starts := d.starts[:len(c.Options)]
	for option := range starts {
		if starts[option] = schedule.Never; chosen < 0 || option == chosen {
			starts[option] = d.soonest(c, option, from, schedule.Never)
		}
	}
	d.Best.end[last] = schedule.Never
	for first := true; ; first = false {
		next, ends := -1, d.Best.end[last]
		for option, start := range starts {
			if end := start + c.Length[option] + c.After; start < schedule.Never && (end < ends || first && next < 0) {
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
		if b.Leads {
			begin = max(from, starts[next]-c.Before)
		}
		starts[next] = schedule.Never
		d.trial.options[0] = next
		d.place(j, b, begin)
		if first || d.trial.end[last] < d.Best.end[last] {
			d.keepTrial(b)
		}
	}
}

// soonest is a time before which a chain of a block cannot start with an option, as far
// as its windows tell; never where that is not before a limit.
func (d *Generator) soonest(c *instance.Chain, option int, from, limit schedule.Tick) schedule.Tick {
	return d.fit(c.Windows[option], from+c.Before, limit)
}

// fit is the first time from start on around which all windows have room, never where that
// is not before a limit.
func (d *Generator) fit(windows []instance.Window, start, limit schedule.Tick) schedule.Tick {
	for fits, i := 0, 0; fits < len(windows) && start < limit; i++ {
		if i == len(windows) {
			i = 0
		}
		w := &windows[i]
		at := d.profiles[w.Resource].Room(start+w.From, w.To-w.From, w.Units, d.Capacity[w.Resource]) - w.From
		if fits++; at > start {
			start, fits = at, 1
		}
	}
	if start >= limit {
		return schedule.Never
	}
	return start
}

func (d *Generator) keepTrial(b *instance.Block) {
	n := b.To - b.From
	copy(d.Best.Start[:n], d.trial.Start[:n])
	copy(d.Best.end[:n], d.trial.end[:n])
	copy(d.Best.with[:n], d.trial.with[:n])
	copy(d.Best.options, d.trial.options[:len(b.Chains)])
}

// place finds times for a block with the trial's machines: each operation as early
// as it can be; where a thing held over several operations is not free for all of
// them, the operation that takes it moves behind what is in the way and the rest
// follows. Then the early operations close up to the last one, so that nothing is
// held longer than it has to be.
func (d *Generator) place(j *instance.CompiledJob, b *instance.Block, from schedule.Tick) {
	n := b.To - b.From
	start, end := d.trial.Start[:n], d.trial.end[:n]
	earliest := from
	for i := 0; i < n; {
		start[i], end[i] = d.firstFit(j, b, i, max(earliest, j.Operations[b.From+i].At))
		earliest = end[i]
		if earliest >= schedule.Never {
			start[n-1], end[n-1] = schedule.Never, schedule.Never
			return
		}
		if i++; i < n {
			continue
		}
		for _, h := range b.Holds {
			resource := d.resourceOf(b, h)
			if resource < 0 {
				continue
			}
			from, until := h.From-b.From, schedule.Never // until a later part
			if h.To < b.To {
				until = end[h.To-b.From]
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

// closeUp moves operation i as late as it can be before the next operation.
func (d *Generator) closeUp(j *instance.CompiledJob, b *instance.Block, i int, start, end []schedule.Tick) {
	latest := start[i+1] - (end[i] - start[i])
	o := &j.Operations[b.From+i]
	if latest == start[i] || o.At > 0 {
		return
	}
	with, _, blocked := d.operationConflict(b, o, latest, start[i+1])
	if blocked {
		return
	}
	// What the operation gives back at its end is now held for longer.
	for _, h := range b.Holds {
		if h.To != b.From+i {
			continue
		}
		if resource := d.resourceOf(b, h); resource >= 0 {
			if _, blocked := d.heldConflict(j, b, resource, start[h.From-b.From], start[i+1]); blocked {
				return
			}
		}
	}
	start[i], end[i], d.trial.with[i] = latest, start[i+1], with
}

// duration of operation i of a block with the trial's machines.
func (d *Generator) duration(j *instance.CompiledJob, b *instance.Block, i int) schedule.Tick {
	o := &j.Operations[b.From+i]
	if o.Chain < 0 {
		return o.Minutes
	}
	return o.On[d.optionOf(b, o.Chain, &d.trial)]
}

// firstFit finds when operation i can be done at the earliest, by its own machine
// and needs and the first unit of what it takes.
func (d *Generator) firstFit(j *instance.CompiledJob, b *instance.Block, i int, earliest schedule.Tick) (start,
	end schedule.Tick) {
	o := &j.Operations[b.From+i]
	duration := d.duration(j, b, i)
	start = earliest
	for {
		end = start + duration
		if start >= schedule.Never {
			return start, end
		}
		with, free, blocked := d.operationConflict(b, o, start, end)
		if !blocked {
			d.trial.with[i] = with
			return start, end
		}
		start = free
	}
}

// operationConflict finds whether an operation can be done from start to end, and with
// which of the resources of which one will do.
func (d *Generator) operationConflict(b *instance.Block, o *instance.CompiledOperation, start,
	end schedule.Tick) (with int, free schedule.Tick, blocked bool) {
	if !d.Closed.Flat() {
		if free, blocked := d.Closed.Conflict(start, end, 1, 1); blocked {
			return -1, free, true
		}
	}
	if o.Chain >= 0 {
		if free, blocked := d.profiles[d.machineOf(b, o.Chain)].Conflict(start, end, 1, 1); blocked {
			return -1, free, true
		}
	}
	for _, need := range o.Needs {
		if free, blocked := d.profiles[need.Resource].Conflict(start, end, need.Units, d.Capacity[need.Resource]); blocked {
			return -1, free, true
		}
	}
	if len(o.OneOf) == 0 {
		return -1, 0, false
	}
	soonest := schedule.Never
	for _, resource := range o.OneOf {
		free, blocked := d.profiles[resource].Conflict(start, end, 1, d.Capacity[resource])
		if !blocked {
			return resource, 0, false
		}
		soonest = min(soonest, free)
	}
	return -1, soonest, true
}

func (d *Generator) machineOf(b *instance.Block, chain int) int {
	return d.Options[chain][d.optionOf(b, chain, &d.trial)]
}

func (d *Generator) resourceOf(b *instance.Block, h instance.Hold) int {
	if h.Resource >= 0 {
		return h.Resource
	}
	return h.ByOption[d.optionOf(b, h.Chain, &d.trial)]
}

// heldConflict checks one hold together with everything else the same block
// asks of that resource meanwhile.
func (d *Generator) heldConflict(j *instance.CompiledJob, b *instance.Block, resource int, start,
	end schedule.Tick) (schedule.Tick, bool) {
	own := 1
	if resource >= d.Machines {
		own = d.ownUse(j, b, resource)
	}
	return d.profiles[resource].Conflict(start, end, own, d.Capacity[resource])
}

// ownUse is the most units of a resource the block asks for at one of its operations.
func (d *Generator) ownUse(j *instance.CompiledJob, b *instance.Block, resource int) int {
	most := 0
	for i := b.From; i < b.To; i++ {
		units := 0
		for _, need := range j.Operations[i].Needs {
			if need.Resource == resource {
				units += need.Units
			}
		}
		for _, h := range b.Holds {
			if h.From <= i && i <= h.To && d.resourceOf(b, h) == resource {
				units++
			}
		}
		most = max(most, units)
	}
	return most
}

// commit puts the best placement into the profiles.
func (d *Generator) commit(j *instance.CompiledJob, b *instance.Block) {
	copy(d.trial.options, d.Best.options[:len(b.Chains)])
	start, end := d.Best.Start, d.Best.end
	for i := b.From; i < b.To; i++ {
		o := &j.Operations[i]
		if o.Chain >= 0 {
			d.profiles[d.machineOf(b, o.Chain)].Add(start[i-b.From], end[i-b.From], 1)
		}
		for _, need := range o.Needs {
			d.profiles[need.Resource].Add(start[i-b.From], end[i-b.From], need.Units)
		}
		if with := d.Best.with[i-b.From]; with >= 0 {
			d.profiles[with].Add(start[i-b.From], end[i-b.From], 1)
		}
	}
	// A kept machine is counted once for the keeping and once for each operation
	// on it; more than its one unit in use means no more than busy.
	for _, h := range b.Holds {
		if resource := d.resourceOf(b, h); resource >= 0 {
			until := schedule.Never
			if h.To < b.To {
				until = end[h.To-b.From]
			}
			d.profiles[resource].Add(start[h.From-b.From], until, 1)
		}
	}
}
