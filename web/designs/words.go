package designs

import (
	"chalkstep/core/hoop"
	"chalkstep/core/stitch"
)

// Funcs are the words only this area's templates need.
var Funcs = map[string]any{
	"laidAs":       func(a hoop.Arrangement) string { return arrangements[a] },
	"roleWords":    roleWords,
	"densityWords": densityWords,
	"snapSign":     func(name string) string { return snapSigns[name] },
	"alignWords":   func(name string) string { return alignNames[name] },
	"hasColors": func(format string) bool {
		f, err := stitch.ByName("x." + format)
		return err == nil && f.HasColors
	},
	"short": func(s string) string {
		if runes := []rune(s); len(runes) > 12 {
			return string(runes[:11]) + "…"
		}
		return s
	},
}

// snapSigns are the arrows on the snap buttons; their names are read aloud.
var snapSigns = map[string]string{
	"top left": "↖", "top": "↑", "top right": "↗", "left": "←", "centre": "+", "right": "→",
	"bottom left": "↙", "bottom": "↓", "bottom right": "↘",
}

// alignPoints are the points of a two-point alignment, as the form asks for them.
var alignPoints = []string{"cloth-a", "cloth-b", "design-a", "design-b"}

var alignNames = map[string]string{
	"cloth-a": "Mark A on the cloth", "cloth-b": "Mark B on the cloth", "design-a": "Point of the design for A",
	"design-b": "Point of the design for B",
}

func roleWords(r stitch.Role) string {
	if r == stitch.TackDown {
		return "tack-down"
	}
	return string(r)
}

// levels are what a design's level means, lowest first.
var levels = []string{"not said yet", "1, first lesson", "2, a keepsake on a woven", "3, pile with topper",
	"4, knits and appliqué", "5, layers, batches and joins"}

// densityWords says what a density class is right for (handbook, Designs).
func densityWords(d stitch.DensityClass) string {
	switch d {
	case stitch.Open:
		return "Open: right for T-shirts and every woven"
	case stitch.Medium:
		return "Medium density: right for wovens, towels and canvas, heavy for T-shirts"
	case stitch.Dense:
		return "Dense: for sweatshirts, denim, canvas and felt only"
	}
	return "Too dense for anything but heavy, stable cloth: sew a test first"
}

// arrangements say how copies lie, at the start of a sentence.
var arrangements = map[hoop.Arrangement]string{hoop.Mixed: "Some upright and some turned",
	hoop.Staggered: "In staggered rows"}
