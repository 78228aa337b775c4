package technique

import (
	"slices"

	"chalkstep/core/recipe"
)

// EffectsOf is what several techniques change between them.
func EffectsOf(chosen []Technique) Effects {
	var e Effects
	for _, t := range chosen {
		e.House = e.House.With(t.House)
		for _, u := range t.Uses {
			if !slices.Contains(e.Uses, u) {
				e.Uses = append(e.Uses, u)
			}
		}
		e.Floats, e.Sticky = e.Floats || t.Floats, e.Sticky || t.Sticky
		if t.TopThread != "" {
			e.TopThread = t.TopThread
		}
		if t.SpeedShare != 0 {
			e.SpeedShare = t.SpeedShare
		}
		e.NoTrims, e.OneColour = e.NoTrims || t.NoTrims, e.OneColour || t.OneColour
		e.PlacementsFirst, e.SkipsMarks = e.PlacementsFirst || t.PlacementsFirst, e.SkipsMarks || t.SkipsMarks
		e.NoPen, e.AtMarks, e.Window, e.Joins = e.NoPen || t.NoPen, e.AtMarks || t.AtMarks, e.Window || t.Window, e.Joins ||
			t.Joins
		e.BasteMM = max(e.BasteMM, t.BasteMM)
		if t.Hoops != "" {
			e.Hoops = t.Hoops
		}
	}
	return e
}

// UsesWith are the uses of a thing with those that its techniques make of it.
func (e Effects) UsesWith(uses []recipe.Use) []recipe.Use {
	all := slices.Clone(uses)
	for _, u := range e.Uses {
		if !slices.Contains(all, u) {
			all = append(all, u)
		}
	}
	return all
}
