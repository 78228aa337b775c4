package paper

import (
	"context"
	"fmt"
	"image"
	"image/color"
	"math"
	"sort"

	"github.com/tdewolff/canvas"
)

// A Card is a student's step card for one hooping.
type Card struct {
	Title, Class, Setup string
	// Ask is what the student asks the instructor for first.
	Ask   string
	Steps []CardStep
	// Mark is drawn after the first step, nil for none.
	Mark  *CardMark
	Stops []CardStop
	// Before the start button, After the last stitch, and what is Inspected.
	Before, After, Inspect []string
	// Cautions stand at the foot, with the deference to manual and rules.
	Cautions []string
	Restart  string
}

// A CardStep is a step with its clock time and the caution that belongs there.
type CardStep struct {
	At, Title, Note, Caution string
	// Marks tells that the blank is marked here: the mark is drawn below it.
	Marks bool
	// Pictures stand in a row below it.
	Pictures []Drawing
}

// A CardStop is a stop with its thread and what is done around it.
type CardStop struct {
	Title, Note   string
	Before, After string
	Color         color.RGBA
	// Picture is what lies in the hoop after the stop, nil for none; Of names it.
	Picture image.Image `json:"-"`
	Of      string
}

// A CardMark is where on the blank the design goes, in millimetres, y down from
// the middle of its top edge.
type CardMark struct {
	Outline           [][2]float64
	Seams             [][][2]float64
	XMM, YMM          float64
	TurnDegrees       float64
	WidthMM, HeightMM float64 // of the design
}

// Cards prints one page for each card; a card that does not fit at the usual
// size is set smaller, and never cut off.
func Cards(ctx context.Context, cards []Card, sheet Sheet) ([]byte, error) {
	doc, err := newDocument("Step cards")
	if err != nil {
		return nil, err
	}
	for _, card := range cards {
		if err := ctx.Err(); err != nil {
			return nil, fmt.Errorf("printing the card %s: %w", card.Title, err)
		}
		size := doc.cardSize(card, sheet)
		doc.page(sheet.WidthMM, sheet.HeightMM).card(card, sheet, size)
	}
	return doc.pdf(ctx)
}

// cardSize is the largest size of words, up to the usual, at which a card fits
// a sheet; the smallest where it fits at none.
func (d *document) cardSize(card Card, sheet Sheet) float64 {
	const smallest, step, usual = 1.6, 0.15, 19
	dry := d.measure()
	tooLarge := sort.Search(usual, func(n int) bool { return !dry.card(card, sheet, smallest+step*float64(n+1)) })
	return smallest + step*float64(tooLarge)
}

var brick = color.RGBA{0xa3, 0x33, 0x20, 0xff}

// card draws a card and tells whether it fitted the sheet.
func (p *pen) card(c Card, sheet Sheet, size float64) bool {
	const margin, gap = 14.0, 8.0
	wide := sheet.WidthMM - 2*margin
	column := (wide - gap) / 2
	small := size * 0.86
	y := sheet.HeightMM - margin - 6
	p.text(margin, y, p.fitted(c.Title, wide, 7.5, canvas.FontBold), c.Title, ink, canvas.FontBold)
	y = p.paragraph(margin, y-6.5, wide, size, c.Class+". "+c.Setup, soft, canvas.FontRegular)
	if c.Ask != "" {
		y = p.paragraph(margin, y, wide, size, c.Ask, ink, canvas.FontBold)
	}
	y -= 2
	left, right := y, y
	left = p.paragraph(margin, left-2, column, size*1.25, "Your steps", ink, canvas.FontBold)
	for _, s := range c.Steps {
		left = p.step(s, c.Mark, margin, left, column, size)
	}
	x := margin + column + gap
	right = p.paragraph(x, right-2, column, size*1.25, "Stop by stop", ink, canvas.FontBold)
	for _, s := range c.Stops {
		p.line(x, right+size*0.95, x+column, right+size*0.95, 0.12, pale)
		if s.Before != "" {
			right = p.paragraph(x+13, right, column-13, size, s.Before, ink, canvas.FontBold)
		}
		p.fill(x, right-0.2, 10, size*0.8, s.Color)
		p.box(x, right-0.2, 10, size*0.8, 0.15, ink)
		words, foot := column-13, right
		if s.Picture != nil {
			side := size * stopPicture
			words -= side + 2
			foot = p.picture(s.Picture, x+column-side, right+size*0.8, side)
		}
		right = p.paragraph(x+13, right, words, size, s.Title, ink, canvas.FontBold)
		right = p.paragraph(x+13, right, words, small, s.Note, soft, canvas.FontRegular)
		if s.After != "" {
			right = p.paragraph(x+13, right, words, size, s.After, ink, canvas.FontRegular)
		}
		right = min(right, foot-size*0.6)
		right -= size * 0.5
	}
	right = p.paragraph(x, right-1, column, small, c.Restart, soft, canvas.FontRegular)
	// What is ticked off stands where there is room for it.
	for _, part := range []struct {
		heading string
		lines   []string
	}{{"Before you start", c.Before}, {"Inspect together", c.Inspect}, {"Afterwards", c.After}} {
		if left > right {
			left = p.checks(margin, left, column, size, part.heading, part.lines)
		} else {
			right = p.checks(x, right, column, size, part.heading, part.lines)
		}
	}
	for _, line := range c.Cautions {
		right = p.paragraph(x, right-1, column, small, line, brick, canvas.FontRegular)
	}
	return min(left, right) >= margin
}

