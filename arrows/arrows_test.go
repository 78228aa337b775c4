// Package arrows holds the house to its layout: imports run one way, from
// cmd to web to app to core, store and the rest, and never back.
package arrows

import (
	"go/ast"
	"go/parser"
	"go/token"
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

// may lists, for each room, the rooms its code may use by name.
var may = map[string][]string{
	"core":   {"core"},
	"store":  {"core", "store"},
	"paper":  {"core", "paper"},
	"device": {"core", "device"},
	"app":    {"core", "store", "paper", "device", "app"},
	"web":    {"core", "app", "web"},
	"demo":   {"core", "store", "app", "demo"},
	"cmd":    {"core", "store", "app", "web", "demo", "cmd", "device"},
}

// reach adds, for rooms that use others, what may be reached through them.
var reach = map[string][]string{
	"app": {"core", "store", "paper", "device", "app"},
	"web": {"core", "store", "paper", "device", "app", "web"},
}

// forbidden is what the core does not reach, not even through a library: it has
// no database, no network, no templates, no other programs and no screen.
var forbidden = []string{
	"database/sql", "net", "net/http", "os/exec", "html/template", "text/template",
	"gorm.io/...", "github.com/jackc/...", "github.com/gofiber/...", "github.com/valyala/...", "github.com/tdewolff/...",
	"golang.org/x/net/...",
}

// touched is what the core does not import itself, though a library may.
var touched = []string{"os", "io/fs", "database/sql/driver", "log/slog"}

func matches(path string, patterns []string) bool {
	return slices.ContainsFunc(patterns, func(pattern string) bool {
		below, whole := strings.CutSuffix(pattern, "/...")
		return path == pattern || whole && strings.HasPrefix(path, below+"/")
	})
}

func TestArrowsRunOneWay(t *testing.T) {
	out, err := exec.Command("go", "list", "-f", `{{.ImportPath}}|{{join .Imports " "}}|{{join .Deps " "}}`,
		"chalkstep/...").Output()
	require.NoError(t, err)
	checked := 0
	for line := range strings.Lines(string(out)) {
		parts := strings.Split(strings.TrimSpace(line), "|")
		path, imports, deps := parts[0], strings.Fields(parts[1]), strings.Fields(parts[2])
		room := roomOf(path)
		if _, known := may[room]; !known || strings.HasSuffix(path, "test") {
			continue // tests and benchmarks may use everything
		}
		checked++
		for _, imported := range imports {
			if other := roomOf(imported); other != "" {
				assert.Contains(t, may[room], other, "%s imports %s", path, imported)
			}
			if room == "core" {
				assert.False(t, matches(imported, touched), "%s imports %s", path, imported)
			}
		}
		reachable := may[room]
		if through, more := reach[room]; more {
			reachable = through
		}
		for _, dep := range deps {
			if other := roomOf(dep); other != "" && room != "demo" && room != "cmd" {
				assert.Contains(t, reachable, other, "%s reaches %s", path, dep)
			}
			if room == "core" {
				assert.False(t, matches(dep, forbidden), "%s reaches %s", path, dep)
			}
		}
	}
	assert.Greater(t, checked, 40)
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

// leans are what the areas of the application may lean on, and those on each other: what two areas
// need is there, or in core.
var leans = map[string][]string{
	"form": nil, "actor": {"form"}, "classload": {"actor", "form"},
	"an area": {"actor", "form", "classload"},
}

func TestAreasDoNotLeanOnEachOther(t *testing.T) {
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
		on, foundation := leans[area]
		if !foundation {
			on = leans["an area"]
		}
		for _, imported := range words[1:] {
			if other, ours := strings.CutPrefix(imported, "chalkstep/app/"); ours {
				assert.Contains(t, on, other, "%s imports %s", words[0], imported)
			}
		}
	}
	assert.Greater(t, areas, 5)
}

// The store keeps its rows to itself: what it gives and takes is the core's, or
// made for one answer.
func TestRowsStayInTheStore(t *testing.T) {
	files, err := filepath.Glob("../store/*.go")
	require.NoError(t, err)
	rows := 0
	for _, path := range files {
		file, err := parser.ParseFile(token.NewFileSet(), path, nil, 0)
		require.NoError(t, err)
		ast.Inspect(file, func(n ast.Node) bool {
			named, is := n.(*ast.TypeSpec)
			if !is {
				return true
			}
			if fields, is := named.Type.(*ast.StructType); is {
				for _, f := range fields.Fields.List {
					if f.Tag != nil && strings.Contains(f.Tag.Value, "gorm:") {
						rows++
						assert.False(t, named.Name.IsExported(), "%s is a row, and named outside the store", named.Name)
						break
					}
				}
			}
			return false
		})
	}
	assert.Greater(t, rows, 10)
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
