package app

import (
	"cmp"
	"crypto/sha256"
	"errors"
	"fmt"
	"path/filepath"
	"slices"
	"strings"
	"unicode"

	"chalkstep/core/hoop"
	"chalkstep/core/kit"
	"chalkstep/core/pace"
	"chalkstep/core/recipe"
	"chalkstep/core/stitch"
	"chalkstep/core/stitch/bundle"
	_ "chalkstep/core/stitch/dst" // formats the application reads
	_ "chalkstep/core/stitch/exp"
	_ "chalkstep/core/stitch/jef"
	_ "chalkstep/core/stitch/pes"
	"chalkstep/store"
)

// starterColors stand in where a file has no colours, until someone chooses.
var starterColors = []string{"#3f7695", "#b5533c", "#c08a2e", "#4f7d4a", "#6d5a8c", "#2f3f48", "#a8a08c", "#8c4a63"}

// AddDesign reads a stitch file and keeps it with what was found in it.
func (d Desk) AddDesign(fileName string, data []byte) (int64, error) {
	if err := d.mayChange(); err != nil {
		return 0, err
	}
	fileName = cleanFileName(fileName)
	if fileName == "" || len(data) == 0 {
		return 0, Problems{"file": "No file arrived. Choose a stitch file and add it again."}
	}
	design, err := readUpload(fileName, data)
	if err != nil {
		return 0, Problems{"file": Sentence(err.Error())}
	}
	sum := sha256.Sum256(design.Original)
	if twin, err := d.shop.DesignByContent(sum[:]); err == nil {
		return 0, Problems{"file": fmt.Sprintf("%s holds the same stitches as “%s”, which is here already.", fileName, twin.Name)}
	} else if !errors.Is(err, store.ErrNotFound) {
		return 0, err
	}
	if len(design.Files) == 0 {
		if id, joined, err := d.joinTwin(design); err != nil || joined {
			return id, err
		}
	}
	design.SHA256, design.AddedAt = sum[:], d.now
	if err := d.addUnderFreeName(&design); err != nil {
		return 0, err
	}
	return design.ID, nil
}

// joinTwin puts a single file whose stitches are here already, in another
// format, beside its twin; a file in a format the twin has is a duplicate.
func (d Desk) joinTwin(design store.Design) (id int64, joined bool, err error) {
	twin, err := d.shop.DesignByStitches(design.StitchesSHA256)
	if errors.Is(err, store.ErrNotFound) {
		return 0, false, nil
	}
	if err != nil {
		return 0, false, err
	}
	if slices.Contains(twin.Formats(), design.Format) {
		return 0, false, Problems{"file": fmt.Sprintf("%s holds the same stitches as “%s”, which is here already.", design.FileName, twin.Name)}
	}
	err = d.shop.AddDesignFile(&store.DesignFile{DesignID: twin.ID, Format: design.Format, FileName: design.FileName, Original: design.Original})
	return twin.ID, true, saved(err, design.FileName)
}

// readUpload makes a design of a stitch file, or of a bundle of them.
func readUpload(fileName string, data []byte) (store.Design, error) {
	if !bundle.Is(data) {
		pattern, format, err := stitch.Decode(fileName, data)
		if err != nil {
			return store.Design{}, err
		}
		design := newDesign(fileName, format.Name, pattern)
		design.Original = data
		return design, nil
	}
	b, err := bundle.Read(data)
	if err != nil {
		return store.Design{}, fmt.Errorf("reading %s: %w", fileName, err)
	}
	best := b.Files[0]
	design := newDesign(cleanFileName(best.Name), best.Format.Name, best.Pattern)
	design.Name, design.Original = designName(fileName), best.Data
	design.Warnings = slices.Concat(design.Warnings, b.Disagreements, b.Skipped)
	for _, f := range b.Files[1:] {
		design.Files = append(design.Files, store.DesignFile{Format: f.Format.Name, FileName: cleanFileName(f.Name), Original: f.Data})
	}
	for _, c := range b.Charts {
		design.Charts = append(design.Charts, store.DesignChart{FileName: cleanFileName(c.Name), Original: c.Data})
	}
	return design, nil
}

