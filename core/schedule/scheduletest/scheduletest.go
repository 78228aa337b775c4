// Package scheduletest makes days to plan, and checks plans by the rules of the
// problem alone, without the planner's own code.
package scheduletest

import (
	"cmp"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"

	"chalkstep/core/schedule"
)

// Class is a class of people on machines with hoops for two thirds of them:
// nine steps each, from marking to sign-off.
func Class(jobs, machines int, seed uint64) schedule.Problem {
	rng := rand.New(rand.NewPCG(seed, 11))
	p := schedule.Problem{WindowMinutes: 180,
		Resources: []schedule.Resource{{ID: "hoop", Count: machines + 2}, {ID: "iron", Count: 1},
			{ID: "instructor", Count: 1}}}
	for m := range machines {
		p.Machines = append(p.Machines, schedule.Machine{ID: fmt.Sprintf("m%d", m+1)})
	}
	minutes := func(from, to int) *float64 { return schedule.Minutes(float64(from + rng.IntN(to-from+1))) }
	for i := range jobs {
		load, sew := map[string]float64{}, map[string]float64{}
		base := 14 + rng.IntN(12)
		for m, s := range p.Machines {
			load[s.ID], sew[s.ID] = 3, float64(base+2*(m%3))
		}
		p.Jobs = append(p.Jobs, schedule.Job{ID: fmt.Sprintf("p%d", i+1), Operations: []schedule.Operation{
			{ID: "mark", Minutes: minutes(4, 8)}, {ID: "stabilise", Minutes: minutes(3, 6)},
			{ID: "hoop", Minutes: minutes(5, 9), Take: []string{"hoop"}},
			{ID: "load", On: load, KeepMachine: true, Needs: map[string]int{"instructor": rng.IntN(2)}}, {ID: "sew", On: sew},
			{ID: "unhoop", Minutes: schedule.Minutes(2), Release: []string{"hoop"}},
			{ID: "clean-up", Minutes: minutes(5, 9)},
			{ID: "press", Minutes: schedule.Minutes(3), Needs: map[string]int{"iron": 1}},
			{ID: "sign-off", Minutes: schedule.Minutes(3), Needs: map[string]int{"instructor": 1}},
		}})
	}
	return p
}

