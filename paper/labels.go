package paper

import (
	"context"
	"fmt"
	"image/color"

	"github.com/boombuler/barcode"
	"github.com/boombuler/barcode/qr"
	"github.com/tdewolff/canvas"
)

// A Label sticks on a kit: whose it is, and what is in it.
type Label struct {
	Name, Class, Project string
	// Sitting is the place in the order, and when and where.
	Sitting string
	Lines   []string
	// Link is opened by the code.
	Link string
}

// A LabelSheet is a sheet of stick-on labels, measured from its top left.
type LabelSheet struct {
	Name              string
	Sheet             Sheet
	Columns, Rows     int
	LeftMM, TopMM     float64 // of the first label
	WidthMM, HeightMM float64
	// PitchXMM and PitchYMM are from one label to the next.
	PitchXMM, PitchYMM float64
}

// LabelSheets are the layouts in common use, told by their count.
var LabelSheets = []LabelSheet{
	{"A4, 8 labels", A4, 2, 4, 4.65, 12.9, 99.1, 67.7, 101.6, 67.7},
	{"A4, 14 labels", A4, 2, 7, 4.65, 15.1, 99.1, 38.1, 101.6, 38.1},
	{"Letter, 6 labels", Letter, 2, 3, 4, 12.7, 101.6, 84.7, 106.3, 84.7},
	{"Letter, 10 labels", Letter, 2, 5, 4, 12.7, 101.6, 50.8, 106.3, 50.8},
}

// LabelSheetNamed finds a layout, the first for no name.
func LabelSheetNamed(name string) (LabelSheet, error) {
	if name == "" {
		return LabelSheets[0], nil
	}
	for _, s := range LabelSheets {
		if s.Name == name {
			return s, nil
		}
	}
	return LabelSheet{}, fmt.Errorf("no label sheet is called %q", name)
}

// Labels prints labels on sheets, row by row.
func Labels(ctx context.Context, labels []Label, sheet LabelSheet) ([]byte, error) {
	perPage := sheet.Columns * sheet.Rows
	doc, err := newDocument("Kit labels")
	if err != nil {
		return nil, err
	}
	var p *pen
	for i, label := range labels {
		if err := ctx.Err(); err != nil {
			return nil, fmt.Errorf("printing labels: %w", err)
		}
		at := i % perPage
		if at == 0 {
			p = doc.page(sheet.Sheet.WidthMM, sheet.Sheet.HeightMM)
		}
		x := sheet.LeftMM + float64(at%sheet.Columns)*sheet.PitchXMM
		top := sheet.Sheet.HeightMM - sheet.TopMM - float64(at/sheet.Columns)*sheet.PitchYMM
		if err := p.label(label, x, top-sheet.HeightMM, sheet.WidthMM, sheet.HeightMM); err != nil {
			return nil, err
		}
	}
	return doc.pdf(ctx)
}

// label draws one label in its box, bottom left at (x, y).
func (p *pen) label(l Label, x, y, w, h float64) error {
	const pad = 3.5
	code := min(22, h-2*pad)
	if err := p.qr(l.Link, x+w-pad-code, y+h-pad-code, code); err != nil {
		return err
	}
	wide := w - 3*pad - code
	top := y + h - pad
	nameSize := p.fitted(l.Name, wide, 6, canvas.FontBold)
	p.text(x+pad, top-4.6, nameSize, l.Name, ink, canvas.FontBold)
	below := p.paragraph(x+pad, top-9.5, wide, 3.1, Isolated(l.Project)+" · "+Isolated(l.Class), soft, canvas.FontRegular)
	below = p.paragraph(x+pad, below, wide, 3.1, l.Sitting, ink, canvas.FontBold)
	// The list takes what is left of the height, in two columns where it has to.
	room := min(below, y+h-pad-code-1.5) - (y + pad - 1)
	size, columns := 3.6, 1
	const leading = 1.25
	for size > 1.1 && float64((len(l.Lines)+columns-1)/columns)*size*leading > room {
		if columns == 1 && size <= 2.6 {
			columns, size = 2, 3.0
			continue
		}
		size -= 0.1
	}
	rows := (len(l.Lines) + columns - 1) / columns
	columnWidth := (w - 2*pad) / float64(columns)
	for i, line := range l.Lines {
		column, row := i/max(1, rows), i%max(1, rows)
		lx, ly := x+pad+float64(column)*columnWidth, y+pad-1+room-float64(row+1)*size*leading+size*0.3
		p.box(lx, ly-0.1, size*0.7, size*0.7, 0.15, ink)
		p.text(lx+size*1.1, ly, p.fitted(line, columnWidth-size*1.3, size, canvas.FontRegular), line, ink, canvas.FontRegular)
	}
	return nil
}

// qr draws a code of a link, its bottom left at (x, y).
func (p *pen) qr(link string, x, y, size float64) error {
	code, err := qr.Encode(link, qr.M, qr.Auto)
	if err != nil {
		return fmt.Errorf("making the code of %s: %w", link, err)
	}
	modules := codeSize(code)
	cell := size / float64(modules)
	path := &canvas.Path{}
	for row := range modules {
		for column := range modules {
			if code.At(column, row) != color.Black {
				continue
			}
			path = path.Append(canvas.Rectangle(cell, cell).Translate(x+float64(column)*cell, y+size-float64(row+1)*cell))
		}
	}
	p.paint(path, ink)
	return nil
}

func codeSize(code barcode.Barcode) int { return code.Bounds().Dx() }
