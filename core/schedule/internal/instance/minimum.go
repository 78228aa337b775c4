package instance

import "chalkstep/core/schedule"

// BlockMinimum is the least time a block can take.
func (j *CompiledJob) BlockMinimum(b *Block) schedule.Tick {
	total := schedule.Tick(0)
	for i := b.From; i < b.To; i++ {
		total += j.OperationMinimum(i)
	}
	return total
}

func (j *CompiledJob) OperationMinimum(i int) schedule.Tick {
	o := &j.Operations[i]
	if o.Chain < 0 {
		return o.Minutes
	}
	least := o.On[0]
	for _, t := range o.On[1:] {
		least = min(least, t)
	}
	return least
}

// Between is the least time from the start of operation from to the end of operation to.
func (j *CompiledJob) Between(from, to int) schedule.Tick {
	total := schedule.Tick(0)
	for i := from; i <= to; i++ {
		total += j.OperationMinimum(i)
	}
	return total
}

// ChainSpan is the first and last operation of a chain.
func (j *CompiledJob) ChainSpan(chain int) (first, last int) {
	first = -1
	for i := range j.Operations {
		if j.Operations[i].Chain == chain {
			if first < 0 {
				first = i
			}
			last = i
		}
	}
	return first, last
}
