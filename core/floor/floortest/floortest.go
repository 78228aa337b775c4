// Package floortest makes days to plan, and checks plans by the rules of the
// problem alone, without the planner's own code.
package floortest

import (
	"cmp"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"

	"chalkstep/core/floor"
)

// Class is a class of people on machines with hoops for two thirds of them:
// nine steps each, from marking to sign-off.
func Class(people, machines int, seed uint64) floor.Problem {
	rng := rand.New(rand.NewPCG(seed, 11))
	p := floor.Problem{WindowMinutes: 180, Pools: []floor.Pool{{ID: "hoop", Count: machines + 2}, {ID: "iron", Count: 1}, {ID: "instructor", Count: 1}}}
	for m := range machines {
		p.Stations = append(p.Stations, floor.Station{ID: fmt.Sprintf("m%d", m+1)})
	}
	minutes := func(from, to int) *float64 { return floor.Minutes(float64(from + rng.IntN(to-from+1))) }
	for i := range people {
		load, sew := map[string]float64{}, map[string]float64{}
		base := 14 + rng.IntN(12)
		for m, s := range p.Stations {
			load[s.ID], sew[s.ID] = 3, float64(base+2*(m%3))
		}
		p.People = append(p.People, floor.Person{ID: fmt.Sprintf("p%d", i+1), Steps: []floor.Step{
			{ID: "mark", Minutes: minutes(4, 8)}, {ID: "stabilise", Minutes: minutes(3, 6)},
			{ID: "hoop", Minutes: minutes(5, 9), Take: []string{"hoop"}},
			{ID: "load", On: load, Keep: true, Needs: map[string]int{"instructor": rng.IntN(2)}}, {ID: "sew", On: sew},
			{ID: "unhoop", Minutes: floor.Minutes(2), Release: []string{"hoop"}},
			{ID: "clean-up", Minutes: minutes(5, 9)}, {ID: "press", Minutes: floor.Minutes(3), Needs: map[string]int{"iron": 1}},
			{ID: "sign-off", Minutes: floor.Minutes(3), Needs: map[string]int{"instructor": 1}},
		}})
	}
	return p
}

// Random makes a small odd day with every feature a problem can have.
func Random(rng *rand.Rand) floor.Problem {
	p := floor.Problem{WindowMinutes: 100, Stations: []floor.Station{{ID: "a"}, {ID: "b"}, {ID: "c"}}, Pools: []floor.Pool{{ID: "small", Count: 1 + rng.IntN(2)}, {ID: "large", Count: 1}, {ID: "hands", Count: 2}, {ID: "helper", Count: 1}}}
	if rng.IntN(3) == 0 {
		p.Closed = []floor.Span{{From: 30, To: 40}}
		p.Stations[1].Out = []floor.Span{{From: float64(rng.IntN(30)), To: 45}}
		p.Pools[2].Out = []floor.Span{{From: 10, To: 22, Units: 1}}
		p.Pools[3].Out = []floor.Span{{From: 20, To: 60}}
	}
	minutes := func() *float64 { return floor.Minutes(float64(rng.IntN(40)) / 4) }
	on := func() map[string]float64 {
		options := map[string]float64{"b": 1 + float64(rng.IntN(40))/4}
		if rng.IntN(2) == 0 {
			options["a"] = 1 + float64(rng.IntN(40))/4
		}
		if rng.IntN(2) == 0 {
			options["c"] = 1 + float64(rng.IntN(40))/4
		}
		return options
	}
	for i := range 1 + rng.IntN(5) {
		person := floor.Person{ID: fmt.Sprintf("p%d", i+1), Ready: float64(rng.IntN(10))}
		for round := range 1 + rng.IntN(3) {
			id := func(step string) string { return fmt.Sprintf("%s%d", step, round) }
			steps := []floor.Step{
				{ID: id("first"), Minutes: minutes(), Needs: map[string]int{"hands": rng.IntN(3)}},
				{ID: id("load"), On: on(), Keep: rng.IntN(2) == 0},
				{ID: id("between"), Minutes: minutes(), Needs: map[string]int{"hands": rng.IntN(2)}},
				{ID: id("sew"), On: on()},
				{ID: id("last"), Minutes: minutes()},
			}
			if rng.IntN(3) == 0 {
				steps[4].NeedsOne = []string{"helper", "hands"}
			}
			steps[3].Same = rng.IntN(4) == 0
			if rng.IntN(12) == 0 {
				at := float64(rng.IntN(60))
				steps[rng.IntN(5)].At = &at
			}
			from, to := rng.IntN(3), 3+rng.IntN(2)
			switch rng.IntN(3) {
			case 0:
				steps[from].Take, steps[to].Release = []string{"small"}, []string{"small"}
			case 1:
				steps[from].TakeFor, steps[to].Release = map[string]floor.Choice{"a": {"small"}, "b": {"small", "large"}, "c": {"large"}}, []string{"small", "large"}
			}
			person.Steps = append(person.Steps, steps...)
		}
		p.People = append(p.People, person)
	}
	return p
}

const tolerance = 1e-5

type stretch struct {
	start, end float64
	units      int
	who        string
}

