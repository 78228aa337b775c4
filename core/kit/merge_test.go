package kit_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"chalkstep/core/kit"
)

// Two kits for one class add up line by line, with both workings.
func TestKitsAddUp(t *testing.T) {
	a := kit.Kit{
		Sets: 8, SetsWorking: "8 students", Stabilizer: []kit.Line{{What: "medium tear-away, cut 150 × 150 mm", Count: 1, Unit: kit.Sheet, Working: []string{"a"}}},
		Thread: []kit.Line{{What: "top thread", Color: "#1d3a4d", Count: 12_000, Unit: kit.Millimetre}}, Bobbins: []kit.Line{{What: "bobbins, low, clear", Count: 2}},
		Needles: []kit.Line{{What: "needles 75/11 embroidery", Count: 5}}, Blanks: []kit.Line{{What: "felt sheet", Count: 8}},
	}
	b := kit.Kit{
		Sets: 3, SetsWorking: "1 student", Stabilizer: []kit.Line{{What: "medium tear-away, cut 150 × 150 mm", Count: 2, Unit: kit.Sheet, Working: []string{"b"}}},
		Thread:  []kit.Line{{What: "top thread", Color: "#1d3a4d", Count: 3000, Unit: kit.Millimetre}, {What: "top thread", Color: "#c4552d", Count: 9000, Unit: kit.Millimetre}},
		Bobbins: []kit.Line{{What: "bobbins, tall, steel", Count: 1}}, Needles: []kit.Line{{What: "needles 75/11 embroidery", Count: 2}}, Blanks: []kit.Line{{What: "hand towel", Count: 3}},
	}
	both := kit.Merge(a, b)
	assert.Equal(t, 11, both.Sets)
	assert.Equal(t, "3 sheets", both.Stabilizer[0].Quantity())
	assert.Equal(t, []string{"a", "b"}, both.Stabilizer[0].Working)
	assert.Equal(t, []string{"15.0 m", "9.0 m"}, []string{both.Thread[0].Quantity(), both.Thread[1].Quantity()})
	assert.Len(t, both.Bobbins, 2, "styles do not fit each other")
	assert.Equal(t, "7", both.Needles[0].Quantity())
	assert.Len(t, both.Blanks, 2)
	assert.Equal(t, 3, both.Sheets())
	assert.Equal(t, 3, both.BobbinCount())
	assert.Equal(t, 1.0, a.Stabilizer[0].Count, "what was merged is left as it was")
}
