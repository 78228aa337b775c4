package prep

import (
	"chalkstep/app/actor"
	"chalkstep/app/classload"
	"chalkstep/app/form"
	"chalkstep/core/card"
	"chalkstep/core/classday"
	"chalkstep/core/measure"
	"chalkstep/core/say"
)

// StepCard opens one student's card.
func (d UseCases) StepCard(classID, studentID int64) (classload.CardPage, error) {
	if err := d.Need(actor.See); err != nil {
		return classload.CardPage{}, err
	}
	return d.load().StepCard(classID, studentID)
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
