package projects

import (
	"slices"
	"strconv"
	"strings"

	"chalkstep/app/desk"
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
func (d Desk) Own(id int64) (OwnInput, error) {
	if err := d.Need(desk.See); err != nil {
		return OwnInput{}, err
	}
	if id == 0 {
		return OwnInput{}, nil
	}
	w, err := d.Shop.Technique(id)
	in := OwnInput{ID: w.ID, Version: w.Version, Name: w.Name, What: w.What, Because: w.Because}
	for _, s := range w.Steps {
		step := OwnStepInput{Title: s.Title, At: string(s.At), Minutes: desk.Plain(s.Minutes), Where: "bench", Caution: s.Caution, Instead: "after"}
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
func (d Desk) SaveOwn(in OwnInput) (int64, error) {
	if err := d.Need(desk.ChangeProjects); err != nil {
		return 0, err
	}
	return desk.Once(d, func(d Desk) (int64, error) { return d.saveOwn(in) })
}

func (d Desk) saveOwn(in OwnInput) (int64, error) {
	problems := desk.Problems{}
	w := technique.Written{ID: in.ID, Version: in.Version}
	w.Name = desk.Name(problems, "name", in.Name, "Give the technique a name.")
	w.What = desk.Text(problems, "what", in.What, desk.LongestNote)
	w.Because = desk.Text(problems, "because", in.Because, desk.LongestNote)
	for _, s := range in.Steps {
		if strings.TrimSpace(s.Title+s.Minutes+s.Caution) == "" {
			continue
		}
		n, row := len(w.Steps)+1, desk.Problems{}
		step := technique.WrittenStep{
			Title: desk.Name(row, "title", s.Title, "say what is done, or empty the row."), At: pace.StepKey(s.At), Instead: s.Instead == "instead", Iron: s.Where == "iron", Machine: s.Where == "machine",
			Minutes: desk.Number(row, "minutes", s.Minutes, 0, 600, "write minutes from 0 to 600."), Caution: desk.Text(row, "caution", s.Caution, desk.LongestNote),
		}
		problems.OfRow("steps", "Step", n, row, "title", "minutes", "caution")
		w.Steps = append(w.Steps, step)
	}
	for _, l := range in.Lines {
		if strings.TrimSpace(l.Text) == "" {
			continue
		}
		row := desk.Problems{}
		w.Lines = append(w.Lines, technique.WrittenLine{Text: desk.Text(row, "text", l.Text, desk.LongestNote), At: pace.StepKey(l.At), Caution: l.Kind == "caution"})
		problems.OfRow("lines", "Line", len(w.Lines), row, "text")
	}
	for _, t := range in.Things {
		if strings.TrimSpace(t.Name) == "" && slices.Contains([]string{"", "1"}, strings.TrimSpace(t.Count)) {
			continue
		}
		row := desk.Problems{}
		w.Things = append(w.Things, technique.WrittenThing{Name: desk.Name(row, "name", t.Name, "write its name, or empty the row."), Per: technique.Per(t.Per), Count: desk.Whole(row, "count", t.Count, 1, 100, "write how many, 1 to 100.")})
		problems.OfRow("things", "Thing", len(w.Things), row, "name", "count")
	}
	for _, key := range in.Needs {
		w.Needs = append(w.Needs, skill.Key(key))
	}
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
		have, err := d.Shop.Techniques()
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
	id, err := d.Shop.SaveTechnique(w)
	err = desk.Beside(err, in, func() (OwnInput, int, error) {
		now, err := d.Own(in.ID)
		return now, now.Version, err
	})
	return id, desk.Saved(err, w.Name)
}

// RemoveOwn deletes a technique of the workshop; projects that are made by it
// keep their copies.
func (d Desk) RemoveOwn(id int64) error {
	if err := d.Need(desk.ChangeProjects); err != nil {
		return err
	}
	return desk.OnceOnly(d, func(d Desk) error { return d.Shop.RemoveTechnique(id) })
}
