package app

import (
	"chalkstep/core/recipe"
	"chalkstep/store"
)

// A HousePage is the workshop's house rules.
type HousePage struct {
	Settings  store.WorkshopRow
	House     recipe.House
	Questions []recipe.Question
	// TrimMM and MarginMM are the house's lengths, or their defaults.
	TrimMM, MarginMM float64
	// Otherwise counts the rules that are not the default.
	Otherwise int
}

// House opens the house rules.
func (d Desk) House() (HousePage, error) {
	settings, err := d.settings()
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
	Version             int
	Choices             map[string]string
	TrimMM, SheetMargin string
}

// SaveHouse keeps the house rules. They are the owner's to set.
func (d Desk) SaveHouse(in HouseInput) error {
	if d.Who.Role != store.Owner {
		return Problems{"": "House rules are the owner's to change."}
	}
	settings, err := d.settings()
	if err != nil {
		return err
	}
	problems := Problems{}
	house := recipe.House{}
	for _, q := range recipe.Questions {
		if err := house.Set(q.Key, in.Choices[q.Key]); err != nil {
			problems[q.Key] = "Choose one of the schools."
		}
	}
	house.TrimMM = d.length(problems, "trim", in.TrimMM, 1, 50)
	house.SheetMarginMM = d.length(problems, "margin", in.SheetMargin, 5, 100)
	if err := problems.orNil(); err != nil {
		return err
	}
	settings.House, settings.Version = house, in.Version
	return d.onceOnly(func(d Desk) error { return saved(d.shop.SaveSettings(settings), "") })
}
