package app

import (
	"net/http"
	"slices"
	"strings"
	"time"

	"chalkstep/core/kit"
	"chalkstep/core/pace"
	"chalkstep/core/recipe"
	"chalkstep/store"
)

// learn puts what logged stitch-outs tell into what is planned with: each
// machine's pace, and the thread that a length on the face draws.
func learn(figures *store.Figures, machines []store.Machine, runs []store.StitchOut) {
	byMachine := map[int64][]pace.Run{}
	var threads []kit.ThreadRun
	for _, r := range runs {
		byMachine[r.MachineID] = append(byMachine[r.MachineID], pace.Run{Real: r.Minutes, Estimated: r.EstimatedMinutes, Sewing: r.EstimatedSewing})
		threads = append(threads, kit.ThreadRun{RealMM: r.ThreadMetres * 1000, PathMM: r.PathMM, Ends: r.Ends})
	}
	for i := range machines {
		machines[i].Pace = figures.Pace.Learned(byMachine[machines[i].ID])
	}
	figures.Kit.DrawFactor = figures.Kit.LearnedDraw(threads)
}

// A StitchOutLine is a logged stitch-out beside what would be said of it now.
type StitchOutLine struct {
	store.StitchOut
	// NowMinutes is today's estimate for the same machine, 0 where it does
	// not fit any more.
	NowMinutes float64
}

// OffPercent is how much longer than estimated it took, below 0 for shorter.
func (l StitchOutLine) OffPercent() float64 { return (l.Minutes/l.EstimatedMinutes - 1) * 100 }

func (d Desk) stitchOuts(page DesignPage) ([]StitchOutLine, error) {
	runs, err := d.shop.StitchOutsOf(page.Design.ID)
	if err != nil {
		return nil, err
	}
	var lines []StitchOutLine
	for _, r := range runs {
		line := StitchOutLine{StitchOut: r}
		for _, m := range page.Machines {
			if m.Machine.ID == r.MachineID {
				line.NowMinutes = m.Minutes
			}
		}
		lines = append(lines, line)
	}
	return lines, nil
}

// A StitchOutInput is what a person logs of a stitch-out.
type StitchOutInput struct {
	MachineID            int64
	Date, Fabric, Recipe string
	Minutes, Thread      string
	WentWrong            string
	Photo                []byte
}

const mostPhotoBytes = 8 << 20

// photoTypes are the pictures that every browser shows.
var photoTypes = []string{"image/jpeg", "image/png", "image/webp"}

// LogStitchOut keeps how a sewing of a design really went.
func (d Desk) LogStitchOut(designID int64, in StitchOutInput) error {
	if err := d.mayChange(); err != nil {
		return err
	}
	design, err := d.shop.Design(designID)
	if err != nil {
		return err
	}
	problems := Problems{}
	run := store.StitchOut{DesignID: designID, MachineID: in.MachineID, LoggedByID: d.Who.AccountID, Fabric: in.Fabric, Recipe: strings.TrimSpace(in.Recipe), WentWrong: strings.TrimSpace(in.WentWrong)}
	machine, err := d.shop.Machine(in.MachineID)
	if err != nil {
		problems["machine"] = "Choose the machine it was sewn on."
	}
	if run.SewnOn, err = time.Parse(time.DateOnly, strings.TrimSpace(in.Date)); err != nil {
		problems["date"] = "Choose the day it was sewn."
	} else if run.SewnOn.Format(time.DateOnly) > d.Date() {
		problems["date"] = "That day is still to come."
	}
	if !knownFabric(in.Fabric) {
		problems["fabric"] = "Choose what it was sewn on."
	}
	run.Minutes = number(problems, "minutes", in.Minutes, 0.1, 1440, "Write the minutes at the machine, from loading to the last stitch.")
	if strings.TrimSpace(in.Thread) != "" {
		run.ThreadMetres = number(problems, "thread", in.Thread, 0.1, 10_000, "Write the metres of top thread used, or leave it empty.")
	}
	if len([]rune(run.Recipe)) > 300 || len([]rune(run.WentWrong)) > 1000 {
		problems[""] = "Keep the recipe under 300 letters and what went wrong under 1,000."
	}
	run.Photo, run.PhotoType = in.Photo, photoType(problems, in.Photo)
	if err := problems.orNil(); err != nil {
		return err
	}
	settings, err := d.shop.Settings()
	if err != nil {
		return err
	}
	said := settings.Figures.Pace.StitchOut(paceMachine(machine), paceStops(design), 1)
	run.EstimatedMinutes, run.EstimatedSewing = said.Total, said.Sewing
	for _, s := range design.Stops {
		run.PathMM += s.ThreadMM
		run.Ends += s.Trims + 1
	}
	return saved(d.shop.LogStitchOut(&run), "")
}

func knownFabric(name string) bool {
	return slices.Contains(recipe.Fabrics, recipe.Fabric(name))
}

// photoType names the kind of picture that bytes are, by what they begin with.
func photoType(problems Problems, photo []byte) string {
	if len(photo) == 0 {
		return ""
	}
	if len(photo) > mostPhotoBytes {
		problems["photo"] = "The photo is larger than 8 MB: take a smaller one."
		return ""
	}
	if kind := http.DetectContentType(photo); slices.Contains(photoTypes, kind) {
		return kind
	}
	problems["photo"] = "That is no picture a browser shows: choose a JPEG, PNG or WebP photo."
	return ""
}

// RemoveStitchOut takes back an entry made by mistake.
func (d Desk) RemoveStitchOut(designID, id int64) error {
	if err := d.mayChange(); err != nil {
		return err
	}
	return d.shop.RemoveStitchOut(designID, id)
}

// StitchOutPhoto gives a photo with its type.
func (d Desk) StitchOutPhoto(designID, id int64) (kind string, data []byte, err error) {
	run, err := d.shop.StitchOutPhoto(designID, id)
	return run.PhotoType, run.Photo, err
}
