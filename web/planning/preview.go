package planning

import (
	"math"

	"github.com/gofiber/fiber/v3"

	app "chalkstep/app/planning"
	"chalkstep/core/say"
	"chalkstep/web/ui"
)

// A previewView is a class as it would be with what is typed so far.
type previewView struct {
	// Answer is the finish, Wait and Odds what goes with it; Missing is said
	// instead of them.
	Answer, Wait, Odds, Missing string
	Fits                        bool
	Machines                    []previewMachine
	Instructors, Others         previewLine
}

// A previewLine is how the class would end with other numbers of something, and what
// holds it up with the most of it.
type previewLine struct {
	Each   []previewOther
	HeldUp string
}

type previewMachine struct {
	Name, Says string
	Can, Taken bool
	Chosen     bool
}

type previewOther struct {
	Count, Finish string
	Fits, Now     bool
}

func newPreviewView(p ui.P, page app.Preview) previewView {
	v := previewView{Missing: p.Say(page.Missing)}
	for _, m := range page.Machines {
		v.Machines = append(v.Machines, newPreviewMachine(p, m))
	}
	if !page.Missing.Silent() {
		return v
	}
	plan := page.Plan
	if !plan.Planned() {
		v.Missing = p.Say(plan.Why)
		return v
	}
	// Without a day and times, minutes from the start are what can be said.
	finish := func(minutes float64) string {
		if page.Timed {
			return p.Clock(plan.At(minutes))
		}
		return p.Say(say.Minutes(minutes))
	}
	v.Fits = plan.Result.Fits
	switch {
	case !page.Timed:
		v.Answer = p.Say(say.T("Everyone is done after %s. %s", say.Minutes(plan.FinishMinutes), plan.Tight))
	case v.Fits:
		v.Answer = p.Say(say.T("Everyone is done by %s, %s to spare. %s", say.Clock(plan.Finish()),
			say.Minutes(plan.SpareMinutes), plan.Tight))
	default:
		v.Answer = p.Say(say.T("The last is done at %s, %s too late. %s", say.Clock(plan.Finish()),
			say.Minutes(-plan.SpareMinutes), plan.Tight))
	}
	v.Wait = p.Say(say.T("Longest wait with nothing to do %s.", say.Minutes(plan.LongestWait)))
	if page.Timed {
		v.Odds = p.Say(say.T("On %s of days everyone is done in time.", say.Percent(math.Floor(100*page.Outlook.FitsShare))))
	}
	line := func(others []app.PreviewOther, noun string) previewLine {
		var l previewLine
		for _, o := range others {
			count := p.N(o.Count, noun)
			if o.With != "" {
				count = p.Say(say.T("%s with %s", say.N{N: o.Count, Noun: noun}, say.Name(o.With)))
			}
			l.Each = append(l.Each, previewOther{count, finish(o.FinishMinutes), o.Fits, o.Now})
			l.HeldUp = p.Say(say.T("%s holds it up", o.HeldUp))
		}
		return l
	}
	v.Instructors = line(page.Instructors, "instructor")
	v.Others = line(page.Others, "machine")
	return v
}

// newPreviewMachine says of a machine whether it can sew what the class makes, and for how many.
func newPreviewMachine(p ui.P, m app.PreviewMachine) previewMachine {
	row := previewMachine{Name: m.Name, Can: m.Problem.Silent(), Chosen: m.Chosen, Taken: m.Taken != ""}
	switch {
	case !row.Can:
		row.Says = p.Say(m.Problem)
	case row.Taken:
		row.Says = m.Taken
	case m.Students > 0:
		row.Says = p.Say(say.T("%s, %s", m.Hoop, say.N{N: m.Students, Noun: "sitting"}))
	default:
		row.Says = m.Hoop
	}
	return row
}

// preview answers with a class as it would be, and keeps nothing.
func preview(c fiber.Ctx, d app.UseCases) error {
	var in app.ClassInput
	if err := ui.Bind(c, &in); err != nil {
		return err
	}
	in.ID = max(0, ui.Number(c.Query("id")))
	page, err := d.Preview(in)
	if err != nil {
		return err
	}
	c.Set(fiber.HeaderCacheControl, "no-store")
	p := ui.P{Printer: d.Printer()}
	return c.Render("planning/preview", fiber.Map{"View": newPreviewView(p, page), "P": p})
}
