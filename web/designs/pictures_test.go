package designs

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/designs"
	"chalkstep/core/design"
	"chalkstep/core/fleet"
	"chalkstep/core/hoop"
	"chalkstep/core/measure"
	"chalkstep/core/say"
	"chalkstep/web/ui"
)

// The design's box is drawn where it was placed, with its corners named
// outside it, and the frame's own marks where they miss the needle.
func TestThePlacingIsDrawnToScale(t *testing.T) {
	placed, err := hoop.Place(hoop.Field{WidthMM: 130, HeightMM: 180}, 80, 60, 5, hoop.Placing{Turn: 90, X: 10, Y: -20})
	require.NoError(t, err)
	page := designs.PlacingPage{
		Hoop: fleet.Held{OffXMM: 3, OffYMM: -2, Hoop: fleet.Hoop{Field: hoop.Field{WidthMM: 130, HeightMM: 180}}},
		In:   designs.PlacingInput{Turn: 90, Percent: 110}, Placed: placed}
	p := newPlacingPicture(ui.P{}, page)
	assert.Equal(t, "-740 -990 1480 1980", p.ViewBox)
	assert.Equal(t, "rotate(-90) scale(1.10)", p.Transform)
	assert.Equal(t, "translate(30.0 20.0)", p.Marks, "right and down, as y runs down here")
	assert.InDelta(t, 700, p.Box.Width, 1e-9, "turned: the height and the basting across")
	assert.InDelta(t, 900, p.Box.Height, 1e-9)
	require.Len(t, p.Corners, 4)
	assert.Less(t, p.Corners[0].X, p.Box.X)
	assert.Less(t, p.Corners[0].Y, p.Box.Y)
	assert.Greater(t, p.Corners[2].X, p.Box.X+p.Box.Width)
	assert.Greater(t, p.Corners[2].Y, p.Box.Y+p.Box.Height)
	assert.Equal(t, -650.0, p.X, "the field itself is about the middle")
	assert.InDelta(t, 0, p.Box.X+p.Box.Width/2, 1e-9, "about the middle of the design")
	corner := placed.Corners[0]
	assert.Equal(t, [2]string{measure.Metric.Fine(corner.X), measure.Metric.Fine(corner.Y)},
		[2]string{plain(p.Corners[0].OnScreen[0]), plain(p.Corners[0].OnScreen[1])})
	assert.Equal(t, measure.Metric.Fine(corner.X-3), plain(p.Corners[0].FromMarks[0]))
	inches := newPlacingPicture(ui.P{Printer: say.Printer{Units: measure.Inches}}, page)
	assert.Equal(t, measure.Inches.Fine(corner.X), plain(inches.Corners[0].OnScreen[0]))
}

func plain(text string) string { return strings.ReplaceAll(text, "\u00a0", " ") }

func TestALineIsDrawnFromEndToEnd(t *testing.T) {
	assert.Empty(t, newLine(designs.BorderPage{}).Hoopings, "nothing is drawn of no line")
	b, err := hoop.NewBorder(1200, 40.6, 300)
	require.NoError(t, err)
	l := newLine(designs.BorderPage{Border: b})
	require.Len(t, l.Hoopings, len(b.Hoopings))
	end := 8.0
	for _, h := range l.Hoopings {
		assert.InDelta(t, end, h.X, 1e-6)
		end = h.X + h.Width
	}
	assert.InDelta(t, l.Width-8, end, 1e-6)
	assert.Len(t, l.Joins, len(b.Hoopings)-1)
	assert.Len(t, l.Repeats, b.Repeats)
	for i, h := range inOrder(b) {
		assert.Equal(t, i+1, h.Order)
	}
	assert.Equal(t, "drawn out by 0.4\u00a0mm", spread(ui.P{}, 0.4))
	assert.Equal(t, "pushed together by 0.02\u00a0in", spread(ui.P{Printer: say.Printer{Units: measure.Inches}}, -0.508))
	assert.Empty(t, spread(ui.P{}, 0.001))
}

func TestTheAlignedDesignMeetsItsMarks(t *testing.T) {
	page := designs.AlignPage{Design: design.Design{WidthMM: 40, HeightMM: 40}}
	p := newAlignPicture(page)
	assert.Empty(t, p.Marks)
	assert.Equal(t, "-280 -280 560 560", p.ViewBox)
	page.ClothA, page.ClothB = hoop.Point{X: -20, Y: 5}, hoop.Point{X: 20, Y: 5}
	page.DesignA, page.DesignB = hoop.Point{X: -20}, hoop.Point{X: 20}
	var err error
	page.Alignment, err = hoop.Align(page.ClothA, page.ClothB, page.DesignA, page.DesignB)
	require.NoError(t, err)
	page.Known = true
	p = newAlignPicture(page)
	require.Len(t, p.Points, 2)
	for i := range p.Points {
		assert.InDelta(t, p.Marks[i].X, p.Points[i].X, 1e-6)
		assert.InDelta(t, p.Marks[i].Y, p.Points[i].Y, 1e-6)
	}
	assert.Equal(t, "translate(0.0 -50.0) rotate(-0.000)", p.Transform)
}

// What a page shows can be asked for again by its address.
func TestAPlacingsAddress(t *testing.T) {
	page := designs.PlacingPage{In: designs.PlacingInput{MachineID: 2, HoopID: 5, Turn: 90, XMM: -3.5, YMM: 7, Percent: 95,
		Basted: true}}
	assert.Equal(t, "basted=yes&hoop=5&machine=2&percent=95&turn=90&x=-3.5+mm&y=7+mm", string(placingQuery(page)))
	assert.Equal(t, "mirror=yes&offset=1.5&stop=1&stop=4",
		string(piecesQuery(designs.PiecesInput{Stops: []int{1, 4}, Offset: "1.5", Mirror: true})))
}
