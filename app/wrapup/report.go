package wrapup

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strconv"
	"time"

	"chalkstep/app/actor"
	"chalkstep/core/live"
	"chalkstep/core/say"
	"chalkstep/paper"
)

// reached are the outcomes in words.
var reached = map[live.Reached]string{live.Finished: "finished", live.ToFinish: "to finish",
	live.NotStarted: "not started", live.Missing: "did not come"}

// Outcome says how far somebody came.
func Outcome(r live.Reached) string { return reached[r] }

// WrapPDF prints how a class went.
func (d UseCases) WrapPDF(ctx context.Context, classID int64, sheetName string) ([]byte, error) {
	if err := d.Need(actor.See); err != nil {
		return nil, err
	}
	w, err := d.sumUp(classID)
	if err != nil {
		return nil, err
	}
	sheet, err := actor.Sheet(sheetName)
	if err != nil {
		return nil, err
	}
	class := w.Plan.Class
	t := paper.Table{
		Title: class.Name, Intro: fmt.Sprintf("%s, %s–%s. %s", d.Say(say.Date(class.StartsAt)),
			d.Say(say.Clock(class.StartsAt)), d.Say(say.Clock(class.EndsAt)), class.Project.Name),
		Head: []string{"Who", "Outcome", "Last done", "Note"}, Widths: []float64{0.24, 0.2, 0.14, 0.42},
	}
	for _, o := range w.Students {
		done := ""
		if !o.Ended.IsZero() {
			done = d.Say(say.Clock(o.Ended))
		}
		outcome := reached[o.Reached]
		if o.Reached == live.ToFinish && len(o.ToGo) > 0 {
			outcome += ", " + d.Say(say.N{N: len(o.ToGo), Noun: "step"}) + " to go"
		}
		t.Rows = append(t.Rows, []string{o.Name, outcome, done, w.Said[o.StudentID].Note})
	}
	t.Then = append(d.minutes(w), d.calls(w))
	return actor.Print(ctx, d.Actor, []any{"table", t, sheet}, func() ([]byte, error) { return t.PDF(ctx, sheet) })
}

// WrapCSV lists every step of everybody: who, at which machine, from when to when, and
// the minutes planned and real. Times are in the workshop's zone; what has not happened
// is empty.
func (d UseCases) WrapCSV(classID int64) ([]byte, error) {
	if err := d.Need(actor.See); err != nil {
		return nil, err
	}
	page, err := d.load().Runs(classID)
	if err != nil {
		return nil, err
	}
	rows := [][]string{{"student", "step", "machine", "planned_minutes", "real_minutes", "begun", "done", "skipped"}}
	for _, o := range page.State.Report().Students {
		for k, step := range o.Steps {
			machine, _ := page.Plan.Machine(step.Machine)
			row := []string{o.Name, step.Operation, machine.Name, Minutes(step.End - step.Start), "", "", "", ""}
			if k < o.Next {
				real := o.Real[k]
				row[6] = real.Ended.In(d.Who.Zone).Format(time.RFC3339)
				if real.Timed() {
					row[4], row[5] = Minutes(real.Ended.Sub(real.Begun).Minutes()), real.Begun.In(d.Who.Zone).Format(time.RFC3339)
				}
				if real.Skipped {
					row[7] = "yes"
				}
			}
			rows = append(rows, row)
		}
	}
	return paper.CSV(rows)
}

func Minutes(n float64) string { return strconv.FormatFloat(n, 'f', 1, 64) }

// abreast are how many people stand beside each other in a table of minutes.
const abreast = 8

// minutes are tables of how long each step took, planned and real, by person.
func (d UseCases) minutes(w WrapPage) []paper.Table {
	var tables []paper.Table
	for some := range slices.Chunk(w.Students, abreast) {
		t := paper.Table{Title: "Minutes, real of planned", Head: []string{"Step", "All"}, Widths: []float64{0.3, 0.1},
			Foot: "All: the middle of those who did the step."}
		for _, o := range some {
			t.Head, t.Widths = append(t.Head, w.Plan.Class.Called(o.Name)), append(t.Widths, 0.6/abreast)
		}
		for _, s := range w.Steps {
			row := []string{d.Say(w.TitleOf(s.Step)), fmt.Sprintf("%.0f of %.0f", s.Real, s.Planned)}
			for _, o := range some {
				cell := ""
				if real, planned, timed := o.MinutesOf(s.Step); timed {
					cell = fmt.Sprintf("%.0f of %.0f", real, planned)
				}
				row = append(row, cell)
			}
			t.Rows = append(t.Rows, row)
		}
		if len(t.Rows) > 0 {
			tables = append(tables, t)
		}
	}
	return tables
}

// calls is a table of who called for what, and where.
func (d UseCases) calls(w WrapPage) paper.Table {
	t := paper.Table{Title: "Hands", Head: []string{"For", "Where", "How often", "Longest"},
		Widths: []float64{0.4, 0.25, 0.15, 0.2}}
	for _, c := range w.Report.Calls {
		where, longest := "the bench", ""
		if m, there := w.Plan.Machine(c.Station); there {
			where = m.Name
		}
		if c.Longest > 0 {
			longest = d.Say(say.Minutes(math.Ceil(c.Longest.Minutes())))
		}
		t.Rows = append(t.Rows, []string{d.Say(c.Reason.Text()), where, d.Say(say.Count(c.N)), longest})
	}
	if len(t.Rows) == 0 {
		t.Foot = "Nobody called."
	}
	return t
}
