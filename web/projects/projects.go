// Package projects is the area of what a class can make: a design on a
// blank, what goes under, over and through it, and the steps.
package projects

import (
	"fmt"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/actor"
	"chalkstep/app/projects"
	"chalkstep/core/blank"
	"chalkstep/core/pace"
	"chalkstep/core/pattern"
	"chalkstep/core/policy/rule"
	"chalkstep/core/recipe"
	"chalkstep/core/say"
	"chalkstep/web/ui"
)

const area = "Projects"

// Routes of the area.
func Routes(f *fiber.App) {
	f.Get("/projects", ui.With(list))
	f.Get("/projects/new", ui.With(ui.Needs(actor.ChangeProjects, func(c fiber.Ctx, d projects.UseCases) error {
		return showForm(c, projects.ProjectInput{Design: c.Query("design")}, nil)
	})))
	f.Post("/projects/new", ui.With(func(c fiber.Ctx, d projects.UseCases) error { return save(c, d, 0) }))
	f.Get("/projects/names", ui.Suggest(projects.UseCases.ProjectNames))
	recipeRoutes(f)
	f.Get("/projects/:id", ui.WithID(show))
	f.Get("/projects/:id/edit", ui.WithID(edit))
	f.Post("/projects/:id/edit", ui.WithID(save))
	f.Get("/projects/:id/layers", ui.WithID(previewLayers))
	f.Get("/projects/:id/how",
		ui.WithID(func(c fiber.Ctx, d projects.UseCases, id int64) error { return how(c, d, id, nil, nil) }))
	f.Get("/projects/:id/threads",
		ui.WithID(func(c fiber.Ctx, d projects.UseCases, id int64) error { return threads(c, d, id, nil, nil) }))
	f.Get("/projects/:id/threads/try", ui.WithID(tryThreads))
	f.Post("/projects/:id/threads", ui.WithID(saveThreads))
	f.Get("/projects/:id/drawing", ui.WithID(drawing))
	f.Get("/projects/:id/place", ui.WithID(placeOnBlank))
	f.Get("/projects/:id/techniques", ui.WithID(previewTechniques))
	f.Get("/projects/:id/template", ui.WithID(printTemplate))
	f.Post("/projects/:id/steps", ui.WithID(saveMinutes))
	f.Post("/projects/:id/content/:part", ui.WithID(savePart))
	f.Post("/projects/:id/tests", ui.WithID(logTest))
	f.Post("/projects/:id/tests/:run/remove", ui.WithID(removeTest))
	f.Get("/projects/:id/tests/:run/photo", ui.WithID(testPhoto))
	f.Get("/projects/:id/photo", ui.WithID(photo))
	f.Post("/projects/:id/photo", ui.WithID(savePhoto))
}

func list(c fiber.Ctx, d projects.UseCases) error {
	page, err := d.Projects(c.Query("words"), ui.Page(c))
	if err != nil {
		return err
	}
	return ui.Render(c, "projects/list", area, area, fiber.Map{"Page": page, "Pages": page.Pages})
}

func show(c fiber.Ctx, d projects.UseCases, id int64) error {
	return render(c, d, id, nil, nil)
}

// render shows a project; with typed, its forms show that instead of what the
// project is.
func render(c fiber.Ctx, d projects.UseCases, id int64, typed func(*projects.ProjectParts),
	problems *ui.Refused) error {
	return renderWith(c, d, id, typed, projects.TestInput{Date: d.Date()}, problems)
}

// renderWith is render with what was typed of a test.
func renderWith(c fiber.Ctx, d projects.UseCases, id int64, typed func(*projects.ProjectParts), test projects.TestInput,
	problems *ui.Refused) error {
	page, err := d.Project(id)
	if err != nil {
		return err
	}
	if typed != nil {
		stored := page.Typed.Layers
		if typed(&page.Typed); !slices.Equal(stored, page.Typed.Layers) {
			lying, _, err := d.Layers(id, page.Typed.Layers)
			if err != nil {
				return err
			}
			page.Lying, page.Hands = lying.Lying, lying.Hands
		}
	}
	ladder, err := d.Ladder()
	if err != nil {
		return err
	}
	shape := blank.Shape(page.Typed.Place.Shape)
	data := fiber.Map{
		"Page": page, "Typed": page.Typed, "Picture": ui.NewMark(page.Mark), "Shapes": blank.Shapes, "Sizes": blank.Sizes,
		"Spots": shape.Spots(), "Garment": shape.Garment(), "Units": string(d.Printer().Units), "PieceKinds": pattern.Kinds,
		"Test": test, "TestSays": testSays(ui.P{Printer: d.Printer()}, page), "Ladder": ladder.Steps(),
		"Fabrics": recipe.Fabrics, "Problems": problems, "Questions": questionsOf(page.Typed),
		"OwnRules": page.House != recipe.Rules{},
		"Steps":    stepsOf(page), "Papers": actor.PaperSizes(), "Under": underOf(page.Recipe),
		"Ways":     waysOf(ui.P{Printer: d.Printer()}, page),
		"Saving":   savingOf(ui.P{Printer: d.Printer()}, page.Project, page.Saving),
		"Layers":   newLayersView(ui.P{Printer: d.Printer()}, page),
		"Hoopings": rowsOf("hooping", page.Typed.Hoopings, projects.HoopingInput{}),
		"Work":     rowsOf("work", page.Typed.Work, projects.WorkInput{}),
		"Parts":    rowsOf("part", page.Typed.Parts, projects.PartInput{Count: "1"}),
	}
	return ui.Render(c, "projects/show", area, page.Name, data)
}

