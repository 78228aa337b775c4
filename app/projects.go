package app

import (
	"fmt"
	"slices"
	"strings"

	"chalkstep/core/blank"
	"chalkstep/core/hoop"
	"chalkstep/core/pace"
	"chalkstep/core/recipe"
	"chalkstep/core/skill"
	"chalkstep/core/stitch"
	"chalkstep/store"
)

// A ProjectPage is a project with what follows from it.
type ProjectPage struct {
	Project store.Project
	Design  DesignPage
	// Hoop is the smallest of the room that the project's hooping asks for;
	// HoopProblem says why there is none.
	Hoop        store.Hoop
	HoopProblem string
	Recipe      recipe.Recipe
	// BenchMinutes are a practised person's off the machine, SewMinutes those
	// at the machine in the middle.
	BenchMinutes, SewMinutes float64
	Needs, Teaches           []skill.Step
	FirstTimer               float64
	// Again are the designs of the hoopings after the first.
	Again []DesignPage
	// Differs lists the house rules the project answers otherwise.
	Differs []recipe.Question
	// Mark is where on the blank the design goes; MarkProblem says why that is
	// not known.
	Mark        blank.Mark
	MarkProblem string
}

// Minutes of the whole project for a practised person.
func (p ProjectPage) Minutes() float64 { return p.BenchMinutes + p.SewMinutes }

// Projects lists the projects.
func (d Desk) Projects() ([]ProjectPage, error) {
	projects, err := d.shop.Projects()
	if err != nil {
		return nil, err
	}
	settings, machines, err := d.floorplan()
	if err != nil {
		return nil, err
	}
	var pages []ProjectPage
	for _, p := range projects {
		page, err := newProjectPage(p, settings, machines)
		if err != nil {
			return nil, err
		}
		pages = append(pages, page)
	}
	return pages, nil
}

// Project opens one project.
func (d Desk) Project(id int64) (ProjectPage, error) {
	p, err := d.shop.Project(id)
	if err != nil {
		return ProjectPage{}, err
	}
	settings, machines, err := d.floorplan()
	if err != nil {
		return ProjectPage{}, err
	}
	return newProjectPage(p, settings, machines)
}

func newProjectPage(p store.Project, settings store.WorkshopRow, machines []store.Machine) (ProjectPage, error) {
	page := ProjectPage{Project: p, Design: newDesignPage(p.Design, settings, machines), FirstTimer: settings.Figures.Pace.FirstTimer}
	var hoops []store.Hoop
	for _, m := range machines {
		for _, h := range m.Hoops {
			if h.Hoop.Count > 0 && !slices.Contains(hoops, h.Hoop) {
				hoops = append(hoops, h.Hoop)
			}
		}
	}
	fields := make([]hoop.Field, len(hoops))
	for i, h := range hoops {
		fields[i] = hoop.Field{WidthMM: h.WidthMM, HeightMM: h.HeightMM}
	}
	index, _, ok := hoop.Choose(fields, p.Design.WidthMM, p.Design.HeightMM, 0, hoopSchool(settings.House.With(p.Content.House)), isGarment(p))
	if ok {
		page.Hoop = hoops[index]
	} else {
		page.HoopProblem = "No hoop in the room takes this design."
		// A recipe still has to be cut for something: the design itself.
		page.Hoop = store.Hoop{Name: "none", WidthMM: max(1, p.Design.WidthMM), HeightMM: max(1, p.Design.HeightMM)}
	}
	var err error
	if page.Recipe, err = recipeFor(p, page.Hoop, settings.House); err != nil {
		return ProjectPage{}, err
	}
	for _, s := range p.Steps {
		if base, _ := pace.Base(s.Key); base != pace.StepSew {
			page.BenchMinutes += s.Minutes
		}
	}
	page.SewMinutes = page.Design.Minutes
	for _, again := range p.Again {
		page.Again = append(page.Again, newDesignPage(again, settings, machines))
		page.SewMinutes += page.Again[len(page.Again)-1].Minutes
	}
	page.Needs = skill.Missing(nil, needsOf(p))
	page.Teaches = skill.Missing(nil, p.Content.Teaches)
	page.Differs = settings.House.Differences(p.Content.House)
	page.Mark, page.MarkProblem = markOf(p)
	return page, nil
}

func isGarment(p store.Project) bool {
	return slices.ContainsFunc(p.Uses, func(u string) bool {
		return slices.Contains([]recipe.Use{recipe.Worn, recipe.NextToSkin, recipe.Child}, recipe.Use(u))
	})
}

// recipeFor works the recipe out for one hoop.
func recipeFor(p store.Project, h store.Hoop, house recipe.House) (recipe.Recipe, error) {
	request := recipe.Request{
		Fabric: recipe.Fabric(p.Fabric), WidthMM: max(1, p.Design.WidthMM), HeightMM: max(1, p.Design.HeightMM),
		Stitches: p.Design.Stitches, Colors: len(p.Design.Stops), HoopMM: [2]float64{h.WidthMM, h.HeightMM}, House: house, Project: p.Content.House,
	}
	if p.Design.Coverage > 0 {
		request.Density = stitch.Class(p.Design.Coverage)
	}
	request.Roles, request.InHoop = rolesOf(p.Design), p.Content.InHoop
	for _, u := range p.Uses {
		request.Uses = append(request.Uses, recipe.Use(u))
	}
	r, err := recipe.For(request)
	if err != nil {
		return recipe.Recipe{}, fmt.Errorf("working out the recipe of %s: %w", p.Name, err)
	}
	return r, nil
}

