package supply_test

import (
	"fmt"

	"chalkstep/core/stitch"
	"chalkstep/core/supply"
)

// A recipe asks for medium tear-away; on the shelf lies light, and cut-away.
func ExampleStandIns() {
	want := supply.Sheet(supply.TearAway, supply.Medium)
	shelf := []supply.Key{supply.Sheet(supply.CutAway, supply.Medium), supply.Sheet(supply.TearAway, supply.Light)}
	for _, s := range supply.StandIns(shelf, want) {
		fmt.Println(shelf[s.Index].Say(), "-", s.Why)
	}
	fmt.Println(supply.Spool(supply.Polyester, stitch.RGB{R: 0xc0, G: 0x3a, B: 0x2a}))
	// Output:
	// light tear-away - light instead of medium
	// thread;fibre=polyester+40;color=%23c03a2a
}
