package designs

import (
	"math"
	"strconv"

	"chalkstep/core/stitch"
)

// Funcs are the words only this area's templates need.
var Funcs = map[string]any{
	"plus":         func(a, b float64) float64 { return a + b },
	"twice":        func(f float64) float64 { return 2 * f },
	"roleWords":    roleWords,
	"densityWords": densityWords,
	"roleWordsOf":  roleWords,
	"half":         func(f float64) float64 { return f / 2 },
	"minus":        func(a, b float64) float64 { return a - b },
	"tenths":       func(mm float64) float64 { return mm * 10 },
	"tenthsDown":   func(mm float64) float64 { return -mm * 10 },
	"rounded":      func(f float64) float64 { return math.Round(f*10) / 10 },
	"rounded2":     func(f float64) float64 { return math.Round(f*100) / 100 },
	"snapSign":     func(name string) string { return snapSigns[name] },
	"alignWords":   func(name string) string { return alignNames[name] },
	"hold":         func(f float64) string { return strconv.FormatFloat(f, 'f', -1, 64) },
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
	"top left": "↖", "top": "↑", "top right": "↗", "left": "←", "centre": "+", "right": "→", "bottom left": "↙", "bottom": "↓", "bottom right": "↘",
}

// alignPoints are the points of a two-point alignment, as the form asks for them.
var alignPoints = []string{"cloth-a", "cloth-b", "design-a", "design-b"}

var alignNames = map[string]string{
	"cloth-a": "Mark A on the cloth", "cloth-b": "Mark B on the cloth", "design-a": "Point of the design for A", "design-b": "Point of the design for B",
}

func roleWords(r stitch.Role) string {
	if r == stitch.TackDown {
		return "tack-down"
	}
	return string(r)
}

// levels are what a design's level means, lowest first.
var levels = []string{"not said yet", "1, first lesson", "2, a keepsake on a woven", "3, pile with topper", "4, knits and appliqué", "5, layers, batches and joins"}

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
