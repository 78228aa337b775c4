package classday_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/blank"
	"chalkstep/core/classday"
	"chalkstep/core/classday/classdaytest"
	"chalkstep/core/pace"
	"chalkstep/core/project"
	"chalkstep/core/skill"
)

// The stops of a sewing take together what the plan has for it.
func TestTheStopsOfASewingTakeWhatItTakes(t *testing.T) {
	p := classdaytest.Plan(t, classdaytest.Class())
	sewings := 0
	for _, m := range p.Class.Machines {
		for _, sit := range p.Sits(m.ID) {
			total := 0.0
			stops := p.SewnStops(sit.Place.ID, pace.StepKey(sit.Operation), m.ID)
			require.NotEmpty(t, stops)
			for i, s := range stops {
				assert.Equal(t, i+1, s.N)
				total += s.Minutes
			}
			assert.InDelta(t, sit.End-sit.Start, total, 0.06, "%s at %s, to a tenth", sit.Place.Name, m.Name)
			sewings++
		}
	}
	assert.Equal(t, 3, sewings)
	assert.Empty(t, p.SewnStops(1, pace.StepHoop, 1), "no sewing")
	assert.Empty(t, p.SewnStops(99, pace.StepSew, 1), "nobody")
}

// A garment is of the size that is said for the class, else of the one a student wears, else
// of the project's own.
func TestTheSizeOfAGarment(t *testing.T) {
	shirt := classday.Work{Project: project.Project{Blank: project.Blank{Shape: blank.Crew, Size: "M"}}}
	require.True(t, shirt.Sized())
	wears := func(said, own string) string {
		return shirt.SizeOf(classday.Place{Student: skill.Student{Size: own}, Size: said})
	}
	assert.Equal(t, "M", wears("", ""))
	assert.Equal(t, "XL", wears("", " XL "))
	assert.Equal(t, "S", wears("S", "XL"))
	assert.Equal(t, "M", wears("", "42"), "no size that blanks come in")
}
