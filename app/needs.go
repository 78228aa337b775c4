package app

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"chalkstep/core/kit"
	"chalkstep/core/stitch"
	"chalkstep/core/thread"
	"chalkstep/store"
)

// A Need is one thing a class takes from the shelf.
type Need struct {
	What, Color string
	// Quantity in the item's own count: millimetres, spools, pieces.
	Quantity float64
	Working  []string
	// Item is what is on the shelf for it, nil for nothing of the kind.
	Item *store.StockItem
	// Match says how near a thread comes to the colour asked for.
	Match thread.Match
	// AlsoFor is another colour of the class that the same thread stands in
	// for: two that the design tells apart would be one on the cloth.
	AlsoFor string
	// Reserved is what the class has spoken for already.
	Reserved float64
}

// Missing is how much the shelf lacks for it.
func (n Need) Missing() float64 {
	if n.Item == nil {
		return n.Quantity
	}
	return max(0, n.Quantity-n.Reserved-n.Item.Available())
}

// Amount prints the quantity.
func (n Need) Amount() string { return n.amount(n.Quantity) }

// MissingAmount prints what is missing.
func (n Need) MissingAmount() string { return n.amount(n.Missing()) }

func (n Need) amount(q float64) string {
	if n.Item != nil {
		return Amount(*n.Item, q)
	}
	return fmt.Sprintf("%.0f", q)
}

// A ShelfPage is what a class takes from the shelf, with its cut plans and
// what it costs.
type ShelfPage struct {
	ClassPage
	Needs []Need
	Cuts  []CutSheet
	// CostCents is for everything, FeeCents what each student would pay.
	CostCents, FeeCents float64
	Short               []Need
	AllReserved         bool
}

// Shelf opens what a class takes from the shelf.
func (d Desk) Shelf(classID int64) (ShelfPage, error) {
	items, err := d.shop.Stock()
	if err != nil {
		return ShelfPage{}, err
	}
	return d.shelf(classID, items)
}

// shelf is Shelf with what lies there.
func (d Desk) shelf(classID int64, items []store.StockItem) (ShelfPage, error) {
	page, err := d.Class(classID)
	if err != nil {
		return ShelfPage{}, err
	}
	reserved, err := d.shop.ReservedFor(classID)
	if err != nil {
		return ShelfPage{}, err
	}
	return newShelf(page, items, reserved)
}

func newShelf(page ClassPage, items []store.StockItem, reserved map[int64]float64) (ShelfPage, error) {
	page.widths = widthsOf(items)
	shelf := ShelfPage{ClassPage: page}
	pieces, err := page.pieces()
	if err != nil {
		return shelf, err
	}
	for _, material := range materialsOf(pieces) {
		sheet := layOut(material, pieces, items, reserved)
		shelf.Cuts = append(shelf.Cuts, sheet)
		for _, r := range sheet.Remnants {
			item := r.Item
			shelf.Needs = append(shelf.Needs, Need{What: material + ", remnant", Quantity: 1, Item: &item, Working: []string{fmt.Sprintf("gives %d of the %d pieces: remnants go first", len(r.Layout.Placed), sheet.Count())}})
		}
		n := Need{What: material, Quantity: sheet.Layout.LengthMM, Item: sheet.Roll, Working: []string{fmt.Sprintf("%d pieces laid out: see the cut plan", sheet.Count())}}
		if sheet.Problem != "" || sheet.Layout.LengthMM > 0 {
			shelf.Needs = append(shelf.Needs, n)
		}
	}
	shelf.threads(items)
	for _, line := range page.Kit.Bobbins {
		shelf.need(store.StockBobbin, strings.TrimPrefix(line.What, "bobbins, "), line, items)
	}
	for _, line := range page.Kit.Needles {
		shelf.need(store.StockNeedle, strings.TrimPrefix(line.What, "needles "), line, items)
	}
	for _, line := range page.Kit.Blanks {
		shelf.need(store.StockBlank, line.What, line, items)
	}
	shelf.parts(items)
	shelf.addUp(reserved)
	return shelf, nil
}

// need adds a need that is matched by its words.
func (p *ShelfPage) need(kind, words string, line kit.Line, items []store.StockItem) {
	n := Need{What: line.What, Quantity: line.Count, Working: line.Working}
	n.Item = find(items, func(i store.StockItem) bool { return i.Kind == kind && strings.EqualFold(i.Matches, words) })
	p.Needs = append(p.Needs, n)
}

