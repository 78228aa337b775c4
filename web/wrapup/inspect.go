package wrapup

import (
	"fmt"
	"slices"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/actor"
	app "chalkstep/app/wrapup"
	"chalkstep/core/recipe"
	"chalkstep/web/classhead"
	"chalkstep/web/ui"
)

// inspectRoutes are what is looked at of what a student made.
func inspectRoutes(f *fiber.App) {
	f.Get("/classes/:id/inspect/:student", ui.WithID(func(c fiber.Ctx, d app.UseCases, id int64) error {
		return showInspect(c, d, id, nil, nil)
	}))
	f.Post("/classes/:id/inspect/:student", ui.WithID(saveInspect))
}

// An inspectView is what is looked at, by sides.
type inspectView struct {
	ID, StudentID  int64
	Class, Student string
	Answer         string
	Sides          []inspectSide
	Bad            []inspectRow
	Note           string
	Version        int
	Last           string
	MaySign        bool
}

type inspectSide struct {
	Title string
	Rows  []inspectRow
}

// An inspectRow is a check; Answer is "good", "bad" or empty.
type inspectRow struct {
	Key, Text, Answer, Caution string
	Try                        []string
}

// sideTitles are where one looks.
var sideTitles = map[recipe.Side]string{recipe.Front: "The front", recipe.Back: "The back", recipe.Finish: "The finish"}

func showInspect(c fiber.Ctx, d app.UseCases, id int64, typed *app.InspectInput, problems *ui.Refused) error {
	student, err := ui.ID(c, "student")
	if err != nil {
		return err
	}
	page, err := d.Inspect(id, student)
	if err != nil {
		return err
	}
	return ui.Render(c, "wrapup/inspect", classhead.Area, page.Student.Name,
		fiber.Map{"View": newInspectView(d, page, typed), "Problems": problems})
}

func newInspectView(d app.UseCases, page app.InspectPage, typed *app.InspectInput) inspectView {
	p := ui.P{Printer: d.Printer()}
	v := inspectView{ID: page.Plan.Class.ID, StudentID: page.Student.ID, Class: page.Plan.Class.Name,
		Student: page.Student.Name, Note: page.Note, Version: page.Version, MaySign: d.Who.May(actor.SignOff)}
	if page.Version > 0 {
		v.Last = fmt.Sprintf("looked at on %s, %s by %s", p.Day(page.At), p.Clock(page.At), page.By)
	}
	for _, side := range recipe.Sides {
		s := inspectSide{Title: sideTitles[side]}
		for _, check := range page.Checks {
			if check.Side != side {
				continue
			}
			row := inspectRow{Key: string(check.Key), Text: p.Sentence(check.Good), Try: p.Lines(check.Try),
				Caution: p.Say(check.Caution)}
			switch {
			case slices.Contains(page.Good, check.Key):
				row.Answer = "good"
			case slices.Contains(page.Bad, check.Key):
				row.Answer = "bad"
				v.Bad = append(v.Bad, row)
			}
			if typed != nil {
				row.Answer = ""
				if good, answered := typed.Good[check.Key]; answered {
					row.Answer = map[bool]string{true: "good", false: "bad"}[good]
				}
			}
			s.Rows = append(s.Rows, row)
		}
		v.Sides = append(v.Sides, s)
	}
	if typed != nil {
		v.Note = typed.Note
	}
	name := classhead.First(page.Student.Name)
	switch {
	case len(v.Bad) > 0:
		v.Answer = fmt.Sprintf("%s to put right on %s, by %s.", p.N(len(v.Bad), "thing"), page.Project, name)
	case page.Passed(page.Checks):
		v.Answer = fmt.Sprintf("%s, by %s, is good all over.", page.Project, name)
	case page.Version > 0:
		v.Answer = fmt.Sprintf("What was looked at of %s, by %s, is good.", page.Project, name)
	default:
		v.Answer = fmt.Sprintf("Is %s, by %s, good?", page.Project, name)
	}
	return v
}

func saveInspect(c fiber.Ctx, d app.UseCases, id int64) error {
	student, err := ui.ID(c, "student")
	if err != nil {
		return err
	}
	in := app.InspectInput{Version: ui.Small(c.FormValue("version")), Note: c.FormValue("note"),
		Good: map[recipe.CheckKey]bool{}}
	for _, key := range recipe.CheckKeys {
		switch c.FormValue("check-" + string(key)) {
		case "good":
			in.Good[key] = true
		case "bad":
			in.Good[key] = false
		}
	}
	if err := d.SaveInspection(id, student, in); err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error { return showInspect(c, d, id, &in, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/classes/%d/inspect/%d", id, student))
}
