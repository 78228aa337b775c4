package settings

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/people"
	"chalkstep/web/ui"
)

// changeRoutes are what was changed by whom.
func changeRoutes(f *fiber.App) {
	f.Get("/settings/changes", ui.With(func(c fiber.Ctx, d people.UseCases) error {
		page, err := d.Changes(ui.Page(c))
		if err != nil {
			return err
		}
		p := ui.P{Printer: d.Printer()}
		lines := make([]changeLine, len(page.Changes))
		for i, change := range page.Changes {
			lines[i] = newChangeLine(p, change)
		}
		answer := "Nothing was changed yet."
		if len(lines) > 0 {
			answer = fmt.Sprintf("%s, the last by %s.", p.N(page.Pages.Total, "change"), lines[0].By)
		}
		return ui.Render(c, "settings/changes", area, "What was changed",
			fiber.Map{"Lines": lines, "Pages": page.Pages, "Answer": answer, "Part": "changes"})
	}))
}

// A changeLine is a change as the page says it.
type changeLine struct {
	At, By, What string
	// Changed says by column what it was and is, of what was changed.
	Changed []string
}

// things are what is changed, in words.
var things = map[people.ChangedThing]string{
	"accounts": "person", "students": "student", "marks": "mark", "machines": "machine", "hoops": "hoop",
	"machine_outages": "outage", "machine_cares": "care", "waits": "wait", "inspections": "inspection", "classes": "class",
	"workshops": "the workshop", "student_access": "own page", "feeds": "calendar", "stock_items": "thing on the shelf",
	"bookings": "booking",
}

// untold columns say nothing to a person.
var untold = []string{"id", "student_id", "machine_id", "class_id", "account_id", "assessor_id", "booked_by", "said_by",
	"taken_back_by", "inspected_by", "done_by", "asked_by"}

func newChangeLine(p ui.P, c people.Change) changeLine {
	line := changeLine{At: p.Day(c.At) + ", " + p.Clock(c.At), By: c.By}
	if c.ByStudent != "" {
		line.By = c.ByStudent + ", at their own page"
	}
	if line.By == "" {
		line.By = "the program"
	}
	thing, known := things[c.What]
	if !known {
		thing = strings.ReplaceAll(string(c.What), "_", " ")
	}
	of := []string{thing}
	if c.Name != "" {
		of = append(of, c.Name)
	}
	for _, part := range [][2]string{{"of", c.Student}, {"at", c.Machine}, {"in", c.Class}} {
		if part[1] != "" {
			of = append(of, part[0]+" "+part[1])
		}
	}
	line.What = fmt.Sprintf("%s %s", c.Kind, strings.Join(of, " "))
	for _, column := range slices.Sorted(maps.Keys(c.Columns)) {
		was, is := c.Columns[column][0], c.Columns[column][1]
		if slices.Contains(untold, column) || c.Kind == people.ThingAdded &&
			(column == "name" || is == nil || *is == "" || *is == "false" || *is == "0") {
			continue
		}
		said := strings.ReplaceAll(column, "_", " ")
		switch {
		case was == nil && is == nil:
		case c.Kind == people.ThingAdded || was == nil:
			line.Changed = append(line.Changed, fmt.Sprintf("%s: %s", said, orNone(is)))
		case c.Kind == people.ThingChanged:
			line.Changed = append(line.Changed, fmt.Sprintf("%s: %s → %s", said, orNone(was), orNone(is)))
		}
	}
	return line
}

func orNone(text *string) string {
	if text == nil || *text == "" {
		return "nothing"
	}
	return *text
}
