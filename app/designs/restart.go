package designs

import (
	"strings"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/design"
	"chalkstep/core/stitch"
)

// PointAt finds the stitch of a design nearest to a point in millimetres
// from its centre, and where to restart from there.
func (d UseCases) PointAt(id int64, xMM, yMM float64) (stitch.Place, error) {
	if err := d.Need(actor.See); err != nil {
		return stitch.Place{}, err
	}
	_, a, err := d.analysis(id)
	if err != nil {
		return stitch.Place{}, err
	}
	place, _ := a.Nearest(xMM, yMM)
	return place, nil
}

// RestartAt finds a stitch by its numbers as the machine shows them: a stop and a
// stitch in it, or with no stop a stitch counted through the whole design.
func (d UseCases) RestartAt(id int64, stop, number string) (stitch.Place, error) {
	if err := d.Need(actor.See); err != nil {
		return stitch.Place{}, err
	}
	_, a, err := d.analysis(id)
	if err != nil {
		return stitch.Place{}, err
	}
	const most = 10_000_000
	problems := form.Problems{}
	stitches := form.Whole(problems, "stitch", number, 1, most, "Write the stitch that the machine shows, as a number.")
	through := strings.TrimSpace(stop) == ""
	stops := 0
	if !through {
		stops = form.Whole(problems, "stitch", stop, 1, most, "Write the stop as a number, or leave it empty.")
	}
	if err := problems.OrNil(); err != nil {
		return stitch.Place{}, err
	}
	place, err := a.PlaceThrough(stitches)
	if !through {
		place, err = a.PlaceOf(stops, stitches)
	}
	if err != nil {
		return stitch.Place{}, form.Problems{"stitch": form.Sentence(err.Error())}
	}
	return place, nil
}

// analysis is sewn, with the stitches analysed.
func (d UseCases) analysis(id int64) (design.Design, stitch.Analysis, error) {
	sewn, pattern, err := d.Sewn(id)
	if err != nil {
		return sewn, stitch.Analysis{}, err
	}
	return sewn, stitch.Analyse(pattern), nil
}
