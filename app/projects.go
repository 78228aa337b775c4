package app

import (
	"errors"
	"fmt"
	"slices"

	"chalkstep/core/design"
	"chalkstep/core/pace"
	"chalkstep/core/project"
	"chalkstep/core/recipe"
	"chalkstep/core/say"
	"chalkstep/store"
)

// A ProjectPage is a project put together in the room, with what is typed in
// its forms.
type ProjectPage struct {
	project.Together
	// Typed is how the forms show the project.
	Typed ProjectParts
	// FirstTimer is what a first-timer's hand steps take of the practised time.
	FirstTimer float64
}

// A ProjectsPage is a stretch of the projects.
type ProjectsPage struct {
	Projects []project.Together
	Pages    Pages
}

// Projects lists the projects whose names hold words.
func (d Desk) Projects(words string, page int) (ProjectsPage, error) {
	if err := d.may(See); err != nil {
		return ProjectsPage{}, err
	}
	const onPage = 24
	list := ProjectsPage{Pages: newPages(words, page, onPage)}
	rows, total, err := d.shop.Projects(list.Pages.Words, list.Pages.stretch())
	if err != nil {
		return list, err
	}
	list.Pages.Total = total
	rules, machines, err := d.floorplan()
	for _, row := range rows {
		list.Projects = append(list.Projects, project.Put(row.Value(), machines, rules))
	}
	return list, err
}

// ProjectNames suggests names of projects.
func (d Desk) ProjectNames(words string) ([]string, error) {
	if err := d.may(See); err != nil {
		return nil, err
	}
	return d.shop.ProjectNames(cleaned(words), mostSuggested)
}

// Project opens one project.
func (d Desk) Project(id int64) (ProjectPage, error) {
	if err := d.may(See); err != nil {
		return ProjectPage{}, err
	}
	row, err := d.shop.Project(id)
	if err != nil {
		return ProjectPage{}, err
	}
	rules, machines, err := d.floorplan()
	page := ProjectPage{Together: project.Put(row.Value(), machines, rules), FirstTimer: rules.Pace.FirstTimer}
	page.Typed = d.typedParts(page.Together)
	return page, err
}

// A ProjectInput is what a person says of a project; numbers are typed.
type ProjectInput struct {
	ID          int64
	Version     int
	Name, Blank string
	// Design is the name of one on the list.
	Design        string
	Width, Height string
	Fabric        string
	Uses          []string
	// Rest puts in the rest of a project that comes whole; nil leaves it.
	Rest func(*project.Project)
}

// ProjectInput opens a project for editing.
func (d Desk) ProjectInput(id int64) (ProjectInput, error) {
	if err := d.may(ChangeProjects); err != nil {
		return ProjectInput{}, err
	}
	row, err := d.shop.Project(id)
	if err != nil {
		return ProjectInput{}, err
	}
	units := d.Printer().Units
	return ProjectInput{ID: row.ID, Version: row.Version, Name: row.Name, Blank: row.Blank, Design: row.Design.Name, Width: units.Field(row.BlankWidthMM), Height: units.Field(row.BlankHeightMM), Fabric: row.Fabric, Uses: row.Uses}, nil
}

// SaveProject adds a project or changes what it is made of. What it is beside
// that stays.
func (d Desk) SaveProject(in ProjectInput) (int64, error) {
	if err := d.may(ChangeProjects); err != nil {
		return 0, err
	}
	return d.once(func(d Desk) (int64, error) { return d.saveProject(in) })
}

func (d Desk) saveProject(in ProjectInput) (int64, error) {
	problems := Problems{}
	var p project.Project
	if in.ID != 0 {
		row, err := d.shop.Project(in.ID)
		if err != nil {
			return 0, err
		}
		p = row.Value()
	}
	p.Version = in.Version
	p.Name = name(problems, "name", in.Name, "Give the project a name.")
	p.Blank.Name = name(problems, "blank", in.Blank, "Say what is embroidered, such as canvas tote.")
	p.Blank.WidthMM = d.length(problems, "width", in.Width, 10, 5000)
	p.Blank.HeightMM = d.length(problems, "height", in.Height, 10, 5000)
	p.Fabric, p.Uses = recipe.Fabric(in.Fabric), nil
	for _, u := range in.Uses {
		p.Uses = append(p.Uses, recipe.Use(u))
	}
	first, err := d.designFor(problems, "design", in.Design, p.Design())
	if err != nil {
		return 0, err
	}
	if len(p.Hoopings) == 0 {
		p.Hoopings = make([]project.Hooping, 1)
	}
	p.Hoopings[0].Design = first
	if in.Rest != nil {
		in.Rest(&p)
	}
	return d.keepProject(p, problems)
}

