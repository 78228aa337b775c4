package classload

import (
	"slices"

	"chalkstep/app/actor"
	"chalkstep/core/card"
	"chalkstep/core/classday"
	"chalkstep/core/stitch/picture"
)

// A CardPage is one student's card, with how far their kit is.
type CardPage struct {
	Plan  classday.Plan
	Card  card.Card
	Place classday.Place
}

func (d Loader) StepCard(classID, studentID int64) (CardPage, error) {
	page, err := d.Kits(classID)
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

// stationPixels is how large the drawing on a phone is, on its longer side.
const stationPixels = 520

// StopPicture draws the nth stop of a design that is sewn in some works, what comes before it
// pale.
func (d Loader) StopPicture(works []classday.Work, designID int64, n int) (mediaType string, data []byte, err error) {
	for _, w := range works {
		for _, s := range w.Sewing {
			if s.Design.ID != designID || n < 1 || n > len(s.Design.Stops) {
				continue
			}
			pattern, err := d.Pattern(s.Design)
			if err != nil {
				return "", nil, err
			}
			p, err := picture.UpTo(pattern, actor.SeenAt(s.Design, s.Design.Stops[n-1].N), stationPixels)
			return p.MediaType, p.Data, err
		}
	}
	return "", nil, actor.NotFound("design %d in the class", designID)
}
