package designs

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/design"
	"chalkstep/core/fleet"
	"chalkstep/core/hoop"
	"chalkstep/core/project"
	"chalkstep/core/say"
	"chalkstep/core/stitch"
)

// A DesignPage is all there is to say of a design.
type DesignPage struct {
	fleet.Estimate
	// Projects are some of those that use it now, UsedBy how many do.
	Projects []project.Project
	UsedBy   int
	Findings []stitch.Finding
	// StitchOuts are the newest of Logged.
	StitchOuts    []design.StitchOut
	Logged        int
	ThreadWorking say.Text
	// Turned says for machines that refuse the design upright and by a quarter
	// at which turn some hoop of theirs takes it, by their numbers.
	Turned map[int64]say.Text
}

// Design opens one design.
func (d UseCases) Design(id int64) (DesignPage, error) {
	if err := d.Need(actor.See); err != nil {
		return DesignPage{}, err
	}
	found, err := d.Workshop.Design(id)
	if err != nil {
		return DesignPage{}, err
	}
	rules, machines, err := d.Floorplan()
	if err != nil {
		return DesignPage{}, err
	}
	page := DesignPage{Estimate: fleet.EstimateOf(found, machines, false, rules), ThreadWorking: rules.Kit.ThreadWorking()}
	page.Findings = stitch.Findings(page.Design.Facts())
	if page.Turned, err = d.turned(page.Estimate); err != nil {
		return page, err
	}
	if page.Projects, page.UsedBy, err = d.Workshop.ProjectsOf(id); err != nil {
		return page, err
	}
	page.StitchOuts, page.Logged, err = d.Workshop.StitchOutsOf(id, mostStitchOuts)
	return page, err
}

// turned looks for turns at which machines that refuse a design would take it:
// the blank can be hooped turned.
func (d UseCases) turned(e fleet.Estimate) (map[int64]say.Text, error) {
	var hull []hoop.Point
	turned := map[int64]say.Text{}
	for _, s := range e.Seats {
		if s.Fits() {
			continue
		}
		for _, h := range s.Machine.Usable() {
			// Nothing that is wider than the diagonal fits at any turn.
			if math.Hypot(h.WidthMM, h.HeightMM) < max(e.Design.WidthMM, e.Design.HeightMM) {
				continue
			}
			if hull == nil {
				pattern, err := d.Pattern(e.Design)
				if err != nil {
					return nil, err
				}
				hull = hoop.Points(stitch.Analyse(pattern).Hull())
			}
			if degrees, ok := hoop.TurnInto(h.Field, hull, 0); ok {
				turned[s.Machine.ID] = say.T("fits in %s turned %s: hoop the blank turned", say.Name(h.Name), Turned(degrees))
				break
			}
		}
	}
	return turned, nil
}

// Chart gives back a colour chart as it came.
func (d UseCases) Chart(id int64, n int) (fileName string, data []byte, err error) {
	if err := d.Need(actor.See); err != nil {
		return "", nil, err
	}
	chart, err := d.Workshop.Chart(id, n)
	return chart.Name, chart.Data, err
}

// A StopChoice is what a person says of a stop.
type StopChoice struct {
	N     int
	Color string `says:"thread"`
	Role  string `says:"role"`
	Sews  string `says:"sews"`
}

// A DesignInput is what a person says of a design.
type DesignInput struct {
	Version int    `form:"version"`
	Name    string `form:"name" says:"Name"`
	// Level is 1 to 5, 0 to leave it open. Tags are typed with commas between.
	Level int    `form:"level" says:"Level"`
	Tags  string `form:"tags" says:"Tags"`
	// Stops that were on the form; the others stay as they are.
	Stops []StopChoice `form:"-" says:"Stop"`
}

// SaveDesign keeps what a person says of a design and its stops.
func (d UseCases) SaveDesign(id int64, in DesignInput) error {
	if err := d.Need(actor.ChangeDesigns); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error { return d.saveDesign(id, in) })
}

func (d UseCases) saveDesign(id int64, in DesignInput) error {
	of, err := d.Workshop.Design(id)
	if err != nil {
		return err
	}
	problems := form.Problems{}
	of.Name = form.Name(problems, "name", in.Name, "Give the design a name.")
	form.Between(problems, "level", float64(in.Level), 0, 5, "Choose a level from the list.")
	of.Level, of.Tags = in.Level, tagsOf(form.Text(problems, "tags", in.Tags, 12*32))
	if slices.ContainsFunc(of.Tags, func(tag string) bool { return len([]rune(tag)) > 30 }) || len(of.Tags) > 12 {
		problems["tags"] = "Up to 12 tags of at most 30 letters, with commas between."
	}
	var changed []design.Stop
	recolored := false
	for _, c := range in.Stops {
		if c.N < 1 || c.N > len(of.Stops) {
			return form.Problems{"": "The form does not match the design's stops. Open the design again."}
		}
		s := of.Stops[c.N-1]
		was := s
		takeChoice(problems, &s, c)
		if s.Color != was.Color || s.Role != was.Role || s.Sews != was.Sews {
			changed = append(changed, s)
		}
		recolored = recolored || s.Color != was.Color
		of.Stops[c.N-1] = s
	}
	if err := problems.OrNil(); err != nil {
		return err
	}
	of.Version = in.Version
	err = form.Compare(d.Workshop.SaveDesign(of, changed), in, func() (DesignInput, int, error) {
		now, err := d.Workshop.Design(id)
		saved := DesignInput{Name: now.Name, Level: now.Level, Tags: strings.Join(now.Tags, ", ")}
		for _, c := range in.Stops {
			s := now.Stops[c.N-1]
			saved.Stops = append(saved.Stops, StopChoice{N: c.N, Color: s.Color.String(), Role: string(s.Role), Sews: s.Sews})
		}
		return saved, now.Version, err
	})
	if err := form.Saved(err, of.Name); err != nil || !recolored {
		return err
	}
	return d.keepPictures(of)
}

// takeChoice puts in what a person says of a stop.
func takeChoice(problems form.Problems, s *design.Stop, c StopChoice) {
	color, err := stitch.ParseRGB(strings.ToLower(c.Color))
	if err != nil {
		problems[fmt.Sprintf("color-%d", s.N)] = fmt.Sprintf("Stop %d: choose a colour.", s.N)
	}
	if !slices.Contains(stitch.Roles, stitch.Role(c.Role)) {
		problems[fmt.Sprintf("role-%d", s.N)] = fmt.Sprintf("Stop %d: choose what kind of stitching it is.", s.N)
	}
	s.Color, s.Role = color, stitch.Role(c.Role)
	field := fmt.Sprintf("sews-%d", s.N)
	if s.Sews = form.Text(problems, field, c.Sews, 60); problems[field] != "" {
		problems[field] = fmt.Sprintf("Stop %d: %s", s.N, problems[field])
	}
}

// tagsOf takes typed tags apart: lower case, each once.
func tagsOf(typed string) []string {
	tags := []string{}
	for _, tag := range strings.Split(typed, ",") {
		tag = strings.ToLower(strings.Join(strings.Fields(tag), " "))
		if tag != "" && !slices.Contains(tags, tag) {
			tags = append(tags, tag)
		}
	}
	return tags
}
