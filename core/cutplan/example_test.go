package cutplan_test

import (
	"fmt"

	"chalkstep/core/cutplan"
)

// Five sheets for a small hoop, off a roll half a metre wide.
func ExamplePlan() {
	layout, err := cutplan.Plan(cutplan.Material{WidthMM: 500},
		[]cutplan.Piece{{ID: "sheet", WMM: 150, HMM: 150, Count: 5, Turn: true}})
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Printf("%.0f mm of the roll, %d cuts, the first at %.0f mm\n", layout.LengthMM, len(layout.Cuts),
		layout.Cuts[0].Y1MM)
	// Output: 300 mm of the roll, 7 cuts, the first at 300 mm
}
