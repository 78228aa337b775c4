package placing

import (
	"chalkstep/core/schedule"
	"chalkstep/core/schedule/internal/instance"
)

// Somebody who comes back to a machine, as after each piece that is trimmed at the bench, keeps
// the hoop meanwhile and not the machine: others sew in between. Assignment whole, such a block leaves
// nobody more than the minutes of the trimming. So it has parts, each of which is a turn of its
// own, and what is taken in the first is kept for ever until the part is placed that gives it back.
// Where an order says all of them one after the other, the block is placed whole.

// placeWhole places all parts of a block at once where an order says them one after the other; it
// is false where it does not.
func (d *Generator) placeWhole(job int, b *instance.Block, choice []int, out *Schedule) bool {
	if b.Parted == nil || b.Later || d.consecutive < b.Parts {
		return false
	}
	d.next[job] += b.Parts
	d.placeBlock(job, b.Parted, choice, out)
	return true
}

// endParts places the parts that others have begun and not ended, so that nothing is kept for ever
// any more. It tells whether there are any.
func (d *Generator) endParts(except int, choice []int, out *Schedule) (any bool) {
	for job := range d.Jobs {
		for job != except && d.isParted(job) {
			d.PlaceTurn(job, choice, out)
			d.skip[job]++
			any = true
		}
	}
	return any
}

// isParted tells that somebody has begun a block in parts, and not ended it.
func (d *Generator) isParted(job int) bool {
	blocks, next := d.Jobs[job].Blocks, d.next[job]
	return next < len(blocks) && blocks[next].Later
}

// follow gives the chains of a later part the machines of the first, as it was placed.
func (d *Generator) followFirst(job int, b *instance.Block, out *Schedule) {
	for i, c := range b.Chains {
		d.trial.options[i] = c.Follows[out.Option[job][c.Leader]]
	}
}

// giveBack ends with a part what was kept for ever until then.
func (d *Generator) giveBack(j *instance.CompiledJob, b *instance.Block, options []int) {
	for _, h := range b.Parted.Holds {
		if h.From >= b.From || h.To < b.From || h.To >= b.To {
			continue
		}
		if resource := j.Held(h, options); resource >= 0 {
			d.profiles[resource].Add(d.Best.end[h.To-b.From], schedule.Never, -1)
		}
	}
}
