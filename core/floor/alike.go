package floor

import (
	"cmp"
	"maps"
	"slices"
)

// Pools are alike where whoever may take of one may take of the other as well, as hoops of two
// sizes that a project fits and all its machines take. Which of them somebody takes makes no day
// shorter: as long as no more are in use at once than there are of all of them together, one is
// free whenever it is asked for. The search has them as one pool, with the name of the first, and
// which they are is said when the plan is done. A choice that does not matter hides those that do:
// with 15 people at 5 machines plans are 0.8 % shorter after as many changes.

// alike says of pools that the search has as one which of them stands for all, and has the
// problem in which each stands for itself.
type alike struct {
	standsFor map[string]string
	apart     Problem
}

// compileJoined is the shop of a problem in which pools that are alike are one, and, where it is
// plain, so are stations.
func compileJoined(p Problem) (*shop, error) {
	if err := p.Check(); err != nil {
		return nil, err
	}
	joined, alike := p.joinAlike()
	twins := joined.twins()
	s, err := build(joined.joinTwins(twins), twins)
	if err == nil && len(twins) > 0 && s.plain == nil {
		twins = nil
		s, err = build(joined, nil)
	}
	if err != nil {
		return nil, err
	}
	s.alike, s.twins = alike, twins
	return s, nil
}

// joinAlike is the problem in which pools that are alike are one.
func (p Problem) joinAlike() (Problem, alike) {
	a := alike{map[string]string{}, p}
	for _, group := range p.alikePools() {
		for _, pool := range group {
			if len(group) > 1 {
				a.standsFor[pool] = group[0]
			}
		}
	}
	if len(a.standsFor) == 0 {
		return p, a
	}
	p.Pools = a.joinedPools()
	return p.withSteps(func(step *Step) {
		step.Release, step.TakeFor = a.joined(step.Release), maps.Clone(step.TakeFor)
		for station, choice := range step.TakeFor {
			step.TakeFor[station] = a.joined(choice)
		}
	}), a
}

// withSteps is the problem with all steps changed; what a step refers to is still the problem's own.
func (p Problem) withSteps(change func(*Step)) Problem {
	p.People = slices.Clone(p.People)
	for i := range p.People {
		steps := slices.Clone(p.People[i].Steps)
		for k := range steps {
			change(&steps[k])
		}
		p.People[i].Steps = steps
	}
	return p
}

// joined are some pools, those that are alike as one.
func (a alike) joined(pools []string) (out []string) {
	for _, pool := range pools {
		if pool = cmp.Or(a.standsFor[pool], pool); !slices.Contains(out, pool) {
			out = append(out, pool)
		}
	}
	return out
}

// joinedPools are those of the joined problem.
func (a alike) joinedPools() (out []Pool) {
	at := map[string]int{}
	for _, pool := range a.apart.Pools {
		one := cmp.Or(a.standsFor[pool.ID], pool.ID)
		if k, has := at[one]; has {
			out[k].Count += pool.Count
			continue
		}
		at[one] = len(out)
		out = append(out, pool)
	}
	return out
}

// alikePools are the pools that are taken for a machine, those that are alike together, all in
// the problem's order. They are never out, and nobody takes them by name: of what is gone at
// times it does matter which it is.
func (p Problem) alikePools() [][]string {
	var choices [][]string
	taken, named := map[string]bool{}, map[string]bool{}
	for _, person := range p.People {
		for _, step := range person.Steps {
			choices = append(choices, step.Release)
			for _, choice := range step.TakeFor {
				choices = append(choices, choice)
				for _, pool := range choice {
					taken[pool] = true
				}
			}
			for _, pool := range slices.Concat(step.Take, step.NeedsOne, slices.Collect(maps.Keys(step.Needs))) {
				named[pool] = true
			}
		}
	}
	var all []string
	for _, pool := range p.Pools {
		if taken[pool.ID] && !named[pool.ID] && len(pool.Out) == 0 {
			all = append(all, pool.ID)
		}
	}
	groups := [][]string{all}
	for _, choice := range choices {
		for g, group := range groups {
			named, other := divide(group, choice)
			if len(named) > 0 && len(other) > 0 {
				groups[g] = named
				groups = append(groups, other)
			}
		}
	}
	return groups
}

// divide is which of some pools a choice names, and which it does not.
func divide(pools, choice []string) (named, other []string) {
	for _, pool := range pools {
		if slices.Contains(choice, pool) {
			named = append(named, pool)
		} else {
			other = append(other, pool)
		}
	}
	return named, other
}

// A taker is a person's step at which a pool is taken for a machine.
type taker struct{ person, step int }

// shareOut tells which of the pools that are alike is taken at each step of a plan: in the order
// of the day, the first that the step names for its machine of which one is free. seats has the
// station of each choice.
func (s *shop) shareOut(a *schedule, seats []string) map[taker]string {
	if len(s.alike.standsFor) == 0 {
		return nil
	}
	type use struct {
		taker
		from, to tick
		one      string
		may      []string
	}
	var uses []use
	for i := range s.people {
		for _, b := range s.people[i].blocks {
			for _, h := range b.holds {
				r := s.people[i].held(h, a.option[i])
				if r < s.stations || s.alike.standsFor[s.name(r)] == "" {
					continue
				}
				may := s.alike.apart.People[i].Steps[h.from].TakeFor[seats[h.chain]]
				uses = append(uses, use{taker{i, h.from}, a.start[i][h.from], a.end[i][h.to], s.name(r), may})
			}
		}
	}
	slices.SortStableFunc(uses, func(a, b use) int { return cmp.Compare(a.from, b.from) })
	free := map[string][]tick{} // by pool: when each unit is
	for _, pool := range s.alike.apart.Pools {
		free[pool.ID] = make([]tick, pool.Count)
	}
	out := map[taker]string{}
	for _, u := range uses {
		for _, pool := range u.may {
			unit := slices.IndexFunc(free[pool], func(at tick) bool { return at <= u.from })
			if unit >= 0 && s.alike.standsFor[pool] == u.one {
				free[pool][unit], out[u.taker] = u.to, pool
				break
			}
		}
	}
	return out
}
