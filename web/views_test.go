package web

import (
	"bytes"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// An area's templates see their own words and the shared ones, and no other
// area's.
func TestEachFolderHasItsOwnWords(t *testing.T) {
	file := func(text string) *fstest.MapFile { return &fstest.MapFile{Data: []byte(text)} }
	v, err := newViews(fstest.MapFS{"ui/mark.html": file("<i>{{.}}</i>"),
		"settings/own.html": file(`{{template "ui/mark" browserWords .}}`)})
	require.NoError(t, err)
	var out bytes.Buffer
	require.NoError(t, v.Render(&out, "settings/own", "Mobile"))
	assert.Equal(t, "<i>a phone</i>", out.String())
	assert.Error(t, v.Render(&out, "nowhere/own", nil))

	_, err = newViews(fstest.MapFS{"students/list.html": file("{{browserWords .}}")})
	assert.ErrorContains(t, err, `"browserWords" not defined`)
	v, err = newViews(fstest.MapFS{"students/list.html": file(`{{template "settings/own" .}}`),
		"settings/own.html": file("")})
	require.NoError(t, err)
	assert.Error(t, v.Render(&out, "students/list", nil))
}

func TestEveryTemplateIsRead(t *testing.T) {
	v, err := newViews(templates)
	require.NoError(t, err)
	assert.Greater(t, len(v), 8)
}
