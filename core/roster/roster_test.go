package roster_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"chalkstep/core/roster"
)

func TestRostersAsPeopleHaveThem(t *testing.T) {
	for name, c := range map[string]struct {
		text string
		want []roster.Row
	}{
		"names one a line": {"Ana Thorne\n\n  Bo   Lindqvist \r\nŽofie Čapková\n",
			[]roster.Row{{Line: 1, Name: "Ana Thorne", FirstTimer: true}, {Line: 3, Name: "Bo Lindqvist", FirstTimer: true},
				{Line: 4, Name: "Žofie Čapková", FirstTimer: true}}},
		"a name with a comma": {"Thorne, Ana\nLindqvist, Bo",
			[]roster.Row{{Line: 1, Name: "Thorne, Ana", FirstTimer: true},
				{Line: 2, Name: "Lindqvist, Bo", FirstTimer: true}}},
		"a table with commas": {"Name,First-timer,Units\nAna,yes,inches\nBo,,mm\n",
			[]roster.Row{{Line: 2, Name: "Ana", FirstTimer: true, Units: "in"}, {Line: 3, Name: "Bo", Units: "mm"}}},
		"semicolons, other order": {"\ufeffsize;Student;photo consent\nM;Ana;x\n;Bo;no",
			[]roster.Row{{Line: 2, Name: "Ana", FirstTimer: true, Size: "M", Photos: true},
				{Line: 3, Name: "Bo", FirstTimer: true}}},
		"tabs, quoted, over lines": {"name\tnotes\nAna\t\"needs a high table\nand light\"\nBo\t",
			[]roster.Row{{Line: 2, Name: "Ana", FirstTimer: true, Notes: "needs a high table\nand light"},
				{Line: 4, Name: "Bo", FirstTimer: true}}},
		"columns without heading": {"name,,\nAna,,\n", []roster.Row{{Line: 2, Name: "Ana", FirstTimer: true}}},
		"who has sewn before": {"name;sewn before\nAna;yes\nBo;\nCy;no\n", []roster.Row{{Line: 2, Name: "Ana"},
			{Line: 3, Name: "Bo", FirstTimer: true}, {Line: 4, Name: "Cy", FirstTimer: true}}},
	} {
		t.Run(name, func(t *testing.T) {
			rows, problems := roster.Text(c.text)
			assert.Empty(t, problems)
			assert.Equal(t, c.want, rows)
		})
	}
}

// Every mistake is said where it is, and no row is used then.
func TestEveryMistakeOneCanMake(t *testing.T) {
	for name, c := range map[string]struct{ text, says string }{
		"nothing":                 {"", "there are no names in it"},
		"only headings":           {"name,units\n", "there are no names in it"},
		"somebody twice":          {"Ana\nBo\nana", "Line 3, name: ana stands on line 1 already"},
		"no name in a row":        {"name,units\n,mm\n", "Line 2, name: there is no name"},
		"other units":             {"name,units\nAna,cubits\n", `Line 2, units: write mm or in, not "cubits"`},
		"neither yes nor no":      {"name,first-timer\nAna,maybe\n", `Line 2, first-timer: write yes or no, not "maybe"`},
		"a column nobody knows":   {"name,star sign\nAna,Leo\n", "Line 1, star sign: no such column"},
		"a column twice":          {"name,student\nAna,Bo\n", "Line 1, name: this column is there twice"},
		"a cell under no heading": {"name\tunits\nAna\tmm\tM\n", `Line 2: "M" stands under no heading`},
		"a name without end":      {strings.Repeat("a", 121), "Line 1, name: a name has at most 120 letters"},
		"notes without end": {"name,notes\nAna," + strings.Repeat("x", 501),
			"Line 2, notes: notes have at most 500 letters"},
		"a quotation mark":        {"name,units\n\"Ana,mm\nBo,in\n", "quotation mark"},
		"another alphabet's file": {"name\nJos\xe9", "no text in UTF-8"},
		"too many":                {strings.Repeat("Ana\n", 600), "at most 500"},
		"a table too long":        {"name,units\n" + strings.Repeat("Ana,mm\n", 600), "at most 500"},
	} {
		t.Run(name, func(t *testing.T) {
			rows, problems := roster.Text(c.text)
			assert.Nil(t, rows)
			if assert.NotEmpty(t, problems) {
				assert.Contains(t, problems[0].String(), c.says)
				assert.LessOrEqual(t, len(problems), roster.MostProblems)
			}
		})
	}
}

func FuzzText(f *testing.F) {
	for _, seed := range []string{"Ana\nBo", "name,units\nAna,mm", "name;\"a\n;", "\ufeffname\t\t\n\t", "name\n\"\""} {
		f.Add(seed)
	}
	f.Fuzz(func(t *testing.T, text string) {
		rows, problems := roster.Text(text)
		if len(rows) > 0 == (len(problems) > 0) {
			t.Fatalf("%d rows and %d problems of %q", len(rows), len(problems), text)
		}
		names := map[string]bool{}
		for _, r := range rows {
			if r.Name == "" || names[strings.ToLower(r.Name)] || r.Line < 1 {
				t.Fatalf("%+v of %q", r, text)
			}
			names[strings.ToLower(r.Name)] = true
		}
	})
}
