package designs

import (
	"chalkstep/app/actor"
	"chalkstep/core/stitch"
)

// Stitches gives a design's moves for the player; see [stitch.Reel].
func (d UseCases) Stitches(id int64) ([]byte, error) {
	if err := d.Need(actor.See); err != nil {
		return nil, err
	}
	_, a, err := d.analysis(id)
	if err != nil {
		return nil, err
	}
	return a.Reel(), nil
}

// DensityMap measures where thread lies how densely in a design.
func (d UseCases) DensityMap(id int64) (stitch.DensityMap, error) {
	if err := d.Need(actor.See); err != nil {
		return stitch.DensityMap{}, err
	}
	_, pattern, err := d.Sewn(id)
	if err != nil {
		return stitch.DensityMap{}, err
	}
	return stitch.Density(pattern.Moves).Smoothed(), nil
}
