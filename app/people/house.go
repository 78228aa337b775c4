package people

import (
	"cmp"

	"chalkstep/app/desk"
	"chalkstep/core/house"
	"chalkstep/core/recipe"
)

// A HousePage is the workshop's house rules.
type HousePage struct {
	Settings  house.Workshop
	House     recipe.House
	Questions []recipe.Question
	// TrimMM and MarginMM are the house's lengths, or their defaults.
	TrimMM, MarginMM float64
	// Otherwise counts the rules that are not the default.
	Otherwise int
}

// House opens the house rules.
func (d Desk) House() (HousePage, error) {
	if err := d.Need(desk.See); err != nil {
		return HousePage{}, err
	}
	settings, err := d.Settings()
	page := HousePage{Settings: settings, House: settings.House, Questions: recipe.Questions}
	page.TrimMM, page.MarginMM = settings.House.LengthsMM()
	for _, q := range recipe.Questions {
		if settings.House.Choice(q) != q.Schools[0].Value {
			page.Otherwise++
		}
	}
	return page, err
}

// A HouseInput is what a person chooses; lengths are typed.
type HouseInput struct {
	Version     int
	Choices     map[string]string `says:"Rule"`
	TrimMM      string            `says:"Leave of cut-away"`
	SheetMargin string            `says:"Sheets larger by"`
	// Units and Clock are for those who have not chosen their own.
	Units string `says:"Units"`
	Clock string `says:"Clock"`
}

// SaveHouse keeps the house rules. They are the owner's to set.
func (d Desk) SaveHouse(in HouseInput) error {
	if err := d.Need(desk.SetHouse); err != nil {
		return err
	}
	settings, err := d.Settings()
	if err != nil {
		return err
	}
	problems := desk.Problems{}
	rules := recipe.House{}
	for _, q := range recipe.Questions {
		if err := rules.Set(q.Key, in.Choices[q.Key]); err != nil {
			problems[q.Key] = "Choose one of the schools."
		}
	}
	rules.TrimMM = d.Length(problems, "trim", in.TrimMM, 1, 50)
	rules.SheetMarginMM = d.Length(problems, "margin", in.SheetMargin, 5, 100)
	settings.Units = cmp.Or(desk.Chosen(problems, "units", in.Units, desk.UnitChoices, "Choose millimetres or inches."), settings.Units)
	settings.Clock = cmp.Or(desk.Chosen(problems, "clock", in.Clock, desk.ClockChoices, "Choose 24 or 12 hours."), settings.Clock)
	if err := problems.OrNil(); err != nil {
		return err
	}
	settings.House, settings.Version = rules, in.Version
	return desk.OnceOnly(d, func(d Desk) error {
		return desk.Saved(desk.Beside(d.Shop.SaveSettings(settings), in, d.houseInput), "")
	})
}

// houseInput are the house rules as their form has them, read anew.
func (d Desk) houseInput() (HouseInput, int, error) {
	settings, err := d.Shop.Settings()
	in := HouseInput{Choices: map[string]string{}, Units: settings.Units, Clock: settings.Clock}
	for _, q := range recipe.Questions {
		in.Choices[q.Key] = settings.House.Choice(q)
	}
	trim, margin := settings.House.LengthsMM()
	in.TrimMM, in.SheetMargin = d.TypedLength(trim), d.TypedLength(margin)
	return in, settings.Version, err
}
