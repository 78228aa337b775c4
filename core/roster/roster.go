// Package roster reads the students of a workshop from what people have of them: names, one
// a line, or a table with headings. What is wrong is said by line and column, and nothing is
// read by halves.
package roster

import (
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"
	"unicode/utf8"
)

// A Row is a student as a roster says them. Line counts from 1.
type Row struct {
	Line int
	Name string
	// FirstTimer is everybody of whom nobody says that they have sewn before.
	FirstTimer bool
	Units      string
	Size       string
	Notes      string
	Photos     bool
}

// A Problem is what is wrong where. Column is the heading it stands under, empty for the
// line as a whole.
type Problem struct {
	Line   int
	Column string
	Text   string
}

func (p Problem) String() string {
	if p.Column == "" {
		return fmt.Sprintf("Line %d: %s", p.Line, p.Text)
	}
	return fmt.Sprintf("Line %d, %s: %s", p.Line, p.Column, p.Text)
}

// Limits of a roster.
const (
	MostRows     = 500
	MostColumns  = 40
	MostProblems = 30
	longestName  = 120
	longestSize  = 20
	longestNotes = 500
)

// A column that a roster may have, by its headings.
type column struct {
	heading string
	others  []string
	read    func(r *Row, cell string) string
}

// columns are told by their headings, in whatever order; the name has to be there.
var columns = []column{
	{"name", []string{"student", "full name", "who"}, func(r *Row, cell string) string {
		r.Name = strings.Join(strings.Fields(cell), " ")
		switch {
		case r.Name == "":
			return "there is no name"
		case utf8.RuneCountInString(r.Name) > longestName:
			return "a name has at most 120 letters"
		}
		return ""
	}},
	{"sewn before", []string{"has sewn", "has sewn before", "practised", "experienced"}, func(r *Row, cell string) string {
		is, ok := truth(cell)
		r.FirstTimer = !is
		return yesOrNo(cell, ok)
	}},
	{"units", []string{"measures in"}, func(r *Row, cell string) string {
		switch strings.ToLower(cell) {
		case "":
		case "mm", "millimetres", "millimeters", "metric":
			r.Units = "mm"
		case "in", "inch", "inches":
			r.Units = "in"
		default:
			return fmt.Sprintf("write mm or in, not %q", short(cell))
		}
		return ""
	}},
	{"size", []string{"shirt size"}, func(r *Row, cell string) string {
		if r.Size = cell; utf8.RuneCountInString(cell) > longestSize {
			return "a size has at most 20 letters"
		}
		return ""
	}},
	{"notes", []string{"needs", "access needs", "note"}, func(r *Row, cell string) string {
		if r.Notes = cell; utf8.RuneCountInString(cell) > longestNotes {
			return "notes have at most 500 letters"
		}
		return ""
	}},
	{"photos", []string{"photo consent", "consent", "may be photographed"}, func(r *Row, cell string) string {
		is, ok := truth(cell)
		r.Photos = is
		return yesOrNo(cell, ok)
	}},
}

// firstTimers is the column of "sewn before" the other way round, which some rosters have.
var firstTimers = column{"first-timer", []string{"first timer", "firsttimer", "beginner", "new"},
	func(r *Row, cell string) string {
		is, ok := truth(cell)
		r.FirstTimer = is
		return yesOrNo(cell, ok)
	}}

func yesOrNo(cell string, ok bool) string {
	if !ok {
		return fmt.Sprintf("write yes or no, not %q", short(cell))
	}
	return ""
}

// Headings are those of a whole table.
func Headings() []string {
	var all []string
	for _, c := range columns {
		all = append(all, c.heading)
	}
	return all
}

// truth reads yes or no; nothing is no.
func truth(cell string) (is, ok bool) {
	switch strings.ToLower(cell) {
	case "", "no", "n", "false", "0", "-":
		return false, true
	case "yes", "y", "true", "1", "x":
		return true, true
	}
	return false, false
}

func short(text string) string {
	const most = 24
	if runes := []rune(text); len(runes) > most {
		return string(runes[:most]) + "…"
	}
	return text
}

// Text reads names, one a line, or a table whose first line has headings, with commas,
// semicolons or tabs between the cells.
func Text(text string) ([]Row, []Problem) {
	text = strings.TrimPrefix(strings.ReplaceAll(text, "\r\n", "\n"), "\ufeff")
	if !utf8.ValidString(text) {
		return nil, []Problem{{1, "", "this is no text in UTF-8: save it as that, or as a spreadsheet"}}
	}
	first, _, _ := strings.Cut(strings.TrimLeft(text, "\n"), "\n")
	comma := ','
	for _, c := range []rune{';', '\t'} {
		if strings.Count(first, string(c)) > strings.Count(first, string(comma)) {
			comma = c
		}
	}
	if strings.Count(first, string(comma)) >= MostColumns {
		return nil, []Problem{{1, "", tooWide}}
	}
	if !isHeading(strings.Split(first, string(comma))) {
		return names(text)
	}
	reader := csv.NewReader(strings.NewReader(text))
	reader.Comma, reader.FieldsPerRecord, reader.TrimLeadingSpace = comma, -1, true
	var table [][]string
	var lines []int
	for {
		record, err := reader.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		var parse *csv.ParseError
		if errors.As(err, &parse) {
			return nil, []Problem{{parse.Line, "", "a quotation mark stands where none may: " + parse.Err.Error()}}
		}
		if err != nil {
			return nil, []Problem{{1, "", err.Error()}}
		}
		line, _ := reader.FieldPos(0)
		if len(record) > MostColumns {
			return nil, []Problem{{line, "", tooWide}}
		}
		table, lines = append(table, record), append(lines, line)
		if len(table) > MostRows+1 {
			return nil, []Problem{{line, "", "at most 500 students at a time"}}
		}
	}
	return Table(table, lines)
}

