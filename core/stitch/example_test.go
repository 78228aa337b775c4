package stitch_test

import (
	"fmt"

	"chalkstep/core/stitch"
	_ "chalkstep/core/stitch/dst"
	_ "chalkstep/core/stitch/exp"
)

// A square of 20 mm, written as one format and read as itself.
func Example() {
	square := &stitch.Pattern{
		Moves: []stitch.Move{{X: 0, Y: 0}, {X: 100, Y: 0}, {X: 200, Y: 0}, {X: 200, Y: 100}, {X: 200, Y: 200},
			{X: 100, Y: 200}, {X: 0, Y: 200}, {X: 0, Y: 100}, {X: 0, Y: 0}}}
	data, err := stitch.Encode("square.dst", square)
	if err != nil {
		fmt.Println(err)
		return
	}
	pattern, format, err := stitch.Decode("square.dst", data)
	if err != nil {
		fmt.Println(err)
		return
	}
	a := stitch.Analyse(pattern)
	fmt.Printf(".%s: %.0f × %.0f mm, %d stitches in %d stop\n", format.Name, a.WidthMM, a.HeightMM, a.Stitches,
		len(a.Stops))
	// Output: .dst: 20 × 20 mm, 9 stitches in 1 stop
}
