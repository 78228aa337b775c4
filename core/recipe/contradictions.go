package recipe

import (
	"math"
	"slices"

	"chalkstep/core/hoop"
	"chalkstep/core/say"
	"chalkstep/core/stitch"
)

// contradictions speaks up where the wishes work against each other.
func (m *maker) contradictions() {
	if _, err := hoop.Into(hoop.Field{WidthMM: m.HoopMM[0], HeightMM: m.HoopMM[1]}, m.WidthMM, m.HeightMM, 0); err != nil {
		m.caution("The design is %s for this hoop.", say.Of(err))
	}
	m.tooMuchThread()
	if m.uses(Worn) && m.out.Under[0].What == WashAway {
		m.caution("Wash-away leaves nothing to hold the stitches when a worn thing is washed: expect them to sag.")
	}
	if m.uses(FilmOverlay) {
		m.caution("Never resize a film-overlay design, and lay the film over the whole outline.")
	}
	if m.uses(FilmOverlay) && m.ResizedPercent != 0 && m.ResizedPercent != 100 {
		m.caution("This film-overlay design is to be sewn at %s: at another size the open fill no longer covers the film. "+
			"Sew it at %s.", say.Percent(m.ResizedPercent), say.Percent(100))
	}
	if m.uses(FilmOverlay) && m.uses(Heat) {
		m.caution("Film melts on anything that meets heat.")
	}
	if m.house.NeverResizes() && m.ResizedPercent != 0 && m.ResizedPercent != 100 {
		m.caution("This house never resizes on the machine, and the design is to be sewn at %s. Sew it at %s.",
			say.Percent(m.ResizedPercent), say.Percent(100))
	}
	m.wrongThings()
}

// tooMuchThread says what dense stitching does to a fabric (handbook, Designs).
func (m *maker) tooMuchThread() {
	if m.density == stitch.TooDense && !slices.Contains([]Fabric{Denim, Canvas, Felt}, m.Fabric) {
		m.caution("%s. That is too much for anything but heavy, stable cloth: sew a test first, or make the design larger.",
			m.howDense())
	}
	switch {
	case m.dense() && (m.Fabric == Jersey || m.Fabric == Rib):
		m.caution("A dense fill on a T-shirt knit puckers and stands off the body: choose an open design.")
	case m.density == stitch.Medium && (m.Fabric == Jersey || m.Fabric == Rib):
		m.caution("Medium density is heavy for a T-shirt knit: sew a test on the same knit, or choose an open design.")
	case m.dense() && m.isWoven():
		m.caution("Dense stitching draws a light woven in and stiffens it: sew a test on the same cloth.")
	case m.dense() && (m.Fabric == Terry || m.Fabric == Velvet):
		m.caution("Dense stitching mats the pile round it and cannot be undone: sew a test on the same cloth.")
	case m.dense() && m.Fabric == Vinyl:
		m.caution("Every needle hole in vinyl stays: dense stitching perforates it until it tears along the edge.")
	case m.dense() && m.Fabric == Sheer:
		m.caution("Dense stitching pulls a sheer together and leaves holes at its edge: choose an open design.")
	}
}

// howDense says how dense the design is, as it was measured, or by its totals
// where nobody measured it.
func (m *maker) howDense() say.Text {
	if m.Density != "" {
		return say.T("measured, the stitching is %s", say.Word(m.Density))
	}
	return say.T("%s stitches per cm²", say.Count(math.Round(m.perCM2)))
}

// wrongThings compares what is at hand with what is needed.
func (m *maker) wrongThings() {
	if m.uses(Heat) && m.TopThread != "" && m.TopThread != Cotton {
		m.caution("Here %s meets heat, and shrinks or melts: take cotton.", say.Word(m.TopThread))
	}
	if m.SheetMM != ([2]float64{}) && !covers(m.SheetMM, m.HoopMM) {
		m.caution("A sheet of %s does not reach over all sides of the hoop: a sheet that misses an edge is no stabilizer.",
			say.Size(m.SheetMM))
	} else if m.SheetMM != ([2]float64{}) && !covers(m.SheetMM, m.cut) {
		m.caution("A sheet of %s is less than %s larger than the hoop on every side: it may slip out.", say.Size(m.SheetMM),
			say.MM(m.house.SheetMarginMM))
	}
	if m.Bobbins != "" && m.MachineBobbins != "" && m.Bobbins != m.MachineBobbins {
		m.caution("The bobbins at hand are %s, and this machine takes %s: another style does not fit, "+
			"even of the same maker.", m.Bobbins, m.MachineBobbins)
	}
}

// covers tells whether a sheet reaches over a size, either way round.
func covers(sheet, size [2]float64) bool {
	return sheet[0] >= size[0] && sheet[1] >= size[1] || sheet[1] >= size[0] && sheet[0] >= size[1]
}
