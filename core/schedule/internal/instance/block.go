package instance

import (
	"slices"

	"chalkstep/core/schedule"
)

// A Block is a stretch of operations inside which something is held from operation to
// operation. Before and after it the job holds nothing, so blocks can be placed
// one after another in any order without a deadlock.
type Block struct {
	From, To int // operations from … to−1 of the job
	Holds    []Hold
	Chains   []Chain
	// Free tells that it waits for nothing but the block before.
	Free bool
	// Leads tells that its operations before its one chain wait for nothing of their own.
	Leads bool
	// Parted is nil for a block that is whole. The parts of one follow one another; then it has
	// all of it, Parts tells how many are left with this one, and Later that it is not the first.
	Parted *Block
	Parts  int
	Later  bool
	// Sure tells that it can be placed wherever the windows of its one chain are free:
	// nothing of it waits for anything else.
	Sure bool
	// Alone are, for one operation at the bench that waits for resources and nothing else, what has
	// to be free from its start; nil for all others.
	Alone []Window
}

// A Window is a stretch around the start of a chain in which a resource has to have
// units free, however its block is placed.
type Window struct {
	Resource, Units int
	From, To        schedule.Tick
}

// cutBlocks cuts the job wherever nothing is held from one operation to the next,
// and gives each block its holds and chains.
func (c *jobCompiler) cutBlocks() {
	j, start := &c.made, 0
	for i := range j.Operations {
		held := slices.ContainsFunc(c.holds, func(h Hold) bool { return h.From <= i && i < h.To })
		if held {
			continue
		}
		b := Block{From: start, To: i + 1}
		for _, h := range c.holds {
			if h.From >= start && h.From <= i {
				if h.Chain >= 0 {
					h.AtOperation, _ = j.ChainSpan(h.Chain)
				}
				b.Holds = append(b.Holds, h)
			}
		}
		first := -1
		for n, one := range c.chains {
			if at := slices.Index(c.chainOf, n); at >= start && at <= i {
				if first < 0 {
					first = n
				}
				if one.Tied >= 0 {
					one.Leader = slices.Index(c.chainOf, one.Tied)
					one.Tied -= first // its place in the block
				}
				b.Chains = append(b.Chains, one)
			}
		}
		for n := range b.Chains {
			j.measure(&b, &b.Chains[n])
		}
		j.watch(&b)
		b.Free = len(b.Holds) == 0 && i == start && j.Operations[i].free()
		j.Blocks = append(j.Blocks, j.part(&b, c.takenResources)...)
		start = i + 1
	}
	j.cutTurns()
}

// measure tells how long a chain is, and its block before and after it.
func (j *CompiledJob) measure(b *Block, c *Chain) {
	first, last := j.ChainSpan(c.Index)
	if first > b.From {
		c.Before = j.Between(b.From, first-1)
	}
	c.After = j.Between(last+1, b.To-1)
	for option := range c.Options {
		length := schedule.Tick(0)
		for k := first; k <= last; k++ {
			if j.Operations[k].Chain == c.Index {
				length += j.Operations[k].On[option]
			} else {
				length += j.OperationMinimum(k)
			}
		}
		c.Length = append(c.Length, length)
	}
}

// watch finds the windows of a block's chain, where it has one alone, whether they are all
// there is to wait for, and whether the operations before it wait for nothing of their own.
func (j *CompiledJob) watch(b *Block) {
	if o := &j.Operations[b.From]; b.To == b.From+1 && len(b.Holds) == 0 && o.Chain < 0 && o.At == 0 && len(o.OneOf) == 0 {
		for _, need := range o.Needs {
			b.Alone = append(b.Alone, Window{need.Resource, need.Units, 0, o.Minutes})
		}
	}
	if len(b.Chains) != 1 {
		return
	}
	c := &b.Chains[0]
	first, last := j.ChainSpan(c.Index)
	b.Leads = true
	for k := b.From; k < first; k++ {
		b.Leads = b.Leads && j.Operations[k].free()
	}
	b.Sure = b.Leads && j.Operations[first].At == 0 && len(j.Operations[first].OneOf) == 0
	for k := first + 1; k < b.To; k++ {
		b.Sure = b.Sure && j.Operations[k].waitsForNothing()
	}
	for option := range c.Options {
		c.Windows = append(c.Windows, j.windowsOf(b, c, option, first, last))
	}
}

// windowsOf are the windows of a block's one chain with an option; the block is not sure where more
// than these has to be free.
func (j *CompiledJob) windowsOf(b *Block, c *Chain, option, first, last int) []Window {
	machine := c.Options[option]
	windows := []Window{{machine, 1, 0, c.Length[option]}}
	for _, need := range j.Operations[first].Needs {
		windows = append(windows, Window{need.Resource, need.Units, 0, j.Operations[first].On[option]})
	}
	for _, h := range b.Holds {
		resource := h.Resource
		if resource < 0 {
			resource = h.ByOption[option]
		}
		switch {
		case resource == machine:
			b.Sure = b.Sure && h.From >= first && h.To <= last
			continue
		case resource < 0:
			continue
		case h.From > first || h.To < first:
			b.Sure = false
			continue
		}
		to := schedule.Tick(0)
		for k := first; k <= h.To; k++ {
			if j.Operations[k].Chain == c.Index {
				to += j.Operations[k].On[option]
			} else {
				to += j.Operations[k].Minutes
			}
		}
		windows = append(windows, Window{resource, 1, -j.Between(h.From, first-1), to})
	}
	for i, w := range windows {
		b.Sure = b.Sure && !slices.ContainsFunc(windows[:i], func(o Window) bool { return o.Resource == w.Resource })
	}
	return windows
}
