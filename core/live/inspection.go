package live

import (
	"slices"
	"time"

	"chalkstep/core/recipe"
)

// An Inspection is what was looked at of what somebody made in a class. Version is 0 where
// nobody has looked yet.
type Inspection struct {
	StudentID int64
	// Good and Bad are the checks that were answered.
	Good, Bad []recipe.CheckKey
	Note      string
	At        time.Time
	By        string
	Version   int
}

// Passed tells that all that is looked at was good.
func (i Inspection) Passed(checks []recipe.Check) bool {
	return i.Version > 0 && len(i.Bad) == 0 &&
		!slices.ContainsFunc(checks, func(c recipe.Check) bool { return !slices.Contains(i.Good, c.Key) })
}
