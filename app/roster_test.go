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

	"chalkstep/core/roster"
	"chalkstep/store"
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
	d := desks(t)[store.Instructor]
	count := func() int {
		page, err := d.Students("", 1)
		require.NoError(t, err)
		return page.Pages.Total
	}
	before := count()
	page, err := d.ReadRoster("",
		workbook(t, [][]any{{"Student", "Size", "First-timer", "Units"}, {"Nils Ahlgren", "M", true, "in"}, {},
			{"ana thorne", "", "", ""}, {"Rosa Iglesias", 42, "no", "cubits"}}))
	require.NoError(t, err)
	require.Len(t, page.Problems, 1)
	assert.Equal(t, `Line 5, units: write mm or in, not "cubits"`, page.Problems[0].String())
	assert.Empty(t, page.Rows)

	page, err = d.ReadRoster("",
		workbook(t, [][]any{{"Student", "Size", "First-timer", "Units"}, {"Nils Ahlgren", "M", true, "in"}, {},
			{"ana thorne", "", "", ""}, {"Rosa Iglesias", 42, "no", ""}}))
	require.NoError(t, err)
	assert.Equal(t, []roster.Row{{Line: 2, Name: "Nils Ahlgren", Size: "M", FirstTimer: true, Units: "in"},
		{Line: 5, Name: "Rosa Iglesias", Size: "42"}}, page.Rows)
	assert.Equal(t, []string{"ana thorne"}, page.There)
	assert.Equal(t, before, count(), "nothing was kept yet")

	added, err := d.AddRoster(page.Text, []string{"Rosa Iglesias"})
	require.NoError(t, err)
	assert.Equal(t, 2, added)
	assert.Equal(t, before+2, count())
	nils, err := d.Workshop.StudentNamed("Nils Ahlgren")
	require.NoError(t, err)
	assert.Equal(t, "in", nils.Units)
	assert.True(t, nils.FirstTimer)
	assert.Equal(t, "M", nils.Size)
	rosa, err := d.Workshop.StudentNamed("Rosa Iglesias")
	require.NoError(t, err)
	assert.False(t, rosa.FirstTimer, "she was ticked: she has sewn before")

	_, err = d.AddRoster("name,units\nWill Stay Out,mm\nSo Will She,cubits\n", nil)
	assert.Contains(t, problem(t, err, "text"), "Line 3, units")
	again, err := d.AddRoster(page.Text, []string{"Rosa Iglesias"})
	require.NoError(t, err)
	assert.Zero(t, again, "all are there")
	assert.Equal(t, before+2, count())
}

// Files that nobody means well with are refused, and say what to do.
func TestRostersThatCannotBeRead(t *testing.T) {
	d := desks(t)[store.Instructor]
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
		"a bomb": bomb.Bytes(), "half a spreadsheet": whole[:len(whole)/2],
		"a zip of something else": []byte("PK\x03\x04 and nothing"),
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

// A sheet of more columns than a roster has is refused before it is read: a row of 700,000
// cells, one cell far out, and the same wherever in the file the sheet lies.
func TestWideRostersAreRefused(t *testing.T) {
	d := desks(t)[store.Instructor]
	sheet := func(name, rows string) []byte {
		var out bytes.Buffer
		z := zip.NewWriter(&out)
		for file, text := range map[string]string{
			"[Content_Types].xml": `<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types">
				<Override PartName="/xl/workbook.xml"
					ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml"/></Types>`,
			"_rels/.rels": `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">
				<Relationship Id="rId1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/officeDocument"
				Target="xl/workbook.xml"/></Relationships>`,
			"xl/workbook.xml": `<workbook xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"
				xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships"><sheets><sheet name="S" sheetId="1"
				r:id="rId1"/></sheets></workbook>`,
			"xl/_rels/workbook.xml.rels": `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">
				<Relationship Id="rId1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/worksheet"
				Target="` + strings.TrimPrefix(name, "xl/") + `"/></Relationships>`,
			name: `<worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main">
				<sheetData>` + rows + `</sheetData></worksheet>`,
		} {
			w, err := z.Create(file)
			require.NoError(t, err)
			_, err = w.Write([]byte(text))
			require.NoError(t, err)
		}
		require.NoError(t, z.Close())
		return out.Bytes()
	}
	cell := func(at, text string) string {
		return `<c r="` + at + `" t="inlineStr"><is><t>` + text + `</t></is></c>`
	}
	page, err := d.ReadRoster("",
		sheet("xl/worksheets/sheet1.xml", "<row>"+cell("A1", "name")+"</row><row>"+cell("A2", "Nils Ahlgren")+"</row>"))
	require.NoError(t, err)
	require.Len(t, page.Rows, 1, "a small one of the same make is read: %v", page.Problems)
	for what, file := range map[string][]byte{
		"700,000 cells": sheet("xl/worksheets/sheet1.xml", "<row>"+strings.Repeat("<c/>", 700_000)+"</row>"),
		"one far out":   sheet("xl/worksheets/sheet1.xml", strings.Repeat("<row>"+cell("XFD1", "name")+"</row>", 400)),
		"elsewhere":     sheet("xl/hidden.xml", "<row>"+strings.Repeat("<c/>", 700_000)+"</row>"),
	} {
		_, err = d.ReadRoster("", file)
		assert.Contains(t, problem(t, err, "file"), "more than 40 columns", what)
	}
	for what, text := range map[string]string{
		"a heading of 300,000 cells": "name" + strings.Repeat(",", 300_000),
		"a row of them":              "name,size\nNils" + strings.Repeat(",", 300_000),
		"tabs":                       strings.Repeat("name\t", 100_000),
	} {
		page, err := d.ReadRoster(text, nil)
		require.NoError(t, err)
		require.Len(t, page.Problems, 1, what)
		assert.Contains(t, page.Problems[0].Text, "at most 40 columns", what)
	}
}
