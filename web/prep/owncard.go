package prep

import (
	"errors"
	"fmt"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	app "chalkstep/app/prep"
	"chalkstep/core/design"
	"chalkstep/core/pace"
	"chalkstep/web/ui"
)

// ownPicture is where a student's own phone has a stop of a design drawn.
func ownPicture(d design.Design, n int) string {
	return fmt.Sprintf("/me/picture/%d/%d?v=%d", d.ID, n, d.Version)
}

// OwnPicture sends a stop of a design that a student sews.
func OwnPicture(c fiber.Ctx, d app.UseCases) error {
	mediaType, data, err := d.OwnPicture(ui.Number(c.Params("design")), ui.Small(c.Params("n")))
	if err != nil {
		return err
	}
	return ui.Picture(c, mediaType, data)
}

// ShowOwnCard shows a student their own step card.
func ShowOwnCard(c fiber.Ctx, d app.UseCases) error {
	page, err := d.OwnCard()
	if err != nil {
		return withoutCard(c, err)
	}
	return ui.Render(c, "prep/own-card", "", "Your step card",
		fiber.Map{"Card": newCardView(ui.P{Printer: d.PrinterFor(page.Card)}, page.Card, ownPicture)})
}

// withoutCard says why a student has no card yet.
func withoutCard(c fiber.Ctx, err error) error {
	var problems form.Problems
	why := "You come to no class yet."
	if errors.As(err, &problems) {
		why = problems[""]
	} else if !errors.Is(err, actor.ErrNotFound) {
		return err
	}
	return ui.Render(c, "prep/no-card", "", "Your step card", fiber.Map{"Why": why})
}

// A frame is one thing of a rehearsal: what is done, and what comes before and after it,
// which is said first and looked at then.
type frame struct {
	Kicker, Title, Note string
	// Picture is where the stop is drawn, empty for a step at the bench.
	Picture, Color string
	Before, After  []string
	Checks         []string
	Cautions       []string
	WithInstructor bool
	N, Of          int
	Earlier, Later string
}

// framesOf go through a card step by step, and through its sewing stop by stop.
func framesOf(v cardView) []frame {
	var all []frame
	for _, s := range v.Steps {
		one := frame{Kicker: "At " + s.At, Title: s.Title, Note: s.Note, Checks: append(s.Notes, s.Checks...),
			Cautions: s.Cautions, WithInstructor: s.WithInstructor}
		base, hooping := s.Key.Base()
		if base != pace.StepSew || hooping > len(v.Sheets) {
			all = append(all, one)
			continue
		}
		for n, stop := range v.Sheets[hooping-1].Stops {
			sewn := frame{Kicker: one.Title, Title: stop.Title, Note: stop.Note, Picture: stop.Picture, Color: stop.Color,
				Before: stop.Before, After: stop.After}
			if n == 0 {
				sewn.Cautions, sewn.Checks = one.Cautions, one.Checks
			}
			all = append(all, sewn)
		}
	}
	return all
}

// ShowRehearsal leads a student through their card, one thing at a time.
func ShowRehearsal(c fiber.Ctx, d app.UseCases) error {
	page, err := d.OwnCard()
	if err != nil {
		return withoutCard(c, err)
	}
	frames := framesOf(newCardView(ui.P{Printer: d.PrinterFor(page.Card)}, page.Card, ownPicture))
	at := min(max(ui.Small(c.Query("at")), 1), len(frames))
	f := frames[at-1]
	f.N, f.Of = at, len(frames)
	if at > 1 {
		f.Earlier = fmt.Sprintf("/me/rehearsal?at=%d", at-1)
	}
	if at < len(frames) {
		f.Later = fmt.Sprintf("/me/rehearsal?at=%d", at+1)
	}
	return ui.Render(c, "live/rehearsal", "", "Rehearsal", fiber.Map{"F": f, "Project": page.Card.Project})
}
