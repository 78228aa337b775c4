// Package settings is the area of what a workshop does its own way.
package settings

import (
	"github.com/gofiber/fiber/v3"

	"chalkstep/app/form"
	"chalkstep/app/people"
	"chalkstep/core/schedule"
	"chalkstep/web/ui"
)

const area = "Settings"

// Routes of the area.
func Routes(f *fiber.App) {
	f.Get("/settings", ui.With(func(c fiber.Ctx, d people.UseCases) error { return house(c, d, nil, nil) }))
	f.Post("/settings", ui.With(save))
	peopleRoutes(f)
	learnedRoutes(f)
	bookingRoutes(f)
	changeRoutes(f)
}

// house shows the rules; typed is what a form held that could not be kept.
func house(c fiber.Ctx, d people.UseCases, typed *people.HouseInput, problems *ui.Refused) error {
	page, err := d.House()
	if err != nil {
		return err
	}
	choices := map[string]string{}
	for _, q := range page.Questions {
		choices[q.Key] = q.Choice(page.House)
		if typed != nil {
			choices[q.Key] = typed.Choices[q.Key]
		}
	}
	return ui.Render(c, "settings/house", area, "House rules",
		fiber.Map{"Page": page, "Choices": choices, "Units": form.UnitChoices, "Clocks": form.ClockChoices,
			"UnitNames": unitNames, "ClockNames": clockNames, "Part": "house", "Problems": problems})
}

func save(c fiber.Ctx, d people.UseCases) error {
	in := people.HouseInput{Version: ui.Small(c.FormValue("version")), Choices: map[string]string{},
		Weights: map[string]string{}, TrimMM: c.FormValue("trim"), SheetMargin: c.FormValue("margin"),
		Units: c.FormValue("units"), Clock: c.FormValue("clock")}
	for _, q := range people.HouseQuestions {
		in.Choices[q.Key] = c.FormValue(q.Key)
	}
	for _, w := range schedule.WeightKinds {
		in.Weights[w.Key] = c.FormValue(people.WeightField(w.Key))
	}
	if err := d.SaveHouse(in); err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error { return house(c, d, &in, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/settings")
}
