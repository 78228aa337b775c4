// Package instance is a problem made ready to be searched: names are indices, times whole ticks,
// operations are cut into blocks inside which something is held, and what cannot be told apart is one.
package instance

import (
	"cmp"
	"math"
	"slices"

	"chalkstep/core/schedule"
)

// An Instance is a Problem with its names replaced by indices: resources are the
// machines, each of capacity 1 unless it stands for identical machines, and after them the resources.
type Instance struct {
	Problem  schedule.Problem
	Machines int
	Capacity []int
	Jobs     []CompiledJob
	// Options has, for each machine choice to be made over all jobs, the
	// machine of each option; one stands there for each set of resources that may be
	// taken for it.
	Options [][]int
	// OpenChoices are the choices with more than one option that do not follow another.
	OpenChoices []int
	// Unavailable is what of each resource is out, Closed when nobody works.
	Unavailable []Profile
	Closed      Profile
	// takenResources are those of which somebody keeps a unit from operation to operation, Parted tells
	// that there are blocks in parts.
	takenResources map[int]bool
	Parted         bool
	// Pinned names jobs, once for each turn that is placed before all others.
	Pinned []int
	// Plain is nil where the instance is not.
	Plain *Plain
	// Interchangeable are the resources and Identical the machines that are one here, where the
	// problem was joined.
	Interchangeable Interchangeable
	Identical       Identical
}

// Compile checks a problem and turns it into an instance.
func Compile(p schedule.Problem) (*Instance, error) {
	if err := p.Check(); err != nil {
		return nil, err
	}
	return build(p, nil)
}

// build is the instance of a problem that was checked, in which some machines stand for several.
func build(p schedule.Problem, twins Identical) (*Instance, error) {
	s := &Instance{Problem: p, Machines: len(p.Machines)}
	machine, resource := map[string]int{}, map[string]int{}
	s.Closed = away(p.Closed, 1)
	for i, st := range p.Machines {
		machine[st.ID] = i
		s.Capacity = append(s.Capacity, max(1, len(twins[st.ID])))
		s.Unavailable = append(s.Unavailable, away(st.Unavailable, 1))
	}
	for i, pl := range p.Resources {
		resource[pl.ID] = len(p.Machines) + i
		s.Capacity = append(s.Capacity, pl.Count)
		s.Unavailable = append(s.Unavailable, away(pl.Unavailable, pl.Count))
	}
	s.takenResources = map[int]bool{}
	for _, job := range p.Jobs {
		for _, step := range job.Operations {
			for _, name := range slices.Concat(step.Take, step.MayTake()) {
				s.takenResources[resource[name]] = true
			}
		}
	}
	for _, job := range p.Jobs {
		j, err := s.compileJob(job, machine, resource)
		if err != nil {
			return nil, err
		}
		s.Jobs = append(s.Jobs, j)
		s.Parted = s.Parted || slices.ContainsFunc(j.Blocks, func(b Block) bool { return b.Parted != nil })
	}
	s.OpenChoices = s.findOpenChoices()
	s.pin()
	s.Plain = s.newPlain()
	return s, nil
}

// away is what spans take of a resource.
func away(spans []schedule.Interval, all int) Profile {
	var p Profile
	p.reset()
	for _, span := range spans {
		p.Add(schedule.Ticks(span.From), schedule.Ticks(span.To), cmp.Or(span.Units, all))
	}
	return p
}

// pin lists who is placed first: those who are pinned, up to their last pinned operation, the
// earliest pin first.
func (s *Instance) pin() {
	type pin struct {
		person, turns int
		at            float64
	}
	var pins []pin
	for i, job := range s.Problem.Jobs {
		p := pin{person: i, at: math.Inf(1)}
		for k, step := range job.Operations {
			if step.At != nil {
				p.at = min(p.at, *step.At)
				p.turns = 1 + slices.IndexFunc(s.Jobs[i].Turns, func(blocks int) bool { return k < s.Jobs[i].Blocks[blocks-1].To })
			}
		}
		if p.turns > 0 {
			pins = append(pins, p)
		}
	}
	slices.SortStableFunc(pins, func(a, b pin) int { return cmp.Compare(a.at, b.at) })
	for _, p := range pins {
		for range p.turns {
			s.Pinned = append(s.Pinned, p.person)
		}
	}
}

// HasCalendar tells whether anything is out at times.
func (s *Instance) HasCalendar() bool {
	return !s.Closed.Flat() || slices.ContainsFunc(s.Unavailable, func(p Profile) bool { return !p.Flat() })
}

// anyTime tells that nothing is bound to a time, nothing is out and no operation pinned: an order
// says all there is to say.
func (s *Instance) anyTime() bool { return len(s.Pinned) == 0 && !s.HasCalendar() }

// MachineAt is the machine of operation k of a job, or −1 at the bench.
func (s *Instance) MachineAt(j *CompiledJob, k, option int) int {
	if j.Operations[k].Chain < 0 {
		return -1
	}
	return s.Options[j.Operations[k].Chain][option]
}

func (s *Instance) Name(resource int) string {
	switch {
	case resource < 0:
		return ""
	case resource < s.Machines:
		return s.Problem.Machines[resource].ID
	}
	return s.Problem.Resources[resource-s.Machines].ID
}

// findOpenChoices are the chains that may choose, and do not follow another.
func (s *Instance) findOpenChoices() []int {
	var open []int
	for i := range s.Jobs {
		for _, b := range s.Jobs[i].Blocks {
			for _, c := range b.Chains {
				if c.Tied < 0 && len(c.Options) > 1 {
					open = append(open, c.Index)
				}
			}
		}
	}
	return open
}
