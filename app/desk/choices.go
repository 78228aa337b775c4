package desk

import (
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

// MostAtOnce bookings are looked through to say who has a machine.
const MostAtOnce = 500

// BookedFor names who a booking is for.
func BookedFor(b store.Booking) string {
	if b.Student != nil {
		return b.Student.Name
	}
	return "the class " + b.Class.Name
}
