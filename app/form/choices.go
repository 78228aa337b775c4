package form

import (
	"errors"
	"fmt"
	"slices"

	"chalkstep/core/recipe"
	"chalkstep/store"
)

// Choices of what people measure in and of how they read the clock.
var (
	UnitChoices  = []string{"mm", "in"}
	ClockChoices = []string{"24", "12"}
)

// KnownFabric tells whether recipes know a fabric.
func KnownFabric(name string) bool { return slices.Contains(recipe.Fabrics, recipe.Fabric(name)) }

// NoneCalled says that nothing has a typed name.
func NoneCalled(what, typed string) string {
	return fmt.Sprintf("No %s is called “%s”: write its name as the list has it.", what, Shortened(typed, 60))
}

// Named finds what a person wrote the name of. It is a problem of the field
// when none is written, where choose says what to do, and when nothing is
// called so; what is then found is empty.
func Named[T any](problems Problems, field, typed, what, choose string, find func(name string) (T, error)) (T, error) {
	var none T
	name := Name(problems, field, typed, choose)
	if name == "" {
		return none, nil
	}
	found, err := find(name)
	if errors.Is(err, store.ErrNotFound) {
		problems[field] = NoneCalled(what, name)
		return none, nil
	}
	return found, err
}

// MostAtOnce bookings are looked through to say who has a machine.
const MostAtOnce = 500
