package app

import (
	"errors"
	"fmt"
	"slices"
	"strings"
	"unicode"

	"chalkstep/core/kit"
	"chalkstep/core/pace"
	"chalkstep/core/stitch"
	"chalkstep/store"
)

// Sentence makes an error text a sentence.
func Sentence(text string) string {
	runes := []rune(text)
	runes[0] = unicode.ToUpper(runes[0])
	return strings.TrimSuffix(string(runes), ".") + "."
}

// A DesignPage is all there is to say of a design.
type DesignPage struct {
	Design   store.Design
	Stops    []StopLine
	Machines []MachineFit
	// FitCount is how many machines can sew it.
	FitCount int
	// Minutes is the middle of the machines that can sew it.
	Minutes           float64
	Density           stitch.DensityClass
	DensityWorking    string
	TopMM, BobbinMM   float64
	Changes           int
	Snips             int
	Projects          []store.Project
	Findings          []stitch.Finding
	StitchOuts        []StitchOutLine
	ThreadWorking     string
	MinutesWorking    []string
	MinutesByMachines string
}

// A StopLine is a stop with what it needs.
type StopLine struct {
	store.DesignStop
	TopMM, BobbinMM float64
	Minutes         float64
	// SameThread tells that the stop before it sews with the same thread.
	SameThread bool
}

// Design opens one design.
func (d Desk) Design(id int64) (DesignPage, error) {
	design, err := d.shop.Design(id)
	if err != nil {
		return DesignPage{}, err
	}
	settings, machines, err := d.floorplan()
	if err != nil {
		return DesignPage{}, err
	}
	page := newDesignPage(design, settings, machines)
	page.Findings = stitch.Findings(factsOf(design))
	if page.Projects, err = d.shop.ProjectsOf(id); err != nil {
		return page, err
	}
	page.StitchOuts, err = d.stitchOuts(page)
	return page, err
}

// floorplan is what the workshop plans with: its figures and its machines,
// with what was learned from logged stitch-outs.
func (d Desk) floorplan() (store.WorkshopRow, []store.Machine, error) {
	settings, err := d.shop.Settings()
	if err != nil {
		return settings, nil, err
	}
	machines, err := d.shop.Machines()
	if err != nil {
		return settings, nil, err
	}
	runs, err := d.shop.StitchOuts()
	if err != nil {
		return settings, nil, err
	}
	learn(&settings.Figures, machines, runs)
	return settings, machines, nil
}

// factsOf gathers what the stitches tell of a design, with what people
// corrected.
func factsOf(design store.Design) stitch.Facts {
	f := stitch.Facts{
		Stops: coreStops(design), LetteringMM: design.LetteringMM,
		Lengths: stitch.Lengths{Short: design.ShortStitches, Long: design.LongStitches, NarrowestSatinMM: design.NarrowestSatinMM},
	}
	for _, s := range design.Stops {
		f.Threads, f.Coverage = append(f.Threads, s.Color), append(f.Coverage, s.Coverage)
	}
	return f
}

// DesignFile gives back the bytes as they came.
func (d Desk) DesignFile(id int64) (fileName string, data []byte, err error) {
	design, err := d.shop.DesignFile(id)
	return design.FileName, design.Original, err
}

// Chart gives back a colour chart as it came.
func (d Desk) Chart(id int64, n int) (fileName string, data []byte, err error) {
	chart, err := d.shop.Chart(id, n)
	return chart.FileName, chart.Original, err
}

// FileAs gives a design in a format: the file that came in it, or the drawn
// one converted.
func (d Desk) FileAs(id int64, format string) (fileName string, data []byte, err error) {
	own, err := d.shop.FileInFormat(id, format)
	if err == nil {
		return own.FileName, own.Original, nil
	}
	if !errors.Is(err, store.ErrNotFound) {
		return "", nil, err
	}
	name, original, err := d.DesignFile(id)
	if err != nil {
		return "", nil, err
	}
	pattern, _, err := stitch.Decode(name, original)
	if err != nil {
		return "", nil, err
	}
	if stitchFormat, err := stitch.ByName(name); err == nil && stitchFormat.Name == format {
		return name, original, nil
	}
	name = stem(name) + "." + format
	if data, err = stitch.Encode(name, pattern); err != nil {
		return "", nil, Problems{"": Sentence(err.Error())}
	}
	return name, data, nil
}

func newDesignPage(design store.Design, settings store.WorkshopRow, machines []store.Machine) DesignPage {
	figures := settings.Figures
	page := DesignPage{Design: design}
	page.Density, page.DensityWorking = densityOf(design)
	stops := paceStops(design)
	var minutes []float64
	var typical pace.StitchOut
	for _, m := range machines {
		fit := fitOn(m, design, false, settings)
		page.Machines = append(page.Machines, fit)
		if fit.Fits() {
			minutes = append(minutes, fit.Minutes)
		}
	}
	page.FitCount = len(minutes)
	if len(minutes) == 0 {
		typical = figures.Pace.StitchOut(typicalMachine, stops, 1)
		page.Minutes, page.MinutesByMachines = typical.Total, "a home machine of 700 stitches a minute"
	} else {
		slices.Sort(minutes)
		page.Minutes = minutes[len(minutes)/2]
		i := slices.IndexFunc(page.Machines, func(f MachineFit) bool { return f.Fits() && f.Minutes == page.Minutes })
		typical = figures.Pace.StitchOut(paceMachine(page.Machines[i].Machine), stops, 1)
		page.MinutesByMachines = "the middle of the machines it fits, " + page.Machines[i].Machine.Name
	}
	page.MinutesWorking, page.Changes = typical.Working, typical.Changes
	for i, s := range design.Stops {
		line := StopLine{DesignStop: s, TopMM: figures.Kit.TopThreadMM(coreStop(s)), Minutes: typical.Stops[i], SameThread: stops[i].SameThread}
		line.BobbinMM = line.TopMM * figures.Kit.BobbinShare
		page.TopMM += line.TopMM
		page.Snips += s.Snips
		page.Stops = append(page.Stops, line)
	}
	page.BobbinMM = page.TopMM * figures.Kit.BobbinShare
	page.ThreadWorking = threadWorking(figures.Kit)
	return page
}

