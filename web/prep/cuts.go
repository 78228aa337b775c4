package prep

import (
	"fmt"

	"chalkstep/core/kit"
	"chalkstep/core/say"
	"chalkstep/core/stock"
	"chalkstep/web/ui"
)

// A cutView is a layout as SVG, in millimetres, on its side: the length runs
// to the right. Its cuts are numbered in their order.
type cutView struct {
	Title, Label, ViewBox string
	Width, Length         float64
	// Letters is the size of text, Line the width of a stroke.
	Letters, Line float64
	Pieces        []drawnPiece
	Cuts          []drawnCut
	// Material names what off-cuts may be kept of, Keep says how many.
	Material, Keep string
}

type drawnPiece struct {
	X, Y, W, H   float64
	Name, Size   string
	TextX, TextY float64
	ShowWords    bool
}

type drawnCut struct {
	X1, Y1, X2, Y2, MX, MY, TextY float64
	N                             int
}

// newCutViews draws what one material is cut from.
func newCutViews(p ui.P, c stock.Cut) []cutView {
	var views []cutView
	for _, bed := range c.Beds {
		if bed.Layout.LengthMM > 0 {
			views = append(views, newCutView(p, c, bed))
		}
	}
	return views
}

func newCutView(p ui.P, c stock.Cut, bed stock.Bed) cutView {
	l := bed.Layout
	v := cutView{
		Width: bed.WidthMM, Length: l.LengthMM, Letters: max(l.LengthMM/62, bed.WidthMM/34),
		Title: p.Say(say.T("%s: %s of %s, %s %% waste", c.Material, say.MM(l.LengthMM), bed.From(),
			say.Decimal{Value: l.Waste * 100, Places: 1})),
		Label: p.Say(say.T("Pieces of %s laid out, with the cuts in their order", c.Material)),
	}
	v.Line = v.Letters / 10
	margin := max(v.Width, v.Length) / 60
	v.ViewBox = fmt.Sprintf("%.0f %.0f %.0f %.0f", -margin, -margin, v.Length+2*margin, v.Width+2*margin)
	for _, placed := range l.Placed {
		of := c.Piece(placed.ID)
		piece := drawnPiece{X: placed.YMM, Y: placed.XMM, W: placed.HMM, H: placed.WMM,
			Name: p.Say(kit.Item{As: of.As, Key: of.Key}.Say()), Size: p.Size(of.SizeMM[0], of.SizeMM[1])}
		piece.TextX, piece.TextY = piece.X+v.Letters/2, piece.Y+v.Letters*1.3
		piece.ShowWords = float64(len(piece.Size))*v.Letters*0.52 < piece.W && 2.4*v.Letters < piece.H
		v.Pieces = append(v.Pieces, piece)
	}
	for i, cut := range l.Cuts {
		d := drawnCut{X1: cut.Y1MM, Y1: cut.X1MM, X2: cut.Y2MM, Y2: cut.X2MM, MX: (cut.Y1MM + cut.Y2MM) / 2,
			MY: (cut.X1MM + cut.X2MM) / 2, N: i + 1}
		d.TextY = d.MY + v.Letters*0.35
		v.Cuts = append(v.Cuts, d)
	}
	if !bed.Remnant() && len(l.Offcuts) > 0 { // what is left of a remnant is not kept again
		v.Material, v.Keep = c.Material.String(), p.N(len(l.Offcuts), "off-cut")
	}
	return v
}
