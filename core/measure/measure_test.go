package measure_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/measure"
)

func TestParseMMReadsWhatPeopleType(t *testing.T) {
	for typed, mm := range map[string]float64{
		"100": 100, "100 mm": 100, "10cm": 100, "4 in": 101.6, `2 1/2"`: 63.5, "5/8 in": 15.875, "62,5": 62.5, "1 inch": 25.4,
	} {
		got, err := measure.ParseMM(typed)
		require.NoError(t, err, typed)
		assert.InDelta(t, mm, got, 1e-9, typed)
	}
}

func TestParseMMSaysWhatWouldBeUnderstood(t *testing.T) {
	for _, typed := range []string{"", "wide", "1/0 in", "1 2 3", "4 4", "NaN", "mm"} {
		_, err := measure.ParseMM(typed)
		assert.ErrorContains(t, err, "expected a number such as", typed)
	}
}

func TestInchesRoundToTheNearestEighth(t *testing.T) {
	for mm, want := range map[float64]string{63: "2 1/2 in", 25.4: "1 in", 3.2: "1/8 in", 0: "0 in", -19: "−3/4 in", 101.6: "4 in"} {
		assert.Equal(t, want, measure.Inches(mm))
	}
}

func TestEveryEighthSurvivesPrintAndParse(t *testing.T) {
	for eighth := range 200 {
		mm := float64(eighth) * measure.MMPerInch / 8
		back, err := measure.ParseMM(measure.Inches(mm))
		require.NoError(t, err)
		assert.InDelta(t, mm, back, 1e-9)
	}
}

func TestPrintedQuantities(t *testing.T) {
	assert.Equal(t, "62 × 88 mm", measure.Size(62.4, 88))
	assert.Equal(t, "22 minutes", measure.Minutes(22.4))
	assert.Equal(t, "1 minute", measure.Minutes(0.2))
	assert.Equal(t, "2 h 05", measure.Minutes(125))
	assert.Equal(t, "46.2 m", measure.Metres(46_210))
	assert.Equal(t, "1,240 m", measure.Metres(1_240_000))
	assert.Equal(t, "1,000,000", measure.Count(1_000_000))
	assert.Equal(t, "8 stitches", measure.Plural(8, "stitch"))
	assert.Equal(t, "2 copies", measure.Plural(2, "copy"))
	assert.Equal(t, "3 classes", measure.Plural(3, "class"))
	assert.Equal(t, "1 stop", measure.Plural(1, "stop"))
	assert.Equal(t, "4 stops", measure.Plural(4, "stop"))
}

func FuzzParseMM(f *testing.F) {
	for _, typed := range []string{"100 mm", "2 1/2 in", `5/8"`, "62,5 cm", "1/0", "e", "٣"} {
		f.Add(typed)
	}
	f.Fuzz(func(t *testing.T, typed string) {
		mm, err := measure.ParseMM(typed)
		if err != nil {
			assert.Contains(t, err.Error(), "reading the length")
			return
		}
		assert.False(t, math.IsNaN(mm), "a length is a number")
	})
}
