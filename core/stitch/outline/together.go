package outline

import (
	"cmp"
	"slices"
)

// Together lays pieces of one fabric side by side in rows no wider than
// widthMM where they fit it, gapMM apart, tall ones first, so that they are
// cut in one go. Its paths run from the left and down from the top at 0.
func Together(pieces []Cut, widthMM, gapMM float64) Cut {
	order := slices.Clone(pieces)
	slices.SortStableFunc(order, func(a, b Cut) int { return cmp.Compare(b.HeightMM, a.HeightMM) })
	var all Cut
	x, y, rowHeight := 0.0, 0.0, 0.0
	for _, piece := range order {
		if x > 0 && x+piece.WidthMM > widthMM {
			x, y, rowHeight = 0, y-rowHeight-gapMM, 0
		}
		for _, loop := range piece.Paths {
			moved := make([][2]float64, len(loop))
			for i, p := range loop {
				moved[i] = [2]float64{p[0] - piece.left + x, p[1] - piece.top + y}
			}
			all.Paths = append(all.Paths, moved)
		}
		all.Holes, all.HolesLost, all.MouthsClosed, all.AreaMM2 = all.Holes+piece.Holes, all.HolesLost+piece.HolesLost,
			all.MouthsClosed+piece.MouthsClosed, all.AreaMM2+piece.AreaMM2
		rowHeight = max(rowHeight, piece.HeightMM)
		all.WidthMM, all.HeightMM = max(all.WidthMM, x+piece.WidthMM), rowHeight-y
		x += piece.WidthMM + gapMM
	}
	return all
}
