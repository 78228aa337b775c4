package app_test

import (
	"context"
	"reflect"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app"
	"chalkstep/store"
)

// Every use case names what it needs, so a role that nobody has spoken for may
// do nothing, reading or writing.
func TestARoleThatNobodyKnowsMayNothing(t *testing.T) {
	d := desks(t)[store.Owner]
	d.Who.Role = "guest"
	value := reflect.ValueOf(d)
	asked := 0
	for i := range value.NumMethod() {
		method := value.Type().Method(i)
		results := method.Type.NumOut()
		if results == 0 || method.Type.Out(results-1) != reflect.TypeFor[error]() {
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
		assert.ErrorIs(t, err, app.ErrMayNot, method.Name)
		asked++
	}
	assert.Greater(t, asked, 60)
}

// What each role may, in the words that refuse it.
func TestWhatRolesMay(t *testing.T) {
	all := desks(t)
	assistant, instructor, owner := all[store.Assistant].Who, all[store.Instructor].Who, all[store.Owner].Who
	for _, p := range app.Permissions {
		assert.True(t, owner.May(p), p)
	}
	for _, p := range []app.Permission{app.See, app.SignOff, app.PackKits, app.ManageSelf} {
		assert.True(t, assistant.May(p), p)
	}
	for _, p := range []app.Permission{app.ChangeClasses, app.ChangeStock, app.Book, app.SetHouse, app.ManagePeople} {
		assert.False(t, assistant.May(p), p)
	}
	assert.True(t, instructor.May(app.ChangeStock))
	assert.False(t, instructor.May(app.ManagePeople))
	_, err := all[store.Instructor].People()
	assert.EqualError(t, err, "an instructor may not change who works here: ask the owner of the workshop")
	watched, asked := all[store.Owner].Watched()
	assert.False(t, asked())
	_, err = watched.Today()
	require.NoError(t, err)
	assert.True(t, asked())
}
