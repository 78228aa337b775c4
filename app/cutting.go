package app

import (
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"

	"chalkstep/core/cutplan"
	"chalkstep/core/kit"
	"chalkstep/core/stitch"
	"chalkstep/store"
)

// A CutSheet is the pieces of one material, laid on what is on the shelf.
type CutSheet struct {
	Material string
	Pieces   []kit.Piece
	// AllPieces are those of all materials: layouts number them.
	AllPieces []kit.Piece
	// Remnants are filled first, then the roll takes the rest.
	Remnants []FilledRemnant
	Roll     *store.StockItem
	Layout   cutplan.Layout
	WidthMM  float64
	// Problem says why there is no plan.
	Problem string
}

// A FilledRemnant is a remnant with the pieces it gives.
type FilledRemnant struct {
	Item   store.StockItem
	Layout cutplan.Layout
}

// A LaidOut is a layout with what it lies on.
type LaidOut struct {
	// From names the remnant or roll, empty where nothing is on the shelf.
	From    string
	WidthMM float64
	Layout  cutplan.Layout
	Remnant bool
}

// LaidOut lists the layouts in the order they are cut.
func (s CutSheet) LaidOut() []LaidOut {
	var all []LaidOut
	for _, r := range s.Remnants {
		all = append(all, LaidOut{r.Item.Name, r.Item.WidthMM, r.Layout, true})
	}
	if s.Layout.LengthMM > 0 {
		roll := LaidOut{WidthMM: s.WidthMM, Layout: s.Layout}
		if s.Roll != nil {
			roll.From = s.Roll.Name
		}
		all = append(all, roll)
	}
	return all
}

// Count of all pieces.
func (s CutSheet) Count() int {
	n := 0
	for _, p := range s.Pieces {
		n += p.Count
	}
	return n
}

// usualWidthMM stands in where nothing of a material is on the shelf.
const usualWidthMM = 1000

// pieces lists all that is cut for a class: the sets of everyone, and the
// tests and spares.
func (p ClassPage) pieces() ([]kit.Piece, error) {
	var all []kit.Piece
	for _, w := range p.Works {
		for n, s := range w.Students {
			own, err := p.piecesOf(w, s)
			if err != nil {
				return nil, err
			}
			extra := 0
			if n == 0 {
				figures := p.settings.Figures.Kit
				extra = figures.Tests + figures.Spares(len(w.Students))
			}
			for _, piece := range own {
				piece.Count *= 1 + extra
				all = addPiece(all, piece)
			}
		}
	}
	return all, nil
}

// piecesOf is what is cut for one student, in every hooping.
func (p ClassPage) piecesOf(w Work, s store.ClassStudent) ([]kit.Piece, error) {
	station := p.stationOf(id(s.StudentID))
	var pieces []kit.Piece
	for n, h := range w.Hoopings {
		seat, ok := w.SeatAt(station, n+1)
		hoop := p.Project.Hoop
		if ok && seat.Fits() {
			hoop = seat.Hoop.Hoop
		}
		r, err := hoopingRecipe(w.Project, h.Design, hoop, p.settings.House)
		if err != nil {
			return nil, err
		}
		for _, piece := range kit.SheetPieces(r) {
			pieces = addPiece(pieces, piece)
		}
	}
	layout := kit.Layout{FinishedMM: [2]float64{w.Project.BlankWidthMM, w.Project.BlankHeightMM}, Boxes: map[int]stitch.Bounds{}}
	for _, stop := range w.Project.Design.Stops {
		if stop.RightMM > stop.LeftMM {
			layout.Boxes[stop.N] = stitch.Bounds{Left: stop.LeftMM, Bottom: stop.BottomMM, Right: stop.RightMM, Top: stop.TopMM}
		}
	}
	for _, piece := range kit.Pieces(layersOf(w.Project), layout, p.widthOf) {
		pieces = addPiece(pieces, piece)
	}
	return pieces, nil
}

// addPiece adds a piece to its like.
func addPiece(pieces []kit.Piece, p kit.Piece) []kit.Piece {
	for i := range pieces {
		if q := &pieces[i]; q.What == p.What && q.Material == p.Material && q.WMM == p.WMM && q.HMM == p.HMM {
			q.Count += p.Count
			return pieces
		}
	}
	return append(pieces, p)
}

