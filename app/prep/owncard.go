package prep

import (
	"chalkstep/app/actor"
	"chalkstep/app/classload"
	"chalkstep/core/classday"
)

// OwnCard opens the step card of the student who asks, for the class they come to next.
func (d UseCases) OwnCard() (classload.CardPage, error) {
	if err := d.Need(actor.SeeOwn); err != nil {
		return classload.CardPage{}, err
	}
	id, some, err := d.Workshop.NextClassOf(d.Who.StudentID, d.Now)
	if err != nil {
		return classload.CardPage{}, err
	}
	if !some {
		return classload.CardPage{}, actor.NotFound("a class that you come to")
	}
	return d.load().StepCard(id, d.Who.StudentID)
}

// OwnPicture draws a stop of a design that the student who asks sews in the class they come
// to next.
func (d UseCases) OwnPicture(designID int64, n int) (mediaType string, data []byte, err error) {
	if err := d.Need(actor.SeeOwn); err != nil {
		return "", nil, err
	}
	id, some, err := d.Workshop.NextClassOf(d.Who.StudentID, d.Now)
	if err != nil {
		return "", nil, err
	}
	if some {
		plan, _, err := d.load().ClassIn(id)
		if err != nil {
			return "", nil, err
		}
		if w, _, makes := plan.Maker(classday.PersonID(d.Who.StudentID)); makes {
			return d.load().StopPicture([]classday.Work{w}, designID, n)
		}
	}
	return "", nil, actor.NotFound("design %d in your class", designID)
}