// stepPicture is how high the pictures of a step are, in heights of the words.
const stepPicture = 5.0

// step writes a step with its top at y in a column, a picture of it beside the
// words and several below them, and gives the y below.
func (p *pen) step(s CardStep, mark *CardMark, x, y, column, size float64) float64 {
	const time = 13.0
	small := size * 0.86
	p.line(x, y+size*0.95, x+column, y+size*0.95, 0.12, pale)
	p.text(x, y, size, s.At, ink, canvas.FontBold)
	words, foot := column-time, y
	if len(s.Pictures) == 1 {
		high := size * stepPicture
		wide := high * s.Pictures[0].Width / s.Pictures[0].Height
		words -= wide + 2
		p.drawing(s.Pictures[0], x+column-wide, y+size*0.8, high)
		foot = y + size*0.8 - high - size*0.3
	}
	y = p.paragraph(x+time, y, words, size, s.Title, ink, canvas.FontRegular)
	if s.Note != "" {
		y = p.paragraph(x+time, y, words, small, s.Note, soft, canvas.FontRegular)
	}
	if s.Caution != "" {
		start := y
		y = p.paragraph(x+time+2, y, words-2, small, s.Caution, brick, canvas.FontRegular)
		p.fill(x+time, y+small*1.1, 0.7, start-y, brick)
	}
	if len(s.Pictures) > 1 {
		y = p.drawings(s.Pictures, x+time, y, column-time, size*stepPicture)
	}
	if y = min(y, foot-size*0.6); s.Marks && mark != nil {
		y = p.mark(*mark, x+time, y, size*16)
	}
	return y - size*0.5
}

// stopPicture is how large a stop's picture is, in heights of the words.
const stopPicture = 4.5

// picture draws one with its top right in a corner, its longer side so long,
// and gives the y below.
func (p *pen) picture(img image.Image, x, top, side float64) float64 {
	b := img.Bounds()
	perMM := float64(max(b.Dx(), b.Dy())) / side
	w, h := float64(b.Dx())/perMM, float64(b.Dy())/perMM
	if !p.dry {
		p.DrawImage(x+side-w, top-h, img, canvas.DPMM(perMM))
	}
	p.box(x+side-w, top-h, w, h, 0.1, pale)
	return top - h
}

// mark draws a blank with the box of the design on it and a cross in its
// middle, so high, below y, and gives the y below it.
func (p *pen) mark(m CardMark, x, y, most float64) float64 {
	left, top, right, bottom := m.Outline[0][0], m.Outline[0][1], m.Outline[0][0], m.Outline[0][1]
	for _, at := range m.Outline {
		left, right, top, bottom = min(left, at[0]), max(right, at[0]), min(top, at[1]), max(bottom, at[1])
	}
	scale := min(most/(bottom-top), 1.6*most/(right-left))
	to := func(at [2]float64) (float64, float64) { return x + (at[0]-left)*scale, y - (at[1]-top)*scale }
	draw := func(line [][2]float64, width float64, c color.Color, closed bool) {
		path := &canvas.Path{}
		for i, at := range line {
			px, py := to(at)
			if i == 0 {
				path.MoveTo(px, py)
			} else {
				path.LineTo(px, py)
			}
		}
		if closed {
			path.Close()
		}
		p.stroke(path, width, c)
	}
	draw(m.Outline, 0.25, ink, true)
	for _, seam := range m.Seams {
		draw(seam, 0.12, soft, false)
	}
	sin, cos := math.Sincos(m.TurnDegrees * math.Pi / 180)
	corner := func(dx, dy float64) [2]float64 { return [2]float64{m.XMM + dx*cos - dy*sin, m.YMM + dx*sin + dy*cos} }
	w, h := m.WidthMM/2, m.HeightMM/2
	draw([][2]float64{corner(-w, -h), corner(w, -h), corner(w, h), corner(-w, h)}, 0.2, ink, true)
	arm := max(w, h) * 0.35
	draw([][2]float64{corner(-arm, 0), corner(arm, 0)}, 0.25, brick, false)
	draw([][2]float64{corner(0, -arm), corner(0, arm)}, 0.25, brick, false)
	return y - (bottom-top)*scale - 2
}

// checks lists lines to tick off under a heading, and returns the y below.
func (p *pen) checks(x, y, wide, size float64, heading string, lines []string) float64 {
	if len(lines) == 0 {
		return y
	}
	y = p.paragraph(x, y-2, wide, size*1.25, heading, ink, canvas.FontBold)
	for _, line := range lines {
		p.box(x, y-0.1, size*0.65, size*0.65, 0.15, ink)
		y = p.paragraph(x+size*1.3, y, wide-size*1.3, size, line, ink, canvas.FontRegular)
	}
	return y
}
