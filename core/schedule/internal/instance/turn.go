package instance

import "chalkstep/core/schedule"

// cutTurns gives each turn its blocks: all up to the next one that may have to wait for other jobs.
func (j *CompiledJob) cutTurns() {
	for b := range j.Blocks {
		if !j.Blocks[b].Free {
			j.Turns = append(j.Turns, b+1)
		}
	}
	if len(j.Blocks) == 0 {
		return
	}
	if len(j.Turns) == 0 {
		j.Turns = []int{len(j.Blocks)}
	}
	j.Turns[len(j.Turns)-1] = len(j.Blocks)
	j.Ordered = len(j.Turns)
	for last := len(j.Turns); last > 0; last-- {
		if len(j.Blocks[j.Waiting(j.Turns[last-1])].Chains) > 0 {
			j.Ordered = last
			break
		}
	}
	from := 0
	for _, blocks := range j.Turns {
		lead, left := schedule.Tick(0), schedule.Tick(0)
		for b := from; b < j.Waiting(blocks); b++ {
			lead += j.BlockMinimum(&j.Blocks[b])
		}
		from = blocks
		for b := blocks; b < len(j.Blocks); b++ {
			left += j.BlockMinimum(&j.Blocks[b])
		}
		j.Leads, j.Left = append(j.Leads, lead), append(j.Left, left)
	}
}

// Waits is the first operation of the turn of so many blocks that may have to wait.
func (j *CompiledJob) Waits(blocks int) int { return j.Blocks[j.Waiting(blocks)].From }

// Waiting is the block of the turn of so many blocks that may have to wait.
func (j *CompiledJob) Waiting(blocks int) int {
	b := blocks - 1
	for b > 0 && j.Blocks[b].Free {
		b--
	}
	return b
}

// TurnOf is the turn in which an operation is placed, from 0.
func (j *CompiledJob) TurnOf(step int) int {
	for t, blocks := range j.Turns {
		if step < j.Blocks[blocks-1].To {
			return t
		}
	}
	return len(j.Turns) - 1
}
