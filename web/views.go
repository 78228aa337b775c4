package web

import (
	"fmt"
	"html/template"
	"io"
	"io/fs"
	"path"
	"slices"
	"strings"

	"chalkstep/web/designs"
	"chalkstep/web/keeping"
	"chalkstep/web/projects"
	"chalkstep/web/settings"
	"chalkstep/web/ui"
)

// areaWords are the functions that the templates of one folder call, beside
// those of [ui.Funcs].
var areaWords = map[string]template.FuncMap{"designs": designs.Funcs, "projects": projects.Funcs,
	"settings": settings.Funcs, "keeping": keeping.Funcs}

// views are the templates by folder. Those of an area see each other and the
// shared ones of ui and of the head of a class, by folder and name, and no other area's.
type views map[string]*template.Template

func newViews(files fs.FS) (views, error) {
	shared := []string{"ui", "classhead"}
	paths, err := fs.Glob(files, "*/*.html")
	if err != nil {
		return nil, err
	}
	v := views{}
	for _, p := range paths {
		v[path.Dir(p)] = nil
	}
	for folder := range v {
		t := template.New(folder).Funcs(ui.Funcs).Funcs(areaWords[folder])
		for _, p := range paths {
			if path.Dir(p) != folder && !slices.Contains(shared, path.Dir(p)) {
				continue
			}
			text, err := fs.ReadFile(files, p)
			if err != nil {
				return nil, err
			}
			if _, err := t.New(strings.TrimSuffix(p, ".html")).Parse(string(text)); err != nil {
				return nil, fmt.Errorf("reading the templates: %w", err)
			}
		}
		v[folder] = t
	}
	return v, nil
}

// Load implements [fiber.Views].
func (v views) Load() error { return nil }

// Render implements [fiber.Views].
func (v views) Render(w io.Writer, name string, data any, _ ...string) error {
	t, found := v[path.Dir(name)]
	if !found {
		return fmt.Errorf("there is no template %s", name)
	}
	return t.ExecuteTemplate(w, name, data)
}
