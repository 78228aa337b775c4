package skill_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"

	"chalkstep/core/skill"
)

// marks of one step, by their levels, in order.
func marks(levels ...skill.Level) []skill.Mark {
	all := make([]skill.Mark, len(levels))
	for i, l := range levels {
		all[i] = skill.Mark{ID: int64(i + 1), StudentID: 1, Skill: skill.Threading, On: skill.SingleNeedle, Level: l}
	}
	return all
}

func TestWhatMarksComeTo(t *testing.T) {
	const shown, helped, alone, teaches = skill.Shown, skill.Helped, skill.Alone, skill.Teaches
	for _, c := range []struct {
		levels                  []skill.Level
		best                    skill.Level
		reached, slipped, stuck bool
	}{
		{nil, "", false, false, false},
		{[]skill.Level{shown}, shown, false, false, false},
		{[]skill.Level{shown, shown, shown, shown}, shown, false, false, false}, // never tried
		{[]skill.Level{helped}, helped, false, false, false},
		{[]skill.Level{helped, helped}, helped, true, false, false},
		{[]skill.Level{helped, helped, helped}, helped, true, false, true},
		{[]skill.Level{helped, shown, shown}, helped, false, true, true},
		{[]skill.Level{alone}, alone, true, false, false},
		{[]skill.Level{alone, helped}, alone, true, true, false}, // weaker later: it shows, and does not erase
		{[]skill.Level{helped, helped, helped, alone}, alone, true, false, false},
		{[]skill.Level{teaches}, teaches, true, false, false},
		{[]skill.Level{teaches, alone}, teaches, true, true, false},
	} {
		t.Run(fmt.Sprint(c.levels), func(t *testing.T) {
			s := skill.StandingOf(marks(c.levels...))
			assert.Equal(t, c.best, s.Best)
			assert.Equal(t, c.reached, s.Reached(), "reached")
			assert.Equal(t, c.slipped, s.Slipped(), "slipped")
			assert.Equal(t, c.stuck, s.Stuck(), "stuck")
		})
	}
}

// A step counts as reached by the mark that made it so, whatever comes after.
func TestByWhichMarkAStepIsReached(t *testing.T) {
	const shown, helped, alone = skill.Shown, skill.Helped, skill.Alone
	for by, levels := range map[int64][]skill.Level{
		0: {shown, helped, shown},
		1: {alone, helped, alone},
		2: {shown, alone},
		3: {helped, shown, helped, alone},
	} {
		assert.Equal(t, by, skill.StandingOf(marks(levels...)).By.ID, "%v", levels)
	}
}

// climber has reached the lowest n rungs, and can teach the lowest.
func climber(id int64, n int) skill.Record {
	s := skill.Student{ID: id, Name: fmt.Sprintf("Student %d", id)}
	var marks []skill.Mark
	for i, step := range skill.Usual[:n] {
		level := skill.Alone
		if i == 0 {
			level = skill.Teaches
		}
		marks = append(marks, skill.Mark{StudentID: id, Skill: step.Key, On: skill.SingleNeedle, Level: level})
	}
	// somebody else's
	marks = append(marks, skill.Mark{StudentID: 99, Skill: skill.Names, On: skill.SingleNeedle, Level: skill.Alone})
	return skill.NewRecord(s, marks, skill.SingleNeedle)
}

func TestAGroupIsLookedAtTogether(t *testing.T) {
	g := skill.Group{climber(1, 0), climber(2, 0), climber(3, 2), climber(4, 5)}
	ids := func(g skill.Group) (ids []int64) {
		for _, r := range g {
			ids = append(ids, r.ID)
		}
		return ids
	}
	step := func(key skill.Key) skill.Step {
		s, _ := skill.Usual.ByKey(key)
		return s
	}
	assert.Equal(t, []int64{1, 2}, ids(g.ReadyFor(skill.Usual, step(skill.SafeStart))))
	assert.Equal(t, []int64{3}, ids(g.ReadyFor(skill.Usual, step(skill.Threading))),
		"not those who lack safe start, nor who can it")
	assert.Equal(t, []int64{3, 4}, ids(g.Teachers(step(skill.SafeStart))))
	assert.Empty(t, g.Teachers(step(skill.Bobbin)))
	next, ok := g.Next(skill.Usual)
	assert.True(t, ok)
	assert.Equal(t, skill.CutStabilizer, next.Key, "three of four need nothing more for it")
	_, ok = skill.Group{climber(5, len(skill.Usual))}.Next(skill.Usual)
	assert.False(t, ok, "at the top there is none")
	assert.Empty(t, climber(6, 3).Student.Signed(), "a record stands on its marks alone")
	assert.Empty(t, skill.NewRecord(skill.Student{ID: 7}, marks(skill.Alone), skill.MultiNeedle).Reached(),
		"another kind of machine, and another student")
}

func TestWhoIsStuck(t *testing.T) {
	r := skill.NewRecord(skill.Student{ID: 1, Name: "Lev"}, marks(skill.Helped, skill.Shown, skill.Helped))
	stuck := skill.Group{r, climber(2, 4)}.Stuck(skill.Usual)
	if assert.Len(t, stuck, 1) {
		assert.Equal(t, skill.Threading, stuck[0].Step.Key)
		assert.Equal(t, 3, stuck[0].Standing.N)
	}
}

// In the drawing of the ladder everything comes after what it needs, and no line is drawn
// that another way says already.
func TestTheLadderDrawn(t *testing.T) {
	depths, direct := skill.Usual.Depths(), skill.Usual.Direct()
	for _, step := range skill.Usual {
		for _, before := range step.After {
			assert.Greater(t, depths[step.Key], depths[before], "%s after %s", step.Key, before)
		}
		reach := map[skill.Key]bool{}
		var climb func(skill.Key)
		climb = func(k skill.Key) {
			for _, b := range direct[k] {
				reach[b] = true
				climb(b)
			}
		}
		climb(step.Key)
		for _, before := range step.After {
			assert.True(t, reach[before], "%s is drawn to come after %s", step.Key, before)
		}
	}
	assert.Equal(t, []skill.Key{skill.CleanUp}, direct[skill.HoopKnit], "hooping a woven comes before cleaning up")
}
