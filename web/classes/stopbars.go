package classes

import (
	"fmt"

	"chalkstep/app/classes"
	"chalkstep/core/day"
	"chalkstep/core/design"
	"chalkstep/core/pace"
	"chalkstep/core/run"
)

// A stopBar is a stop of a sewing drawn as thread: done, under way or to come.
type stopBar struct {
	X, Width   float64
	Color      string
	Done, Here bool
	// Dots are those of a stop to come.
	Dots []float64
}

// Measures of the strip, in pixels.
const (
	stripWidth = 180.0
	stripGap   = 4.0
	leastBar   = 7.0
	dotApart   = 9.0
)

// sewnAt is the design somebody sews, and the place of the present stop in it, from 0.
func sewnAt(page classes.RunPage, at run.Standing) (design.Design, bool) {
	step, more := at.Step()
	w, _, made := page.Plan.Maker(day.PersonID(at.StudentID))
	hooping := pace.StepKey(step.Step).Hooping()
	if !more || !made || hooping > len(w.Sewing) {
		return design.Design{}, false
	}
	return w.Sewing[hooping-1].Design, true
}

func newStopBars(page classes.RunPage, at run.Standing) []stopBar {
	sewn, ok := sewnAt(page, at)
	total := 0.0
	for _, s := range at.Stops {
		total += s.Minutes
	}
	room := stripWidth - (stripGap+leastBar)*float64(len(at.Stops))
	if !ok || total == 0 || room < 0 {
		return nil // more than a strip can tell apart
	}
	var bars []stopBar
	x := 0.0
	for i, s := range at.Stops {
		b := stopBar{X: x, Width: leastBar + room*s.Minutes/total, Done: i < at.Stop, Here: i == at.Stop, Color: sewn.Stops[s.N-1].Color.String()}
		for dot := b.X + 2; !b.Done && !b.Here && dot <= b.X+b.Width-2; dot += dotApart {
			b.Dots = append(b.Dots, dot)
		}
		x += b.Width + stripGap
		bars = append(bars, b)
	}
	return bars
}

// stopWords say which stop is sewn.
func stopWords(page classes.RunPage, at run.Standing) string {
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
