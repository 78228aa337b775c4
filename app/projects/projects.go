package projects

import (
	"cmp"
	"errors"
	"slices"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/design"
	"chalkstep/core/pace"
	"chalkstep/core/photo"
	"chalkstep/core/policy"
	"chalkstep/core/project"
	"chalkstep/core/recipe"
	"chalkstep/core/say"
	"chalkstep/core/stock"
	"chalkstep/core/technique"
	"chalkstep/store"
)

// A ProjectPage is a project put together in the room, with what is typed in
// its forms.
type ProjectPage struct {
	project.Together
	// Typed is how the forms show the project.
	Typed ProjectParts
	// Lying are its layers over the stops, Hands how often something is laid,
	// taped or trimmed while it is sewn.
	Lying []project.Lying
	Hands int
	// Ways are the techniques to choose from, by what they are for.
	Ways []Ways
	// Tests are its test stitch-outs, Tested how far it was tested as it is now.
	Tests  []design.StitchOut
	Tested project.Tested
	// Saving is what a stabilizer window saves on a class of twelve.
	Saving technique.Saving
	// FirstTimer is what a first-timer's hand steps take of the practised time.
	FirstTimer float64
}

// A ProjectsPage is a stretch of the projects.
type ProjectsPage struct {
	Projects []project.Together
	Pages    form.Pages
}

// Projects lists the projects whose names hold words.
func (d UseCases) Projects(words string, page int) (ProjectsPage, error) {
	if err := d.Need(actor.See); err != nil {
		return ProjectsPage{}, err
	}
	const onPage = 24
	list := ProjectsPage{Pages: form.NewPages(words, page, onPage)}
	found, total, err := d.Workshop.Projects(list.Pages.Words, list.Pages.Rows())
	if err != nil {
		return list, err
	}
	list.Pages.Total = total
	rules, machines, err := d.Floorplan()
	for _, p := range found {
		list.Projects = append(list.Projects, project.Put(p, machines, rules))
	}
	return list, err
}

// ProjectNames suggests names of projects.
func (d UseCases) ProjectNames(words string) ([]string, error) {
	if err := d.Need(actor.See); err != nil {
		return nil, err
	}
	return d.Workshop.ProjectNames(form.Cleaned(words), form.MostSuggested)
}

// Project opens one project.
func (d UseCases) Project(id int64) (ProjectPage, error) {
	if err := d.Need(actor.See); err != nil {
		return ProjectPage{}, err
	}
	p, err := d.Workshop.Project(id)
	if err != nil {
		return ProjectPage{}, err
	}
	page, rules, err := d.put(p)
	if err != nil {
		return page, err
	}
	page.Typed = d.typedParts(page.Together)
	if page.Tests, err = d.Workshop.TestsOf(mostTests, id); err != nil {
		return page, err
	}
	page.Tested = page.TestedBy(page.Tests, rules)
	return page, nil
}

// put puts a project together in the room, with its layers and the techniques to
// choose from, by the rules of the house.
func (d UseCases) put(p project.Project) (ProjectPage, policy.Rules, error) {
	rules, machines, err := d.Floorplan()
	if err != nil {
		return ProjectPage{}, rules, err
	}
	items, err := d.Items()
	if err != nil {
		return ProjectPage{}, rules, err
	}
	page := ProjectPage{Together: project.Put(p, machines, rules), FirstTimer: rules.Pace.FirstTimer}
	page.Saving = savingOf(p, rules)
	if page.Ways, err = d.ways(p); err != nil {
		return page, rules, err
	}
	if !p.Gone() {
		own := p.Rules(rules).House
		page.Lying, page.Hands = p.Lying(stock.Widths(items), own.Rules), p.Hands(own.Rules)
	}
	return page, rules, nil
}

