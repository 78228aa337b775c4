package app_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/actor"
	"chalkstep/core/project"
	"chalkstep/store"
)

// What next, for the students of a class or those of a name: whoever is offered a project
// lacks at most four steps of it, and one that nobody can make is offered to nobody.
func TestWhatNextForAGroup(t *testing.T) {
	d := desks(t)[store.Assistant]
	page, err := d.Next("", 1, badges)
	require.NoError(t, err)
	assert.Equal(t, "Buoy badges, first felt", page.Class)
	require.Len(t, page.Students, 8)
	require.Len(t, page.Offers, 6)
	assert.Equal(t, "Buoy badges", page.Offers[0].Project.Name)
	offered := 0
	for _, s := range page.Students {
		if _, suit, ok := project.Best(page.Offers, s.ID); ok {
			offered++
			assert.LessOrEqual(t, len(suit.Missing)+len(suit.New), 4)
		}
	}
	assert.Equal(t, 7, offered, "for Cy all come too early")
	page, err = d.Next("sol", 1, 0)
	require.NoError(t, err)
	require.Len(t, page.Students, 1)
	require.Len(t, page.Stuck, 1)
	assert.Equal(t, "Sol Whitaker", page.Stuck[0].Name)
	_, err = d.Next("", 1, 4711)
	assert.ErrorIs(t, err, actor.ErrNotFound)
	matrix, err := d.Matrix("", 1, badges, "", "")
	require.NoError(t, err)
	assert.Len(t, matrix.Group, 8)
}