// Check tells which rule of the problem a result breaks.
func Check(p floor.Problem, r floor.Result) error {
	placed := map[string][]floor.Placed{}
	for _, s := range r.Steps {
		placed[s.Person] = append(placed[s.Person], s)
	}
	stations, pools := map[string][]stretch{}, map[string][]stretch{}
	makespan := 0.0
	for _, person := range p.People {
		mine := placed[person.ID]
		if len(mine) != len(person.Steps) {
			return fmt.Errorf("%s has %d steps planned of %d", person.ID, len(mine), len(person.Steps))
		}
		slices.SortStableFunc(mine, func(a, b floor.Placed) int { return cmp.Compare(indexOf(person, a.Step), indexOf(person, b.Step)) })
		at := person.Ready
		for i, step := range person.Steps {
			s := mine[i]
			if s.Start < at-tolerance {
				return fmt.Errorf("%s starts %s at %v, before %v", person.ID, s.Step, s.Start, at)
			}
			length := 0.0
			if step.Minutes != nil {
				length = *step.Minutes
			} else if minutes, ok := step.On[s.Station]; ok {
				length = minutes
				stations[s.Station] = append(stations[s.Station], stretch{s.Start, s.End, 1, person.ID})
			} else {
				return fmt.Errorf("%s does %s on %q", person.ID, s.Step, s.Station)
			}
			if math.Abs(s.End-s.Start-length) > tolerance {
				return fmt.Errorf("%s takes %v for %s, not %v", person.ID, s.End-s.Start, s.Step, length)
			}
			at = s.End
			if step.At != nil && s.Start < *step.At-tolerance {
				return fmt.Errorf("%s starts %s at %v, pinned at %v", person.ID, s.Step, s.Start, *step.At)
			}
			if len(step.NeedsOne) > 0 && !slices.Contains(step.NeedsOne, s.With) {
				return fmt.Errorf("%s does %s with %q", person.ID, s.Step, s.With)
			}
			for _, span := range p.Closed {
				if s.Start < span.To-tolerance && s.End > span.From+tolerance && s.End > s.Start {
					return fmt.Errorf("%s does %s from %v to %v, and it is closed then", person.ID, s.Step, s.Start, s.End)
				}
			}
			if s.With != "" {
				pools[s.With] = append(pools[s.With], stretch{s.Start, s.End, 1, person.ID})
			}
			for pool, units := range step.Needs {
				pools[pool] = append(pools[pool], stretch{s.Start, s.End, units, person.ID})
			}
			chosen, err := taken(person, mine, i)
			if err != nil {
				return err
			}
			for _, pool := range chosen {
				pools[pool] = append(pools[pool], stretch{s.Start, givenBack(person, mine, i, pool), 1, person.ID})
			}
			if step.Same {
				before := i - 1
				for len(person.Steps[before].On) == 0 {
					before--
				}
				if mine[before].Station != s.Station {
					return fmt.Errorf("%s wants %s again for %s but uses %s", person.ID, mine[before].Station, s.Step, s.Station)
				}
			}
			if step.Keep {
				next := nextOn(person, i)
				if mine[next].Station != s.Station {
					return fmt.Errorf("%s keeps %s for %s but then uses %s", person.ID, s.Station, s.Step, mine[next].Station)
				}
				stations[s.Station] = append(stations[s.Station], stretch{s.End, mine[next].Start, 1, person.ID})
			}
		}
		makespan = max(makespan, at)
	}
	if math.Abs(makespan-r.MakespanMinutes) > tolerance {
		return fmt.Errorf("the makespan is %v, reported as %v", makespan, r.MakespanMinutes)
	}
	for _, st := range p.Stations {
		for _, span := range st.Out {
			stations[st.ID] = append(stations[st.ID], stretch{span.From, span.To, 1, "out"})
		}
	}
	for _, pool := range p.Pools {
		for _, span := range pool.Out {
			pools[pool.ID] = append(pools[pool.ID], stretch{span.From, span.To, cmp.Or(span.Units, pool.Count), "out"})
		}
	}
	for station, uses := range stations {
		if err := within(uses, 1); err != nil {
			return fmt.Errorf("station %s: %w", station, err)
		}
	}
	for _, pool := range p.Pools {
		if err := within(pools[pool.ID], pool.Count); err != nil {
			return fmt.Errorf("pool %s: %w", pool.ID, err)
		}
	}
	return nil
}

func indexOf(p floor.Person, step string) int {
	return slices.IndexFunc(p.Steps, func(s floor.Step) bool { return s.ID == step })
}

func nextOn(p floor.Person, i int) int {
	for i++; len(p.Steps[i].On) == 0; i++ {
	}
	return i
}

func taken(p floor.Person, placed []floor.Placed, i int) ([]string, error) {
	pools := slices.Clone(p.Steps[i].Take)
	if len(p.Steps[i].TakeFor) > 0 {
		next := i
		if len(p.Steps[i].On) == 0 {
			next = nextOn(p, i)
		}
		may := p.Steps[i].TakeFor[placed[next].Station]
		if len(may) == 0 != (len(placed[i].Took) == 0) {
			return nil, fmt.Errorf("%s took %v for %s, which takes one of %v", p.ID, placed[i].Took, placed[next].Station, may)
		}
		for _, pool := range placed[i].Took {
			if !slices.Contains(may, pool) {
				return nil, fmt.Errorf("%s took %s for %s, which takes one of %v", p.ID, pool, placed[next].Station, may)
			}
			pools = append(pools, pool)
		}
	}
	return pools, nil
}

func givenBack(p floor.Person, placed []floor.Placed, i int, pool string) float64 {
	for ; i < len(p.Steps); i++ {
		if slices.Contains(p.Steps[i].Release, pool) {
			return placed[i].End
		}
	}
	return placed[len(placed)-1].End
}

// within checks that no moment uses more than capacity.
func within(uses []stretch, capacity int) error {
	for _, at := range uses {
		moment, units := at.start+tolerance, 0
		for _, u := range uses {
			if u.start <= moment && moment < u.end-tolerance {
				units += u.units
			}
		}
		if units > capacity {
			return fmt.Errorf("%d in use at %.3f, and there are %d", units, at.start, capacity)
		}
	}
	return nil
}
