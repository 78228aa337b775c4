package app

import (
	"errors"
	"fmt"
	"slices"
	"time"

	"chalkstep/core/recipe"
	"chalkstep/core/skill"
	"chalkstep/store"
)

// A StepCard is a student's sheet for a class.
type StepCard struct {
	Page    ClassPage
	Student store.Student
	Seat    MachineFit
	Recipe  recipe.Recipe
	Steps   []CardStep
	Stops   []StopLine
	Missing []skill.Step
}

// A CardStep is a step with its time of day.
type CardStep struct {
	store.ProjectStep
	Start, End time.Time
}

// errNoCard means there is no plan to make cards from.
var errNoCard = errors.New("the class has no plan yet")

// StepCard opens one student's card.
func (d Desk) StepCard(classID, studentID int64) (StepCard, error) {
	page, err := d.planned(classID)
	if err != nil {
		return StepCard{}, err
	}
	for _, s := range page.Class.Students {
		if s.StudentID == studentID {
			return newStepCard(page, s.Student)
		}
	}
	return StepCard{}, fmt.Errorf("finding student %d in class %d: %w", studentID, classID, store.ErrNotFound)
}

// StepCards opens the cards of everyone in a class.
func (d Desk) StepCards(classID int64) (ClassPage, []StepCard, error) {
	page, err := d.planned(classID)
	if err != nil {
		return page, nil, err
	}
	var cards []StepCard
	for _, s := range page.Class.Students {
		card, err := newStepCard(page, s.Student)
		if err != nil {
			return page, nil, err
		}
		cards = append(cards, card)
	}
	return page, cards, nil
}

// planned opens a class that has a plan to make cards from.
func (d Desk) planned(classID int64) (ClassPage, error) {
	page, err := d.Class(classID)
	if err == nil && page.PlanProblem != "" {
		err = Problems{"": page.PlanProblem + " Without a plan there are no step cards."}
	}
	return page, err
}

func newStepCard(page ClassPage, s store.Student) (StepCard, error) {
	card := StepCard{Page: page, Student: s}
	station := page.stationOf(id(s.ID))
	seat := slices.IndexFunc(page.Seats, func(f MachineFit) bool { return id(f.Machine.ID) == station })
	if seat < 0 {
		return card, errNoCard
	}
	card.Seat = page.Seats[seat]
	p := page.Project.Project
	var err error
	if card.Recipe, err = recipeFor(p, card.Seat.Hoop.Hoop, page.settings.House); err != nil {
		return card, err
	}
	figures := page.settings.Figures
	out := figures.Pace.StitchOut(paceMachine(card.Seat.Machine), paceStops(p.Design), handOf(s, figures.Pace))
	for i, stop := range p.Design.Stops {
		card.Stops = append(card.Stops, StopLine{DesignStop: stop, TopMM: figures.Kit.TopThreadMM(coreStop(stop)), Minutes: out.Stops[i]})
	}
	for _, placed := range page.StepsOf(id(s.ID)) {
		i := slices.IndexFunc(p.Steps, func(ps store.ProjectStep) bool { return ps.Key == placed.Step })
		card.Steps = append(card.Steps, CardStep{p.Steps[i], page.At(placed.Start), page.At(placed.End)})
	}
	card.Missing = skill.Missing(s.Signed(machineKinds...), needsOf(p))
	return card, nil
}
