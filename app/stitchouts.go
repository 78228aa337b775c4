package app

import (
	"strings"
	"time"

	"chalkstep/core/kit"
	"chalkstep/core/pace"
	"chalkstep/core/room"
	"chalkstep/store"
)

// learn puts what logged stitch-outs tell into what is planned with: each
// machine's pace, and the thread that a length on the face draws.
func learn(figures *store.Figures, machines []store.Machine) {
	var thread kit.Drawn
	for i := range machines {
		m := &machines[i]
		m.Pace = figures.Pace.Learned(pace.Runs{Count: m.Learned.Runs, TookMinutes: m.Learned.SewnMinutes, SaidMinutes: m.Learned.SaidMinutes})
		thread.RealMM += m.Learned.DrawnMM
		thread.PathMM += m.Learned.PathMM
		thread.Ends += m.Learned.Ends
	}
	figures.Kit.DrawFactor = figures.Kit.LearnedDraw(thread)
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

// mostStitchOuts are listed of a design, the newest.
const mostStitchOuts = 30

func (d Desk) stitchOuts(page room.Estimate) ([]StitchOutLine, int, error) {
	runs, total, err := d.shop.StitchOutsOf(page.Design.ID, mostStitchOuts)
	if err != nil {
		return nil, 0, err
	}
	var lines []StitchOutLine
	for _, r := range runs {
		line := StitchOutLine{StitchOut: r}
		for _, s := range page.Seats {
			if s.Machine.ID == r.MachineID {
				line.NowMinutes = s.StitchOut.Total
			}
		}
		lines = append(lines, line)
	}
	return lines, total, nil
}

// A StitchOutInput is what a person logs of a stitch-out.
type StitchOutInput struct {
	MachineID            int64
	Date, Fabric, Recipe string
	Minutes, Thread      string
	WentWrong            string
	Photo                []byte
}

// LogStitchOut keeps how a sewing of a design really went.
func (d Desk) LogStitchOut(designID int64, in StitchOutInput) error {
	if err := d.may(ChangeDesigns); err != nil {
		return err
	}
	design, err := d.design(designID)
	if err != nil {
		return err
	}
	problems := Problems{}
	run := store.StitchOut{DesignID: designID, MachineID: in.MachineID, LoggedByID: d.Who.AccountID, Fabric: in.Fabric}
	run.Recipe = text(problems, "recipe", in.Recipe, LongestNote)
	run.WentWrong = text(problems, "went-wrong", strings.ReplaceAll(in.WentWrong, "\n", " "), LongestText)
	machine, err := d.shop.Machine(in.MachineID)
	if err != nil {
		problems["machine"] = "Choose the machine it was sewn on."
	}
	if run.SewnOn, err = time.Parse(time.DateOnly, strings.TrimSpace(in.Date)); err != nil {
		problems["date"] = "Choose the day it was sewn."
	} else if run.SewnOn.Format(time.DateOnly) > d.Date() {
		problems["date"] = "That day is still to come."
	} else if run.SewnOn.Year() < firstYear {
		problems["date"] = "That is too long ago: choose the day it was sewn."
	}
	if !knownFabric(in.Fabric) {
		problems["fabric"] = "Choose what it was sewn on."
	}
	run.Minutes = number(problems, "minutes", in.Minutes, 0.1, 1440, "Write the minutes at the machine, from loading to the last stitch.")
	if strings.TrimSpace(in.Thread) != "" {
		run.ThreadMetres = number(problems, "thread", in.Thread, 0.1, 10_000, "Write the metres of top thread used, or leave it empty.")
	}
	photo := d.photo(problems, in.Photo)
	run.Photo, run.PhotoType, run.PhotoWidth, run.PhotoHeight = photo.Data, photo.Type, photo.Width, photo.Height
	if err := problems.orNil(); err != nil {
		return err
	}
	settings, err := d.settings()
	if err != nil {
		return err
	}
	said := settings.Figures.Pace.StitchOut(machine.Value().Pacing(), design.Pacing(), 1)
	run.EstimatedMinutes, run.EstimatedSewing = said.Total, said.Sewing
	run.SewnMinutes = pace.Sewn(run.Minutes, said)
	for _, s := range design.Stops {
		run.PathMM += s.ThreadMM
		run.Ends += s.Trims + 1
	}
	return d.onceOnly(func(d Desk) error { return saved(d.shop.LogStitchOut(&run), "") })
}

// RemoveStitchOut takes back an entry made by mistake.
func (d Desk) RemoveStitchOut(designID, id int64) error {
	if err := d.may(ChangeDesigns); err != nil {
		return err
	}
	return d.onceOnly(func(d Desk) error { return d.shop.RemoveStitchOut(designID, id) })
}

// StitchOutPhoto gives a photo with its type.
func (d Desk) StitchOutPhoto(designID, id int64) (kind string, data []byte, err error) {
	if err := d.may(See); err != nil {
		return "", nil, err
	}
	run, err := d.shop.StitchOutPhoto(designID, id)
	return run.PhotoType, run.Photo, err
}
