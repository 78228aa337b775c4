package day_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/day"
	"chalkstep/core/day/daytest"
	"chalkstep/core/pace"
	"chalkstep/core/skill"
)

// crowded is a class of six at one machine with one hoop: everyone but the first
// waits long.
func crowded(first bool) day.Class {
	class := daytest.Class()
	class.Machines = class.Machines[1:]
	class.Places = nil
	for i, name := range []string{"Ann", "Ben", "Cat", "Dov", "Eda", "Fin"} {
		s := skill.Student{ID: int64(i + 1), Name: name, FirstTimer: first}
		if !first {
			s = daytest.Practised(int64(i+1), name)
		}
		class.Places = append(class.Places, daytest.Places(s)...)
	}
	return class
}

// Waits over ten minutes are filled with what somebody has not shown yet, what they need
// that day first, and from the bottom of the ladder up, each once, and never over the wait's end.
func TestWaitsAreFilledWithPractice(t *testing.T) {
	plan := daytest.Plan(t, crowded(true))
	filled := 0
	for _, place := range plan.Class.Places {
		seen := map[skill.Key]bool{}
		last, rest := -1, false
		w, _, _ := plan.Maker(day.PersonID(place.ID))
		needs := pace.Needs(w.Steps)
		for _, w := range plan.WaitsOf(place.ID) {
			at := w.Start
			for _, p := range w.Fill {
				assert.GreaterOrEqual(t, p.Start, at, "one after another")
				assert.LessOrEqual(t, p.End, w.End)
				assert.NotEmpty(t, p.Does.String())
				at = p.End
				if p.Skill == "" {
					continue
				}
				filled++
				assert.False(t, seen[p.Skill], "%s practises %s once", place.Name, p.Skill)
				seen[p.Skill] = true
				rung := 0
				for i, s := range skill.Usual {
					if s.Key == p.Skill {
						rung = i
					}
				}
				needed := slices.Contains(needs, p.Skill)
				assert.False(t, needed && rest, "what they make needs it, so it comes first")
				if !needed && !rest {
					last, rest = -1, true
				}
				assert.Greater(t, rung, last, "from the bottom of the ladder up")
				last = rung
			}
			if w.Minutes() <= 10 {
				assert.Empty(t, w.Fill)
			}
		}
	}
	assert.Greater(t, filled, 6)
	longest := 0.0
	for _, w := range plan.Waits {
		longest = max(longest, w.Minutes())
	}
	assert.Less(t, plan.LongestWait, longest, "what is filled is no wait")
}

// Who has shown every step rehearses and watches, once each and before they sew.
func TestThePractisedRehearse(t *testing.T) {
	plan := daytest.Plan(t, crowded(false))
	rehearsed := map[int64]int{}
	for _, w := range plan.Waits {
		for _, p := range w.Fill {
			require.Empty(t, p.Skill, "they have shown all")
			if p.Title.String() == "Rehearse the step card" {
				rehearsed[w.StudentID]++
			}
		}
	}
	require.NotEmpty(t, rehearsed)
	for id, n := range rehearsed {
		assert.Equal(t, 1, n, "student %d", id)
	}
}

// Every exercise is a step of the ladder, and each that can hurt says so.
func TestExercisesAreOfTheLadder(t *testing.T) {
	for _, e := range skill.Exercises {
		_, known := skill.Usual.ByKey(e.Key)
		assert.True(t, known, e.Key)
		assert.Positive(t, e.Minutes)
	}
	needed, _ := skill.NextExercise(skill.Usual, skill.Signed{}, map[skill.Key]bool{}, []skill.Key{skill.MarkAlign, skill.HoopWoven})
	assert.Equal(t, skill.HoopWoven, needed.Key, "what is needed that day comes first")
	e, any := skill.NextExercise(skill.Usual, skill.Signed{skill.Bobbin: true}, map[skill.Key]bool{}, nil)
	require.True(t, any)
	assert.Equal(t, skill.NeedleChange, e.Key)
	assert.Contains(t, string(e.Caution), "sharps tin")
}

// What somebody is told to do while they wait ends as a sentence does.
func TestPracticeIsSaidInSentences(t *testing.T) {
	for _, first := range []bool{true, false} {
		for _, w := range daytest.Plan(t, crowded(first)).Waits {
			for _, p := range w.Fill {
				assert.Regexp(t, `[^.?][.?]$`, p.Does.String())
			}
		}
	}
	for _, e := range skill.Exercises {
		assert.Regexp(t, `[^.?][.?]$`, string(e.Does))
	}
}