// addUnderFreeName adds the design; where its name is taken, a number makes
// it another.
func (d Desk) addUnderFreeName(design *store.Design) error {
	name := design.Name
	for n := 2; ; n++ {
		err := d.shop.AddDesign(design)
		if !errors.Is(err, store.ErrTaken) || n > 50 {
			return err
		}
		design.ID, design.Name = 0, fmt.Sprintf("%s %d", name, n)
	}
}

func newDesign(fileName, format string, p *stitch.Pattern) store.Design {
	a := stitch.Analyse(p)
	design := store.Design{
		Name: designName(fileName), FileName: fileName, Format: format,
		WidthMM: a.WidthMM, HeightMM: a.HeightMM, Stitches: a.Stitches, Jumps: a.Jumps, Trims: a.Trims, ColorChanges: a.ColorChanges,
		Warnings: a.Warnings, Coverage: stitch.Density(p.Moves).Mean(),
	}
	design.LetteringMM = stitch.LetteringMM(a)
	fingerprint := a.Fingerprint()
	design.StitchesSHA256 = fingerprint[:]
	lengths := stitch.LengthsOf(a)
	design.ShortStitches, design.LongStitches, design.NarrowestSatinMM = lengths.Short, lengths.Long, lengths.NarrowestSatinMM
	tolerance := drawingTolerance(len(p.Moves))
	for i, s := range a.Stops {
		color := starterColors[i%len(starterColors)]
		if s.Color != nil {
			color = s.Color.String()
		}
		design.Stops = append(design.Stops, store.DesignStop{
			N: s.N, Color: color, Role: string(s.Role), Stitches: s.Stitches, Jumps: s.Jumps, Trims: s.Trims, Snips: s.Snips,
			ThreadMM: s.ThreadMM, Coverage: stitch.Density(s.Moves).Mean(),
			LeftMM: s.Bounds.Left, BottomMM: s.Bounds.Bottom, RightMM: s.Bounds.Right, TopMM: s.Bounds.Top, Path: stitch.SVGPath(s.Moves, a.CentreX, a.CentreY, tolerance),
		})
	}
	return design
}

// drawingTolerance keeps a page's drawing light: a design of usual size is
// drawn to a tenth of a millimetre or two, a huge one more coarsely.
func drawingTolerance(moves int) float64 {
	const fine, usual = 1.0, 12_000
	return max(fine, fine*float64(moves)/usual)
}

