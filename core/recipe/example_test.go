package recipe_test

import (
	"fmt"

	"chalkstep/core/recipe"
)

// A crab on a towel that will be washed.
func ExampleFor() {
	r, err := recipe.For(recipe.Request{
		Fabric: recipe.Terry, Uses: []recipe.Use{recipe.Washed}, WidthMM: 76, HeightMM: 61, Stitches: 7000, Colors: 3,
		HoopMM: [2]float64{100, 100},
	})
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Println(r.Under[0].Key().Say(), "under it,", r.Over.Key().Say(), "over it, needle", r.Needle.Size)
	// Output: medium tear-away under it, water-soluble topper over it, needle 75/11
}