// Layers opens a project as it would be with the layers that are typed: what is
// in the way of them is among the problems, and nothing is kept.
func (d UseCases) Layers(id int64, typed []LayerInput) (ProjectPage, form.Problems, error) {
	if err := d.Need(actor.See); err != nil {
		return ProjectPage{}, nil, err
	}
	p, err := d.Workshop.Project(id)
	if err != nil {
		return ProjectPage{}, nil, err
	}
	problems := form.Problems{}
	if p.Layers = d.readLayers(problems, typed); len(problems) == 0 {
		if fault, bad := p.Faults(nil)[project.InLayers]; bad {
			problems[string(project.InLayers)] = d.Say(fault)
		}
	}
	page, _, err := d.put(p)
	page.Typed = d.typedParts(page.Together)
	page.Typed.Layers = slices.DeleteFunc(slices.Clone(typed), LayerInput.Empty) // as they are typed
	return page, problems, err
}

// A ProjectInput is what a person says of a project; numbers are typed.
type ProjectInput struct {
	ID      int64  `form:"-"`
	Version int    `form:"version"`
	Name    string `form:"name" says:"Name"`
	// Kind is on a blank, or built in the hoop.
	Kind  string `form:"kind" says:"Kind"`
	Blank string `form:"blank" says:"Blank"`
	// Design is the name of one on the list.
	Design string   `form:"design" says:"Design"`
	Width  string   `form:"width" says:"Width"`
	Height string   `form:"height" says:"Height"`
	Fabric string   `form:"fabric" says:"Fabric"`
	Uses   []string `form:"uses" says:"How it will live"`
	// Rest puts in the rest of a project that comes whole; nil leaves it.
	Rest func(*project.Project) `form:"-"`
}

// ProjectInput opens a project for editing.
func (d UseCases) ProjectInput(id int64) (ProjectInput, error) {
	if err := d.Need(actor.ChangeProjects); err != nil {
		return ProjectInput{}, err
	}
	p, err := d.Workshop.Project(id)
	if err != nil {
		return ProjectInput{}, err
	}
	units := d.Printer().Units
	in := ProjectInput{ID: p.ID, Version: p.Version, Name: p.Name, Kind: kindOf(p), Blank: p.Blank.Name,
		Design: p.Design().Name, Width: units.Field(p.Blank.WidthMM), Height: units.Field(p.Blank.HeightMM),
		Fabric: string(p.Fabric)}
	for _, u := range p.Uses {
		in.Uses = append(in.Uses, string(u))
	}
	return in, nil
}

// The kinds of project.
const (
	OnBlank = "on-blank"
	InHoop  = "in-hoop"
)

// Kinds lists them.
var Kinds = []string{OnBlank, InHoop}

func kindOf(p project.Project) string {
	if p.InHoop {
		return InHoop
	}
	return OnBlank
}

// SaveProject adds a project or changes what it is made of. What it is beside
// that stays.
func (d UseCases) SaveProject(in ProjectInput) (int64, error) {
	if err := d.Need(actor.ChangeProjects); err != nil {
		return 0, err
	}
	return actor.Once(d, func(d UseCases) (int64, error) { return d.saveProject(in) })
}

func (d UseCases) saveProject(in ProjectInput) (int64, error) {
	problems := form.Problems{}
	var p project.Project
	if in.ID != 0 {
		var err error
		if p, err = d.Workshop.Project(in.ID); err != nil {
			return 0, err
		}
	}
	p.Version = in.Version
	p.InHoop = form.Chosen(problems, "kind", cmp.Or(in.Kind, OnBlank), Kinds,
		"Choose whether it is made on a blank or built in the hoop.") == InHoop
	p.Name = form.Name(problems, "name", in.Name, "Give the project a name.")
	p.Blank.Name = form.Name(problems, "blank", in.Blank, "Say what is embroidered, such as canvas tote.")
	p.Blank.WidthMM = form.Length(d.Printer(), problems, "width", in.Width, 10, 5000)
	p.Blank.HeightMM = form.Length(d.Printer(), problems, "height", in.Height, 10, 5000)
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
	if p.Hoopings[0].Design.ID != first.ID { // the threads were for the stops of another
		p.Threads = nil
	}
	p.Hoopings[0].Design = first
	if in.ID == 0 {
		for _, proposal := range technique.Propose(p.Worked()) {
			p.Techniques = append(p.Techniques, proposal.Technique)
		}
	}
	if in.Rest != nil {
		in.Rest(&p)
	}
	id, err := d.keepProject(p, problems)
	return id, form.Compare(err, in, func() (ProjectInput, int, error) {
		now, err := d.ProjectInput(in.ID)
		return now, now.Version, err
	})
}

