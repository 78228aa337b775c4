package skill_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/skill"
)

func TestNoStepComesBeforeWhatItNeeds(t *testing.T) {
	seen := skill.Signed{}
	for _, step := range skill.Usual {
		assert.Empty(t, skill.Usual.Missing(seen, step.After), step.Title)
		assert.False(t, seen[step.Key], "key %s stands twice", step.Key)
		assert.NotEmpty(t, step.LookFor)
		seen[step.Key] = true
	}
}

func TestClimbingByNextReachesTheTop(t *testing.T) {
	signed := skill.Signed{}
	for range skill.Usual {
		step, ok := skill.Usual.Next(signed)
		require.True(t, ok)
		signed[step.Key] = true
	}
	_, ok := skill.Usual.Next(signed)
	assert.False(t, ok)
}

// Booking alone needs five steps done alone on that kind of machine, and not too long ago;
// it can be suspended.
func TestClearanceToBeAlone(t *testing.T) {
	now := time.Date(2026, 11, 24, 12, 0, 0, 0, time.UTC)
	five := []skill.Key{skill.SafeStart, skill.Threading, skill.HoopWoven, skill.NeedleChange, skill.BreakRecovery}
	student := func(keys []skill.Key, alone bool, daysAgo int) skill.Student {
		s := skill.Student{ID: 1, Seen: map[skill.Kind]time.Time{skill.SingleNeedle: now.AddDate(0, 0, -daysAgo)}}
		for _, key := range keys {
			s.SignOffs = append(s.SignOffs, skill.SignOff{Skill: key, On: skill.SingleNeedle, Alone: alone})
		}
		return s
	}
	suspended := student(five, true, 10)
	suspended.Suspended = "the guard was taken off"
	for name, c := range map[string]struct {
		student skill.Student
		on      skill.Kind
		idle    int
		says    string
	}{
		"all five": {student(five, true, 10), skill.SingleNeedle, 365, ""},
		"one is missing": {student(five[:4], true, 10), skill.SingleNeedle, 365,
			"recover a thread break still to be done alone"},
		"with help only":          {student(five, false, 10), skill.SingleNeedle, 365, "still to be done alone"},
		"on another kind":         {student(five, true, 10), skill.MultiNeedle, 365, "still to be done alone"},
		"more than a year ago":    {student(five, true, 400), skill.SingleNeedle, 365, "lapsed"},
		"where nothing lapses":    {student(five, true, 4000), skill.SingleNeedle, 0, ""},
		"suspended":               {suspended, skill.SingleNeedle, 365, "suspended: the guard was taken off"},
		"of those who never came": {skill.Student{}, skill.SingleNeedle, 365, "safe start and stop"},
	} {
		t.Run(name, func(t *testing.T) {
			got := c.student.ClearanceOn(skill.Usual, c.on, c.idle, now)
			assert.Equal(t, c.says == "", got.May())
			assert.Contains(t, got.Why().String(), c.says)
		})
	}
}

func TestMissingKeepsTheOrderOfTheLadder(t *testing.T) {
	missing := skill.Usual.Missing(skill.Signed{skill.Threading: true},
		[]skill.Key{skill.HoopKnit, skill.Threading, skill.SafeStart})
	require.Len(t, missing, 2)
	assert.Equal(t, skill.SafeStart, missing[0].Key)
	assert.Equal(t, skill.HoopKnit, missing[1].Key)
	_, ok := skill.Usual.ByKey("no such step")
	assert.False(t, ok)
}
