package people

import (
	"errors"
	"fmt"
	"slices"
	"strings"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/roster"
	"chalkstep/core/skill"
	"chalkstep/paper"
)

// A RosterPage is a roster as it was read, before any of it is kept.
type RosterPage struct {
	// Rows will be added; those of There are students already, and are left as they are.
	Rows  []roster.Row
	There []string
	// Problems are what is wrong where: nothing is added then.
	Problems []roster.Problem
	// Text is what was read, as a table.
	Text string
}

// Limits of a roster's file.
const (
	MostRosterBytes   = 1 << 20
	mostRosterUnpacks = 4 << 20
)

// ReadRoster reads a roster, typed or from a file, and says what would come of it.
func (d UseCases) ReadRoster(text string, file []byte) (RosterPage, error) {
	if err := d.Need(actor.ChangeStudents); err != nil {
		return RosterPage{}, err
	}
	page := RosterPage{Text: text}
	switch {
	case len(file) > MostRosterBytes || len(text) > MostRosterBytes:
		return page, form.Problems{"file": "A roster has at most 1 MB."}
	case paper.IsSpreadsheet(file):
		table, err := paper.Spreadsheet(file,
			paper.TableSize{Rows: roster.MostRows + 2, Columns: roster.MostColumns, Bytes: mostRosterUnpacks})
		if errors.Is(err, paper.ErrWide) {
			return page, form.Problems{
				"file": fmt.Sprintf("That spreadsheet has more than %d columns: keep those a roster has, and save it again.",
					roster.MostColumns)}
		}
		if errors.Is(err, paper.ErrSpreadsheet) {
			return page, form.Problems{"file": "That spreadsheet cannot be read: save it again as .xlsx or as .csv."}
		}
		if err != nil {
			return page, err
		}
		if len(table) > roster.MostRows+1 {
			return page, form.Problems{"file": fmt.Sprintf("At most %d students at a time.", roster.MostRows)}
		}
		lines := make([]int, len(table))
		for i := range lines {
			lines[i] = i + 1
		}
		page.Rows, page.Problems = roster.Table(table, lines)
	case len(file) > 0:
		page.Text = string(file)
		page.Rows, page.Problems = roster.Text(page.Text)
	default:
		page.Rows, page.Problems = roster.Text(text)
	}
	if len(page.Problems) > 0 {
		page.Text = form.Cleaned(page.Text)
		return page, nil
	}
	return page, d.newcomers(&page)
}

// newcomers leaves those out who are students already, and looks at what is written.
func (d UseCases) newcomers(page *RosterPage) error {
	names := make([]string, len(page.Rows))
	for i, r := range page.Rows {
		names[i] = r.Name
		for column, cell := range map[string]string{"name": r.Name, "notes": r.Notes, "size": r.Size} {
			if form.Cleaned(cell) != cell {
				page.Problems = append(page.Problems,
					roster.Problem{Line: r.Line, Column: column, Text: "there are signs in it that cannot be written: type it anew"})
			}
		}
	}
	if len(page.Problems) > 0 {
		page.Rows = nil
		return nil
	}
	there, err := d.Workshop.NamesThere(names)
	if err != nil {
		return err
	}
	var rows []roster.Row
	for _, r := range page.Rows {
		if there[strings.ToLower(r.Name)] {
			page.There = append(page.There, r.Name)
		} else {
			rows = append(rows, r)
		}
	}
	page.Rows, page.Text = rows, roster.Write(rows)
	return nil
}

// AddRoster adds those of a roster who are not students yet: all of them, or none. Who has sewn before is named;
// everybody else is a first-timer.
func (d UseCases) AddRoster(text string, sewn []string) (added int, err error) {
	page, err := d.ReadRoster(text, nil)
	if err != nil {
		return 0, err
	}
	if len(page.Problems) > 0 {
		return 0, form.Problems{"text": page.Problems[0].String() + ". Nobody was added."}
	}
	n, err := actor.Once(d, func(d UseCases) (int64, error) {
		for _, r := range page.Rows {
			s := skill.Student{Name: r.Name, FirstTimer: !slices.Contains(sewn, r.Name), Units: r.Units, Size: r.Size,
				Notes: r.Notes, Photos: r.Photos}
			if _, err := d.Workshop.SaveStudent(s); err != nil {
				return 0, form.Saved(err, r.Name)
			}
		}
		return int64(len(page.Rows)), nil
	})
	var problems form.Problems
	if errors.As(err, &problems) {
		return 0, form.Problems{"text": "Somebody added one of them meanwhile. Nobody was added: read it again."}
	}
	return int(n), err
}
