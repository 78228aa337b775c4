package live_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/live"
)

// What is said of a kind is said where it is declared: what is noted has words for whoever takes it
// back, what is refused says why, and what is offered beside the board has a place of its own.
func TestKindsAreDeclaredWhole(t *testing.T) {
	require.Len(t, live.Kinds(), 25)
	for _, kind := range live.Kinds() {
		t.Run(string(kind), func(t *testing.T) {
			assert.Regexp(t, `^[a-z]+(-[a-z]+)*$`, string(kind))
			assert.LessOrEqual(t, len(kind), 30, "the database keeps no more")
			assert.False(t, kind.Refused().Silent())
			switch kind {
			// These are written as others, or take others back.
			case live.AllDone, live.AllHere, live.Rearranged, live.RowDone, live.Swapped, live.Undone:
			default:
				said := live.State{}.Said(live.Event{Kind: kind, StudentID: 7, Step: "sew", Stop: 2, MachineID: 3})
				assert.False(t, said.Silent())
				assert.NotContains(t, said.String(), "%!", "each quantity has its place")
			}
		})
	}
	var keys []string
	for n, choice := range live.Choices() {
		assert.Equal(t, n+1, choice.At, "%s stands where another does", choice.Kind)
		if choice.Key != "" {
			assert.NotContains(t, keys, choice.Key)
			keys = append(keys, choice.Key)
		}
	}
	assert.False(t, live.Kind("polished").Is())
	assert.Equal(t, "Press one of the buttons of the board.", live.Kind("polished").Refused().String())
	assert.False(t, live.State{}.Accepts(live.Event{Kind: "polished"}))
}
