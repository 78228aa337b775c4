package classday_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/card"
	"chalkstep/core/classday"
	"chalkstep/core/pace"
	"chalkstep/core/policy"
	"chalkstep/core/project"
	"chalkstep/core/say"
	"chalkstep/core/schedule/scheduletest"
	"chalkstep/core/schedule/search"
	"chalkstep/core/stitch"
	"chalkstep/core/supply"
)

// applique is a class whose badge has two pieces, each placed, tacked down, trimmed and
// covered.
func applique() classday.Class {
	class := crowded(false)
	class.Machines[0].Hoops[0].Count = 6 // or it is the hoop that all wait for
	h := class.Project.Hoopings[0]
	one := h.Design.Stops[0]
	h.Design.Stops = nil
	for i, role := range []stitch.Role{stitch.Placement, stitch.TackDown, stitch.Satin, stitch.Placement, stitch.TackDown,
		stitch.Satin} {
		s := one
		s.N, s.Role, s.Stitches, s.Pieces = i+1, role, 600, 0
		if role != stitch.Satin {
			s.Stitches, s.Pieces = 150, 1
		}
		h.Design.Stops = append(h.Design.Stops, s)
	}
	class.Project.Hoopings = []project.Hooping{h}
	return class
}

// planAs plans a class as a house does it.
func planAs(t *testing.T, class classday.Class, rules policy.Rules) classday.Plan {
	t.Helper()
	d := classday.Open(class, rules)
	require.True(t, d.Why.Silent(), d.Why.String())
	r, err := search.Solve(d.Problem, search.Options{Iterations: 8000, Seed: 1})
	require.NoError(t, err)
	require.NoError(t, scheduletest.Check(d.Problem, r))
	return d.Take(r)
}

// Where the house gives the machine free while a piece is trimmed, the sewing comes in
// parts at the same machine, and others sew in between; where it keeps it, in one.
func TestTheMachineWhileAPieceIsTrimmed(t *testing.T) {
	class := applique()
	kept := planAs(t, class, policy.Defaults())
	rules := policy.Defaults()
	rules.House.Trimming = "released"
	released := planAs(t, class, rules)

	for _, place := range class.Places {
		var steps []string
		machines := map[string]bool{}
		for _, s := range released.StepsOf(classday.PersonID(place.ID)) {
			steps = append(steps, s.Operation)
			if s.Machine != "" {
				machines[s.Machine] = true
			}
		}
		at := slices.Index(steps, "sew")
		require.GreaterOrEqual(t, at, 0)
		assert.Equal(t, []string{"load", "sew", "trim-off", "sew+2", "trim-off+2", "sew+3", "unhoop"}, steps[at-1:at+6])
		assert.Len(t, machines, 1)
		for _, s := range kept.StepsOf(classday.PersonID(place.ID)) {
			assert.NotContains(t, s.Operation, "trim-off")
			assert.Equal(t, 1, pace.StepKey(s.Operation).PartN())
		}
		// What is said of the parts is said once each, and the stops are all there.
		made, err := card.Of(released, place.ID, func(supply.Key) say.Text { return say.T("thread") })
		require.NoError(t, err)
		titles := map[string]bool{}
		for _, s := range made.Steps {
			assert.False(t, titles[s.Title.String()], "%s is said twice", s.Title)
			titles[s.Title.String()] = true
		}
		sits := slices.DeleteFunc(released.Sits(2), func(s classday.Sit) bool { return s.Place.ID != place.ID })
		stops := 0
		for _, sit := range sits {
			stops += len(released.StopShares(sit.Assignment))
		}
		assert.Len(t, sits, 3)
		assert.Equal(t, 6, stops)
	}
	// The hands take as long.
	minutes := func(p classday.Plan, person int) float64 {
		total := 0.0
		for _, s := range p.Problem.Jobs[person].Operations {
			if s.Minutes != nil {
				total += *s.Minutes
			}
			total += s.On["2"]
		}
		return total
	}
	assert.InDelta(t, minutes(kept, 0), minutes(released, 0), 0.3)
	assert.Less(t, released.Result.ShortestMinutes, kept.Result.ShortestMinutes, "nobody waits for scissors")
}

func TestKeysOfParts(t *testing.T) {
	for key, want := range map[pace.StepKey]struct {
		base          pace.StepKey
		hooping, part int
	}{
		"sew": {"sew", 1, 1}, "sew-2": {"sew", 2, 1}, "sew+2": {"sew", 1, 2}, "sew+3-2": {"sew", 2, 3},
		"trim-off": {"trim-off", 1, 1}, "trim-off+2-4": {"trim-off", 4, 2}, "work:1": {"work:1", 1, 1},
	} {
		base, hooping := key.Base()
		assert.Equal(t, want.base, base, key)
		assert.Equal(t, want.hooping, hooping, key)
		assert.Equal(t, want.part, key.PartN(), key)
		assert.Equal(t, key, want.base.In(want.hooping).Part(want.part), key)
	}
}