// Random makes a small odd day with every feature a problem can have.
func Random(rng *rand.Rand) schedule.Problem {
	p := schedule.Problem{WindowMinutes: 100, Machines: []schedule.Machine{{ID: "a"}, {ID: "b"}, {ID: "c"}},
		Resources: []schedule.Resource{{ID: "small", Count: 1 + rng.IntN(2)}, {ID: "large", Count: 1},
			{ID: "hands", Count: 2}, {ID: "helper", Count: 1}}}
	if rng.IntN(3) == 0 {
		p.Closed = []schedule.Interval{{From: 30, To: 40}}
		p.Machines[1].Unavailable = []schedule.Interval{{From: float64(rng.IntN(30)), To: 45}}
		p.Resources[2].Unavailable = []schedule.Interval{{From: 10, To: 22, Units: 1}}
		p.Resources[3].Unavailable = []schedule.Interval{{From: 20, To: 60}}
	}
	minutes := func() *float64 { return schedule.Minutes(float64(rng.IntN(40)) / 4) }
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
		job := schedule.Job{ID: fmt.Sprintf("p%d", i+1), Ready: float64(rng.IntN(10))}
		for round := range 1 + rng.IntN(3) {
			id := func(step string) string { return fmt.Sprintf("%s%d", step, round) }
			steps := []schedule.Operation{
				{ID: id("first"), Minutes: minutes(), Needs: map[string]int{"hands": rng.IntN(3)}},
				{ID: id("load"), On: on(), KeepMachine: rng.IntN(2) == 0},
				{ID: id("between"), Minutes: minutes(), Needs: map[string]int{"hands": rng.IntN(2)}},
				{ID: id("sew"), On: on()},
				{ID: id("last"), Minutes: minutes()},
			}
			if rng.IntN(3) == 0 {
				steps[4].NeedsOneOf = []string{"helper", "hands"}
			}
			steps[3].SameMachine = rng.IntN(4) == 0
			if rng.IntN(12) == 0 {
				at := float64(rng.IntN(60))
				steps[rng.IntN(5)].At = &at
			}
			from, to := rng.IntN(3), 3+rng.IntN(2)
			switch rng.IntN(3) {
			case 0:
				steps[from].Take, steps[to].Release = []string{"small"}, []string{"small"}
			case 1:
				steps[from].TakeFor, steps[to].Release = map[string]schedule.Choice{"a": {"small"}, "b": {"small", "large"},
					"c": {"large"}}, []string{"small", "large"}
			}
			job.Operations = append(job.Operations, steps...)
		}
		p.Jobs = append(p.Jobs, job)
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
func Check(p schedule.Problem, r schedule.Plan) error {
	placed := map[string][]schedule.Assignment{}
	for _, s := range r.Assignments {
		placed[s.Job] = append(placed[s.Job], s)
	}
	machines, resources := map[string][]stretch{}, map[string][]stretch{}
	makespan := 0.0
	for _, job := range p.Jobs {
		mine := placed[job.ID]
		if len(mine) != len(job.Operations) {
			return fmt.Errorf("%s has %d steps planned of %d", job.ID, len(mine), len(job.Operations))
		}
		slices.SortStableFunc(mine, func(a, b schedule.Assignment) int {
			return cmp.Compare(indexOf(job, a.Operation), indexOf(job, b.Operation))
		})
		at := job.Ready
		for i, step := range job.Operations {
			s := mine[i]
			if s.Start < at-tolerance {
				return fmt.Errorf("%s starts %s at %v, before %v", job.ID, s.Operation, s.Start, at)
			}
			length := 0.0
			if step.Minutes != nil {
				length = *step.Minutes
			} else if minutes, ok := step.On[s.Machine]; ok {
				length = minutes
				machines[s.Machine] = append(machines[s.Machine], stretch{s.Start, s.End, 1, job.ID})
			} else {
				return fmt.Errorf("%s does %s on %q", job.ID, s.Operation, s.Machine)
			}
			if math.Abs(s.End-s.Start-length) > tolerance {
				return fmt.Errorf("%s takes %v for %s, not %v", job.ID, s.End-s.Start, s.Operation, length)
			}
			at = s.End
			if step.At != nil && s.Start < *step.At-tolerance {
				return fmt.Errorf("%s starts %s at %v, pinned at %v", job.ID, s.Operation, s.Start, *step.At)
			}
			if len(step.NeedsOneOf) > 0 && !slices.Contains(step.NeedsOneOf, s.With) {
				return fmt.Errorf("%s does %s with %q", job.ID, s.Operation, s.With)
			}
			for _, span := range p.Closed {
				if s.Start < span.To-tolerance && s.End > span.From+tolerance && s.End > s.Start {
					return fmt.Errorf("%s does %s from %v to %v, and it is closed then", job.ID, s.Operation, s.Start, s.End)
				}
			}
			if s.With != "" {
				resources[s.With] = append(resources[s.With], stretch{s.Start, s.End, 1, job.ID})
			}
			for resource, units := range step.Needs {
				resources[resource] = append(resources[resource], stretch{s.Start, s.End, units, job.ID})
			}
			chosen, err := taken(job, mine, i)
			if err != nil {
				return err
			}
			for _, resource := range chosen {
				resources[resource] = append(resources[resource], stretch{s.Start, givenBack(job, mine, i, resource), 1, job.ID})
			}
			if step.SameMachine {
				before := i - 1
				for len(job.Operations[before].On) == 0 {
					before--
				}
				if mine[before].Machine != s.Machine {
					return fmt.Errorf("%s wants %s again for %s but uses %s", job.ID, mine[before].Machine, s.Operation, s.Machine)
				}
			}
			if step.KeepMachine {
				next := nextOn(job, i)
				if mine[next].Machine != s.Machine {
					return fmt.Errorf("%s keeps %s for %s but then uses %s", job.ID, s.Machine, s.Operation, mine[next].Machine)
				}
				machines[s.Machine] = append(machines[s.Machine], stretch{s.End, mine[next].Start, 1, job.ID})
			}
		}
		makespan = max(makespan, at)
	}
	if math.Abs(makespan-r.MakespanMinutes) > tolerance {
		return fmt.Errorf("the makespan is %v, reported as %v", makespan, r.MakespanMinutes)
	}
	for _, st := range p.Machines {
		for _, span := range st.Unavailable {
			machines[st.ID] = append(machines[st.ID], stretch{span.From, span.To, 1, "out"})
		}
	}
	for _, resource := range p.Resources {
		for _, span := range resource.Unavailable {
			resources[resource.ID] = append(resources[resource.ID],
				stretch{span.From, span.To, cmp.Or(span.Units, resource.Count), "out"})
		}
	}
	for machine, uses := range machines {
		if err := within(uses, 1); err != nil {
			return fmt.Errorf("station %s: %w", machine, err)
		}
	}
	for _, resource := range p.Resources {
		if err := within(resources[resource.ID], resource.Count); err != nil {
			return fmt.Errorf("pool %s: %w", resource.ID, err)
		}
	}
	return nil
}

func indexOf(p schedule.Job, step string) int {
	return slices.IndexFunc(p.Operations, func(s schedule.Operation) bool { return s.ID == step })
}

func nextOn(p schedule.Job, i int) int {
	for i++; len(p.Operations[i].On) == 0; i++ {
	}
	return i
}

func taken(p schedule.Job, placed []schedule.Assignment, i int) ([]string, error) {
	resources := slices.Clone(p.Operations[i].Take)
	if len(p.Operations[i].TakeFor) > 0 {
		next := i
		if len(p.Operations[i].On) == 0 {
			next = nextOn(p, i)
		}
		may := p.Operations[i].TakeFor[placed[next].Machine]
		if len(may) == 0 != (len(placed[i].Took) == 0) {
			return nil, fmt.Errorf("%s took %v for %s, which takes one of %v", p.ID, placed[i].Took, placed[next].Machine, may)
		}
		for _, resource := range placed[i].Took {
			if !slices.Contains(may, resource) {
				return nil, fmt.Errorf("%s took %s for %s, which takes one of %v", p.ID, resource, placed[next].Machine, may)
			}
			resources = append(resources, resource)
		}
	}
	return resources, nil
}

func givenBack(p schedule.Job, placed []schedule.Assignment, i int, resource string) float64 {
	for ; i < len(p.Operations); i++ {
		if slices.Contains(p.Operations[i].Release, resource) {
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
