package students

import (
	"fmt"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/actor"
	"chalkstep/app/people"
	"chalkstep/core/roster"
	"chalkstep/web/ui"
)

// rosterRoutes add many students at once.
func rosterRoutes(f *fiber.App) {
	f.Get("/students/roster", ui.With(ui.Needs(actor.ChangeStudents, func(c fiber.Ctx, d people.UseCases) error {
		return showRoster(c, people.RosterPage{}, nil)
	})))
	f.Post("/students/roster", ui.With(addRoster))
}

// A rosterView is a roster before any of it is kept.
type rosterView struct {
	people.RosterPage
	Answer   string
	Headings []string
	// Read tells that something was read, and Sure that it can be added as it is.
	Read, Sure bool
}

func showRoster(c fiber.Ctx, page people.RosterPage, problems *ui.Refused) error {
	v := rosterView{RosterPage: page, Answer: "Who comes?", Headings: roster.Headings(), Read: page.Text != ""}
	v.Sure = len(page.Rows) > 0 && problems == nil
	switch n := len(page.Rows); {
	case len(page.Problems) > 0:
		v.Answer = "Nobody is added until this is right."
	case n == 1:
		v.Answer = "1 student will be added."
	case n > 1:
		v.Answer = fmt.Sprintf("%d students will be added.", n)
	case len(page.There) > 0:
		v.Answer = "All of them are students already."
	}
	return ui.Render(c, "students/roster", area, "Add many", fiber.Map{"View": v, "Problems": problems})
}

// addRoster reads a roster and shows what would come of it, and adds it once that was seen.
func addRoster(c fiber.Ctx, d people.UseCases) error {
	text := c.FormValue("text")
	if c.FormValue("sure") != "" {
		if _, err := d.AddRoster(text, ui.All(c, "sewn")); err != nil {
			return ui.Again(c, err, func(p *ui.Refused) error { return showRoster(c, people.RosterPage{Text: text}, p) })
		}
		return c.Redirect().Status(fiber.StatusSeeOther).To("/students")
	}
	_, file, err := ui.Upload(c, "file")
	if err != nil {
		return err
	}
	page, err := d.ReadRoster(text, file)
	if err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error { return showRoster(c, people.RosterPage{Text: text}, p) })
	}
	return showRoster(c, page, nil)
}