// densityOf classes a design by the thread on its face, or by its totals
// where that was not measured.
func densityOf(design store.Design) (stitch.DensityClass, string) {
	if design.Coverage > 0 {
		return stitch.Class(design.Coverage), fmt.Sprintf("thread covers the sewn area %.1f times", design.Coverage)
	}
	class, perCM2 := stitch.DensityOf(design.Stitches, design.WidthMM, design.HeightMM)
	return class, fmt.Sprintf("%.0f stitches per cm²", perCM2)
}

// Density classes a stop by the thread on its face; it is empty where that
// was not measured.
func (s StopLine) Density() stitch.DensityClass {
	if s.Coverage == 0 {
		return ""
	}
	return stitch.Class(s.Coverage)
}

func threadWorking(f kit.Figures) string {
	return fmt.Sprintf("Top thread of a stop = its path × %.2f + %.0f mm for each trim and its start. Bobbin = %.2f × top.", f.DrawFactor, f.TailMM, f.BobbinShare)
}

// paceStops takes a design's stops with the threads and roles people chose.
func paceStops(d store.Design) []pace.Stop {
	threads := make([]string, len(d.Stops))
	for i, s := range d.Stops {
		threads[i] = s.Color
	}
	return pace.StopsOf(coreStops(d), threads)
}

func coreStops(d store.Design) []stitch.Stop {
	stops := make([]stitch.Stop, len(d.Stops))
	for i, s := range d.Stops {
		stops[i] = coreStop(s)
	}
	return stops
}

func coreStop(s store.DesignStop) stitch.Stop {
	return stitch.Stop{N: s.N, Role: stitch.Role(s.Role), Stitches: s.Stitches, Jumps: s.Jumps, Trims: s.Trims, Snips: s.Snips, ThreadMM: s.ThreadMM}
}

// A StopChoice is what a person says of a stop.
type StopChoice struct{ Color, Role, Sews string }

// A DesignInput is what a person says of a design.
type DesignInput struct {
	Version int
	Name    string
	// Level is 1 to 5, 0 to leave it open. Tags are typed with commas between.
	Level int
	Tags  string
	Stops []StopChoice
}

// SaveDesign keeps what a person says of a design and its stops.
func (d Desk) SaveDesign(id int64, in DesignInput) error {
	if err := d.mayChange(); err != nil {
		return err
	}
	design, err := d.shop.Design(id)
	if err != nil {
		return err
	}
	problems := Problems{}
	if design.Name = strings.TrimSpace(in.Name); design.Name == "" {
		problems["name"] = "Give the design a name."
	}
	between(problems, "level", float64(in.Level), 0, 5, "Choose a level from the list.")
	design.Level, design.Tags = in.Level, tagsOf(in.Tags)
	if slices.ContainsFunc(design.Tags, func(tag string) bool { return len([]rune(tag)) > 30 }) || len(design.Tags) > 12 {
		problems["tags"] = "Up to 12 tags of at most 30 letters, with commas between."
	}
	if len(in.Stops) != len(design.Stops) {
		return Problems{"": "The form does not match the design's stops. Open the design again."}
	}
	for i, c := range in.Stops {
		s := &design.Stops[i]
		if _, err := stitch.ParseRGB(c.Color); err != nil {
			problems[fmt.Sprintf("color-%d", s.N)] = fmt.Sprintf("Stop %d: choose a colour.", s.N)
		}
		if !slices.Contains(stitch.Roles, stitch.Role(c.Role)) {
			problems[fmt.Sprintf("role-%d", s.N)] = fmt.Sprintf("Stop %d: choose what kind of stitching it is.", s.N)
		}
		s.Color, s.Role, s.Sews = strings.ToLower(c.Color), c.Role, strings.TrimSpace(c.Sews)
		if len([]rune(s.Sews)) > 60 {
			problems[fmt.Sprintf("sews-%d", s.N)] = fmt.Sprintf("Stop %d: say it in at most 60 letters; it has to fit a step card.", s.N)
		}
	}
	if err := problems.orNil(); err != nil {
		return err
	}
	design.Version = in.Version
	return saved(d.shop.SaveDesign(design), design.Name)
}

// tagsOf takes typed tags apart: lower case, each once.
func tagsOf(typed string) store.Texts {
	tags := store.Texts{}
	for _, tag := range strings.Split(typed, ",") {
		tag = strings.ToLower(strings.Join(strings.Fields(tag), " "))
		if tag != "" && !slices.Contains(tags, tag) {
			tags = append(tags, tag)
		}
	}
	return tags
}
