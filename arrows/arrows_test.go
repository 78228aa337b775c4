// Package arrows holds the house to its layout: imports run one way, from
// cmd to web to app to core, store and the rest, and never back.
package arrows

import (
	"io/fs"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// may lists, for each room, the rooms its code may use.
var may = map[string][]string{
	"core":   {"core"},
	"store":  {"core", "store"},
	"paper":  {"core", "paper"},
	"device": {"core", "device"},
	"app":    {"core", "store", "paper", "device", "app"},
	"web":    {"core", "store", "app", "web"},
	"demo":   {"core", "store", "app", "demo"},
	"cmd":    {"core", "store", "app", "web", "demo", "cmd"},
}

// forbidden is what the core never touches: it has no database, no HTTP, no
// templates and no files. Of net only the escaping of addresses.
var forbidden = []string{"database/", "net", "html/", "os", "gorm.io/", "github.com/gofiber/"}

func TestArrowsRunOneWay(t *testing.T) {
	out, err := exec.Command("go", "list", "-f", `{{.ImportPath}} {{join .Imports " "}}`, "chalkstep/...").Output()
	require.NoError(t, err)
	checked := 0
	for line := range strings.Lines(string(out)) {
		words := strings.Fields(line)
		room := roomOf(words[0])
		allowed, known := may[room]
		if !known {
			continue // tests and benchmarks may use everything
		}
		checked++
		for _, imported := range words[1:] {
			if other := roomOf(imported); other != "" {
				assert.Contains(t, allowed, other, "%s imports %s", words[0], imported)
			}
			if room == "core" {
				assert.False(t, slices.ContainsFunc(forbidden, func(f string) bool {
					return imported != "net/url" && (imported == f || strings.HasSuffix(f, "/") && strings.HasPrefix(imported, f) || strings.HasPrefix(imported, f+"/"))
				}), "%s imports %s", words[0], imported)
			}
		}
	}
	assert.Greater(t, checked, 20)
}

// The core has no clock: what time it is, is told to it.
func TestTheCoreHasNoClock(t *testing.T) {
	files := 0
	require.NoError(t, filepath.WalkDir("../core", func(path string, _ fs.DirEntry, err error) error {
		if err != nil || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
			return err
		}
		files++
		text, err := os.ReadFile(path)
		for _, clock := range []string{"time.Now", "time.Since", "time.Until", "time.Sleep", "time.After"} {
			assert.NotContains(t, string(text), clock, path)
		}
		return err
	}))
	assert.Greater(t, files, 50)
}

// The areas of the application lean on the desk and not on each other: what
// two of them need is core, or the desk's.
func TestAreasLeanOnTheDeskOnly(t *testing.T) {
	out, err := exec.Command("go", "list", "-f", `{{.ImportPath}} {{join .Imports " "}}`, "chalkstep/app/...").Output()
	require.NoError(t, err)
	areas := 0
	for line := range strings.Lines(string(out)) {
		words := strings.Fields(line)
		area, in := strings.CutPrefix(words[0], "chalkstep/app/")
		if !in {
			continue // the tests of all of them
		}
		areas++
		for _, imported := range words[1:] {
			other, ours := strings.CutPrefix(imported, "chalkstep/app/")
			assert.False(t, ours && (other != "desk" || area == "desk"), "%s imports %s", words[0], imported)
		}
	}
	assert.Greater(t, areas, 5)
}

// roomOf is the first folder of one of our own packages.
func roomOf(path string) string {
	rest, own := strings.CutPrefix(path, "chalkstep/")
	if !own {
		return ""
	}
	room, _, _ := strings.Cut(rest, "/")
	return room
}
