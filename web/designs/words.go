package designs

import (
	"fmt"

	"chalkstep/core/stitch"
	"chalkstep/store"
)

// Funcs are the words only this area's templates need.
var Funcs = map[string]any{
	"thumbBox":     thumbBox,
	"twice":        func(f float64) float64 { return 2 * f },
	"roleWords":    roleWords,
	"densityWords": densityWords,
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

func thumbBox(d store.Design) string {
	const margin = 20
	halfX, halfY := d.WidthMM*5+margin, d.HeightMM*5+margin
	return fmt.Sprintf("%.0f %.0f %.0f %.0f", -halfX, -halfY, 2*halfX, 2*halfY)
}

func roleWords(r stitch.Role) string {
	if r == stitch.TackDown {
		return "tack-down"
	}
	return string(r)
}

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
