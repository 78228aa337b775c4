package app_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/actor"
	"chalkstep/app/people"
	"chalkstep/core/skill"
	"chalkstep/store"
)

// A workshop has a step of its own: students are marked on it, it is somebody's next, and it
// can be taken off and the usual ladder come back; marks stay.
func TestAWorkshopChangesItsLadder(t *testing.T) {
	all := desks(t)
	d, ana := all[store.Owner], int64(1)
	again := func() { // settings come with the session
		who, err := d.App().Who(t.Context(), 1, d.Who.AccountID)
		require.NoError(t, err)
		d = atWork(d.App().For(t.Context(), who))
	}
	again()
	page, err := d.EditLadder("")
	require.NoError(t, err)
	assert.True(t, page.Usual)
	in := people.StepInput{Version: page.In.Version, Title: " Hem a scarf ", Short: "Scarf", LookFor: "even all round",
		After: []skill.Key{skill.CleanUp}}
	wrong := in
	wrong.Title, wrong.Short, wrong.After = "", strings.Repeat("x", 15), []skill.Key{"no-such-step"}
	err = d.SaveStep(wrong)
	for _, field := range []string{"title", "short", "after"} {
		assert.NotEmpty(t, problem(t, err, field), field)
	}
	assert.ErrorIs(t, all[store.Instructor].SaveStep(in), actor.ErrMayNot)
	require.NoError(t, d.SaveStep(in))
	assert.NotEmpty(t, problem(t, d.SaveStep(in), ""), "it was read before it was changed")

	again()
	mark := people.MarkInput{StudentIDs: []int64{ana}, Skill: "own-1", On: skill.SingleNeedle, Level: skill.Alone}
	require.NoError(t, d.Mark(mark))
	student, err := d.Student(ana)
	require.NoError(t, err)
	rung := student.Rungs[len(student.Rungs)-1]
	assert.Equal(t, "Hem a scarf", string(rung.Title))
	assert.True(t, rung.Reached)
	bo, err := d.Matrix("Bo", 1, 0, "", "own-1")
	require.NoError(t, err)
	assert.Empty(t, bo.Ready, "Bo has not cleaned up alone")

	page, err = d.EditLadder("own-1")
	require.NoError(t, err)
	assert.Equal(t, "even all round", page.In.LookFor)
	assert.NotEmpty(t, problem(t, d.DropStep(skill.SafeStart, page.In.Version), ""), "clearance hangs on it")
	require.NoError(t, d.DropStep("own-1", page.In.Version))
	again()
	assert.NotEmpty(t, problem(t, d.Mark(mark), "skill"))
	_, err = d.EditLadder("own-1")
	assert.ErrorIs(t, err, actor.ErrNotFound)
	page, err = d.EditLadder("")
	require.NoError(t, err)
	assert.False(t, page.Usual)
	require.NoError(t, d.UsualLadder(page.In.Version))
	again()
	page, err = d.EditLadder("")
	require.NoError(t, err)
	assert.True(t, page.Usual)
	marks, err := d.Workshop.MarksOf(ana)
	require.NoError(t, err)
	assert.Equal(t, skill.Key("own-1"), marks[len(marks)-1].Skill)
}
