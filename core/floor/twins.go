package floor

import (
	"cmp"
	"maps"
	"slices"
)

// Stations are twins where everybody takes as long at one as at the other, with the same hoops, as
// two machines of one make. Who sits at which makes no day shorter: as long as no more sit at them
// than there are, one is free. Where the length alone counts, the search has them as one station of
// several units, and who sits where is said when the plan is done. Where it counts who changes
// machines they stay apart.

// twins are by the first of them, which stands for all, all of some stations that are.
type twins map[string][]string

// twins finds those of a problem.
func (p Problem) twins() twins {
	out := twins{}
	if p.Weights != nil {
		return out
	}
	for i, st := range p.Stations {
		for _, first := range p.Stations[:i] {
			if p.areTwins(first, st) {
				if out[first.ID] == nil {
					out[first.ID] = []string{first.ID}
				}
				out[first.ID] = append(out[first.ID], st.ID)
				break
			}
		}
	}
	return out
}

// areTwins tells whether nothing tells two stations apart: they are never out, and every step takes
// as long at both and takes the same along.
func (p Problem) areTwins(a, b Station) bool {
	if len(a.Out) > 0 || len(b.Out) > 0 {
		return false
	}
	for _, person := range p.People {
		for _, step := range person.Steps {
			minutes, does := step.On[a.ID]
			others, too := step.On[b.ID]
			takes, has := step.TakeFor[a.ID]
			other, hasToo := step.TakeFor[b.ID]
			if minutes != others || does != too || has != hasToo || !slices.Equal(takes, other) {
				return false
			}
		}
	}
	return true
}

// joinTwins is the problem in which the first of them stands for all.
func (p Problem) joinTwins(t twins) Problem {
	if len(t) == 0 {
		return p
	}
	var joined []string
	for _, all := range t {
		joined = append(joined, all[1:]...)
	}
	p.Stations = slices.DeleteFunc(slices.Clone(p.Stations), func(s Station) bool { return slices.Contains(joined, s.ID) })
	return p.withSteps(func(step *Step) {
		step.On, step.TakeFor = maps.Clone(step.On), maps.Clone(step.TakeFor)
		for _, station := range joined {
			delete(step.On, station)
			delete(step.TakeFor, station)
		}
	})
}

// seats names the station of each choice of a plan. Of twins it is that at which the same person sat
// before, where it is free, or else the first that is.
func (s *shop) seats(a *schedule) []string {
	out := make([]string, len(s.options))
	type shared struct {
		person, chain int
		from, to      tick
		twins         []string
	}
	var all []shared
	for i := range s.people {
		for _, b := range s.people[i].blocks {
			for _, c := range b.chains {
				first, last := s.people[i].chainSpan(c.index)
				station := s.name(s.stationAt(&s.people[i], first, a.option[i][first]))
				out[c.index] = station
				if twins := s.twins[station]; len(twins) > 0 {
					all = append(all, shared{i, c.index, a.start[i][first], a.end[i][last], twins})
				}
			}
		}
	}
	slices.SortStableFunc(all, func(a, b shared) int { return cmp.Compare(a.from, b.from) })
	free := map[string]tick{}
	before := make([]string, len(s.people))
	for _, one := range all {
		isFree := func(station string) bool { return free[station] <= one.from }
		at := before[one.person]
		if !slices.Contains(one.twins, at) || !isFree(at) {
			at = one.twins[max(0, slices.IndexFunc(one.twins, isFree))]
		}
		out[one.chain], before[one.person], free[at] = at, at, one.to
	}
	return out
}
