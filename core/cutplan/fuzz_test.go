package cutplan_test

import (
	"math"
	"testing"

	"chalkstep/core/cutplan"
	"chalkstep/core/cutplan/cutplantest"
)

// Whatever is asked for, a plan is an error or comes apart as it says.
func FuzzPlan(f *testing.F) {
	f.Add(500.0, 200.0, 250.0, 8, true, 63.0, 480.0, 3, false)
	f.Add(100.0, 100.0, 100.0, 1, false, 100.0, 1.0, 1, true)
	f.Add(1e6, 0.5, 999999.0, 2, true, 0.001, 0.001, 5, true)
	f.Add(1e6, 0.5, 999999.0, 2, true, 0.02, 1.0003333333333333, 5, true)
	f.Fuzz(func(t *testing.T, width, w1, h1 float64, n1 int, turn1 bool, w2, h2 float64, n2 int, turn2 bool) {
		if n1 > 20 || n2 > 20 {
			t.Skip("more of them says no more")
		}
		// What nobody measures may be planned as it likes, but never crash.
		_, _ = cutplan.Plan(cutplan.Material{WidthMM: width},
			[]cutplan.Piece{{ID: "a", WMM: w1, HMM: h1, Count: n1, Turn: turn1},
				{ID: "b", WMM: w2, HMM: h2, Count: n2, Turn: turn2}})
		// The checker tells a thousandth of a millimetre from nothing, so sizes
		// are of hundredths: two that differ by less would leave it a sliver
		// that it takes for an edge.
		for _, mm := range []*float64{&width, &w1, &h1, &w2, &h2} {
			*mm = math.Round(*mm*100) / 100
		}
		m := cutplan.Material{WidthMM: width}
		pieces := []cutplan.Piece{{ID: "a", WMM: w1, HMM: h1, Count: n1, Turn: turn1},
			{ID: "b", WMM: w2, HMM: h2, Count: n2, Turn: turn2}}
		l, err := cutplan.Plan(m, pieces)
		if err != nil {
			return
		}
		if err := cutplantest.Check(m, pieces, l); err != nil {
			t.Fatal(err)
		}
	})
}
