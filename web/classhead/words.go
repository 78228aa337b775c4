package classhead

import (
	"cmp"
	"fmt"
	"strings"

	"github.com/gofiber/fiber/v3"

	"chalkstep/core/classday"
	"chalkstep/core/live"
	"chalkstep/web/ui"
)

// NoteLines are what was written down for staff.
func NoteLines(p ui.P, notes []live.Note) []string {
	lines := make([]string, len(notes))
	for i, n := range notes {
		lines[i] = fmt.Sprintf("%s %s %s: %s", p.Clock(n.At), n.By, cmp.Or(n.Name, "on the class"), n.Text)
	}
	return lines
}

// StepTitle is what a student's step is called.
func StepTitle(p ui.P, plan classday.Plan, studentID int64, step string) string {
	w, _, ok := plan.Maker(classday.PersonID(studentID))
	if !ok {
		return step
	}
	s, _ := w.Step(step)
	return p.Say(s.Title)
}

// A Choice is one of a list.
type Choice struct {
	Value, Text string
	Chosen      bool
}

// First is a person's first name.
func First(name string) string {
	for i, r := range name {
		if r == ' ' {
			return name[:i]
		}
	}
	return name
}

// Back goes to a part of a class, or shows it again with problems.
func Back[D any](c fiber.Ctx, d D, id int64, part string, err error,
	show func(fiber.Ctx, D, int64, *ui.Refused) error) error {
	if err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error { return show(c, d, id, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(strings.TrimSuffix(fmt.Sprintf("/classes/%d/%s", id, part), "/"))
}
