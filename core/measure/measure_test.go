package measure_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/measure"
)

// A length is read in the units it is written with; a bare number is in the
// person's own, a fraction in inches.
func TestLengthsAreReadAsPeopleTypeThem(t *testing.T) {
	for typed, mm := range map[string]float64{
		"100": 100, "100 mm": 100, "10cm": 100, "4 in": 101.6, `2 1/2"`: 63.5, "5/8 in": 15.9, "62,5": 62.5, "1 inch": 25.4,
		"14 7/8": 377.8,
	} {
		got, err := measure.Metric.Parse(typed)
		require.NoError(t, err, typed)
		assert.InDelta(t, mm, got, 1e-9, typed)
	}
	for typed, mm := range map[string]float64{"4": 101.6, "2.5": 63.5, "2 1/2": 63.5, "100 mm": 100, "10 cm": 100} {
		got, err := measure.Inches.Parse(typed)
		require.NoError(t, err, typed)
		assert.InDelta(t, mm, got, 1e-9, typed)
	}
}

func TestWhatIsNoLengthSaysWhatWouldBe(t *testing.T) {
	for _, typed := range []string{"", "wide", "1/0 in", "1 2 3", "4 4", "NaN", "mm", "1e3", "700abc"} {
		_, err := measure.Metric.Parse(typed)
		assert.ErrorContains(t, err, "expected a number such as", typed)
	}
	_, err := measure.Metric.Parse("1,200 mm")
	assert.ErrorContains(t, err, "write 1200 or 1.200")
}

func TestInchesRoundToTheNearestEighth(t *testing.T) {
	for mm, want := range map[float64]string{63: "2 1/2 in", 25.4: "1 in", 3.2: "1/8 in", 0: "0 in", -19: "−3/4 in",
		101.6: "4 in"} {
		assert.Equal(t, want, measure.Inches.Length(mm))
	}
	assert.Equal(t, "2 1/2 × 3 1/2 in", measure.Inches.Size(63.5, 88.9))
	assert.Equal(t, "50.5 yd", measure.Inches.Thread(46_200))
}

// A form gives back what it was filled with, in either unit.
func TestFieldsGiveBackWhatTheyWereGiven(t *testing.T) {
	for _, units := range []measure.Units{measure.Metric, measure.Inches} {
		for tenths := -3_000; tenths < 30_000; tenths++ { // also left of a middle
			mm := float64(tenths) / 10
			back, err := units.Parse(units.Field(mm))
			require.NoError(t, err)
			require.InDelta(t, mm, back, 1e-9, "%s of %v mm", units.Field(mm), mm)
		}
	}
	assert.Equal(t, "15 in", measure.Inches.Field(381))
	assert.Equal(t, "14.961 in", measure.Inches.Field(380), "380 mm is no eighth")
	assert.Equal(t, "62.5 mm", measure.Metric.Field(62.5))
}

func TestPrintedQuantities(t *testing.T) {
	assert.Equal(t, "62 × 88 mm", measure.Size(62.4, 88))
	assert.Equal(t, "22 minutes", measure.Minutes(22.4))
	assert.Equal(t, "1 minute", measure.Minutes(0.2))
	assert.Equal(t, "2 h 05", measure.Minutes(125))
	assert.Equal(t, "46.2 m", measure.Metres(46_210))
	assert.Equal(t, "1,240 m", measure.Metres(1_240_000))
	assert.Equal(t, "1,000,000", measure.Count(1_000_000))
	for _, huge := range []float64{math.Inf(1), -1e300, 1e19, math.NaN()} { // what fits no whole number
		for _, units := range []measure.Units{measure.Metric, measure.Inches} {
			assert.NotContains(t, units.Length(huge), "9,223,372", huge)
			assert.NotContains(t, units.Size(huge, 1), "922,337", huge)
		}
	}
	assert.Equal(t, "8 stitches", measure.Plural(8, "stitch"))
	assert.Equal(t, "2 copies", measure.Plural(2, "copy"))
	assert.Equal(t, "3 classes", measure.Plural(3, "class"))
	assert.Equal(t, "1 stop", measure.Plural(1, "stop"))
	assert.Equal(t, "4 stops", measure.Plural(4, "stop"))
}

func FuzzParse(f *testing.F) {
	for _, typed := range []string{"100 mm", "2 1/2 in", `5/8"`, "62,5 cm", "1/0", "e", "٣"} {
		f.Add(typed)
	}
	f.Fuzz(func(t *testing.T, typed string) {
		mm, err := measure.Metric.Parse(typed)
		if err != nil {
			assert.Contains(t, err.Error(), "reading the length")
			return
		}
		assert.False(t, math.IsNaN(mm), "a length is a number")
	})
}

// Numbers are read whole, as they were meant, or refused.
func TestNumbersAreReadWholeOrRefused(t *testing.T) {
	for typed, want := range map[string]float64{"12": 12, " 12.5 ": 12.5, "12,5": 12.5, "-3": -3, "−3": -3, "010": 10,
		"0,125": 0.125, "1,25": 1.25, "1.": 1, ".5": 0.5} {
		got, err := measure.ParseNumber(typed)
		require.NoError(t, err, typed)
		assert.Equal(t, want, got, typed)
	}
	for _, typed := range []string{"", "700abc", "1e3", "NaN", "Inf", "-Infinity", "0x10", "1_000", "1,200", "12,000",
		"1.2.3", "1,2,3", "--3", "3 4", "١٢", "+", "."} {
		_, err := measure.ParseNumber(typed)
		assert.Error(t, err, typed)
	}
	_, err := measure.ParseNumber("1,200")
	assert.ErrorContains(t, err, "write 1200 or 1.200")
	for typed, want := range map[string]int{"7": 7, "010": 10, "-2": -2} {
		got, err := measure.ParseCount(typed)
		require.NoError(t, err, typed)
		assert.Equal(t, want, got)
	}
	for _, typed := range []string{"", "1.5", "1e3", "9999999999999999999", "x"} {
		_, err := measure.ParseCount(typed)
		assert.Error(t, err, typed)
	}
	_, err = measure.Metric.Parse("1,200 mm")
	assert.Error(t, err)
}