func materialsOf(pieces []kit.Piece) []string {
	var all []string
	for _, p := range pieces {
		if !slices.Contains(all, p.Material) {
			all = append(all, p.Material)
		}
	}
	return all
}

// layOut lays the pieces of a material on remnants first, then on the roll.
func layOut(material string, pieces []kit.Piece, items []store.StockItem, reserved map[int64]float64) CutSheet {
	sheet := CutSheet{Material: material, AllPieces: pieces, WidthMM: usualWidthMM}
	var wanted []cutplan.Piece
	for i, p := range pieces {
		if p.Material != material {
			continue
		}
		sheet.Pieces = append(sheet.Pieces, p)
		wanted = append(wanted, cutplan.Piece{ID: fmt.Sprint(i), WMM: p.WMM, HMM: p.HMM, Count: p.Count, Turn: p.Turn})
	}
	ours := func(i store.StockItem) bool { return strings.EqualFold(i.Matches, material) }
	for _, item := range items {
		if !ours(item) || item.Kind != store.StockSheet || item.Available()+reserved[item.ID] < 1 || len(wanted) == 0 {
			continue
		}
		layout, rest, err := cutplan.Fill(cutplan.Material{WidthMM: item.WidthMM, MaxLengthMM: item.HeightMM}, wanted)
		if err == nil && len(layout.Placed) > 0 {
			sheet.Remnants = append(sheet.Remnants, FilledRemnant{item, layout})
			wanted = rest
		}
	}
	if sheet.Roll = find(items, func(i store.StockItem) bool { return ours(i) && i.ByLength() }); sheet.Roll != nil {
		sheet.WidthMM = sheet.Roll.WidthMM
		if sheet.Roll.Grain {
			for i := range wanted {
				wanted[i].Turn = false
			}
		}
	} else {
		sheet.Problem = "Nothing of it is on the shelf; laid out on a width of 1 m."
	}
	if len(wanted) == 0 {
		sheet.Problem = ""
		return sheet
	}
	layout, err := cutplan.Plan(cutplan.Material{WidthMM: sheet.WidthMM}, wanted)
	if err != nil && !errors.Is(err, cutplan.ErrTooLong) {
		sheet.Problem = Sentence(err.Error())
		return sheet
	}
	sheet.Layout = layout
	return sheet
}

// widthsOf tells how wide each material on the shelf is.
func widthsOf(items []store.StockItem) map[string]float64 {
	widths := map[string]float64{}
	for _, i := range items {
		if i.ByLength() {
			widths[strings.ToLower(i.Matches)] = i.WidthMM
		}
	}
	return widths
}

func (p ClassPage) widthOf(material string) float64 {
	if w, known := p.widths[strings.ToLower(material)]; known {
		return w
	}
	return usualWidthMM
}

// KeepOffcuts puts the rests of a class's cut plan on the shelf as remnants,
// to be used first next time.
func (d Desk) KeepOffcuts(classID int64, material string) (int, error) {
	if err := d.mayChange(); err != nil {
		return 0, err
	}
	page, err := d.Shelf(classID)
	if err != nil {
		return 0, err
	}
	kept := 0
	err = d.shop.InTx(func(tx store.Workshop) error {
		for _, sheet := range page.Cuts {
			if sheet.Material != material {
				continue
			}
			for _, o := range sheet.Layout.Offcuts {
				kept++
				item := store.StockItem{
					Kind: store.StockSheet, Matches: material, WidthMM: math.Floor(o.WMM), HeightMM: math.Floor(o.HMM), Remnant: true, Pack: 1,
					Name: fmt.Sprintf("Remnant of %s %.0f × %.0f, %s %d", material, math.Floor(o.WMM), math.Floor(o.HMM), page.Class.Name, kept),
				}
				if err := tx.SaveStockItem(&item); err != nil {
					return err
				}
				if err := tx.Move(store.StockMovement{ItemID: item.ID, Kind: store.Returned, Quantity: 1, Note: "off-cut", ClassID: &classID, MovedByID: d.Who.AccountID, MovedAt: d.now}); err != nil {
					return err
				}
			}
		}
		return nil
	})
	if errors.Is(err, store.ErrTaken) {
		return 0, Problems{"": "These off-cuts are on the shelf already."}
	}
	if err != nil {
		return 0, err
	}
	if kept == 0 {
		return 0, Problems{"": "No rest is at least 100 mm each way: there is nothing to keep."}
	}
	return kept, nil
}
