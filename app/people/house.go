package people

import (
	"cmp"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/policy"
	"chalkstep/core/policy/rule"
	"chalkstep/core/schedule"
)

// A HousePage is the workshop's house rules.
type HousePage struct {
	Settings  policy.Workshop
	House     policy.House
	Questions []rule.Question[policy.House]
	// TrimMM and MarginMM are the house's lengths, or their defaults.
	TrimMM, MarginMM float64
	// Weights are what a class's plan is weighed by.
	Weights []WeightLine
	// Otherwise counts the rules that are not the default.
	Otherwise int
}

// A WeightLine is one figure of what a plan is weighed by.
type WeightLine struct {
	schedule.Weight
	// Field is what the form calls it.
	Field        string
	Value, Usual float64
}

// WeightField is what the form calls a weight.
func WeightField(key string) string { return "weight-" + key }

// House opens the house rules.
func (d UseCases) House() (HousePage, error) {
	if err := d.Need(actor.See); err != nil {
		return HousePage{}, err
	}
	settings, err := d.Settings()
	page := HousePage{Settings: settings, House: settings.House, Questions: policy.Questions}
	page.TrimMM, page.MarginMM = settings.House.LengthsMM()
	for _, q := range policy.Questions {
		if q.Choice(settings.House) != q.Schools[0].Value {
			page.Otherwise++
		}
	}
	for _, w := range schedule.WeightKinds {
		page.Weights = append(page.Weights,
			WeightLine{w, WeightField(w.Key), w.Of(settings.Plan), w.Of(schedule.UsualWeights())})
	}
	return page, err
}

// A HouseInput is what a person chooses; lengths are typed.
type HouseInput struct {
	Version     int
	Choices     map[string]string `says:"Rule"`
	TrimMM      string            `says:"Leave of cut-away"`
	SheetMargin string            `says:"Sheets larger by"`
	// Weights are typed, by their keys; one that is not named stays as it is.
	Weights map[string]string `says:"Weight"`
	// Units and Clock are for those who have not chosen their own.
	Units string `says:"Units"`
	Clock string `says:"Clock"`
}

// SaveHouse keeps the house rules. They are the owner's to set.
func (d UseCases) SaveHouse(in HouseInput) error {
	if err := d.Need(actor.SetHouse); err != nil {
		return err
	}
	settings, err := d.Settings()
	if err != nil {
		return err
	}
	problems := form.Problems{}
	rules := policy.House{}
	for _, q := range policy.Questions {
		if err := rules.Set(q.Key, in.Choices[q.Key]); err != nil {
			problems[q.Key] = "Choose one of the schools."
		}
	}
	rules.TrimMM = form.Length(d.Printer(), problems, "trim", in.TrimMM, 1, 50)
	rules.SheetMarginMM = form.Length(d.Printer(), problems, "margin", in.SheetMargin, 5, 100)
	for _, w := range schedule.WeightKinds {
		if typed, is := in.Weights[w.Key]; is {
			w.Set(&settings.Plan,
				form.Number(problems, WeightField(w.Key), typed, 0, schedule.MostWeight,
					"Write a number from 0 to 10000; 0 leaves it out."))
		}
	}
	settings.Units = cmp.Or(form.Chosen(problems, "units", in.Units, form.UnitChoices, "Choose millimetres or inches."),
		settings.Units)
	settings.Clock = cmp.Or(form.Chosen(problems, "clock", in.Clock, form.ClockChoices, "Choose 24 or 12 hours."),
		settings.Clock)
	if err := problems.OrNil(); err != nil {
		return err
	}
	settings.House, settings.Version = rules, in.Version
	return actor.OnceOnly(d, func(d UseCases) error {
		return form.Saved(form.Compare(d.Workshop.SaveSettings(settings), in, d.houseInput), "")
	})
}

// houseInput are the house rules as their form has them, read anew.
func (d UseCases) houseInput() (HouseInput, int, error) {
	settings, err := d.Workshop.Settings()
	in := HouseInput{Choices: map[string]string{}, Weights: map[string]string{}, Units: settings.Units,
		Clock: settings.Clock}
	for _, q := range policy.Questions {
		in.Choices[q.Key] = q.Choice(settings.House)
	}
	for _, w := range schedule.WeightKinds {
		in.Weights[w.Key] = form.Plain(w.Of(settings.Plan))
	}
	trim, margin := settings.House.LengthsMM()
	in.TrimMM, in.SheetMargin = form.TypedLength(d.Printer(), trim), form.TypedLength(d.Printer(), margin)
	return in, settings.Version, err
}

// HouseQuestions are what the house rules ask.
var HouseQuestions = policy.Questions
