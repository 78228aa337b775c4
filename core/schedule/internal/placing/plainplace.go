package placing

import (
	"chalkstep/core/schedule"
	"chalkstep/core/schedule/internal/instance"
)

// PlainTurnTimes is when the block of a turn begins, in which way, and what it waits for.
type PlainTurnTimes struct {
	Begins schedule.Tick
	Way    int32
	Waits  int32
}

// What a turn waits for that does not wait for another turn, which is 1 more than its number.
const (
	WaitsForItself = 0
	WaitsForGap    = -1
)

// placePlainly places a job's next turn, and tells the least time at which they can be
// done.
func (d *Generator) placePlainly(job int, choice []int, out *Schedule) schedule.Tick {
	t := d.Plain.First[job] + d.Turn[job]
	d.Turn[job]++
	turn := &d.Plain.Turns[t]
	from := d.free[job] + turn.Lead
	choose, chosen := 0, 0
	if turn.Chain >= 0 {
		choose = choice[turn.Chain]
	}
	var start schedule.Tick
	var waits int32
	if choose >= 0 {
		chosen = choose
		start, waits = d.soonestWay(&turn.Ways[chosen], from, schedule.Never)
	} else {
		ends := schedule.Never
		for option, machine := range d.Options[turn.Chain] {
			if !choosesAt(choose, machine) {
				continue
			}
			w := &turn.Ways[option]
			if at, on := d.soonestWay(w, from, ends-w.After); at+w.After < ends {
				chosen, start, waits, ends = option, at, on, at+w.After
			}
		}
	}
	w := &turn.Ways[chosen]
	for i := range w.Taken {
		at := &w.Takes[i]
		d.busy += pass(d.units[at.First:at.End], start+at.From, unit{start + at.To, int32(t + 1)})
	}
	d.take(w.InGaps(), start)
	out.PlainTurns[t] = PlainTurnTimes{start - w.Before, int32(chosen), waits}
	d.free[job] = start + w.After + turn.Rest
	return d.free[job] + turn.Left
}

// soonestWay is the soonest moment from which what a way takes can be counted, for somebody
// who is at their block from a time on, and what that waits for. A moment that is not before a
// limit may still be too soon.
func (d *Generator) soonestWay(w *instance.Way, from, limit schedule.Tick) (start schedule.Tick, waits int32) {
	start, waits = from+w.Before, WaitsForItself
	for i := range w.Taken {
		at := &w.Takes[i]
		if free := &d.units[at.First]; free.from-at.From > start {
			start, waits = free.from-at.From, free.turn
		}
	}
	if w.Filled == 0 || start >= limit {
		return start, waits
	}
	if at := d.fit(w.InGaps(), start, schedule.Never); at > start {
		return at, WaitsForGap
	}
	return start, waits
}

// pass gives a unit to whoever takes it at a time: of those that are free then, the one that
// is free last, so that others go to whoever can begin sooner. Units stay in the order in
// which they are free.
func pass(units []unit, at schedule.Tick, next unit) (busy schedule.Tick) {
	i := 0
	for i+1 < len(units) && units[i+1].from <= at {
		i++
	}
	busy = next.from - units[i].from
	for ; i+1 < len(units) && units[i+1].from < next.from; i++ {
		units[i] = units[i+1]
	}
	units[i] = next
	return busy
}

// Time gives all operations the times that follow from when the blocks of turns begin, where they
// have none yet.
func (d *Generator) Time(out *Schedule) {
	if out.timed {
		return
	}
	out.timed = true
	for i := range d.Jobs {
		j := &d.Jobs[i]
		at, from := j.Ready, 0
		starts, ends, options := out.Start[i], out.End[i], out.Option[i]
		for t, blocks := range j.Turns {
			placed := &out.PlainTurns[d.Plain.First[i]+t]
			waiting := j.Waiting(blocks)
			for k := from; k < blocks; k++ {
				if k == waiting {
					at = placed.Begins
				}
				for n := j.Blocks[k].From; n < j.Blocks[k].To; n++ {
					o := &j.Operations[n]
					starts[n] = at
					if o.Chain >= 0 {
						options[n] = int(placed.Way)
						at += o.On[placed.Way]
					} else {
						at += o.Minutes
					}
					ends[n] = at
				}
			}
			from = blocks
		}
	}
}

// A unit is free from a time on; turn is who had it before, 1 more than its number, 0 for
// nobody.
type unit struct {
	from schedule.Tick
	turn int32
}