const tooWide = "a roster has at most 40 columns"

// names are one a line.
func names(text string) ([]Row, []Problem) {
	table := [][]string{{"name"}}
	lines := []int{0}
	for n, line := range strings.Split(text, "\n") {
		if strings.TrimSpace(line) == "" {
			continue
		}
		table, lines = append(table, []string{line}), append(lines, n+1)
		if len(table) > MostRows+1 {
			return nil, []Problem{{n + 1, "", "at most 500 students at a time"}}
		}
	}
	return Table(table, lines)
}

// isHeading tells that some cells are headings: one says name.
func isHeading(cells []string) bool {
	return slices.ContainsFunc(cells, func(cell string) bool {
		c, known := columnOf(cell)
		return known && c.heading == "name"
	})
}

func columnOf(heading string) (column, bool) {
	text := strings.ToLower(strings.TrimSpace(strings.Trim(strings.TrimSpace(heading), `"`)))
	for _, c := range append(columns[:len(columns):len(columns)], firstTimers) {
		if c.heading == text || slices.Contains(c.others, text) {
			return c, true
		}
	}
	return column{}, false
}

// Table reads a table whose first row has headings; lines are the numbers of its rows as
// people count them. Where there is a problem, no row is to be used.
func Table(table [][]string, lines []int) ([]Row, []Problem) {
	if len(table) == 0 {
		return nil, []Problem{{1, "", "there is nothing in it"}}
	}
	at, problems, named := columnsOf(table[0], lines[0])
	if !named || len(problems) > MostProblems {
		return nil, problems[:min(MostProblems, len(problems))]
	}
	var rows []Row
	names := map[string]int{}
	for n, record := range table[1:] {
		if !slices.ContainsFunc(record, func(cell string) bool { return strings.TrimSpace(cell) != "" }) {
			continue
		}
		row, wrong := rowOf(record, at, lines[n+1])
		problems = append(problems, wrong...)
		key := strings.ToLower(row.Name)
		if before := names[key]; before > 0 && key != "" {
			problems = append(problems,
				Problem{row.Line, "name", fmt.Sprintf("%s stands on line %d already", short(row.Name), before)})
		}
		names[key] = row.Line
		rows = append(rows, row)
		if len(problems) >= MostProblems {
			return nil, problems[:MostProblems]
		}
	}
	if len(rows) == 0 && len(problems) == 0 {
		problems = append(problems, Problem{lines[0], "", "there are no names in it"})
	}
	if len(problems) > 0 {
		return nil, problems
	}
	return rows, nil
}

// columnsOf are the columns of a table by its headings, nothing for one without; named tells that
// there is one of names.
func columnsOf(headings []string, line int) (at []column, problems []Problem, named bool) {
	at = make([]column, len(headings))
	seen := map[string]bool{}
	for i, heading := range headings {
		c, known := columnOf(heading)
		switch {
		case strings.TrimSpace(heading) == "":
			continue
		case !known:
			problems = append(problems,
				Problem{line, short(strings.TrimSpace(heading)), "no such column: there are " + strings.Join(Headings(), ", ")})
			continue
		case seen[c.heading]:
			problems = append(problems, Problem{line, c.heading, "this column is there twice"})
			continue
		}
		at[i], seen[c.heading] = c, true
	}
	if !seen["name"] && len(problems) <= MostProblems {
		problems = append(problems, Problem{line, "", "one column has to be headed name"})
	}
	return at, problems, seen["name"]
}

// rowOf reads a record by its columns.
func rowOf(record []string, at []column, line int) (row Row, problems []Problem) {
	row.Line, row.FirstTimer = line, true
	for i, c := range at {
		if c.read == nil {
			continue
		}
		cell := ""
		if i < len(record) {
			cell = strings.TrimSpace(record[i])
		}
		if wrong := c.read(&row, cell); wrong != "" {
			problems = append(problems, Problem{line, c.heading, wrong})
		}
	}
	for i := len(at); i < len(record); i++ {
		if strings.TrimSpace(record[i]) != "" {
			problems = append(problems, Problem{line, "", fmt.Sprintf("%q stands under no heading", short(record[i]))})
			break
		}
	}
	return row, problems
}

// Write writes rows as the table that [Text] reads.
func Write(rows []Row) string {
	var text strings.Builder
	w := csv.NewWriter(&text)
	_ = w.Write(Headings()) // a builder takes everything
	for _, r := range rows {
		_ = w.Write([]string{r.Name, said(!r.FirstTimer), r.Units, r.Size, r.Notes, said(r.Photos)})
	}
	w.Flush()
	return text.String()
}

func said(is bool) string {
	if is {
		return "yes"
	}
	return "no"
}
