package prep

import (
	"github.com/gofiber/fiber/v3"

	"chalkstep/app/actor"
	app "chalkstep/app/prep"
	"chalkstep/core/card"
	"chalkstep/core/design"
	"chalkstep/core/pace"
	"chalkstep/core/say"
	"chalkstep/core/skill"
	"chalkstep/web/classhead"
	"chalkstep/web/ui"
)

// A cardView is a step card on a page.
type cardView struct {
	Class, Day, Answer string
	Together           string
	Setup              []string
	Turned             bool
	Ask                string
	Steps              []cardStep
	Sheets             []cardSheet
	// Mark draws where on the blank the design goes.
	Mark            *ui.Mark
	Design          design.Design
	After, Cautions []string
}

type cardStep struct {
	Key                     pace.StepKey
	At, Title, Sign, Note   string
	WithInstructor          bool
	Notes, Cautions, Checks []string
	Pictures                []ui.Drawn
	// Marks tells that the blank is marked here.
	Marks bool
}

type cardSheet struct {
	Title   string
	Setup   []string
	Stops   []cardStop
	Restart []string
}

type cardStop struct {
	N                  int
	Title, Color, Note string
	SameThread         bool
	Before, After      []string
	// Picture is where the stop is seen, what was sewn before it pale.
	Picture string
}

// stepSigns are the signs of steps that have notes.
var stepSigns = map[string]string{"stabilise": "cut", "load": "cross", "practice": "dot"}

// newCardView is a card; picture gives where a stop of a design is drawn.
func newCardView(p ui.P, c card.Card, picture func(design.Design, int) string) cardView {
	v := cardView{Class: c.Class, Day: p.Day(c.StartsAt), After: p.Lines(c.After), Cautions: p.Lines(c.Cautions)}
	v.Answer = p.Say(say.T("%s.", c.Title(0)))
	v.Setup, v.Design = p.Lines(c.Sheets[0].Setup), c.Sheets[0].Design
	if c.Mark != nil {
		mark := ui.NewMark(*c.Mark)
		v.Mark = &mark
	}
	v.Together = p.Say(c.Together)
	if len(c.Ask) > 0 {
		v.Ask = p.Say(skill.Titles(c.Ask))
	}
	for _, s := range c.Steps {
		base, _ := s.Key.Base()
		v.Steps = append(v.Steps,
			cardStep{Key: s.Key, At: p.Clock(s.Start), Title: p.Say(s.Title), Sign: stepSigns[string(base)], Note: p.Say(s.Note),
				Notes: p.Lines(s.Notes), Cautions: p.Lines(s.Cautions), Pictures: ui.NewDrawnAll(p, s.Pictures),
				WithInstructor: s.WithInstructor, Checks: p.Lines(s.Checks), Marks: s.Key == pace.StepMark})
	}
	for _, s := range c.Sheets {
		sheet := cardSheet{Title: "Stop by stop", Restart: p.Lines(s.Restart)}
		if s.N > 1 {
			sheet.Title, sheet.Setup = s.Title+": stop by stop", p.Lines(s.Setup)
		}
		for _, stop := range s.Stops {
			sheet.Stops = append(sheet.Stops,
				cardStop{N: stop.N, Title: p.Say(stop.Title()), Color: stop.Color.String(), Note: p.Say(stop.Note),
					SameThread: stop.SameThread, Before: p.Lines(stop.Before), After: p.Lines(stop.After),
					Picture: picture(s.Design, stop.N)})
		}
		v.Sheets = append(v.Sheets, sheet)
	}
	return v
}

func cards(c fiber.Ctx, d app.UseCases, id int64) error {
	page, err := d.StepCards(id)
	if err != nil {
		return err
	}
	var views []cardView
	for _, made := range page.Cards {
		views = append(views, newCardView(ui.P{Printer: d.PrinterFor(made)}, made, ui.StopPicture))
	}
	return ui.Render(c, "prep/cards", classhead.Area, "Step cards of "+page.Class.Name, fiber.Map{
		"ID": id, "Name": page.Class.Name, "Boxes": d.Unprintable(page.Plan), "Cards": views, "Sheets": actor.PaperSizes(),
	})
}

func showCard(c fiber.Ctx, d app.UseCases, id int64) error {
	student, err := ui.ID(c, "student")
	if err != nil {
		return err
	}
	page, err := d.StepCard(id, student)
	if err != nil {
		return err
	}
	data := fiber.Map{"ID": id, "Student": student, "Version": page.Place.Version, "State": page.Place.Kit,
		"Card": newCardView(ui.P{Printer: d.PrinterFor(page.Card)}, page.Card, ui.StopPicture)}
	if next, ok := page.Place.Kit.Next(); ok {
		data["Next"], data["Verb"] = next, kitVerb[next]
	}
	return ui.Render(c, "prep/card", classhead.Area, "Step card of "+page.Place.Name, data)
}
