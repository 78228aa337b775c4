package scheduletest

import (
	"fmt"
	"math/rand/v2"
	"slices"

	"chalkstep/core/schedule"
)

// Generated is a class as workshops hold them: 6 to 24 people, 3 to 8 machines of
// two sizes, 2 to 12 hoops, one or two hoopings each, 6 to 20 steps.
func Generated(seed uint64) schedule.Problem {
	rng := rand.New(rand.NewPCG(seed, 2024))
	between := func(from, to int) int { return from + rng.IntN(to-from+1) }
	jobs, machines := between(6, 24), between(3, 8)
	p := schedule.Problem{WindowMinutes: 240}
	small, large := between(1, 8), between(1, 4)
	p.Resources = []schedule.Resource{{ID: "small", Count: small}, {ID: "large", Count: large},
		{ID: "iron", Count: between(1, 2)}, {ID: "instructor", Count: between(1, 2)}}
	takes := map[string]schedule.Choice{}
	for m := range machines {
		id := fmt.Sprintf("m%d", m+1)
		p.Machines = append(p.Machines, schedule.Machine{ID: id})
		switch rng.IntN(3) {
		case 0:
			takes[id] = schedule.Choice{"small"}
		case 1:
			takes[id] = schedule.Choice{"large"}
		default:
			takes[id] = schedule.Choice{"small", "large"}
		}
	}
	var release []string
	for _, resource := range []string{"small", "large"} {
		for _, choice := range takes {
			if slices.Contains(choice, resource) && !slices.Contains(release, resource) {
				release = append(release, resource)
			}
		}
	}
	speed := make([]float64, machines)
	for m := range speed {
		speed[m] = 0.8 + 0.1*float64(rng.IntN(6))
	}
	hoopings, extra := between(1, 2), between(0, 4)
	for i := range jobs {
		hand := 1.0
		if rng.IntN(2) == 0 {
			hand = 1.6
		}
		minutes := func(from, to int) *float64 {
			return schedule.Minutes(float64(int(10*hand*float64(between(from, to)))) / 10)
		}
		var steps []schedule.Operation
		for k := range extra {
			steps = append(steps, schedule.Operation{ID: fmt.Sprintf("bench%d", k), Minutes: minutes(2, 6)})
		}
		for n := range hoopings {
			id := func(step string) string { return fmt.Sprintf("%s%d", step, n+1) }
			load, sew := map[string]float64{}, map[string]float64{}
			base := float64(between(8, 28))
			for m, st := range p.Machines {
				load[st.ID] = float64(int(10*3*hand)) / 10
				sew[st.ID] = float64(int(10*base*speed[m])) / 10
			}
			hoop := schedule.Operation{ID: id("hoop"), Minutes: minutes(4, 8), TakeFor: takes}
			loading := schedule.Operation{ID: id("load"), On: load, KeepMachine: true}
			if hand > 1 {
				loading.Needs = map[string]int{"instructor": 1}
			}
			steps = append(steps, schedule.Operation{ID: id("mark"), Minutes: minutes(3, 6)}, hoop, loading,
				schedule.Operation{ID: id("sew"), On: sew},
				schedule.Operation{ID: id("unhoop"), Minutes: minutes(2, 3), Release: release},
				schedule.Operation{ID: id("clean"), Minutes: minutes(3, 8)})
		}
		steps = append(steps, schedule.Operation{ID: "press", Minutes: minutes(2, 3), Needs: map[string]int{"iron": 1}},
			schedule.Operation{ID: "sign-off", Minutes: schedule.Minutes(3), Needs: map[string]int{"instructor": 1}})
		ready := 0.0
		if rng.IntN(6) == 0 {
			ready = float64(5 * between(1, 8))
		}
		p.Jobs = append(p.Jobs, schedule.Job{ID: fmt.Sprintf("p%d", i+1), Ready: ready, Operations: steps})
	}
	return p
}

// Shop is a job shop: each job visits every machine once, in an order of its own.
func Shop(jobs, machines int, seed uint64) schedule.Problem {
	rng := rand.New(rand.NewPCG(seed, 99))
	var rows [][]int
	for range jobs {
		var row []int
		for _, m := range rng.Perm(machines) {
			row = append(row, m, 1+rng.IntN(99))
		}
		rows = append(rows, row)
	}
	return ShopOf(rows)
}

// ShopOf is a job shop given as rows of machine and minutes, a row for each job.
func ShopOf(rows [][]int) schedule.Problem {
	p := schedule.Problem{}
	for m := range len(rows[0]) / 2 {
		p.Machines = append(p.Machines, schedule.Machine{ID: fmt.Sprintf("m%d", m)})
	}
	for i, row := range rows {
		job := schedule.Job{ID: fmt.Sprintf("j%d", i)}
		for k := 0; k < len(row); k += 2 {
			machine := fmt.Sprintf("m%d", row[k])
			job.Operations = append(job.Operations,
				schedule.Operation{ID: machine, On: map[string]float64{machine: float64(row[k+1])}})
		}
		p.Jobs = append(p.Jobs, job)
	}
	return p
}

// SixBySix and TenByTen are job shops whose shortest plans are known: 55 and 930.
var (
	SixBySix = [][]int{
		{2, 1, 0, 3, 1, 6, 3, 7, 5, 3, 4, 6}, {1, 8, 2, 5, 4, 10, 5, 10, 0, 10, 3, 4},
		{2, 5, 3, 4, 5, 8, 0, 9, 1, 1, 4, 7}, {1, 5, 0, 5, 2, 5, 3, 3, 4, 8, 5, 9},
		{2, 9, 1, 3, 4, 5, 5, 4, 0, 3, 3, 1}, {1, 3, 3, 3, 5, 9, 0, 10, 4, 4, 2, 1},
	}
	TenByTen = [][]int{
		{0, 29, 1, 78, 2, 9, 3, 36, 4, 49, 5, 11, 6, 62, 7, 56, 8, 44, 9, 21},
		{0, 43, 2, 90, 4, 75, 9, 11, 3, 69, 1, 28, 6, 46, 5, 46, 7, 72, 8, 30},
		{1, 91, 0, 85, 3, 39, 2, 74, 8, 90, 5, 10, 7, 12, 6, 89, 9, 45, 4, 33},
		{1, 81, 2, 95, 0, 71, 4, 99, 6, 9, 8, 52, 7, 85, 3, 98, 9, 22, 5, 43},
		{2, 14, 0, 6, 1, 22, 5, 61, 3, 26, 4, 69, 8, 21, 7, 49, 9, 72, 6, 53},
		{2, 84, 1, 2, 5, 52, 3, 95, 8, 48, 9, 72, 0, 47, 6, 65, 4, 6, 7, 25},
		{1, 46, 0, 37, 3, 61, 2, 13, 6, 32, 5, 21, 9, 32, 8, 89, 7, 30, 4, 55},
		{2, 31, 0, 86, 1, 46, 5, 74, 4, 32, 6, 88, 8, 19, 9, 48, 7, 36, 3, 79},
		{0, 76, 1, 69, 3, 76, 5, 51, 2, 85, 9, 11, 6, 40, 7, 89, 4, 26, 8, 74},
		{1, 85, 0, 13, 2, 61, 6, 7, 8, 64, 9, 76, 5, 47, 3, 52, 4, 90, 7, 45},
	}
)