// A row of a form, with what it is called for those who hear the page.
type row[T any] struct {
	Label string
	In    T
}

// rowsOf are the rows of a form, and an empty one for another.
func rowsOf[T any](what string, in []T, empty T) []row[T] {
	var rows []row[T]
	for i, r := range in {
		rows = append(rows, row[T]{fmt.Sprintf("%s %d", what, i+1), r})
	}
	return append(rows, row[T]{"new " + what, empty})
}

// A stepRow is a step with the minutes its form shows.
type stepRow struct {
	N          int
	Key        pace.StepKey
	Step       pace.Step
	Minutes    string
	Own, Fixed bool
}

func stepsOf(page projects.ProjectPage) []stepRow {
	var rows []stepRow
	for i, s := range page.Steps {
		_, own := page.Project.Minutes[s.Key]
		rows = append(rows, stepRow{N: i + 1, Key: s.Key, Step: s, Minutes: page.Typed.Minutes[string(s.Key)], Own: own,
			Fixed: s.Key.Is(pace.StepSew) || s.Key.IsWork()})
	}
	return rows
}

// underOf says what lies under a project, in a few words.
func underOf(r recipe.Recipe) string {
	var layers []string
	for _, l := range r.Under {
		text := l.Weight + " " + l.What
		if l.Sheets > 1 {
			text = fmt.Sprintf("%d sheets of %s", l.Sheets, text)
		}
		layers = append(layers, text)
	}
	return strings.Join(layers, ", ")
}

// A question is a house rule with what the project chooses.
type question struct {
	rule.Question[recipe.Rules]
	Own string
}

func questionsOf(typed projects.ProjectParts) []question {
	var all []question
	for _, q := range recipe.Questions {
		all = append(all, question{q, typed.House[q.Key]})
	}
	return all
}

func edit(c fiber.Ctx, d projects.UseCases, id int64) error {
	in, err := d.ProjectInput(id)
	if err != nil {
		return err
	}
	return showForm(c, in, nil)
}

func showForm(c fiber.Ctx, in projects.ProjectInput, problems *ui.Refused) error {
	title := "New project"
	if in.ID != 0 {
		title = in.Name
	}
	return ui.Render(c, "projects/form", area, title,
		fiber.Map{"In": in, "Fabrics": recipe.Fabrics, "Uses": recipe.Uses, "Problems": problems})
}

func save(c fiber.Ctx, d projects.UseCases, id int64) error {
	in := projects.ProjectInput{ID: id}
	if err := ui.Bind(c, &in); err != nil {
		return err
	}
	saved, err := d.SaveProject(in)
	if err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error { return showForm(c, in, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/projects/%d", saved))
}

// saveMinutes keeps the minutes a person set for the steps.
func saveMinutes(c fiber.Ctx, d projects.UseCases, id int64) error {
	typed := map[pace.StepKey]string{}
	if c.FormValue("defaults") == "" {
		for name, value := range c.RequestCtx().PostArgs().All() {
			if key, ok := strings.CutPrefix(string(name), "minutes-"); ok && strings.TrimSpace(string(value)) != "" {
				typed[pace.StepKey(key)] = string(value)
			}
		}
	}
	if err := d.SaveMinutes(id, ui.Small(c.FormValue("version")), typed); err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error {
			return render(c, d, id, func(parts *projects.ProjectParts) {
				for key, minutes := range typed {
					parts.Minutes[string(key)] = minutes
				}
			}, p)
		})
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/projects/%d", id))
}

// useWords say how a finished thing will live.
var useWords = map[recipe.Use]string{
	recipe.Worn: "worn", recipe.NextToSkin: "next to the skin", recipe.Child: "for a child", recipe.Washed: "washed",
	recipe.BothSides: "both sides are seen", recipe.Heat: "meets heat", recipe.FilmOverlay: "film under open fill",
}

// Funcs are the words only this area's templates need.
var Funcs = map[string]any{
	"fabricWords":  func(f any) string { return strings.ReplaceAll(fmt.Sprint(f), "-", " ") },
	"useWords":     func(u recipe.Use) string { return useWords[u] },
	"chosenWays":   chosenWays,
	"capital":      func(text string) string { return strings.TrimSuffix(say.Sentence(text), ".") },
	"stepWords":    func() any { return stepWords },
	"underOf":      underOf,
	"proposedWays": proposedWays,
	"joined":       joined,
	"fitting":      fitting,
	"unfitting":    unfitting,
	"levels":       func() []string { return []string{"0", "1", "2", "3", "4", "5"} },
}
