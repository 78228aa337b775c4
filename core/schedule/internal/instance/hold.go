package instance

import "slices"

// A Hold keeps a unit of a resource from the start of operation from to the end
// of operation to, both counted in the job.
type Hold struct {
	From, To int
	// Resource is fixed, or -1 where it follows the chain's choice: then
	// ByOption has it for each option (-1 for none).
	Resource int
	Chain    int
	ByOption []int
	// AtOperation is the first operation of that chain.
	AtOperation int
	// choice has the resources by machine, until the chain's options are final.
	choice [][]int
}

// takes adds what the job's Take, TakeFor and Release hold and for how
// long.
func (c *jobCompiler) takes() {
	job := c.job
	last := len(job.Operations) - 1
	until := func(from int, names []string) int {
		for i := from; i <= last; i++ {
			if slices.ContainsFunc(names, func(n string) bool { return slices.Contains(job.Operations[i].Release, n) }) {
				return i
			}
		}
		return last
	}
	for i, step := range job.Operations {
		for n, name := range step.Take {
			from := i
			// A second unit of the same resource goes back at the next release.
			for _, earlier := range step.Take[:n] {
				if earlier == name {
					from = min(last, until(from, []string{name})+1)
				}
			}
			c.holds = append(c.holds, Hold{From: i, To: until(from, []string{name}), Resource: c.resource[name], Chain: -1})
		}
		if len(step.TakeFor) > 0 {
			next := i
			for c.chainOf[next] < 0 {
				next++
			}
			h := Hold{From: i, Resource: -1, Chain: c.chainOf[next]}
			h.To = max(next, until(i, step.MayTake()))
			for _, st := range c.Problem.Machines {
				choice := []int{-1}
				if names, ok := step.TakeFor[st.ID]; ok {
					choice = choice[:0]
					for _, name := range names {
						if r := c.resource[name]; c.Capacity[r] > 0 { // nobody takes what there is none of
							choice = append(choice, r)
						}
					}
				}
				h.choice = append(h.choice, choice)
			}
			c.holds = append(c.holds, h)
		}
	}
}

// nothing is a hold that keeps two operations in one block and takes nothing.
func (c *jobCompiler) nothing(from, to, chain int) Hold {
	h := Hold{From: from, To: to, Resource: -1, Chain: chain}
	for range c.Machines {
		h.choice = append(h.choice, []int{-1})
	}
	return h
}

// Held is the resource a hold takes under the chosen options, −1 for none.
func (j *CompiledJob) Held(h Hold, options []int) int {
	if h.Resource >= 0 {
		return h.Resource
	}
	return h.ByOption[options[h.AtOperation]]
}

// isNothing tells that a hold takes nothing, and is there to keep operations in one block.
func (h Hold) isNothing() bool {
	return h.Resource < 0 && !slices.ContainsFunc(h.ByOption, func(r int) bool { return r >= 0 })
}
