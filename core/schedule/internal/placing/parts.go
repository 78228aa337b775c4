package placing

import (
	"chalkstep/core/schedule"
	"chalkstep/core/schedule/internal/instance"
)

// A job that leaves its machine and comes back, as after each piece that is trimmed at the bench, keeps
// its hoop meanwhile but not the machine, so that others can use the machine. A block that is placed
// whole offers them only the minutes in between. Therefore such a block has parts, each with a turn of
// its own. The first part holds its resources without an end, until the part that releases them is
// placed. Where an order names all parts in a row, the block is placed whole.

// placeWhole places all parts of a block at once where the order names them in a row, and reports
// whether it does.
func (d *Generator) placeWhole(job int, b *instance.Block, choice []int, out *Schedule) bool {
	if b.Parted == nil || b.Later || d.consecutive < b.Parts {
		return false
	}
	d.next[job] += b.Parts
	d.placeBlock(job, b.Parted, choice, out)
	return true
}

// endParts places the remaining parts of all other jobs that have begun a block, so that nothing is held
// without an end. It reports whether there were any.
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

// isParted reports whether a job has begun a block in parts and not ended it.
func (d *Generator) isParted(job int) bool {
	blocks, next := d.Jobs[job].Blocks, d.next[job]
	return next < len(blocks) && blocks[next].Later
}

// followFirst gives the chains of a later part the machines that the first part got.
func (d *Generator) followFirst(job int, b *instance.Block, out *Schedule) {
	for i, c := range b.Chains {
		d.trial.options[i] = c.Follows[out.Option[job][c.Leader]]
	}
}

// giveBack ends the holds of the first part that a later part releases.
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
