package measure_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/measure"
)

// A place left of the middle or below it is typed with a minus, of any kind,
// before the whole of the number.
func TestLengthsBelowNothing(t *testing.T) {
	for typed, want := range map[string]float64{
		"-3.5": -3.5, "−3.5 mm": -3.5, "-1 1/2 in": -38.1, "−1/8 in": -3.2, "- 2 cm": -20, "+4": 4,
	} {
		got, err := measure.Metric.Parse(typed)
		require.NoError(t, err, typed)
		assert.InDelta(t, want, got, 1e-9, typed)
	}
	for _, typed := range []string{"--3", "-", "1 -1/2 in", "3-"} {
		_, err := measure.Metric.Parse(typed)
		assert.Error(t, err, typed)
	}
}

func TestWhatIsLeftIsNeverOverstated(t *testing.T) {
	assert.Equal(t, "±12 × ±0 mm", measure.Metric.Nudge(12.94, 0.4))
	assert.Equal(t, "±0.50 × ±0.01 in", measure.Inches.Nudge(12.94, 0.4))
	assert.Equal(t, "1,080 mm", measure.Metric.Fine(1080))
	assert.Equal(t, "−3.5 mm", measure.Metric.Fine(-3.5))
	assert.Equal(t, "41.67 mm", measure.Metric.Exact(41.6666))
	assert.Equal(t, "40 mm", measure.Metric.Exact(40))
	assert.Equal(t, "1.64 in", measure.Inches.Exact(41.6666))
}
