package designs

import (
	"chalkstep/app/desk"
	"chalkstep/core/design"
	"chalkstep/core/stitch"
)

// PointAt finds the stitch of a design nearest to a point in millimetres
// from its centre, and where to restart from there.
func (d Desk) PointAt(id int64, xMM, yMM float64) (stitch.Place, error) {
	if err := d.Need(desk.See); err != nil {
		return stitch.Place{}, err
	}
	_, a, err := d.analysis(id)
	if err != nil {
		return stitch.Place{}, err
	}
	place, _ := a.Nearest(xMM, yMM)
	return place, nil
}

// RestartAt finds a stitch by its numbers, as the machine shows them.
func (d Desk) RestartAt(id int64, stop, number int) (stitch.Place, error) {
	if err := d.Need(desk.See); err != nil {
		return stitch.Place{}, err
	}
	_, a, err := d.analysis(id)
	if err != nil {
		return stitch.Place{}, err
	}
	place, err := a.PlaceOf(stop, number)
	if err != nil {
		return place, desk.Problems{"stitch": desk.Sentence(err.Error())}
	}
	return place, nil
}

// analysis is sewn, with the stitches analysed.
func (d Desk) analysis(id int64) (design.Design, stitch.Analysis, error) {
	sewn, pattern, err := d.Sewn(id)
	if err != nil {
		return sewn, stitch.Analysis{}, err
	}
	return sewn, stitch.Analyse(pattern), nil
}