// keepProject saves a project that nothing is amiss with.
func (d UseCases) keepProject(p project.Project, problems form.Problems) (int64, error) {
	settings, err := d.Settings()
	if err != nil {
		return 0, err
	}
	for field, fault := range p.Faults(settings.Ladder) {
		if problems[string(field)] == "" {
			problems[string(field)] = d.Say(fault)
		}
	}
	if err := problems.OrNil(); err != nil {
		return 0, err
	}
	id, err := d.Workshop.SaveProject(p)
	if errors.Is(err, store.ErrChanged) {
		return 0, err // each form says what stands beside it
	}
	return id, form.Saved(err, p.Name)
}

// designFor finds a design by the name a person wrote: one on the list, or the
// one that was there before, even when it has left the list since.
func (d UseCases) designFor(problems form.Problems, field, typed string, was ...design.Design) (design.Design, error) {
	return form.Named(problems, field, typed, "design", "Choose a design.", func(name string) (design.Design, error) {
		if i := slices.IndexFunc(was, func(w design.Design) bool { return !w.Gone() && w.Name == name }); i >= 0 {
			return was[i], nil
		}
		return d.Workshop.DesignNamed(name)
	})
}

// SaveMinutes keeps the minutes a person set for a project's steps, typed by
// the step's key; those that say what follows anyway are not kept. nil goes
// back to what follows for all.
func (d UseCases) SaveMinutes(id int64, version int, typed map[pace.StepKey]string) error {
	if err := d.Need(actor.ChangeProjects); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error { return d.saveMinutes(id, version, typed) })
}

func (d UseCases) saveMinutes(id int64, version int, typed map[pace.StepKey]string) error {
	p, err := d.Workshop.Project(id)
	if err != nil {
		return err
	}
	rules, _, err := d.Floorplan()
	if err != nil {
		return err
	}
	p.Version, p.Minutes = version, nil
	steps, err := p.Steps(rules)
	if err != nil {
		return d.Mendable(err)
	}
	problems := form.Problems{}
	set := map[pace.StepKey]float64{}
	for _, s := range steps {
		t, said := typed[s.Key]
		if !said || s.Key.Is(pace.StepSew) || s.Key.IsWork() {
			continue
		}
		minutes := form.Number(problems, "minutes-"+string(s.Key), t, 0, 600,
			d.Say(say.T("%s: write minutes from 0 to 600.", s.Title)))
		if form.Tenth(minutes) != form.Tenth(s.Minutes) { // as the form was filled, it is not set
			set[s.Key] = minutes
		}
	}
	p.Minutes = set
	_, err = d.keepProject(p, problems)
	type minutes struct {
		Minutes map[string]string `says:"Minutes of"`
	}
	said := minutes{map[string]string{}}
	for key, text := range typed {
		said.Minutes[string(key)] = text
	}
	return form.Compare(err, said, func() (minutes, int, error) {
		page, err := d.Project(id)
		now := map[string]string{}
		for key, text := range page.Typed.Minutes {
			if _, asked := said.Minutes[key]; asked {
				now[key] = text
			}
		}
		return minutes{now}, page.Version, err
	})
}

// SavePhoto puts a photo to a project, or takes it away.
func (d UseCases) SavePhoto(id int64, data []byte) error {
	if err := d.Need(actor.ChangeProjects); err != nil {
		return err
	}
	problems := form.Problems{}
	if len(data) == 0 {
		problems["photo"] = "No photo arrived. Choose one and add it again."
	}
	made := d.Photo(problems, data)
	if err := problems.OrNil(); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error { return d.Workshop.SavePhoto(id, made) })
}

// ProjectPhoto gives a project's photo with its type.
func (d UseCases) ProjectPhoto(id int64) (kind string, data []byte, err error) {
	if err := d.Need(actor.See); err != nil {
		return "", nil, err
	}
	p, err := d.Workshop.ProjectPhoto(id)
	return photo.MediaType, p.Data, err
}
