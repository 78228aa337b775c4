package projects

import (
	"math"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/projects"
	"chalkstep/core/pace"
	"chalkstep/core/project"
	"chalkstep/core/say"
	"chalkstep/core/technique"
	"chalkstep/web/ui"
)

// A waysView is the techniques of one purpose as the form offers them.
type waysView struct {
	projects.Ways
	// Field is what the form calls a choice of them; None offers none of them.
	Field  string
	None   bool
	Chosen []string
	// Proposed are those that the house would take and the project has not.
	Proposed []string
	// Fits tells that some of them can be taken here.
	Fits  bool
	Views []wayView
}

// A wayView is a technique with its picture.
type wayView struct {
	projects.Way
	Picture ui.Drawn
	// Window asks how many blocks a sheet serves.
	Window bool
}

func waysOf(p ui.P, page projects.ProjectPage) []waysView {
	var all []waysView
	for _, ways := range page.Ways {
		v := waysView{Ways: ways, Field: "technique"}
		if ways.One {
			v.Field, v.None = "technique-"+string(ways.Key),
				!slices.ContainsFunc(ways.Options, func(w projects.Way) bool { return w.Chosen })
		}
		for _, way := range ways.Options {
			if way.Chosen {
				v.Chosen = append(v.Chosen, p.Say(way.Name))
			}
			if !way.Chosen && !way.Proposed.Silent() {
				v.Proposed = append(v.Proposed, p.Say(way.Name))
			}
			v.Fits = v.Fits || way.Unfit.Silent() || way.Chosen
			v.Views = append(v.Views,
				wayView{Way: way, Picture: ui.NewDrawn(p, p.Say(way.Name), way.Picture), Window: way.Technique.Window})
		}
		all = append(all, v)
	}
	return all
}

// chooseIn marks those that are typed as chosen.
func chooseIn(ways []projects.Ways, keys []string) {
	for g := range ways {
		for i := range ways[g].Options {
			way := &ways[g].Options[i]
			way.Chosen = slices.Contains(keys, string(way.Technique.Key))
		}
	}
}

// A techniquesAnswer is what a choice of techniques comes to, before it is kept.
type techniquesAnswer struct {
	Minutes, Change string
	Steps           []string
	Gone            []string
	Saving          string
	Same            bool
}

// previewTechniques answers with what a choice comes to, and keeps nothing.
func previewTechniques(c fiber.Ctx, d projects.UseCases, id int64) error {
	var typed projects.ProjectParts
	readTechniques(c, &typed)
	made, problems, err := d.Techniques(id, typed)
	if err != nil {
		return err
	}
	c.Set(fiber.HeaderCacheControl, "no-store")
	p := ui.P{Printer: d.Printer()}
	return c.Render("projects/ways-answer",
		fiber.Map{"Answer": answerOf(p, made), "Problems": ui.RefusedFor(problems), "P": p})
}

// answerOf is what a project comes to otherwise than now.
func answerOf(p ui.P, made projects.Comparison) techniquesAnswer {
	now, then := made.Now, made.Then
	a := techniquesAnswer{Minutes: p.Minutes(then.Minutes()), Saving: savingOf(p, then.Project, made.Saving)}
	a.Steps, a.Gone = titlesBeyond(p, then.Steps, now.Steps), titlesBeyond(p, now.Steps, then.Steps)
	a.Same = len(a.Steps) == 0 && len(a.Gone) == 0
	if change := math.Round(then.Minutes() - now.Minutes()); change > 0 {
		a.Change = p.Say(say.T("%s longer", say.Minutes(change)))
	} else if change < 0 {
		a.Change = p.Say(say.T("%s shorter", say.Minutes(-change)))
	}
	return a
}

// how shows the techniques to choose from for a project; typed is what a form
// held that could not be kept.
func how(c fiber.Ctx, d projects.UseCases, id int64, typed *projects.ProjectParts, problems *ui.Refused) error {
	page, err := d.Project(id)
	if err != nil {
		return err
	}
	p := ui.P{Printer: d.Printer()}
	if typed != nil {
		page.Typed.Techniques, page.Typed.Blocks = typed.Techniques, typed.Blocks
		chooseIn(page.Ways, typed.Techniques)
	}
	ways := waysOf(p, page)
	var chosen []string
	for _, w := range chosenWays(ways) {
		chosen = append(chosen, p.Say(w.Name))
	}
	return ui.Render(c, "projects/how", area, page.Name,
		fiber.Map{"Page": page, "Ways": ways, "Chosen": chosen, "Typed": page.Typed,
			"Answer":   answerOf(p, projects.Comparison{Now: page.Together, Then: page.Together, Saving: page.Saving}),
			"Problems": problems})
}

// savingOf says what a window saves, empty where there is none.
func savingOf(p ui.P, of project.Project, s technique.Saving) string {
	if of.Gone() || !of.Effects().Window {
		return ""
	}
	return p.Say(say.T("One sheet serves %s: %s for %s instead of %s, and about %s less for each.",
		say.N{N: s.Blocks, Noun: "block"},
		say.N{N: s.Sheets, Noun: "sheet"}, say.N{N: s.SheetsEach, Noun: "block"}, say.Count(s.SheetsEach),
		say.Minutes(max(1, s.MinutesEach))))
}

// titlesBeyond are the titles of steps that others have not, by their keys.
func titlesBeyond(p ui.P, steps, others []pace.Step) []string {
	var titles []string
	for _, s := range steps {
		if !slices.ContainsFunc(others, func(o pace.Step) bool {
			return o.Key == s.Key && o.Title.String() == s.Title.String()
		}) {
			titles = append(titles, p.Say(s.Title))
		}
	}
	return titles
}

// chosenWays are those a project is made by, drawn.
func chosenWays(ways []waysView) []wayView {
	var chosen []wayView
	for _, v := range ways {
		for _, way := range v.Views {
			if way.Way.Chosen {
				chosen = append(chosen, way)
			}
		}
	}
	return chosen
}

// proposedWays are the names of those that the house would take besides.
func proposedWays(ways []waysView) []string {
	var names []string
	for _, v := range ways {
		names = append(names, v.Proposed...)
	}
	return names
}

// fitting are the purposes of which something can be taken here; unfitting are
// the others.
func fitting(ways []waysView) []waysView {
	return slices.DeleteFunc(slices.Clone(ways), func(v waysView) bool { return !v.Fits })
}

func unfitting(ways []waysView) []waysView {
	return slices.DeleteFunc(slices.Clone(ways), func(v waysView) bool { return v.Fits })
}

// joined puts names in a row.
func joined(names []string) string { return strings.Join(names, ", ") }
