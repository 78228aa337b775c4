package skill

import (
	"slices"

	"chalkstep/core/say"
)

// An Exercise is a step of the ladder practised at the bench, without a machine and
// without anything that others wait for (handbook, Waiting).
type Exercise struct {
	Key Key
	// Minutes of somebody practised: figures of ours.
	Minutes float64
	// Does is what is done, Caution what can hurt, empty where nothing can.
	Does, Caution say.Word
}

// Exercises lists them in the order of the ladder.
var Exercises = []Exercise{
	{Bobbin, 5, "Wind two bobbins on the spare winder and fit one into the bench case.", ""},
	{NeedleChange, 5, "Change the needle of the bench model, twice.",
		"Needles are sharp: the old one goes into the sharps tin."},
	{CutStabilizer, 5, "Choose and cut the stabilizer for three cloths, and say why.",
		"Cut away from the hand that holds the sheet."},
	{HoopWoven, 7, "Hoop a practice cloth in the practice hoop until it sounds right.", ""},
	{ReadBack, 4, "Read the backs of three samples: which tension is off?", ""},
	{MarkAlign, 6, "Mark a practice cloth with the template, cross and up-arrow.", ""},
}

// ExercisesFor are those of a ladder that somebody has not shown, from the bottom up; what
// they need that day comes first.
func ExercisesFor(ladder Ladder, signed Signed, needs []Key) []Exercise {
	var needed, rest []Exercise
	for _, e := range Exercises {
		switch _, there := ladder.ByKey(e.Key); {
		case !there || signed[e.Key]:
		case slices.Contains(needs, e.Key):
			needed = append(needed, e)
		default:
			rest = append(rest, e)
		}
	}
	return append(needed, rest...)
}
