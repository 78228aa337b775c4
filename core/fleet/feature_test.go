package fleet_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"chalkstep/core/fleet"
)

// What is printed at a station tells first how the machine differs from the others.
func TestHowAMachineDiffers(t *testing.T) {
	usual := func(id int64) fleet.Machine {
		return fleet.Machine{ID: id, Needles: 1, BobbinStyle: "low", AutoTrim: true,
			Features: []fleet.Feature{fleet.Traces, fleet.ThreadSensor}}
	}
	odd := usual(4)
	odd.AutoTrim, odd.BobbinStyle, odd.Features = false, "tall", []fleet.Feature{fleet.Traces, fleet.Calibrates}
	others := []fleet.Machine{usual(1), usual(2), odd, {ID: 3, Needles: 1, BobbinStyle: "low", AutoTrim: true}}
	var differs, alike []string
	for _, m := range odd.Manners(others) {
		if m.Differs {
			assert.Empty(t, alike, "what differs comes first")
			differs = append(differs, m.Text.String())
		} else {
			alike = append(alike, m.Text.String())
		}
	}
	assert.Equal(t, []string{
		"Its bobbins: tall. No others fit.", "It does not trim: snip jumps after each colour, with the machine stopped.",
		"It sews on when the top thread breaks: stay and watch.",
		"At power-on its arm runs through: nothing on the bed, and no hoop on it.",
	}, differs)
	assert.Contains(t, alike, "Trace the outline before the start.")
	assert.Len(t, fleet.Machine{BobbinStyle: "low"}.Manners(nil), 2, "features that nobody has entered are left out")
	for _, f := range fleet.Features {
		assert.True(t, f.Is())
		assert.NotEmpty(t, f.Asks())
	}
	assert.False(t, fleet.Feature("laser").Is())
}
