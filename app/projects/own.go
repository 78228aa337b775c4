package projects

import (
	"slices"
	"strconv"
	"strings"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/pace"
	"chalkstep/core/skill"
	"chalkstep/core/technique"
	"chalkstep/store"
)

// An OwnInput is a technique of the workshop as it is typed.
type OwnInput struct {
	ID      int64
	Version int
	Name    string         `says:"Name"`
	What    string         `says:"What it is"`
	Because string         `says:"Why"`
	Steps   []OwnStepInput `says:"Step"`
	Lines   []OwnLineInput `says:"Line"`
	Things  []OwnThing     `says:"Thing"`
	Needs   []string       `says:"Needs"`
}

// An OwnStepInput is a step of it.
type OwnStepInput struct {
	Title   string `says:"what is done"`
	At      string `says:"at"`
	Instead string `says:"instead"`
	Minutes string `says:"minutes"`
	Where   string `says:"where"`
	Caution string `says:"caution"`
}

// An OwnLineInput is a line on the card.
type OwnLineInput struct {
	Text string `says:"line"`
	At   string `says:"at"`
	Kind string `says:"kind"`
}

// An OwnThing is something that it brings to the class.
type OwnThing struct {
	Name  string `says:"name"`
	Per   string `says:"for"`
	Count string `says:"how many"`
}

// Own opens a technique of the workshop for editing, a new one for ID 0.
func (d UseCases) Own(id int64) (OwnInput, error) {
	if err := d.Need(actor.See); err != nil {
		return OwnInput{}, err
	}
	if id == 0 {
		return OwnInput{}, nil
	}
	w, err := d.Workshop.Technique(id)
	in := OwnInput{ID: w.ID, Version: w.Version, Name: w.Name, What: w.What, Because: w.Because}
	for _, s := range w.Steps {
		step := OwnStepInput{Title: s.Title, At: string(s.At), Minutes: form.Tenth(s.Minutes), Where: "bench",
			Caution: s.Caution, Instead: "after"}
		switch {
		case s.Iron:
			step.Where = "iron"
		case s.Machine:
			step.Where = "machine"
		}
		if s.Instead {
			step.Instead = "instead"
		}
		in.Steps = append(in.Steps, step)
	}
	for _, l := range w.Lines {
		line := OwnLineInput{Text: l.Text, At: string(l.At), Kind: "line"}
		if l.Caution {
			line.Kind = "caution"
		}
		in.Lines = append(in.Lines, line)
	}
	for _, t := range w.Things {
		in.Things = append(in.Things, OwnThing{t.Name, string(t.Per), strconv.Itoa(t.Count)})
	}
	for _, key := range w.Needs {
		in.Needs = append(in.Needs, string(key))
	}
	return in, err
}

// SaveOwn adds a technique of the workshop or changes it. Projects that are made
// by it keep what it was until somebody chooses it for them anew.
func (d UseCases) SaveOwn(in OwnInput) (int64, error) {
	if err := d.Need(actor.ChangeProjects); err != nil {
		return 0, err
	}
	return actor.Once(d, func(d UseCases) (int64, error) { return d.saveOwn(in) })
}

func (d UseCases) saveOwn(in OwnInput) (int64, error) {
	problems := form.Problems{}
	w := in.written(problems)
	settings, err := d.Settings()
	if err != nil {
		return 0, err
	}
	for part, fault := range w.Faults(settings.Ladder) {
		if problems[part] == "" {
			problems[part] = d.Say(fault)
		}
	}
	if in.ID == 0 && len(problems) == 0 {
		have, err := d.Workshop.Techniques()
		if err != nil {
			return 0, err
		}
		if len(have) >= store.MostTechniques {
			problems["name"] = "There are as many techniques as a workshop can have: remove one first."
		}
	}
	if err := problems.OrNil(); err != nil {
		return 0, err
	}
	id, err := d.Workshop.SaveTechnique(w)
	err = form.Compare(err, in, func() (OwnInput, int, error) {
		now, err := d.Own(in.ID)
		return now, now.Version, err
	})
	return id, form.Saved(err, w.Name)
}

// written reads what was typed of a technique; rows that are empty are left out.
func (in OwnInput) written(problems form.Problems) technique.Written {
	w := technique.Written{ID: in.ID, Version: in.Version}
	w.Name = form.Name(problems, "name", in.Name, "Give the technique a name.")
	w.What = form.Text(problems, "what", in.What, form.LongestNote)
	w.Because = form.Text(problems, "because", in.Because, form.LongestNote)
	for _, s := range in.Steps {
		if strings.TrimSpace(s.Title+s.Minutes+s.Caution) == "" {
			continue
		}
		n, row := len(w.Steps)+1, form.Problems{}
		step := technique.WrittenStep{
			Title: form.Name(row, "title", s.Title, "say what is done, or empty the row."), At: pace.StepKey(s.At),
			Instead: s.Instead == "instead", Iron: s.Where == "iron", Machine: s.Where == "machine",
			Minutes: form.Number(row, "minutes", s.Minutes, 0, 600, "write minutes from 0 to 600."),
			Caution: form.Text(row, "caution", s.Caution, form.LongestNote),
		}
		problems.OfRow("steps", "Step", n, row, "title", "minutes", "caution")
		w.Steps = append(w.Steps, step)
	}
	for _, l := range in.Lines {
		if strings.TrimSpace(l.Text) == "" {
			continue
		}
		row := form.Problems{}
		w.Lines = append(w.Lines,
			technique.WrittenLine{Text: form.Text(row, "text", l.Text, form.LongestNote), At: pace.StepKey(l.At),
				Caution: l.Kind == "caution"})
		problems.OfRow("lines", "Line", len(w.Lines), row, "text")
	}
	for _, t := range in.Things {
		if strings.TrimSpace(t.Name) == "" && slices.Contains([]string{"", "1"}, strings.TrimSpace(t.Count)) {
			continue
		}
		row := form.Problems{}
		w.Things = append(w.Things,
			technique.WrittenThing{Name: form.Name(row, "name", t.Name, "write its name, or empty the row."),
				Per: technique.Per(t.Per), Count: form.Whole(row, "count", t.Count, 1, 100, "write how many, 1 to 100.")})
		problems.OfRow("things", "Thing", len(w.Things), row, "name", "count")
	}
	for _, key := range in.Needs {
		w.Needs = append(w.Needs, skill.Key(key))
	}
	return w
}

// RemoveOwn deletes a technique of the workshop; projects that are made by it
// keep their copies.
func (d UseCases) RemoveOwn(id int64) error {
	if err := d.Need(actor.ChangeProjects); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error { return d.Workshop.RemoveTechnique(id) })
}
