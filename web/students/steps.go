package students

import (
	"slices"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/people"
	"chalkstep/core/skill"
	"chalkstep/web/ui"
)

// stepRoutes are how a workshop changes its ladder.
func stepRoutes(f *fiber.App) {
	f.Get("/students/ladder", ui.With(func(c fiber.Ctx, d people.UseCases) error {
		return showSteps(c, d, skill.Key(c.Query("step")), nil, nil)
	}))
	f.Post("/students/ladder", ui.With(saveStep))
	f.Post("/students/ladder/drop", ui.With(func(c fiber.Ctx, d people.UseCases) error {
		key := skill.Key(c.FormValue("key"))
		return backToSteps(c, d, key, nil, d.DropStep(key, ui.Small(c.FormValue("version"))))
	}))
	f.Post("/students/ladder/usual", ui.With(func(c fiber.Ctx, d people.UseCases) error {
		return backToSteps(c, d, "", nil, d.UsualLadder(ui.Small(c.FormValue("version"))))
	}))
}

// A stepRow is a step in the list of all.
type stepRow struct {
	skill.Step
	First     []string
	Own, Here bool
}

// An otherStep is a step that one could come after; First tells that it does.
type otherStep struct {
	Key   skill.Key
	Title string
	First bool
}

// showSteps shows the ladder and the form of one of its steps; typed is what could not be
// kept.
func showSteps(c fiber.Ctx, d people.UseCases, key skill.Key, typed *people.StepInput, problems *ui.Refused) error {
	page, err := d.EditLadder(key)
	if err != nil {
		return err
	}
	if typed != nil {
		page.In = *typed
	}
	var rows []stepRow
	var rungs []people.Rung
	for _, step := range page.Ladder.Steps() {
		row := stepRow{Step: step, Own: step.Key.Own(), Here: step.Key == key}
		for _, before := range step.After {
			if b, known := page.Ladder.ByKey(before); known {
				row.First = append(row.First, ui.Lowered(b.Title))
			}
		}
		rows, rungs = append(rows, row), append(rungs, people.Rung{Step: step})
	}
	var others []otherStep
	for _, step := range page.Ladder.Steps() {
		if step.Key != page.In.Key {
			others = append(others, otherStep{step.Key, string(step.Title), slices.Contains(page.In.After, step.Key)})
		}
	}
	drawn := newLadderView(page.Ladder, rungs, func(key skill.Key) string {
		return "/students/ladder?step=" + string(key) + "#step"
	})
	for i := range drawn.Nodes {
		drawn.Nodes[i].Next = drawn.Nodes[i].Key == page.In.Key
	}
	return ui.Render(c, "students/ladder", area, "The ladder",
		fiber.Map{"Page": page, "Rows": rows, "Others": others, "Ladder": drawn, "Problems": problems})
}

func saveStep(c fiber.Ctx, d people.UseCases) error {
	var in people.StepInput
	if err := ui.Bind(c, &in); err != nil {
		return err
	}
	return backToSteps(c, d, in.Key, &in, d.SaveStep(in))
}

// backToSteps goes on at the ladder after it was changed.
func backToSteps(c fiber.Ctx, d people.UseCases, key skill.Key, typed *people.StepInput, err error) error {
	if err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error {
			if _, known := d.EditLadder(key); known != nil {
				key = "" // it went meanwhile: what was typed is kept as a new one
			}
			return showSteps(c, d, key, typed, p)
		})
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/students/ladder")
}
