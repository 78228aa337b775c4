package app_test

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/actor"
	"chalkstep/app/people"
	"chalkstep/core/skill"
	"chalkstep/store"
)

// Of somebody who has not reached what comes first it is asked, and nobody is marked until
// it is answered; to be shown a step nothing is needed.
func TestMarkingAsksForWhatComesFirst(t *testing.T) {
	d := desks(t)[store.Instructor]
	const ana, tam = 1, 11
	both := people.MarkInput{StudentIDs: []int64{tam, ana, tam}, Skill: skill.Threading, On: skill.SingleNeedle,
		Level: skill.Alone, Note: "with the red cone"}
	said := problem(t, d.Mark(both), "anyway")
	assert.Contains(t, said, "Tam Nguyen has not reached safe start and stop")
	assert.NotContains(t, said, "Ana")
	marks, err := d.Workshop.MarksOf(tam)
	require.NoError(t, err)
	assert.Empty(t, marks)

	both.Anyway = true
	require.NoError(t, d.Mark(both))
	marks, err = d.Workshop.MarksOf(tam)
	require.NoError(t, err)
	require.Len(t, marks, 1, "named twice, marked once")
	assert.Equal(t, "with the red cone", marks[0].Note)

	shown := people.MarkInput{StudentIDs: []int64{tam}, Skill: skill.Joined, On: skill.SingleNeedle, Level: skill.Shown}
	require.NoError(t, d.Mark(shown))
	shown.StudentIDs = []int64{tam, 4711}
	assert.ErrorIs(t, d.Mark(shown), actor.ErrNotFound)
	for field, in := range map[string]people.MarkInput{
		"student": {Skill: skill.Joined, On: skill.SingleNeedle, Level: skill.Shown},
		"level":   {StudentIDs: []int64{tam}, Skill: skill.Joined, On: skill.SingleNeedle, Level: "well"},
	} {
		assert.NotEmpty(t, problem(t, d.Mark(in), field))
	}
}

// What the database keeps as reached is what the marks come to, however they are given and
// taken back; booking alone needs that it was done alone.
func TestReachedFollowsFromTheMarks(t *testing.T) {
	d := desks(t)[store.Instructor]
	const wren = 14
	rng := rand.New(rand.NewPCG(3, 9))
	for range 60 {
		marks, err := d.Workshop.MarksOf(wren)
		require.NoError(t, err)
		if len(marks) > 0 && rng.IntN(3) == 0 {
			require.NoError(t, d.TakeMarkBack(wren, marks[rng.IntN(len(marks))].ID))
		} else {
			in := people.MarkInput{StudentIDs: []int64{wren}, Skill: skill.Usual[rng.IntN(3)].Key, On: skill.Kinds[rng.IntN(2)],
				Level: skill.Levels[rng.IntN(4)], Anyway: true}
			require.NoError(t, d.Mark(in))
		}
		marks, err = d.Workshop.MarksOf(wren)
		require.NoError(t, err)
		s, err := d.Workshop.Student(wren)
		require.NoError(t, err)
		for _, on := range skill.Kinds {
			record := skill.NewRecord(s, marks, on)
			alone := skill.Signed{}
			for key, standing := range record.Standings {
				if standing.Best == skill.Alone || standing.Best == skill.Teaches {
					alone[key] = true
				}
			}
			require.Equal(t, record.Reached(), s.Signed(on), on)
			require.Equal(t, alone, s.AloneOn(on), on)
		}
	}
}

// Who can do what: the step that most are ready for, who can show it, and who is stuck.
func TestTheMatrix(t *testing.T) {
	d := desks(t)[store.Assistant]
	page, err := d.Matrix("", 1, 0, "", "")
	require.NoError(t, err)
	assert.Len(t, page.Group, 14)
	assert.Equal(t, skill.SingleNeedle, page.On)
	assert.NotEmpty(t, page.Ready)
	require.Len(t, page.Stuck, 1)
	assert.Equal(t, "Sol Whitaker", page.Stuck[0].Name)
	page, err = d.Matrix("", 1, 0, "", skill.SafeStart)
	require.NoError(t, err)
	assert.Len(t, page.Ready, 2, "Tam and Wren have nothing yet")
	assert.NotEmpty(t, page.Teachers)
	page, err = d.Matrix("ana", 1, 0, skill.MultiNeedle, "no such step")
	require.NoError(t, err)
	require.NotEmpty(t, page.Group)
	assert.Equal(t, "Ana Thorne", page.Group[0].Name)
	_, err = d.Matrix("", 1, 0, "tractor", "")
	assert.ErrorIs(t, err, actor.ErrNotFound)
	page, err = d.Matrix("nobody of that name", 1, 0, "", "")
	require.NoError(t, err)
	assert.Empty(t, page.Group)
}
