package main

import (
	"bytes"
	"os/exec"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Every module the binary is built of, every font and script, is named with
// its licence.
func TestLicencesNameAllThatShips(t *testing.T) {
	var out bytes.Buffer
	root := newRoot()
	root.SetOut(&out)
	root.SetArgs([]string{"licences"})
	require.NoError(t, root.Execute())
	text := out.String()
	modules, err := exec.Command("go", "list", "-deps", "-f", "{{with .Module}}{{if not .Main}}{{.Path}}{{end}}{{end}}",
		".").Output()
	require.NoError(t, err)
	for module := range strings.FieldsSeq(string(modules)) {
		assert.Contains(t, text, "\n== "+module+" v")
	}
	for _, shipped := range []string{"Chalk Step", "Go", "htmx.org", "tailwindcss", "@fontsource/noto-sans",
		"@fontsource-variable/bricolage-grotesque"} {
		assert.Contains(t, text, "\n== "+shipped)
	}
	assert.NotContains(t, text, "testify", "what only tests use does not ship")
}
