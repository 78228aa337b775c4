package paper

import (
	"context"
	"fmt"
	"image/color"

	"github.com/tdewolff/canvas"
)

// A Card is a student's step card for one hooping.
type Card struct {
	Title, Class, Setup string
	// Ask is what the student asks the instructor for first.
	Ask   string
	Steps []CardStep
	Stops []CardStop
	// Before the start button, After the last stitch, and what is Inspected.
	Before, After, Inspect []string
	// Cautions stand at the foot, with the deference to manual and rules.
	Cautions []string
	Restart  string
}

// A CardStep is a step with its clock time and the caution that belongs there.
type CardStep struct{ At, Title, Note, Caution string }

// A CardStop is a stop with its thread and what is done around it.
type CardStop struct {
	Title, Note   string
	Before, After string
	Color         color.RGBA
}

// Cards prints one page for each card; a card that does not fit at the usual
// size is set smaller, and never cut off.
func Cards(ctx context.Context, cards []Card, sheet Sheet) ([]byte, error) {
	var pages []*canvas.Canvas
	for _, card := range cards {
		page, err := fittingCard(ctx, card, sheet)
		if err != nil {
			return nil, err
		}
		pages = append(pages, page)
	}
	return pdfOf(ctx, "Step cards", pages)
}

// fittingCard draws a card as large as it fits, looking for the size by
// halves.
func fittingCard(ctx context.Context, card Card, sheet Sheet) (*canvas.Canvas, error) {
	const smallest, step, usual = 1.6, 0.15, 19
	draw := func(steps int) (page *canvas.Canvas, fits bool, err error) {
		if err := ctx.Err(); err != nil {
			return nil, false, fmt.Errorf("printing the card %s: %w", card.Title, err)
		}
		p, err := newPen(sheet.WidthMM, sheet.HeightMM)
		if err != nil {
			return nil, false, err
		}
		fits = p.card(card, sheet, smallest+step*float64(steps))
		return p.page, fits, nil
	}
	page, fits, err := draw(usual)
	if fits || err != nil {
		return page, err
	}
	if page, _, err = draw(0); err != nil {
		return nil, err
	}
	for low, high := 0, usual; high-low > 1; {
		middle := (low + high) / 2
		larger, fits, err := draw(middle)
		if err != nil {
			return nil, err
		}
		if fits {
			low, page = middle, larger
		} else {
			high = middle
		}
	}
	return page, nil
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
		p.line(margin, left+size*0.95, margin+column, left+size*0.95, 0.12, pale)
		p.text(margin, left, size, s.At, ink, canvas.FontBold)
		left = p.paragraph(margin+13, left, column-13, size, s.Title, ink, canvas.FontRegular)
		if s.Note != "" {
			left = p.paragraph(margin+13, left, column-13, small, s.Note, soft, canvas.FontRegular)
		}
		if s.Caution != "" {
			start := left
			left = p.paragraph(margin+15, left, column-15, small, s.Caution, brick, canvas.FontRegular)
			p.fill(margin+13, left+small*1.1, 0.7, start-left, brick)
		}
		left -= size * 0.5
	}
	left = p.checks(margin, left, column, size, "Before you start", c.Before)
	left = p.checks(margin, left, column, size, "Inspect together", c.Inspect)
	x := margin + column + gap
	right = p.paragraph(x, right-2, column, size*1.25, "Stop by stop", ink, canvas.FontBold)
	for _, s := range c.Stops {
		p.line(x, right+size*0.95, x+column, right+size*0.95, 0.12, pale)
		if s.Before != "" {
			right = p.paragraph(x+13, right, column-13, size, s.Before, ink, canvas.FontBold)
		}
		p.fill(x, right-0.2, 10, size*0.8, s.Color)
		p.box(x, right-0.2, 10, size*0.8, 0.15, ink)
		right = p.paragraph(x+13, right, column-13, size, s.Title, ink, canvas.FontBold)
		right = p.paragraph(x+13, right, column-13, small, s.Note, soft, canvas.FontRegular)
		if s.After != "" {
			right = p.paragraph(x+13, right, column-13, size, s.After, ink, canvas.FontRegular)
		}
		right -= size * 0.5
	}
	right = p.paragraph(x, right-1, column, small, c.Restart, soft, canvas.FontRegular)
	right = p.checks(x, right, column, size, "Afterwards", c.After)
	for _, line := range c.Cautions {
		right = p.paragraph(x, right-1, column, small, line, brick, canvas.FontRegular)
	}
	return min(left, right) >= margin
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