// cleanFileName keeps the last part of a name that came from outside, without
// anything unprintable, and no longer than a page can show.
func cleanFileName(name string) string {
	name = filepath.Base(strings.ReplaceAll(name, `\`, "/"))
	name = strings.Map(func(r rune) rune {
		if unicode.IsPrint(r) && r != '/' {
			return r
		}
		return -1
	}, name)
	if runes := []rune(name); len(runes) > 80 {
		name = string(runes[len(runes)-80:])
	}
	if name == "." {
		return ""
	}
	return name
}

// stem is a file's name without its extension.
func stem(fileName string) string { return strings.TrimSuffix(fileName, filepath.Ext(fileName)) }

// designName makes words of a file name: rope-knot.dst is "Rope knot".
func designName(fileName string) string {
	name := strings.TrimSpace(strings.Map(func(r rune) rune {
		if r == '-' || r == '_' {
			return ' '
		}
		return r
	}, stem(fileName)))
	if name == "" {
		return "Design"
	}
	runes := []rune(name)
	runes[0] = unicode.ToUpper(runes[0])
	return string(runes)
}

// Sentence makes an error text a sentence.
func Sentence(text string) string {
	runes := []rune(text)
	runes[0] = unicode.ToUpper(runes[0])
	return strings.TrimSuffix(string(runes), ".") + "."
}

// A MachineFit says whether a design can be sewn on a machine, and how.
type MachineFit struct {
	Machine store.Machine
	// Problem is empty when a hoop fits.
	Problem string
	Hoop    store.MachineHoop
	Fit     hoop.Fit
	// HasFile tells that the design has a file the machine reads, in
	// FileFormat; otherwise ConvertTo is one it could read.
	HasFile    bool
	FileFormat string
	ConvertTo  string
	Minutes    float64
	Working    []string
}

// Fits tells whether some hoop of the machine takes the design.
func (f MachineFit) Fits() bool { return f.Problem == "" }

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

// typicalMachine stands in where no machine of the room can sew the design.
var typicalMachine = pace.Machine{TopSpeedSPM: 700, ChangeSeconds: 60, AutoTrim: true}

// fitOn tries a design on a machine's hoops and takes the one the house
// prefers.
func fitOn(m store.Machine, design store.Design, garment bool, settings store.WorkshopRow) MachineFit {
	fit := MachineFit{Machine: m}
	for _, format := range design.Formats() {
		if !fit.HasFile && slices.Contains(m.Formats, format) {
			fit.HasFile, fit.FileFormat = true, format
		}
	}
	if !fit.HasFile {
		for _, format := range m.Formats {
			if slices.Contains(stitch.Names(), format) {
				fit.ConvertTo = format
				break
			}
		}
	}
	hoops := usableHoops(m)
	if len(hoops) == 0 {
		fit.Problem = "no hoop for this machine yet"
		return fit
	}
	fields := make([]hoop.Field, len(hoops))
	for i, h := range hoops {
		fields[i] = field(h.Hoop)
	}
	index, chosen, ok := hoop.Choose(fields, design.WidthMM, design.HeightMM, 0, hoopSchool(settings.House), garment)
	if !ok {
		largest := slices.MaxFunc(hoops, byArea)
		_, err := hoop.Into(field(largest.Hoop), design.WidthMM, design.HeightMM, 0)
		fit.Problem, fit.Hoop = err.Error(), largest
		return fit
	}
	if !fit.HasFile && fit.ConvertTo == "" {
		fit.Problem = "reads none of the formats we can write"
	}
	fit.Hoop, fit.Fit = hoops[index], chosen
	out := settings.Figures.Pace.StitchOut(paceMachine(m), paceStops(design), 1)
	fit.Minutes, fit.Working = out.Total, out.Working
	return fit
}

// hoopSchool is how the house chooses among hoops that fit.
func hoopSchool(house recipe.House) hoop.School {
	if house.HoopSize == "" {
		return hoop.ByBlank
	}
	return hoop.School(house.HoopSize)
}

func usableHoops(m store.Machine) []store.MachineHoop {
	return slices.DeleteFunc(slices.Clone(m.Hoops), func(h store.MachineHoop) bool { return h.Hoop.Count == 0 })
}

func field(h store.Hoop) hoop.Field { return hoop.Field{WidthMM: h.WidthMM, HeightMM: h.HeightMM} }

func byArea(a, b store.MachineHoop) int {
	return cmp.Compare(a.Hoop.WidthMM*a.Hoop.HeightMM, b.Hoop.WidthMM*b.Hoop.HeightMM)
}

// shareHoops lets machines that want the same hoop have one each: a machine
// for which none is left takes the next size up that fits, as long as there
// is one, and shares otherwise. The machines with the least choice go first.
func shareHoops(seats []MachineFit, design store.Design) {
	order := make([]*MachineFit, len(seats))
	for i := range seats {
		order[i] = &seats[i]
	}
	slices.SortStableFunc(order, func(a, b *MachineFit) int {
		return cmp.Compare(len(usableHoops(a.Machine)), len(usableHoops(b.Machine)))
	})
	wanted := map[int64]int{}
	for _, seat := range order {
		if !seat.Fits() {
			continue
		}
		if wanted[seat.Hoop.HoopID] >= seat.Hoop.Hoop.Count {
			hoops := usableHoops(seat.Machine)
			slices.SortFunc(hoops, byArea)
			for _, h := range hoops {
				fit, err := hoop.Into(field(h.Hoop), design.WidthMM, design.HeightMM, 0)
				if err == nil && byArea(h, seat.Hoop) >= 0 && wanted[h.HoopID] < h.Hoop.Count {
					seat.Hoop, seat.Fit = h, fit
					break
				}
			}
		}
		wanted[seat.Hoop.HoopID]++
	}
}

func paceMachine(m store.Machine) pace.Machine {
	return pace.Machine{TopSpeedSPM: float64(m.TopSpeedSPM), ChangeSeconds: float64(m.ChangeSeconds), AutoTrim: m.AutoTrim, Pace: m.Pace}
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