// keepProject saves a project that nothing is amiss with.
func (d Desk) keepProject(p project.Project, problems Problems) (int64, error) {
	for field, fault := range p.Faults() {
		if problems[string(field)] == "" {
			problems[string(field)] = d.Say(fault)
		}
	}
	if err := problems.orNil(); err != nil {
		return 0, err
	}
	row := store.ProjectRow(p)
	err := saved(d.shop.SaveProject(&row), p.Name)
	return row.ID, err
}

// designFor finds a design by the name a person wrote: one on the list, or the
// one that was there before, even when it has left the list since.
func (d Desk) designFor(problems Problems, field, typed string, was ...design.Design) (design.Design, error) {
	wanted := text(problems, field, typed, LongestName)
	if wanted == "" {
		if problems[field] == "" {
			problems[field] = "Choose a design."
		}
		return design.Design{}, nil
	}
	if i := slices.IndexFunc(was, func(w design.Design) bool { return !w.Gone() && w.Name == wanted }); i >= 0 {
		return was[i], nil
	}
	row, err := d.shop.DesignNamed(wanted)
	if errors.Is(err, store.ErrNotFound) {
		problems[field] = noneCalled("design", wanted)
		return design.Design{}, nil
	}
	return row.Value(), err
}

// SaveMinutes keeps the minutes a person set for a project's steps, typed by
// the step's key; those that say what follows anyway are not kept. nil goes
// back to what follows for all.
func (d Desk) SaveMinutes(id int64, version int, typed map[pace.StepKey]string) error {
	if err := d.may(ChangeProjects); err != nil {
		return err
	}
	return d.onceOnly(func(d Desk) error { return d.saveMinutes(id, version, typed) })
}

func (d Desk) saveMinutes(id int64, version int, typed map[pace.StepKey]string) error {
	row, err := d.shop.Project(id)
	if err != nil {
		return err
	}
	rules, _, err := d.floorplan()
	if err != nil {
		return err
	}
	p := row.Value()
	p.Version, p.Minutes = version, nil
	steps, err := p.Steps(rules)
	if err != nil {
		return d.mendable(err)
	}
	problems := Problems{}
	set := map[pace.StepKey]float64{}
	for _, s := range steps {
		t, said := typed[s.Key]
		if !said || s.Key.Is(pace.StepSew) || s.Key.IsWork() {
			continue
		}
		minutes := number(problems, "minutes-"+string(s.Key), t, 0, 600, d.Say(say.T("%s: write minutes from 0 to 600.", s.Title)))
		if minutes != s.Minutes {
			set[s.Key] = minutes
		}
	}
	p.Minutes = set
	_, err = d.keepProject(p, problems)
	return err
}

// SavePhoto puts a photo to a project, or takes it away.
func (d Desk) SavePhoto(id int64, photo []byte) error {
	if err := d.may(ChangeProjects); err != nil {
		return err
	}
	problems := Problems{}
	if len(photo) == 0 {
		problems["photo"] = "No photo arrived. Choose one and add it again."
	}
	made := d.photo(problems, photo)
	if err := problems.orNil(); err != nil {
		return err
	}
	return d.onceOnly(func(d Desk) error { return d.shop.SavePhoto(id, made) })
}

// ProjectPhoto gives a project's photo with its type.
func (d Desk) ProjectPhoto(id int64) (kind string, data []byte, err error) {
	if err := d.may(See); err != nil {
		return "", nil, err
	}
	p, err := d.shop.ProjectPhoto(id)
	return p.PhotoType, p.Photo, err
}

// knownFabric tells whether recipes know a fabric.
func knownFabric(name string) bool { return slices.Contains(recipe.Fabrics, recipe.Fabric(name)) }

// row names the row of a list of forms, counted from 1.
func rowOf(what string, n int, problem string) string {
	return fmt.Sprintf("%s %d: %s", what, n, problem)
}
