package classes

import (
	"fmt"
	"math"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/classes"
	"chalkstep/core/pace"
	"chalkstep/core/run"
	"chalkstep/core/say"
	"chalkstep/web/ui"
)

func wrap(c fiber.Ctx, d classes.Desk, id int64) error {
	page, report, err := d.Wrap(id)
	if err != nil {
		return err
	}
	return ui.Render(c, "classes/wrap", area, page.Plan.Class.Name, fiber.Map{"View": newWrapView(d, page, report)})
}

func wrapCSV(c fiber.Ctx, d classes.Desk, id int64) error {
	data, err := d.WrapCSV(id)
	if err != nil {
		return err
	}
	return ui.Send(c, fmt.Sprintf("class-%d.csv", id), data)
}

// A wrapView is how a class went.
type wrapView struct {
	head
	Answer, Note string
	Students     []outcomeLine
	Steps        []timesLine
	Calls        []callLine
}

type outcomeLine struct {
	Name, Outcome, ToGo, Done, Planned string
	Finished                           bool
}

type timesLine struct {
	Title, Planned, Real string
	N                    int
	// Slower tells that it took a quarter longer than planned, or more.
	Slower bool
}

type callLine struct{ What, Where, Longest string }

// outcomes are what is said of how far somebody came.
var outcomes = map[run.Reached]string{run.Finished: "finished", run.ToFinish: "to finish", run.NotStarted: "not started", run.Missing: "did not come"}

const slower = 1.25

func newWrapView(d classes.Desk, page classes.RunPage, report run.Report) wrapView {
	p, plan := printer(d), page.Plan
	v := wrapView{head: newHead(d, plan, "wrap", "", "")}
	if !page.Running() {
		v.Answer = fmt.Sprintf("%s has not been run here.", plan.Class.Name)
		v.Note = "What is noted while a class runs is summed up on this page."
		return v
	}
	finished, left := 0, 0
	for _, o := range report.Students {
		line := outcomeLine{Name: o.Name, Outcome: outcomes[o.Reached], Finished: o.Reached == run.Finished, Planned: p.Clock(o.Planned)}
		if !o.Ended.IsZero() {
			line.Done = p.Clock(o.Ended)
		}
		switch o.Reached {
		case run.Finished:
			finished++
		case run.ToFinish:
			left++
			line.ToGo = fmt.Sprintf("%s to go, next: %s", p.N(len(o.ToGo), "step"), stepTitle(p, plan, o.StudentID, string(o.ToGo[0])))
		case run.NotStarted, run.Missing:
		}
		v.Students = append(v.Students, line)
	}
	v.Answer = fmt.Sprintf("%d of %s finished.", finished, p.N(len(report.Students), "student"))
	if left > 0 {
		v.Answer = fmt.Sprintf("%d of %s finished, %d have something to finish.", finished, p.N(len(report.Students), "student"), left)
	}
	for _, s := range report.Steps {
		title := stepOfAny(p, page, s.Step)
		v.Steps = append(v.Steps, timesLine{title, p.Minutes(math.Round(s.Planned)), p.Minutes(math.Round(s.Real)), s.N, s.Real >= slower*s.Planned})
	}
	for _, c := range report.Calls {
		line := callLine{What: p.Say(say.T("%s × %s", say.Count(c.N), c.Reason.Text())), Where: "at the bench"}
		if m, there := plan.Machine(c.Station); there {
			line.Where = "at " + m.Name
		}
		if c.Longest > 0 {
			line.Longest = "up for " + p.Minutes(math.Ceil(c.Longest.Minutes())) + " at most"
		}
		v.Calls = append(v.Calls, line)
	}
	return v
}

// stepOfAny is what a step is called by the first who has it.
func stepOfAny(p ui.P, page classes.RunPage, key pace.StepKey) string {
	for _, at := range page.Standings {
		for _, step := range at.Steps {
			if step.Step == string(key) {
				return stepTitle(p, page.Plan, at.StudentID, step.Step)
			}
		}
	}
	return string(key)
}
