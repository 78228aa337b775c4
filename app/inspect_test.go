package app_test

import (
	"bytes"
	"image"
	"image/png"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/actor"
	"chalkstep/app/people"
	"chalkstep/app/wrapup"
	"chalkstep/core/recipe"
	"chalkstep/core/skill"
	"chalkstep/store"
)

// What is not good is written down with what to try; once all is good the piece has passed,
// and what somebody else saw meanwhile is not written over.
func TestAPieceIsInspected(t *testing.T) {
	staff := desks(t)
	d := staff[store.Assistant]
	const ana, tam = 1, 11
	page, err := d.Inspect(towels, ana)
	require.NoError(t, err)
	assert.Equal(t, "Crab hand towel", page.Project)
	assert.False(t, page.Passed(page.Checks))
	keys := map[recipe.CheckKey]bool{}
	for _, c := range page.Checks {
		keys[c.Key] = true
	}
	assert.True(t, keys[recipe.CheckTopper], "a towel has a topper")
	assert.NotEmpty(t, problem(t, d.SaveInspection(towels, ana, wrapup.InspectInput{}), ""))
	seen := wrapup.InspectInput{
		Good: map[recipe.CheckKey]bool{recipe.CheckGap: true, recipe.CheckTopper: false, "no-such-check": true},
		Note: " at one claw "}
	require.NoError(t, d.SaveInspection(towels, ana, seen))
	assert.NotEmpty(t, problem(t, d.SaveInspection(towels, ana, seen), ""), "somebody else looked meanwhile")
	page, err = d.Inspect(towels, ana)
	require.NoError(t, err)
	assert.Equal(t, []recipe.CheckKey{recipe.CheckGap}, page.Good)
	assert.Equal(t, []recipe.CheckKey{recipe.CheckTopper}, page.Bad)
	assert.Equal(t, "at one claw", page.Note)
	all := wrapup.InspectInput{Version: page.Version, Good: keys}
	require.NoError(t, d.SaveInspection(towels, ana, all))
	page, err = d.Inspect(towels, ana)
	require.NoError(t, err)
	assert.True(t, page.Passed(page.Checks))
	_, err = d.Inspect(towels, tam)
	assert.ErrorIs(t, err, actor.ErrNotFound, "Tam is not in that class")

	changes, err := staff[store.Owner].Changes(1)
	require.NoError(t, err)
	last := changes.Changes[0]
	assert.EqualValues(t, "inspections", last.What)
	assert.Equal(t, store.ThingChanged, last.Kind)
	require.NotNil(t, last.Columns["bad"][0], "what was not good before stays written down")
	assert.Contains(t, *last.Columns["bad"][0], string(recipe.CheckTopper))
	student, err := d.Student(ana)
	require.NoError(t, err)
	require.NotEmpty(t, student.Made)
	assert.Equal(t, "Crab hand towel", student.Made[0].Project)
	assert.True(t, student.Made[0].Inspected)
	assert.NotEmpty(t, student.Bookings, "the class of badges")
}

// A photo goes with the mark of one student, and is shown with it alone.
func TestAMarkHasAPhoto(t *testing.T) {
	d := desks(t)[store.Instructor]
	const ana, bo = 1, 2
	var picture bytes.Buffer
	require.NoError(t, png.Encode(&picture, image.NewGray(image.Rect(0, 0, 40, 30))))
	in := people.MarkInput{StudentIDs: []int64{ana, bo}, Skill: skill.SafeStart, On: skill.SingleNeedle,
		Level: skill.Alone, Photo: picture.Bytes()}
	assert.NotEmpty(t, problem(t, d.Mark(in), "photo"))
	in.StudentIDs = []int64{ana}
	in.Photo = []byte("no picture")
	assert.NotEmpty(t, problem(t, d.Mark(in), "photo"))
	in.Photo = picture.Bytes()
	require.NoError(t, d.Mark(in))
	marks, err := d.Workshop.MarksOf(ana)
	require.NoError(t, err)
	last := marks[len(marks)-1]
	require.True(t, last.HasPhoto)
	assert.False(t, marks[0].HasPhoto)
	p, err := d.MarkPhoto(ana, last.ID)
	require.NoError(t, err)
	assert.Equal(t, 40, p.Width)
	_, err = d.MarkPhoto(bo, last.ID)
	assert.ErrorIs(t, err, actor.ErrNotFound)
}

// Whoever came as a first-timer is one until they have changed a colour.
func TestAFirstTimerLearns(t *testing.T) {
	d := desks(t)[store.Instructor]
	const wren = 14
	s, err := d.Workshop.Student(wren)
	require.NoError(t, err)
	require.True(t, s.StillNew())
	mark := people.MarkInput{StudentIDs: []int64{wren}, Skill: skill.ChangeColour, On: skill.MultiNeedle,
		Level: skill.Helped, Anyway: true}
	require.NoError(t, d.Mark(mark))
	s, err = d.Workshop.Student(wren)
	require.NoError(t, err)
	assert.True(t, s.StillNew(), "with help once is not enough")
	require.NoError(t, d.Mark(mark))
	s, err = d.Workshop.Student(wren)
	require.NoError(t, err)
	assert.False(t, s.StillNew())
	assert.True(t, s.FirstTimer, "as they came")
}
