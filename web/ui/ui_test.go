package ui

import (
	"math"
	"testing"

	"chalkstep/core/measure"
	"chalkstep/core/say"

	"github.com/stretchr/testify/assert"
)

func TestTypedNumbers(t *testing.T) {
	for typed, want := range map[string]int64{"12": 12, " 7 ": 7, "": 0, "007": 7, "many": -1, "3 of them": -1, "-4": -1,
		"1e3": -1, "99999999999999999999": -1} {
		assert.Equal(t, want, Number(typed), typed)
	}
	assert.Equal(t, -1, Small("2147483648"), "no version goes so far")
	assert.Equal(t, 7, Small("7"))
	for typed, want := range map[string]float64{"2.5": 2.5, "2,5": 2.5, "-3": -3, "": 0} {
		assert.InDelta(t, want, Decimal(typed), 1e-9, typed)
	}
	for _, typed := range []string{"wide", "NaN", "Inf", "1e9", "1,200"} {
		assert.True(t, math.IsNaN(Decimal(typed)), typed)
	}
}

// The yardstick has a tick for each of the nine areas; every area's number is
// its place and its key.
func TestTheYardstick(t *testing.T) {
	all := ticks()
	assert.Len(t, all, 9)
	for i, area := range all {
		if area.Name != "" {
			assert.Equal(t, i+1, area.Key, area.Name)
			assert.Equal(t, "/", area.Path[:1])
		}
	}
}

func TestQuantitiesStayOnOneLine(t *testing.T) {
	metric, inches := P{}, P{say.Printer{Units: measure.Inches}}
	assert.Equal(t, "62\u00a0×\u00a088\u00a0mm", metric.Size(62, 88))
	assert.Equal(t, "3.5\u00a0mm left", metric.Across(-3.5))
	assert.Equal(t, "0.14\u00a0in above", inches.Above(3.5))
	assert.Equal(t, "+1.5\u00a0mm, 0\u00a0mm", metric.Off(1.5, 0))
	assert.Equal(t, "±12\u00a0×\u00a0±8\u00a0mm", metric.Nudge(12.9, 8))
	both, err := dict("a", 1, "b", "two")
	assert.NoError(t, err)
	assert.Equal(t, map[string]any{"a": 1, "b": "two"}, both)
	_, err = dict("alone")
	assert.ErrorContains(t, err, "a name without a value")
	_, err = dict(1, 2)
	assert.ErrorContains(t, err, "is no name")
	assert.Contains(t, string(sign("notch")), "#notch")
	assert.Len(t, version, 12)
}