func find(items []store.StockItem, fits func(store.StockItem) bool) *store.StockItem {
	if i := slices.IndexFunc(items, fits); i >= 0 {
		return &items[i]
	}
	return nil
}

// parts adds what projects put into each kit.
func (p *ShelfPage) parts(items []store.StockItem) {
	for _, w := range p.Works {
		for _, part := range w.Project.Content.Parts {
			count := part.Count * len(w.Students)
			if count == 0 {
				continue
			}
			n := Need{What: part.Name, Quantity: float64(count), Working: []string{fmt.Sprintf("%d for each of %d students", part.Count, len(w.Students))}}
			n.Item = find(items, func(i store.StockItem) bool {
				return strings.EqualFold(i.Matches, part.Name) || strings.EqualFold(i.Name, part.Name)
			})
			p.Needs = append(p.Needs, n)
		}
	}
}

// threads takes, for each colour, the nearest thread of the shelf, and as
// many spools as are sewn with at once, or as the metres ask for.
func (p *ShelfPage) threads(items []store.StockItem) {
	var shelf []stitch.RGB
	var at []int
	for i, item := range items {
		if c, err := stitch.ParseRGB(item.Color); err == nil && item.Kind == store.StockThread {
			shelf, at = append(shelf, c), append(at, i)
		}
	}
	for _, line := range p.Kit.Thread {
		wanted, err := stitch.ParseRGB(line.Color)
		if err != nil {
			continue
		}
		n := Need{What: line.What, Color: line.Color, Working: slices.Clone(line.Working)}
		spools, metres := float64(max(1, p.Spools[line.Color])), line.Count/1000
		if matches := thread.Nearest(wanted, shelf); len(matches) > 0 {
			n.Match = matches[0]
			n.Item = &items[at[matches[0].Index]]
			n.AlsoFor = p.toldApart(wanted, n.Item.ID)
			n.What = "thread " + n.Item.Name
			spools = max(spools, math.Ceil(metres/n.Item.Metres))
			for _, m := range matches[1:min(3, len(matches))] {
				n.Working = append(n.Working, fmt.Sprintf("or %s: %s, ΔE %.1f", items[at[m.Index]].Name, m.Words(), m.Difference))
			}
		}
		n.Quantity = spools
		n.Working = append(n.Working, fmt.Sprintf("%.0f m in all; sewn on %d machines at once at the most: %.0f spools", metres, max(1, p.Spools[line.Color]), spools))
		// Colours that one thread stands in for share its spools by adding up.
		p.Needs = append(p.Needs, n)
	}
}

// toldApart finds the colour that a thread is taken for already and that
// looks other than the one wanted now.
func (p *ShelfPage) toldApart(wanted stitch.RGB, itemID int64) string {
	for _, n := range p.Needs {
		other, err := stitch.ParseRGB(n.Color)
		if err == nil && n.Item != nil && n.Item.ID == itemID && thread.Difference(wanted, other) >= thread.Alike {
			return n.Color
		}
	}
	return ""
}

// addUp shares out what is reserved, and finds shortages and costs. One item
// may serve several needs.
func (p *ShelfPage) addUp(reserved map[int64]float64) {
	left := map[int64]float64{}
	free := map[int64]float64{}
	p.AllReserved = len(p.Needs) > 0
	for i := range p.Needs {
		n := &p.Needs[i]
		if n.Item == nil {
			p.Short, p.AllReserved = append(p.Short, *n), false
			continue
		}
		item := *n.Item // of its own, as what is free of it is shared out
		n.Item = &item
		if _, seen := left[item.ID]; !seen {
			left[item.ID], free[item.ID] = reserved[item.ID], item.Available()
		}
		n.Reserved = min(n.Quantity, left[item.ID])
		left[item.ID] -= n.Reserved
		item.OnHand, item.Reserved = free[item.ID], 0
		p.CostCents += Cost(item, n.Quantity)
		if n.Missing() > 1e-6 {
			p.Short = append(p.Short, *n)
		}
		free[item.ID] = max(0, free[item.ID]-(n.Quantity-n.Reserved))
		p.AllReserved = p.AllReserved && n.Reserved >= n.Quantity-1e-6
	}
	students := 0 // who come
	for _, w := range p.Works {
		students += len(w.Students)
	}
	if students > 0 {
		const roundTo = 50 // cents
		p.FeeCents = math.Ceil(p.CostCents/float64(students)/roundTo) * roundTo
	}
}
