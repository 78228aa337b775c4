package floor

import (
	"fmt"
	"maps"
	"math"
	"slices"
)

// tick is the planner's unit of time: a millionth of a minute, so that sums
// of decimals are exact.
type tick = int64

const ticksPerMinute = 1e6

func ticks(minutes float64) tick { return tick(math.Round(minutes * ticksPerMinute)) }

func toMinutes(t tick) float64 { return float64(t) / ticksPerMinute }

// A shop is a Problem with its names replaced by indices: resources are the
// stations, each of capacity 1, and after them the pools.
type shop struct {
	problem  Problem
	stations int
	capacity []int
	people   []job
	// options has, for each station choice to be made over all people, the
	// stations to choose from.
	options [][]int
}

// A job is one person's steps, cut into blocks.
type job struct {
	ready  tick
	steps  []op
	blocks []block
}

// An op is a step.
type op struct {
	minutes tick
	// chain is the station choice the step follows, -1 at the bench.
	chain int
	// on holds, by index into the chain's options, the step's ticks there.
	on    []tick
	needs []claim
}

type claim struct{ resource, units int }

// A hold keeps a unit of a resource from the start of step from to the end
// of step to, both counted in the job.
type hold struct {
	from, to int
	// resource is fixed, or -1 where it follows the chain's choice: then
	// byOption has it for each option (-1 for none).
	resource int
	chain    int
	byOption []int
}

// A block is a stretch of steps inside which something is held from step to
// step. Before and after it the person holds nothing, so blocks can be placed
// one after another in any order without a deadlock.
type block struct {
	from, to int // steps from … to−1 of the job
	holds    []hold
	chains   []chain
}

// A chain is one choice of a station, shared by the steps that keep it.
type chain struct {
	index   int
	options []int // stations
}

// compile checks a problem and turns it into a shop.
func compile(p Problem) (*shop, error) {
	if err := p.Check(); err != nil {
		return nil, err
	}
	s := &shop{problem: p, stations: len(p.Stations)}
	station, pool := map[string]int{}, map[string]int{}
	for i, st := range p.Stations {
		station[st.ID] = i
		s.capacity = append(s.capacity, 1)
	}
	for i, pl := range p.Pools {
		pool[pl.ID] = len(p.Stations) + i
		s.capacity = append(s.capacity, pl.Count)
	}
	for _, person := range p.People {
		j, err := s.compileJob(person, station, pool)
		if err != nil {
			return nil, err
		}
		s.people = append(s.people, j)
	}
	return s, nil
}

func (s *shop) compileJob(person Person, station, pool map[string]int) (job, error) {
	j := job{ready: ticks(person.Ready), steps: make([]op, len(person.Steps))}
	var holds []hold
	var chains []chain
	chainOf := make([]int, len(person.Steps)) // index into chains, -1 at the bench
	kept := -1
	for i, step := range person.Steps {
		chainOf[i] = -1
		if step.Minutes != nil {
			j.steps[i].minutes = ticks(*step.Minutes)
		}
		if len(step.On) > 0 {
			if kept >= 0 {
				// The chain goes on: only stations that serve both steps are left.
				chainOf[i] = chainOf[kept]
				holds = append(holds, hold{from: kept, to: i, resource: -1, chain: chainOf[i]})
				c := &chains[chainOf[i]]
				c.options = slices.DeleteFunc(c.options, func(o int) bool { _, ok := step.On[s.problem.Stations[o].ID]; return !ok })
				if len(c.options) == 0 {
					return job{}, fmt.Errorf("person %s, step %d (%s): no station does both this step and the one that keeps its station", person.ID, i+1, step.ID)
				}
			} else {
				c := chain{index: len(s.options)}
				for _, name := range slices.Sorted(maps.Keys(step.On)) {
					c.options = append(c.options, station[name])
				}
				s.options = append(s.options, nil)
				chainOf[i] = len(chains)
				chains = append(chains, c)
			}
			kept = -1
			if step.Keep {
				kept = i
			}
		}
		for _, name := range slices.Sorted(maps.Keys(step.Needs)) {
			j.steps[i].needs = append(j.steps[i].needs, claim{pool[name], step.Needs[name]})
		}
	}
	holds = append(holds, s.takes(person, pool, chainOf)...)
	for _, c := range chains {
		s.options[c.index] = c.options
	}
	for i, step := range person.Steps {
		j.steps[i].chain = -1
		if c := chainOf[i]; c >= 0 {
			j.steps[i].chain = chains[c].index
			for _, o := range chains[c].options {
				j.steps[i].on = append(j.steps[i].on, ticks(step.On[s.problem.Stations[o].ID]))
			}
		}
	}
	for i := range holds {
		h := &holds[i]
		if h.chain < 0 {
			continue
		}
		c := chains[h.chain]
		names := h.byOption
		h.byOption = nil
		for _, o := range c.options {
			resource := o // a kept station
			if names != nil {
				resource = names[o]
			}
			h.byOption = append(h.byOption, resource)
		}
		h.chain = c.index
	}
	j.cutBlocks(holds, chains, chainOf)
	return j, nil
}

// takes lists what a person's Take, TakeFor and Release hold and for how
// long. byOption is by station number until the chain's options are final.
func (s *shop) takes(person Person, pool map[string]int, chainOf []int) []hold {
	var holds []hold
	last := len(person.Steps) - 1
	until := func(from int, names []string) int {
		for i := from; i <= last; i++ {
			if slices.ContainsFunc(names, func(n string) bool { return slices.Contains(person.Steps[i].Release, n) }) {
				return i
			}
		}
		return last
	}
	for i, step := range person.Steps {
		for n, name := range step.Take {
			from := i
			// A second unit of the same pool goes back at the next release.
			for _, earlier := range step.Take[:n] {
				if earlier == name {
					from = min(last, until(from, []string{name})+1)
				}
			}
			holds = append(holds, hold{from: i, to: until(from, []string{name}), resource: pool[name], chain: -1})
		}
		if len(step.TakeFor) > 0 {
			next := i
			for chainOf[next] < 0 {
				next++
			}
			h := hold{from: i, resource: -1, chain: chainOf[next]}
			h.to = max(next, until(i, slices.Collect(maps.Values(step.TakeFor))))
			for _, st := range s.problem.Stations {
				resource := -1
				if name, ok := step.TakeFor[st.ID]; ok {
					resource = pool[name]
				}
				h.byOption = append(h.byOption, resource)
			}
			holds = append(holds, h)
		}
	}
	return holds
}

// cutBlocks cuts the job wherever nothing is held from one step to the next,
// and gives each block its holds and chains.
func (j *job) cutBlocks(holds []hold, chains []chain, chainOf []int) {
	start := 0
	for i := range j.steps {
		held := slices.ContainsFunc(holds, func(h hold) bool { return h.from <= i && i < h.to })
		if held {
			continue
		}
		b := block{from: start, to: i + 1}
		for _, h := range holds {
			if h.from >= start && h.from <= i {
				b.holds = append(b.holds, h)
			}
		}
		for c := range chains {
			if at := slices.Index(chainOf, c); at >= start && at <= i {
				b.chains = append(b.chains, chains[c])
			}
		}
		j.blocks = append(j.blocks, b)
		start = i + 1
	}
}
