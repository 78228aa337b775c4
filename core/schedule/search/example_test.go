package search_test

import (
	"fmt"

	"chalkstep/core/schedule"
	"chalkstep/core/schedule/search"
)

// Two people hoop for five minutes each and sew for twenty, at one machine.
func ExamplePlan() {
	steps := []schedule.Operation{{ID: "hoop", Minutes: schedule.Minutes(5)},
		{ID: "sew", On: map[string]float64{"Heron": 20}}}
	result, err := search.Solve(schedule.Problem{
		WindowMinutes: 60, Machines: []schedule.Machine{{ID: "Heron"}},
		Jobs: []schedule.Job{{ID: "Ana", Operations: steps}, {ID: "Bo", Operations: steps}},
	}, search.Options{Seed: 1})
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Printf("done after %.0f minutes, at the best %.0f; waited for: %s\n", result.MakespanMinutes,
		result.LowerBoundMinutes, result.Bottleneck)
	// Output: done after 45 minutes, at the best 45; waited for: Heron
}
