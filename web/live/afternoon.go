package live

import (
	"cmp"
	"slices"
	"time"
	"unicode/utf8"

	"chalkstep/app/classload"
	"chalkstep/core/live"
	"chalkstep/web/ui"
)

// An afternoon is a class as a line of time: who is done when, who will be late, and the end.
type afternoon struct {
	Height int
	// Now and Ends are where the line is solid until, and where the class ends.
	Now, Ends float64
	EndsAt    string
	Hours     []hourMark
	People    []doneMark
}

type hourMark struct {
	X    float64
	Text string
}

// A doneMark is when somebody is done, written below the line in a row of its own where others are near.
type doneMark struct {
	X, TextX, TextY float64
	Name, At        string
	Done, Late      bool
}

// The line in pixels: as wide as the board, with rows of names below it.
const (
	lineLeft, lineRight = 8.0, 1052.0
	lineY               = 26
	rowHigh             = 15
	letterWide          = 6.8
	mostRows            = 6
)

// newAfternoon draws a class that runs, nil where nobody is in it any more.
func newAfternoon(p ui.P, page classload.RunPage) *afternoon {
	class := page.Plan.Class
	from, to := page.StartedAt, class.EndsAt
	if class.StartsAt.Before(from) {
		from = class.StartsAt
	}
	if page.Forecast.Finish.After(to) {
		to = page.Forecast.Finish
	}
	if len(page.Forecast.Ends) == 0 || !to.After(from) {
		return nil
	}
	to = to.Add(to.Sub(from) / 12) // the last name has room
	x := func(at time.Time) float64 {
		share := at.Sub(from).Seconds() / to.Sub(from).Seconds()
		return lineLeft + (lineRight-lineLeft)*min(1, max(0, share))
	}
	a := &afternoon{Now: x(page.Now), Ends: x(class.EndsAt), EndsAt: p.Clock(class.EndsAt)}
	step := time.Hour
	if to.Sub(from) > 8*time.Hour {
		step = 2 * time.Hour
	}
	for at := from.Truncate(step).Add(step); at.Before(to); at = at.Add(step) {
		const near = 70
		if mark := x(at); mark < a.Ends-near || mark > a.Ends+near {
			a.Hours = append(a.Hours, hourMark{mark, p.Clock(at)})
		}
	}
	late := page.Forecast.Late(page.State)
	for _, at := range page.Standings {
		end, known := page.Forecast.Ends[at.StudentID]
		if !known {
			continue
		}
		a.People = append(a.People, doneMark{X: x(end), Name: class.Called(at.Name), At: p.Clock(end), Done: at.Finished(),
			Late: slices.ContainsFunc(late, func(l live.Standing) bool { return l.StudentID == at.StudentID })})
	}
	slices.SortStableFunc(a.People, func(one, other doneMark) int { return cmp.Compare(one.X, other.X) })
	a.write()
	return a
}

// write puts each name into the first row in which there is room.
func (a *afternoon) write() {
	var until [mostRows]float64
	rows := 1
	for i := range a.People {
		one := &a.People[i]
		wide := letterWide * float64(utf8.RuneCountInString(one.Text()))
		left := min(max(lineLeft, one.X-wide/2), lineRight-wide)
		row := 0
		for row+1 < mostRows && until[row] > left {
			row++
		}
		until[row] = left + wide + letterWide
		one.TextX, one.TextY = left, float64(lineY+22+row*rowHigh)
		rows = max(rows, row+1)
	}
	a.Height = lineY + 14 + rows*rowHigh
}

// TickY is where the tick ends, above the name.
func (d doneMark) TickY() float64 { return d.TextY - 11 }

// Text is what stands below the line.
func (d doneMark) Text() string {
	if d.Late {
		return d.Name + " " + d.At
	}
	return d.Name
}
