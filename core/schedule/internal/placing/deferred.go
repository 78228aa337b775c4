package placing

import "chalkstep/core/schedule"

// What comes after somebody's last turn at a machine, as pressing and signing off, is
// seldom what holds the day up. An order need not say those turns: what it leaves deferred is
// placed after all others, whoever is free first going first, so that the search has only
// the turns to put in order that matter. Where they do matter, an order says them.

// A deferredTurn turn is that of a job who can begin it from a time on.
type deferredTurn struct {
	from schedule.Tick
	job  int
}

// placeDeferred places what an order left deferred; it is false when the plan cannot be done by
// limit any more.
func (d *Generator) placeDeferred(choice []int, out *Schedule, limit schedule.Tick) bool {
	d.deferred = d.deferred[:0]
	for job := range d.Jobs {
		d.deferNext(job)
	}
	for len(d.deferred) > 0 {
		last := len(d.deferred) - 1
		job := d.deferred[last].job
		d.deferred = d.deferred[:last]
		if d.placeNamed(job, choice, out) > limit {
			return false
		}
		d.deferNext(job)
	}
	return true
}

// deferNext puts somebody's next turn, where there is one, among those that are deferred, the
// first of them last.
func (d *Generator) deferNext(job int) {
	j, turn := &d.Jobs[job], d.Turn[job]
	if turn == len(j.Turns) {
		return
	}
	from := d.free[job] + j.Leads[turn]
	left := append(d.deferred, deferredTurn{from, job})
	i := len(left) - 1
	for ; i > 0 && (left[i-1].from < from || left[i-1].from == from && left[i-1].job < job); i-- {
		left[i] = left[i-1]
	}
	left[i] = deferredTurn{from, job}
	d.deferred = left
}

// WaitsFrom is when a job is through with all that waits for nothing before their next
// block that may have to wait, and which block that is: past the last where there is none.
func (d *Generator) WaitsFrom(job int) (from schedule.Tick, block int) {
	j := &d.Jobs[job]
	from, block = d.free[job], d.next[job]
	for ; block < len(j.Blocks) && j.Blocks[block].Free; block++ {
		from += j.Operations[j.Blocks[block].From].Minutes
	}
	return from, block
}
