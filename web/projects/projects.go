// Package projects is the area of what a class can make: a design on a
// blank, what goes under, over and through it, and the steps.
package projects

import (
	"fmt"
	"strings"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app"
	"chalkstep/core/blank"
	"chalkstep/core/kit"
	"chalkstep/core/pace"
	"chalkstep/core/recipe"
	"chalkstep/core/skill"
	"chalkstep/store"
	"chalkstep/web/ui"
)

const area = "Projects"

// Routes of the area.
func Routes(f *fiber.App) {
	f.Get("/projects", ui.With(list))
	f.Get("/projects/new", ui.With(func(c fiber.Ctx, d app.Desk) error {
		return form(c, d, app.ProjectInput{DesignID: ui.Number(c.Query("design"))}, app.Problems{})
	}))
	f.Post("/projects/new", ui.With(save))
	f.Get("/projects/:id", ui.With(show))
	f.Get("/projects/:id/edit", ui.With(edit))
	f.Post("/projects/:id/edit", ui.With(save))
	f.Post("/projects/:id/steps", ui.With(saveSteps))
	f.Post("/projects/:id/content/:part", ui.With(saveContent))
	f.Get("/projects/:id/photo", ui.WithID(photo))
	f.Post("/projects/:id/photo", ui.With(savePhoto))
}

func list(c fiber.Ctx, d app.Desk) error {
	projects, err := d.Projects()
	if err != nil {
		return err
	}
	return ui.Render(c, "projects/list", area, area, fiber.Map{"Projects": projects})
}

// open finds the project of the path.
func open(c fiber.Ctx, d app.Desk) (app.ProjectPage, error) {
	id, err := ui.ID(c, "id")
	if err != nil {
		return app.ProjectPage{}, err
	}
	return d.Project(id)
}

func show(c fiber.Ctx, d app.Desk) error {
	page, err := open(c, d)
	if err != nil {
		return err
	}
	return render(c, d, page, nil, app.Problems{})
}

// render shows a project; typed holds the minutes of a form that is shown
// again.
func render(c fiber.Ctx, d app.Desk, page app.ProjectPage, typed map[string]string, problems app.Problems) error {
	library, err := d.Designs(app.DesignFilter{})
	if err != nil {
		return err
	}
	return ui.Render(c, "projects/show", area, page.Project.Name, fiber.Map{
		"Page": page, "Typed": typed, "Picture": newMarkPicture(page), "Shapes": blank.Shapes, "Sizes": blank.Sizes, "Spots": page.Project.Content.Shape.Spots(), "Garment": page.Project.Content.Shape.Garment(),
		"Questions": recipe.Questions, "Ladder": skill.Ladder, "Designs": library.Designs, "LayerKinds": kit.LayerKinds, "Fabrics": recipe.Fabrics, "Problems": problems,
	})
}

func edit(c fiber.Ctx, d app.Desk) error {
	page, err := open(c, d)
	if err != nil {
		return err
	}
	return form(c, d, input(page), app.Problems{})
}

// input is a project as its form shows it.
func input(page app.ProjectPage) app.ProjectInput {
	p := page.Project
	return app.ProjectInput{ID: p.ID, Version: p.Version, Name: p.Name, Blank: p.Blank, DesignID: p.DesignID, Width: fmt.Sprintf("%g", p.BlankWidthMM), Height: fmt.Sprintf("%g", p.BlankHeightMM), Fabric: p.Fabric, Uses: p.Uses}
}

func form(c fiber.Ctx, d app.Desk, in app.ProjectInput, problems app.Problems) error {
	library, err := d.Designs(app.DesignFilter{})
	if err != nil {
		return err
	}
	title := "New project"
	if in.ID != 0 {
		title = in.Name
	}
	return ui.Render(c, "projects/form", area, title, fiber.Map{"In": in, "Designs": library.Designs, "Fabrics": recipe.Fabrics, "Uses": recipe.Uses, "Problems": problems})
}

func save(c fiber.Ctx, d app.Desk) error {
	in := app.ProjectInput{
		ID: fiber.Params[int64](c, "id"), Version: int(ui.Number(c.FormValue("version"))), Name: c.FormValue("name"), Blank: c.FormValue("blank"),
		DesignID: ui.Number(c.FormValue("design")), Width: c.FormValue("width"), Height: c.FormValue("height"), Fabric: c.FormValue("fabric"), Uses: ui.All(c, "uses"),
	}
	id, err := d.SaveProject(in)
	if err != nil {
		return ui.Again(c, err, func(p app.Problems) error { return form(c, d, in, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/projects/%d", id))
}

// saveSteps keeps the minutes a person set for the steps.
func saveSteps(c fiber.Ctx, d app.Desk) error {
	page, err := open(c, d)
	if err != nil {
		return err
	}
	in := input(page)
	in.Version = int(ui.Number(c.FormValue("version")))
	in.Minutes = map[string]string{}
	if c.FormValue("defaults") == "" {
		for _, s := range page.Project.Steps {
			if typed := c.FormValue("minutes-" + s.Key); strings.TrimSpace(typed) != "" {
				in.Minutes[s.Key] = typed
			}
		}
	}
	if _, err := d.SaveProject(in); err != nil {
		return ui.Again(c, err, func(p app.Problems) error { return render(c, d, page, in.Minutes, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/projects/%d", in.ID))
}

// Funcs are the words only this area's templates need.
var Funcs = map[string]any{
	"fabricWords": func(f any) string {
		return strings.ReplaceAll(fmt.Sprint(f), "-", " ")
	},
	"useWords": func(u any) string {
		words := map[string]string{
			"worn": "worn", "next-to-skin": "next to the skin", "child": "for a child", "washed": "washed", "both-sides": "both sides are seen", "heat": "meets heat", "film-overlay": "film under open fill",
		}
		return words[fmt.Sprint(u)]
	},
	"levels":       func() []int { return []int{0, 1, 2, 3, 4, 5} },
	"emptyLayer":   func() store.ProjectLayer { return store.ProjectLayer{} },
	"emptyHooping": func() store.ProjectHooping { return store.ProjectHooping{} },
	"emptyWork":    func() store.ProjectWork { return store.ProjectWork{} },
	"sewStep": func(key string) bool {
		base, _ := pace.Base(key)
		return base == pace.StepSew
	},
	// own is what a project chooses for a question, empty for the house's.
	"own": func(q recipe.Question, own recipe.House) string { return q.Own(own) },
	"typedMinutes": func(typed map[string]string, key string, minutes float64) string {
		if t, ok := typed[key]; ok {
			return t
		}
		return fmt.Sprintf("%g", minutes)
	},
}
