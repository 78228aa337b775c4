package classday_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/classday"
	"chalkstep/core/classday/classdaytest"
	"chalkstep/core/pace"
	"chalkstep/core/skill"
)

// crowded is a class of six at one machine with one hoop: everyone but the first
// waits long.
func crowded(first bool) classday.Class {
	class := classdaytest.Class()
	class.Machines = class.Machines[1:]
	class.Places = nil
	for i, name := range []string{"Ann", "Ben", "Cat", "Dov", "Eda", "Fin"} {
		s := skill.Student{ID: int64(i + 1), Name: name, FirstTimer: first}
		if !first {
			s = classdaytest.Practised(int64(i+1), name)
		}
		class.Places = append(class.Places, classdaytest.Places(s)...)
	}
	return class
}

// Waits over ten minutes are filled with what somebody has not shown yet, whatever comes
// first and fits, each once, and never over the wait's end.
func TestWaitsAreFilledWithPractice(t *testing.T) {
	plan := classdaytest.Plan(t, crowded(true))
	filled := 0
	for _, place := range plan.Class.Places {
		seen := map[skill.Key]bool{}
		w, _, _ := plan.Maker(classday.PersonID(place.ID))
		order := skill.ExercisesFor(skill.Usual, place.Signed(), pace.Needs(w.Steps))
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
				for _, e := range order {
					if e.Key == p.Skill {
						break
					}
					minutes := math.Ceil(e.Minutes * classday.Hand(place.Student, plan.Rules.Pace))
					assert.True(t, seen[e.Key] || p.Start+minutes > w.End-1, "%s comes before %s, and would fit", e.Key, p.Skill)
				}
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

// The parts of a wait follow one another from its start to its end, what is done and what is not.
func TestPartsOfAWaitDoNotOverlap(t *testing.T) {
	for _, newcomers := range []bool{false, true} {
		for _, w := range classdaytest.Plan(t, crowded(newcomers)).Waits {
			at, idle := w.Start, 0.0
			for _, part := range w.Parts() {
				assert.InDelta(t, at, part.Start, 1e-9)
				assert.Greater(t, part.End, part.Start)
				if at = part.End; part.Practice == nil {
					idle += part.End - part.Start
				}
			}
			assert.InDelta(t, w.End, at, 1e-9)
			assert.InDelta(t, w.Unfilled(), idle, 1e-9)
		}
	}
}

// Who has shown every step rehearses and watches, once each and before they sew.
func TestThePractisedRehearse(t *testing.T) {
	plan := classdaytest.Plan(t, crowded(false))
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
	var keys []skill.Key
	for _, e := range skill.ExercisesFor(skill.Usual, skill.Signed{skill.Bobbin: true},
		[]skill.Key{skill.MarkAlign, skill.HoopWoven}) {
		keys = append(keys, e.Key)
	}
	assert.Equal(t, []skill.Key{skill.HoopWoven, skill.MarkAlign, skill.NeedleChange, skill.CutStabilizer, skill.ReadBack},
		keys, "what is needed that day comes first, and what was shown never")
	assert.Contains(t, string(skill.Exercises[1].Caution), "sharps tin")
}

// What the plan was weighed by is what its page says.
func TestTheLongestWaitIsTheOneThatWasWeighed(t *testing.T) {
	for _, first := range []bool{true, false} {
		class := crowded(first)
		class.BreakAt, class.BreakMinutes = 60, 15
		plan := classdaytest.Plan(t, class)
		require.Greater(t, plan.LongestWait, 10.0)
		assert.InDelta(t, plan.Result.LongestWaitMinutes, plan.LongestWait, 1e-6)
	}
}

// What somebody is told to do while they wait ends as a sentence does.
func TestPracticeIsSaidInSentences(t *testing.T) {
	for _, first := range []bool{true, false} {
		for _, w := range classdaytest.Plan(t, crowded(first)).Waits {
			for _, p := range w.Fill {
				assert.Regexp(t, `[^.?][.?]$`, p.Does.String())
			}
		}
	}
	for _, e := range skill.Exercises {
		assert.Regexp(t, `[^.?][.?]$`, string(e.Does))
	}
}
