package app

import (
	"chalkstep/core/stitch"
	"chalkstep/store"
)

// PointAt finds the stitch of a design nearest to a point in millimetres
// from its centre, and where to restart from there.
func (d Desk) PointAt(id int64, xMM, yMM float64) (stitch.Place, error) {
	_, a, err := d.analysis(id)
	if err != nil {
		return stitch.Place{}, err
	}
	place, _ := a.Nearest(xMM, yMM)
	return place, nil
}

// RestartAt finds a stitch by its numbers, as the machine shows them.
func (d Desk) RestartAt(id int64, stop, number int) (stitch.Place, error) {
	_, a, err := d.analysis(id)
	if err != nil {
		return stitch.Place{}, err
	}
	place, err := a.PlaceOf(stop, number)
	if err != nil {
		return place, Problems{"stitch": Sentence(err.Error())}
	}
	return place, nil
}

// sewn reads a design and its stitches, in the threads chosen for them.
func (d Desk) sewn(id int64) (store.Design, *stitch.Pattern, error) {
	design, err := d.shop.Design(id)
	if err != nil {
		return design, nil, err
	}
	pattern, err := d.pattern(design)
	return design, pattern, err
}

// analysis is sewn, with the stitches analysed.
func (d Desk) analysis(id int64) (store.Design, stitch.Analysis, error) {
	design, pattern, err := d.sewn(id)
	if err != nil {
		return design, stitch.Analysis{}, err
	}
	return design, stitch.Analyse(pattern), nil
}
