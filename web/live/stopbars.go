package live

import (
	"fmt"

	"chalkstep/app/classload"
	"chalkstep/core/design"
	"chalkstep/core/live"
	"chalkstep/core/pace"
	"chalkstep/web/ui"
)

// strip is where the stops of a sewing are drawn on a tile.
var strip = ui.Strip{Width: 180, Gap: 4, Least: 7, DotApart: 9, Inset: 2}

// sewnAt is the design somebody sews.
func sewnAt(page classload.RunPage, at live.Standing) (design.Design, bool) {
	step, more := at.Step()
	sewn, ok := page.Plan.SewnBy(at.StudentID, pace.StepKey(step.Operation))
	return sewn, ok && more
}

func newStopBars(page classload.RunPage, at live.Standing) []ui.ThreadBar {
	sewn, ok := sewnAt(page, at)
	if !ok {
		return nil
	}
	stops := make([]ui.ThreadStop, len(at.Stops))
	for i, s := range at.Stops {
		stops[i] = ui.ThreadStop{Minutes: s.Minutes, Color: sewn.Stops[s.N-1].Color.String()}
	}
	return strip.Bars(stops, at.Stop)
}

// stopWords say which stop is sewn.
func stopWords(page classload.RunPage, at live.Standing) string {
	sewn, ok := sewnAt(page, at)
	if !ok || at.Stop >= len(at.Stops) {
		return ""
	}
	n := at.Stops[at.Stop].N
	text := fmt.Sprintf("stop %d of %d", n, len(sewn.Stops))
	if sews := sewn.Stops[n-1].Sews; sews != "" {
		text += ", " + sews
	}
	return text
}
