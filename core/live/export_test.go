package live

import (
	"maps"
	"slices"
)

// Kinds are all there are, by name.
func Kinds() []Kind { return slices.Sorted(maps.Keys(kinds)) }
