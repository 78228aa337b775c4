package paper

import (
	"context"
	"fmt"

	"github.com/tdewolff/canvas"

	"chalkstep/core/cutplan"
	"chalkstep/core/measure"
)

// A CutPlan is one material's layout, to be taken to the cutting table.
type CutPlan struct {
	Class, Material, From string
	WidthMM               float64
	Layout                cutplan.Layout
	// Names of the pieces by their ID in the layout.
	Names map[string]string
	// Units that lengths are printed in.
	Units measure.Units
}

// CutPlans prints one page for each, the cuts numbered in order.
func CutPlans(ctx context.Context, plans []CutPlan, sheet Sheet) ([]byte, error) {
	doc, err := newDocument("Cut plan")
	if err != nil {
		return nil, err
	}
	for _, plan := range plans {
		if err := ctx.Err(); err != nil {
			return nil, fmt.Errorf("printing cut plans: %w", err)
		}
		doc.page(sheet.WidthMM, sheet.HeightMM).cutPlan(plan, sheet)
	}
	return doc.pdf(ctx)
}

func (p *pen) cutPlan(plan CutPlan, sheet Sheet) {
	const margin = 14.0
	top := sheet.HeightMM - margin
	wide := sheet.WidthMM - 2*margin
	p.text(margin, top-5, p.fitted(plan.Material, wide, 7, canvas.FontBold), plan.Material, ink, canvas.FontBold)
	y := p.paragraph(margin, top-11, wide, 3.6,
		fmt.Sprintf("%s. From %s: %s of its length, %s wide; %.0f %% is waste.", Isolated(plan.Class), Isolated(plan.From),
			plan.Units.Length(plan.Layout.LengthMM), plan.Units.Length(plan.WidthMM), plan.Layout.Waste*100), soft,
		canvas.FontRegular)
	y = p.paragraph(margin, y, wide, 3.2,
		"Blade closed when put down; cut away from the body. Cut in the order of the numbers, each from edge to edge.", soft,
		canvas.FontRegular)
	// The picture keeps the ratio; cuts are listed below where there is room.
	room := y - margin
	scale := min(wide/plan.WidthMM, room/max(plan.Layout.LengthMM, 1))
	x0, y0 := margin, y
	at := func(x, y float64) (float64, float64) { return x0 + x*scale, y0 - y*scale }
	_, bottom := at(0, plan.Layout.LengthMM)
	p.box(x0, bottom, plan.WidthMM*scale, y0-bottom, 0.3, ink)
	for _, piece := range plan.Layout.Placed {
		x, y := at(piece.XMM, piece.YMM+piece.HMM)
		w, h := piece.WMM*scale, piece.HMM*scale
		p.fill(x+0.3, y+0.3, max(0.1, w-0.6), max(0.1, h-0.6), paleFill)
		p.pieceWords(plan.Names[piece.ID], plan.Units.Size(piece.WMM, piece.HMM), x, y, w, h)
	}
	for i, c := range plan.Layout.Cuts {
		xa, ya := at(c.X1MM, c.Y1MM)
		xb, yb := at(c.X2MM, c.Y2MM)
		p.line(xa, ya, xb, yb, 0.25, ink)
		mx, my := (xa+xb)/2, (ya+yb)/2
		label := fmt.Sprint(i + 1)
		p.fill(mx-0.9*float64(len(label))-0.4, my-1.4, 1.8*float64(len(label))+0.8, 2.8, canvas.White)
		p.text(mx-0.8*float64(len(label)), my-0.9, 2.6, label, ink, canvas.FontBold)
	}
}

// pieceWords writes what a piece is where it fits in it.
func (p *pen) pieceWords(name, size string, x, y, w, h float64) {
	if w < 8 || h < 5 {
		return
	}
	s := min(3.2, h/3.2)
	p.text(x+1.2, y+h-s-0.6, p.fitted(name, w-2.4, s, canvas.FontRegular), name, ink, canvas.FontRegular)
	p.text(x+1.2, y+h-2.2*s-0.8, p.fitted(size, w-2.4, s, canvas.FontRegular), size, soft, canvas.FontRegular)
}
