package app_test

import (
	"context"
	"reflect"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/actor"
	"chalkstep/app/bookings"
	"chalkstep/app/designs"
	appfleet "chalkstep/app/fleet"
	applive "chalkstep/app/live"
	"chalkstep/app/people"
	"chalkstep/app/planning"
	"chalkstep/app/prep"
	"chalkstep/app/projects"
	"chalkstep/app/stock"
	"chalkstep/app/wrapup"
	"chalkstep/store"
)

// builtOf is what use cases are built of: they have asked before they come to it.
var builtOf = []string{"Clearance", "Floorplan", "Items", "Mendable", "Settings", "Sewn", "StudentLine"}

// Every use case names what it needs, so a role that nobody has spoken for may
// do nothing, reading or writing.
func TestARoleThatNobodyKnowsMayNothing(t *testing.T) {
	guest := desks(t)[store.Owner].Actor
	guest.Who.Role = "guest"
	asked := 0
	for _, area := range []any{
		guest, planning.UseCases{Actor: guest}, prep.UseCases{Actor: guest}, applive.UseCases{Actor: guest},
		wrapup.UseCases{Actor: guest}, designs.UseCases{Actor: guest}, people.UseCases{Actor: guest},
		projects.UseCases{Actor: guest}, bookings.UseCases{Actor: guest}, appfleet.UseCases{Actor: guest},
		stock.UseCases{Actor: guest},
	} {
		value := reflect.ValueOf(area)
		for i := range value.NumMethod() {
			method := value.Type().Method(i)
			_, everywhere := reflect.TypeOf(guest).MethodByName(method.Name)
			if everywhere && value.Type() != reflect.TypeOf(guest) {
				continue // asked once already
			}
			results := method.Type.NumOut()
			if everywhere && slices.Contains(builtOf, method.Name) || results == 0 ||
				method.Type.Out(results-1) != reflect.TypeFor[error]() {
				continue // it does nothing in the workshop, it only writes words
			}
			var args []reflect.Value
			for n := 1; n < method.Type.NumIn(); n++ {
				if method.Type.In(n) == reflect.TypeFor[context.Context]() {
					args = append(args, reflect.ValueOf(t.Context()))
					continue
				}
				args = append(args, reflect.Zero(method.Type.In(n)))
			}
			err, _ := value.Method(i).Call(args)[results-1].Interface().(error)
			assert.ErrorIs(t, err, actor.ErrMayNot, "%T: %s", area, method.Name)
			asked++
		}
	}
	assert.Greater(t, asked, 60)
}

// What each role may, in the words that refuse it.
func TestWhatRolesMay(t *testing.T) {
	all := desks(t)
	assistant, instructor, owner := all[store.Assistant].Who, all[store.Instructor].Who, all[store.Owner].Who
	for _, p := range actor.Permissions {
		assert.True(t, owner.May(p), p)
	}
	for _, p := range []actor.Permission{actor.See, actor.SignOff, actor.PackKits, actor.RunClasses, actor.ManageSelf} {
		assert.True(t, assistant.May(p), p)
	}
	for _, p := range []actor.Permission{actor.ChangeClasses, actor.ChangeStock, actor.Book, actor.SetHouse,
		actor.ManagePeople} {
		assert.False(t, assistant.May(p), p)
	}
	assert.True(t, instructor.May(actor.ChangeStock))
	assert.False(t, instructor.May(actor.ManagePeople))
	_, err := all[store.Instructor].People()
	assert.EqualError(t, err, "an instructor may not change who works here: ask the owner of the workshop")
	watched, asked := all[store.Owner].Watched()
	assert.False(t, asked())
	_, err = atWork(watched).Today()
	require.NoError(t, err)
	assert.True(t, asked())
}
