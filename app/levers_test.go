package app_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/planning"
	"chalkstep/core/classday"
	"chalkstep/store"
)

// What keeps a lever from being adopted is said where it is pressed, and nothing is changed.
func TestALeverThatCannotBeHad(t *testing.T) {
	d := desks(t)[store.Instructor]
	before, err := d.Levers(totes, nil)
	require.NoError(t, err)
	class := before.Plan.Class
	_, err = d.SaveClass(planning.ClassInput{Name: "Samplers", Project: "Rope-knot sampler",
		Date: class.StartsAt.Format("2006-01-02"), From: "12:00", To: "13:00", Instructors: "1", Irons: "1",
		StudentIDs: []int64{1}, Machines: []int64{heron}})
	require.NoError(t, err)
	earlier := []classday.LeverKey{"earlier:30"}
	assert.Contains(t, problem(t, d.Adopt(totes, class.Version, earlier), "levers"), "Heron is booked")
	assert.Contains(t, problem(t, d.Adopt(totes, class.Version, earlier), "levers"), "Nothing was adopted.")
	assert.Contains(t, problem(t, d.Adopt(totes, class.Version, nil), "levers"), "Tick what to adopt first")
	assert.Contains(t, problem(t, d.Adopt(totes, class.Version, []classday.LeverKey{"instructor:1", "sessions:2"}),
		"levers"), "Nothing was adopted.")
	after, err := d.Levers(totes, nil)
	require.NoError(t, err)
	assert.Equal(t, class.Version, after.Plan.Class.Version)
	assert.Equal(t, class.StartsAt, after.Plan.Class.StartsAt)

	// What can be had is adopted, once even if it is named twice; an old page changes nothing more.
	twice := []classday.LeverKey{"iron:1", "iron:1"}
	require.NoError(t, d.Adopt(totes, class.Version, twice))
	assert.Contains(t, problem(t, d.Adopt(totes, class.Version, twice), "levers"), "has been changed meanwhile")
	after, err = d.Levers(totes, nil)
	require.NoError(t, err)
	assert.Equal(t, class.Irons+1, after.Plan.Class.Irons)
	assert.Equal(t, []classday.LeverKey{"iron:1"}, after.Plan.Class.Adopted)
}

// A class is on one day, as its form has it: half an hour more than there is left of it is refused.
func TestALeverEndsAClassOnItsDay(t *testing.T) {
	d := desks(t)[store.Owner]
	in, err := d.ClassInput(totes)
	require.NoError(t, err)
	in.From, in.To, in.BreakAt, in.BreakMinutes = "20:45", "23:45", "", ""
	_, err = d.SaveClass(in)
	require.NoError(t, err)
	page, err := d.Levers(totes, nil)
	require.NoError(t, err)
	err = d.Adopt(totes, page.Plan.Class.Version, []classday.LeverKey{"longer:30"})
	assert.Contains(t, problem(t, err, "levers"), "more than a class may have")
}
