package classes

import (
	"slices"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/card"
	"chalkstep/core/classday"
	"chalkstep/core/measure"
	"chalkstep/core/say"
)

// A CardPage is one student's card, with how far their kit is.
type CardPage struct {
	Plan  classday.Plan
	Card  card.Card
	Place classday.Place
}

// StepCard opens one student's card.
func (d UseCases) StepCard(classID, studentID int64) (CardPage, error) {
	if err := d.Need(actor.See); err != nil {
		return CardPage{}, err
	}
	return d.stepCard(classID, studentID)
}

func (d UseCases) stepCard(classID, studentID int64) (CardPage, error) {
	page, err := d.kits(classID)
	if err != nil {
		return CardPage{}, err
	}
	made := CardPage{Plan: page.Plan}
	if at := slices.IndexFunc(page.Class.Places, func(p classday.Place) bool { return p.ID == studentID }); at >= 0 {
		made.Place = page.Class.Places[at]
	}
	if made.Place.ID == 0 {
		return made, actor.NotFound("student %d in class %d", studentID, classID)
	}
	made.Card, err = card.Of(page.Plan, studentID, page.Spool)
	return made, d.Mendable(err)
}

// PrinterFor writes a card in the units of its student, where they have some.
func (d UseCases) PrinterFor(c card.Card) say.Printer {
	p := d.Printer()
	if units, ok := measure.UnitsNamed(c.Units); ok {
		p.Units = units
	}
	return p
}

// A CardsPage is the cards of everyone in a class.
type CardsPage struct {
	classday.Plan
	Cards []card.Card
}

// StepCards opens the cards of everyone in a class who comes.
func (d UseCases) StepCards(classID int64) (CardsPage, error) {
	if err := d.Need(actor.See); err != nil {
		return CardsPage{}, err
	}
	page, err := d.Kits(classID)
	if err != nil {
		return CardsPage{}, err
	}
	made := CardsPage{Plan: page.Plan}
	if !page.Planned() {
		return made, form.Problems{"": d.Say(page.Why) + " Without a plan there are no step cards."}
	}
	for _, p := range page.Class.Places {
		if p.Attendance == classday.Absent || page.IsLeftOut(p.ID) {
			continue
		}
		c, err := card.Of(page.Plan, p.ID, page.Spool)
		if err != nil {
			return made, d.Mendable(err)
		}
		made.Cards = append(made.Cards, c)
	}
	return made, nil
}
