package projects

import (
	"github.com/gofiber/fiber/v3"

	"chalkstep/app/actor"
	"chalkstep/app/projects"
	"chalkstep/core/pace"
	"chalkstep/core/technique"
	"chalkstep/web/ui"
)

// recipeRoutes are the recipes of the house and the techniques it wrote.
func recipeRoutes(f *fiber.App) {
	f.Get("/recipes", ui.With(recipes))
	f.Get("/recipes/techniques",
		ui.With(ui.Needs(actor.ChangeProjects, func(c fiber.Ctx, d projects.UseCases) error { return editOwn(c, d, 0) })))
	f.Post("/recipes/techniques", ui.With(func(c fiber.Ctx, d projects.UseCases) error { return saveOwn(c, d, 0) }))
	f.Get("/recipes/techniques/:id", ui.WithID(editOwn))
	f.Post("/recipes/techniques/:id", ui.WithID(saveOwn))
	f.Post("/recipes/techniques/:id/remove", ui.WithID(removeOwn))
}

func recipes(c fiber.Ctx, d projects.UseCases) error {
	page, err := d.Recipes()
	if err != nil {
		return err
	}
	return ui.Render(c, "projects/recipes", area, "Recipes of the house",
		fiber.Map{"Page": page, "Ways": drawnWays(ui.P{Printer: d.Printer()})})
}

// A drawnGroup is the techniques of one purpose as the wall sheet has them.
type drawnGroup struct {
	technique.GroupOf
	Ways []drawnWay
}

type drawnWay struct {
	technique.Technique
	Picture ui.Drawn
}

// drawnWays are all techniques of ours, by purpose.
func drawnWays(p ui.P) []drawnGroup {
	var groups []drawnGroup
	for _, g := range technique.Groups {
		group := drawnGroup{GroupOf: g}
		for _, t := range technique.All {
			if t.Group == g.Key {
				group.Ways = append(group.Ways, drawnWay{t, ui.NewDrawn(p, p.Say(t.Name), t.Picture)})
			}
		}
		if len(group.Ways) > 0 {
			groups = append(groups, group)
		}
	}
	return groups
}

// stepWords name the steps of every project, which written techniques follow.
var stepWords = []struct {
	Key  pace.StepKey
	Name string
}{
	{pace.StepMark, "marking"}, {pace.StepStabilise, "cutting the stabilizer"}, {pace.StepHoop, "hooping"},
	{pace.StepLoad, "loading"}, {pace.StepSew, "sewing"},
	{pace.StepUnhoop, "unhooping"}, {pace.StepCleanUp, "cleaning up"}, {pace.StepPress, "pressing"},
}

func editOwn(c fiber.Ctx, d projects.UseCases, id int64) error {
	in, err := d.Own(id)
	if err != nil {
		return err
	}
	return ownForm(c, d, in, nil)
}

func ownForm(c fiber.Ctx, d projects.UseCases, in projects.OwnInput, problems *ui.Refused) error {
	ladder, err := d.Ladder()
	if err != nil {
		return err
	}
	title := "A technique of your own"
	if in.ID != 0 {
		title = in.Name
	}
	return ui.Render(c, "projects/own", area, title, fiber.Map{
		"In": in, "Problems": problems, "Ladder": ladder.Steps(),
		"Steps":  ownRows("step", in.Steps, projects.OwnStepInput{At: string(pace.StepMark)}, 2),
		"Lines":  ownRows("line", in.Lines, projects.OwnLineInput{At: string(pace.StepLoad)}, 2),
		"Things": ownRows("thing", in.Things, projects.OwnThing{Count: "1"}, 2),
	})
}

// ownRows are rows of the form with some empty ones at the end.
func ownRows[T any](what string, in []T, empty T, more int) []row[T] {
	rows := rowsOf(what, in, empty)
	for range more - 1 {
		rows = append(rows, row[T]{"another " + what, empty})
	}
	return rows
}

func saveOwn(c fiber.Ctx, d projects.UseCases, id int64) error {
	in := projects.OwnInput{ID: id, Version: ui.Small(c.FormValue("version")), Name: c.FormValue("name"),
		What: c.FormValue("what"), Because: c.FormValue("because"), Needs: ui.All(c, "needs")}
	for _, r := range ui.Rows(c, "title", "at", "instead", "minutes", "where", "step-caution") {
		in.Steps = append(in.Steps,
			projects.OwnStepInput{Title: r[0], At: r[1], Instead: r[2], Minutes: r[3], Where: r[4], Caution: r[5]})
	}
	for _, r := range ui.Rows(c, "line", "line-at", "line-kind") {
		in.Lines = append(in.Lines, projects.OwnLineInput{Text: r[0], At: r[1], Kind: r[2]})
	}
	for _, r := range ui.Rows(c, "thing", "per", "count") {
		in.Things = append(in.Things, projects.OwnThing{Name: r[0], Per: r[1], Count: r[2]})
	}
	if _, err := d.SaveOwn(in); err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error {
			filled := in
			filled.Steps = filledRows(in.Steps, func(s projects.OwnStepInput) bool { return s.Title+s.Minutes+s.Caution == "" })
			filled.Lines = filledRows(in.Lines, func(l projects.OwnLineInput) bool { return l.Text == "" })
			filled.Things = filledRows(in.Things, func(t projects.OwnThing) bool { return t.Name == "" && t.Count == "1" })
			return ownForm(c, d, filled, p)
		})
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/recipes#own")
}

// filledRows are those that say something, as they were typed.
func filledRows[T any](rows []T, empty func(T) bool) []T {
	var filled []T
	for _, r := range rows {
		if !empty(r) {
			filled = append(filled, r)
		}
	}
	return filled
}

func removeOwn(c fiber.Ctx, d projects.UseCases, id int64) error {
	if err := d.RemoveOwn(id); err != nil {
		return err
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/recipes#own")
}
