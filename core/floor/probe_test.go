package floor_test

import (
	"fmt"
	"os"
	"testing"

	"chalkstep/core/floor"
	"chalkstep/core/floor/floortest"
)

func TestProbe(t *testing.T) {
	f, _ := os.Create(os.Getenv("PROBE"))
	defer f.Close()
	for seed := range uint64(200) {
		b, err := floor.LowerBound(floortest.Generated(seed))
		if err != nil {
			t.Fatal(err)
		}
		fmt.Fprintf(f, "%d %.4f\n", seed, b)
	}
}
