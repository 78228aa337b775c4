package app_test

import (
	"archive/zip"
	"bytes"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"

	"chalkstep/core/crew"
	"chalkstep/core/roster"
)

// workbook is a spreadsheet in .xlsx with some rows.
func workbook(t *testing.T, rows [][]any) []byte {
	t.Helper()
	f := excelize.NewFile()
	for i, row := range rows {
		require.NoError(t, f.SetSheetRow("Sheet1", fmt.Sprintf("A%d", i+1), &row))
	}
	data, err := f.WriteToBuffer()
	require.NoError(t, err)
	return data.Bytes()
}

// A roster is shown before any of it is kept, those who are students already are left as
// they are, and what is wrong in one line keeps all of them out.
func TestARosterIsAddedWholeOrNotAtAll(t *testing.T) {
	d := desks(t)[crew.Instructor]
	count := func() int {
		page, err := d.Students("", 1)
		require.NoError(t, err)
		return page.Pages.Total
	}
	before := count()
	page, err := d.ReadRoster("", workbook(t, [][]any{{"Student", "Size", "First-timer", "Units"}, {"Nils Ahlgren", "M", true, "in"}, {}, {"ana thorne", "", "", ""}, {"Rosa Iglesias", 42, "no", "cubits"}}))
	require.NoError(t, err)
	require.Len(t, page.Problems, 1)
	assert.Equal(t, `Line 5, units: write mm or in, not "cubits"`, page.Problems[0].String())
	assert.Empty(t, page.Rows)

	page, err = d.ReadRoster("", workbook(t, [][]any{{"Student", "Size", "First-timer", "Units"}, {"Nils Ahlgren", "M", true, "in"}, {}, {"ana thorne", "", "", ""}, {"Rosa Iglesias", 42, "no", ""}}))
	require.NoError(t, err)
	assert.Equal(t, []roster.Row{{Line: 2, Name: "Nils Ahlgren", Size: "M", FirstTimer: true, Units: "in"}, {Line: 5, Name: "Rosa Iglesias", Size: "42"}}, page.Rows)
	assert.Equal(t, []string{"ana thorne"}, page.There)
	assert.Equal(t, before, count(), "nothing was kept yet")

	added, err := d.AddRoster(page.Text)
	require.NoError(t, err)
	assert.Equal(t, 2, added)
	assert.Equal(t, before+2, count())
	nils, err := d.Shop.StudentNamed("Nils Ahlgren")
	require.NoError(t, err)
	assert.Equal(t, "in", nils.Units)
	assert.True(t, nils.FirstTimer)
	assert.Equal(t, "M", nils.Size)

	_, err = d.AddRoster("name,units\nWill Stay Out,mm\nSo Will She,cubits\n")
	assert.Contains(t, problem(t, err, "text"), "Line 3, units")
	again, err := d.AddRoster(page.Text)
	require.NoError(t, err)
	assert.Zero(t, again, "all are there")
	assert.Equal(t, before+2, count())
}

// Files that nobody means well with are refused, and say what to do.
func TestRostersThatCannotBeRead(t *testing.T) {
	d := desks(t)[crew.Instructor]
	var bomb bytes.Buffer
	z := zip.NewWriter(&bomb)
	for _, name := range []string{"[Content_Types].xml", "xl/workbook.xml", "xl/worksheets/sheet1.xml"} {
		w, err := z.Create(name)
		require.NoError(t, err)
		_, err = w.Write(bytes.Repeat([]byte("<a>"), 12<<20))
		require.NoError(t, err)
	}
	require.NoError(t, z.Close())
	whole := workbook(t, [][]any{{"name"}, {"Nils"}})
	for name, file := range map[string][]byte{
		"a bomb": bomb.Bytes(), "half a spreadsheet": whole[:len(whole)/2], "a zip of something else": []byte("PK\x03\x04 and nothing"),
	} {
		t.Run(name, func(t *testing.T) {
			_, err := d.ReadRoster("", file)
			assert.Contains(t, problem(t, err, "file"), "cannot be read")
		})
	}
	_, err := d.ReadRoster("", []byte(strings.Repeat("a", 2<<20)))
	assert.Contains(t, problem(t, err, "file"), "at most 1 MB")
	many := [][]any{{"name"}}
	for i := range 700 {
		many = append(many, []any{fmt.Sprint("Student ", i)})
	}
	_, err = d.ReadRoster("", workbook(t, many))
	assert.Contains(t, problem(t, err, "file"), "At most 500")
	page, err := d.ReadRoster("Ana\u202e Evil", nil)
	require.NoError(t, err)
	require.NotEmpty(t, page.Problems)
	assert.Contains(t, page.Problems[0].String(), "type it anew")
}
