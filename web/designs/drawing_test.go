package designs

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"chalkstep/app/designs"
	"chalkstep/core/design"
	"chalkstep/core/fleet"
	"chalkstep/core/hoop"
	"chalkstep/core/say"
	"chalkstep/core/stitch"
)

func page(minutes ...float64) designs.DesignPage {
	p := designs.DesignPage{}
	p.Design.WidthMM, p.Design.HeightMM = 80, 60
	for i, m := range minutes {
		p.Stops = append(p.Stops,
			fleet.StopEstimate{Stop: design.Stop{Stop: stitch.Stop{N: i + 1, Role: stitch.Run}}, Minutes: m})
	}
	return p
}

func TestTheStripFillsItsWidthInProportion(t *testing.T) {
	for name, p := range map[string]designs.DesignPage{"one stop": page(5), "several": page(6, 3, 1),
		"no time at all": page(0, 0), "very many": page(make([]float64, 30)...)} {
		t.Run(name, func(t *testing.T) {
			s := newStrip(p)
			end := -5.0
			for _, b := range s.Bars {
				assert.InDelta(t, end+5, b.X, 1e-9, "a gap between lengths of thread")
				assert.Positive(t, b.Width)
				end = b.X + b.Width
			}
			assert.LessOrEqual(t, end, s.Width+0.01)
		})
	}
	bars := newStrip(page(6, 3, 1)).Bars
	assert.Greater(t, bars[0].Width, bars[1].Width)
	assert.Greater(t, bars[1].Width, bars[2].Width)
	assert.Equal(t, "run", bars[0].Sews, "its kind stands in where nobody said what it sews")
}

func TestTheDrawingShowsTheFirstHoopThatFits(t *testing.T) {
	p := page(1)
	assert.Equal(t, "-440 -340 880 680", newDrawing(p).ViewBox, "no hoop: the design with a margin")
	p.Seats = []fleet.Seat{
		{Problem: say.T("too tall")},
		{Machine: fleet.Machine{Name: "Heron"},
			Hoop: fleet.Held{Hoop: fleet.Hoop{Name: "Medium", Field: hoop.Field{WidthMM: 130, HeightMM: 180}}},
			Fit:  hoop.Fit{Turn: 90}},
	}
	d := newDrawing(p)
	assert.Equal(t, "Medium on Heron", d.HoopName)
	assert.Equal(t, 90, d.Turn)
	assert.Equal(t, "-690 -940 1380 1880", d.ViewBox)
}

func TestEveryDensityAndRoleHasWords(t *testing.T) {
	for _, d := range []stitch.DensityClass{stitch.Open, stitch.Medium, stitch.Dense, stitch.TooDense} {
		assert.NotEmpty(t, densityWords(d))
	}
	assert.Equal(t, "tack-down", roleWords(stitch.TackDown))
	assert.Equal(t, "fill", roleWords(stitch.Fill))
}
