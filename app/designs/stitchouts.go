package designs

import (
	"strings"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/design"
	"chalkstep/core/photo"
)

// mostStitchOuts are listed of a design, the newest.
const mostStitchOuts = 30

// A StitchOutInput is what a person logs of a stitch-out.
type StitchOutInput struct {
	MachineID int64  `form:"machine"`
	Date      string `form:"date"`
	Fabric    string `form:"fabric"`
	Recipe    string `form:"recipe"`
	Minutes   string `form:"minutes"`
	Thread    string `form:"thread"`
	// Breaks of the thread, empty where nobody counted.
	Breaks    string `form:"breaks"`
	WentWrong string `form:"went-wrong"`
	Photo     []byte `form:"-"`
}

// LogStitchOut keeps how a sewing of a design really went.
func (d UseCases) LogStitchOut(designID int64, in StitchOutInput) error {
	if err := d.Need(actor.ChangeDesigns); err != nil {
		return err
	}
	sewn, err := d.design(designID)
	if err != nil {
		return err
	}
	problems := form.Problems{}
	run := design.StitchOut{DesignID: designID, MachineID: in.MachineID, Fabric: in.Fabric}
	run.Recipe = form.Text(problems, "recipe", in.Recipe, form.LongestNote)
	run.WentWrong = form.Text(problems, "went-wrong", strings.ReplaceAll(in.WentWrong, "\n", " "), form.LongestText)
	machine, err := d.Workshop.Machine(in.MachineID)
	if err != nil {
		problems["machine"] = "Choose the machine it was sewn on."
	}
	run.SewnOn = form.PastDay(d.Date(), problems, "date", in.Date)
	if !form.KnownFabric(in.Fabric) {
		problems["fabric"] = "Choose what it was sewn on."
	}
	run.Minutes = form.Number(problems, "minutes", in.Minutes, 0.1, 1440,
		"Write the minutes at the machine, from loading to the last stitch.")
	if strings.TrimSpace(in.Thread) != "" {
		run.ThreadMetres = form.Number(problems, "thread", in.Thread, 0.1, 10_000,
			"Write the metres of top thread used, or leave it empty.")
	}
	if strings.TrimSpace(in.Breaks) != "" {
		breaks := form.Whole(problems, "breaks", in.Breaks, 0, 200,
			"Write how often the thread broke, 0 to 200, or leave it empty.")
		run.Breaks = &breaks
	}
	picture := d.Photo(problems, in.Photo)
	if err := problems.OrNil(); err != nil {
		return err
	}
	settings, err := d.Settings()
	if err != nil {
		return err
	}
	run = sewn.Said(run, settings.Timing().StitchOut(machine.Pacing(), sewn.Pacing(), 1))
	_, err = actor.Once(d, func(d UseCases) (int64, error) {
		id, err := d.Workshop.LogStitchOut(run, picture, d.Who.AccountID)
		return id, form.Saved(err, "")
	})
	return err
}

// RemoveStitchOut takes back an entry made by mistake.
func (d UseCases) RemoveStitchOut(designID, id int64) error {
	if err := d.Need(actor.ChangeDesigns); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error { return d.Workshop.RemoveStitchOut(designID, id) })
}

// StitchOutPhoto gives a photo with its type.
func (d UseCases) StitchOutPhoto(designID, id int64) (kind string, data []byte, err error) {
	if err := d.Need(actor.See); err != nil {
		return "", nil, err
	}
	p, err := d.Workshop.StitchOutPhoto(designID, id)
	return photo.MediaType, p.Data, err
}
