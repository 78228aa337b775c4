package app

import (
	"chalkstep/core/design"
	"chalkstep/core/stitch"
)

// PointAt finds the stitch of a design nearest to a point in millimetres
// from its centre, and where to restart from there.
func (d Desk) PointAt(id int64, xMM, yMM float64) (stitch.Place, error) {
	if err := d.may(See); err != nil {
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
	if err := d.may(See); err != nil {
		return stitch.Place{}, err
	}
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
func (d Desk) sewn(id int64) (design.Design, *stitch.Pattern, error) {
	row, err := d.shop.Design(id)
	if err != nil {
		return design.Design{}, nil, err
	}
	pattern, err := d.pattern(row.Value())
	return row.Value(), pattern, err
}

// analysis is sewn, with the stitches analysed.
func (d Desk) analysis(id int64) (design.Design, stitch.Analysis, error) {
	sewn, pattern, err := d.sewn(id)
	if err != nil {
		return sewn, stitch.Analysis{}, err
	}
	return sewn, stitch.Analyse(pattern), nil
}
