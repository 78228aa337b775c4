package paper

import (
	"context"
	"fmt"

	"github.com/tdewolff/canvas"
)

// A Table is a printed list with a heading, such as what to buy.
type Table struct {
	Title, Intro string
	Head         []string
	Rows         [][]string
	// Widths of the columns as shares of the page; they add up to 1.
	Widths []float64
	Foot   string
	// Then are printed below, each with its title and its columns; they have no others.
	Then []Table
}

// PDF prints the table on as many sheets as it takes.
func (t Table) PDF(ctx context.Context, sheet Sheet) ([]byte, error) {
	const margin, size, leading = 16.0, 3.4, 1.3
	wide := sheet.WidthMM - 2*margin
	doc, err := newDocument(t.Title)
	if err != nil {
		return nil, err
	}
	var p *pen
	y := 0.0
	heads := func(of Table) {
		x := margin
		for i, head := range of.Head {
			p.text(x, y, 2.9, head, soft, canvas.FontRegular)
			x += wide * of.Widths[i]
		}
		y -= 2
	}
	begin := func(of Table) {
		p = doc.page(sheet.WidthMM, sheet.HeightMM)
		y = sheet.HeightMM - margin - 6
		p.text(margin, y, p.fitted(t.Title, wide, 7, canvas.FontBold), t.Title, ink, canvas.FontBold)
		y = p.paragraph(margin, y-7, wide, size, t.Intro, soft, canvas.FontRegular) - 2
		heads(of)
	}
	rows := func(of Table) error {
		for _, row := range of.Rows {
			if err := ctx.Err(); err != nil {
				return fmt.Errorf("printing %s: %w", t.Title, err)
			}
			high := 1
			for i, cell := range row {
				high = max(high, len(p.lines(cell, wide*of.Widths[i]-3, size, canvas.FontRegular)))
			}
			height := float64(high)*size*leading + 2
			if y-height < margin+10 {
				begin(of)
			}
			p.line(margin, y, margin+wide, y, 0.15, pale)
			x := margin
			for i, cell := range row {
				p.paragraph(x, y-size-0.6, wide*of.Widths[i]-3, size, cell, ink, canvas.FontRegular)
				x += wide * of.Widths[i]
			}
			y -= height
		}
		p.line(margin, y, margin+wide, y, 0.3, ink)
		y = p.paragraph(margin, y-size-2, wide, size, of.Foot, ink, canvas.FontBold)
		return nil
	}
	begin(t)
	if err := rows(t); err != nil {
		return nil, err
	}
	for _, of := range t.Then {
		if y -= 8; y < margin+30 {
			begin(of)
		} else {
			p.text(margin, y, 4.5, of.Title, ink, canvas.FontBold)
			y -= 7
			heads(of)
		}
		if err := rows(of); err != nil {
			return nil, err
		}
	}
	for i, page := range doc.pages {
		if len(doc.pages) > 1 {
			q := &pen{Context: canvas.NewContext(page), document: doc}
			q.text(sheet.WidthMM-margin-20, margin-6, 2.6, fmt.Sprintf("sheet %d of %d", i+1, len(doc.pages)), soft,
				canvas.FontRegular)
		}
	}
	return doc.pdf(ctx)
}
