package floor_test

import (
	"fmt"

	"chalkstep/core/floor"
)

// Two people hoop for five minutes each and sew for twenty, at one machine.
func ExamplePlan() {
	steps := []floor.Step{{ID: "hoop", Minutes: floor.Minutes(5)}, {ID: "sew", On: map[string]float64{"Heron": 20}}}
	result, err := floor.Plan(floor.Problem{
		WindowMinutes: 60, Stations: []floor.Station{{ID: "Heron"}},
		People: []floor.Person{{ID: "Ana", Steps: steps}, {ID: "Bo", Steps: steps}},
	}, floor.Options{Seed: 1})
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Printf("done after %.0f minutes, at the best %.0f; waited for: %s\n", result.MakespanMinutes, result.LowerBoundMinutes, result.Bottleneck)
	// Output: done after 45 minutes, at the best 45; waited for: Heron
}