// needsOf collects the skills a project's steps ask for.
func needsOf(p store.Project) []string {
	var needs []string
	for _, s := range p.Steps {
		for _, key := range s.Skills {
			if !slices.Contains(needs, key) {
				needs = append(needs, key)
			}
		}
	}
	return needs
}

// A ProjectInput is what a person says of a project.
type ProjectInput struct {
	ID            int64
	Version       int
	Name, Blank   string
	DesignID      int64
	Width, Height string
	Fabric        string
	Uses          []string
	// Minutes by step key change the steps worked out for it; nil leaves them
	// as they follow from the blank and the design.
	Minutes map[string]string
	// Content is the rest of the project; nil leaves it as it is.
	Content *store.ProjectContent
}

// SaveProject adds or changes a project. Its steps are worked out from the
// blank and the design, with the minutes a person changed.
func (d Desk) SaveProject(in ProjectInput) (int64, error) {
	if err := d.mayChange(); err != nil {
		return 0, err
	}
	problems := Problems{}
	p := store.Project{ID: in.ID, Version: in.Version, Name: strings.TrimSpace(in.Name), Blank: strings.TrimSpace(in.Blank), DesignID: in.DesignID, Fabric: in.Fabric, Uses: in.Uses}
	if p.Name == "" {
		problems["name"] = "Give the project a name."
	}
	if p.Blank == "" {
		problems["blank"] = "Say what is embroidered, such as canvas tote."
	}
	p.BlankWidthMM = length(problems, "width", in.Width, 10, 5000)
	p.BlankHeightMM = length(problems, "height", in.Height, 10, 5000)
	if !knownFabric(in.Fabric) {
		problems["fabric"] = "Choose what the blank is made of."
	}
	for _, u := range in.Uses {
		if !slices.Contains(recipe.Uses, recipe.Use(u)) {
			problems["uses"] = "Choose uses from the list."
		}
	}
	design, err := d.shop.Design(in.DesignID)
	if err != nil {
		problems["design"] = "Choose a design."
	}
	if err := problems.orNil(); err != nil {
		return 0, err
	}
	if design.WidthMM > p.BlankWidthMM || design.HeightMM > p.BlankHeightMM {
		return 0, Problems{"width": fmt.Sprintf("The design is %.0f × %.0f mm: the blank has to be larger.", design.WidthMM, design.HeightMM)}
	}
	p.Design = design
	if err := d.fillContent(&p, in.Content); err != nil {
		return 0, err
	}
	if err := d.workOutSteps(&p, in.Minutes); err != nil {
		return 0, err
	}
	if err := saved(d.shop.SaveProject(&p), p.Name); err != nil {
		return 0, err
	}
	return p.ID, nil
}

// workOutSteps lists a project's steps and puts in the minutes a person set.
func (d Desk) workOutSteps(p *store.Project, minutes map[string]string) error {
	settings, err := d.shop.Settings()
	if err != nil {
		return err
	}
	// The hoop does not matter to the steps, only to the sheets' sizes.
	r, err := recipeFor(*p, store.Hoop{WidthMM: 100, HeightMM: 100}, settings.House)
	if err != nil {
		return err
	}
	problems := Problems{}
	p.Steps = nil
	for _, s := range steps(*p, settings.Figures.Pace, r) {
		step := store.ProjectStep{Key: s.Key, Title: s.Title, Place: s.Where, Minutes: s.Minutes, Instructor: s.Instructor, Skills: s.Skills, Caution: s.Caution}
		if base, _ := pace.Base(s.Key); base != pace.StepSew {
			if typed, ok := minutes[s.Key]; ok {
				step.Minutes = number(problems, "minutes-"+s.Key, typed, 0, 600, s.Title+": write minutes from 0 to 600.")
			}
		}
		p.Steps = append(p.Steps, step)
	}
	return problems.orNil()
}

// steps lists a project's steps: those of the first hooping, those of further
// hoopings before the cleaning up, and the work off the machine before the
// sign-off.
func steps(p store.Project, figures pace.Figures, r recipe.Recipe) []pace.Step {
	first := figures.StepsFor(recipe.Fabric(p.Fabric), r, rolesOf(p.Design))
	var all []pace.Step
	for _, s := range first {
		if s.Key == pace.StepSignOff {
			for i, w := range p.Content.Work {
				all = append(all, pace.Work(i+1, w.Title, w.Minutes, w.Iron, w.Instructor))
			}
		}
		all = append(all, s)
		if s.Key == pace.StepUnhoop {
			for i, h := range p.Content.Hoopings {
				all = append(all, pace.AnotherHooping(i+2, h.Title, first, rolesOf(p.Again[i]))...)
			}
		}
	}
	return all
}

func rolesOf(d store.Design) []stitch.Role {
	var roles []stitch.Role
	for _, s := range d.Stops {
		roles = append(roles, stitch.Role(s.Role))
	}
	return roles
}
