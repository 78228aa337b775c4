package hoop_test

import (
	"fmt"

	"chalkstep/core/hoop"
)

// A lighthouse of 85 × 96 mm in a small square hoop, and one too tall for it.
func ExampleInto() {
	small := hoop.Field{WidthMM: 100, HeightMM: 100}
	fit, err := hoop.Into(small, 85, 96, 0)
	fmt.Println(fit.Turn, fit.NudgeXMM, fit.NudgeYMM, err)
	_, err = hoop.Into(small, 85, 106, 0)
	fmt.Println(err)
	// Output:
	// 0 7.5 2 <nil>
	// too tall by 6 mm
}
