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
	// Difference of a thread that stands in for the one asked for.
	Difference float64
	Match      thread.Match
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

// Count of all pieces.
func (s CutSheet) Count() int {
	n := 0
	for _, p := range s.Pieces {
		n += p.Count
	}
	return n
}

// usualWidths stand in where nothing of a material is on the shelf.
const usualWidthMM = 1000

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
	page, err := d.Class(classID)
	if err != nil {
		return ShelfPage{}, err
	}
	items, err := d.shop.Stock()
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
			n.What = "thread " + n.Item.Name
			spools = max(spools, math.Ceil(metres/n.Item.Metres))
		}
		n.Quantity = spools
		n.Working = append(n.Working, fmt.Sprintf("%.0f m in all; sewn on %d machines at once at the most: %.0f spools", metres, max(1, p.Spools[line.Color]), spools))
		// Colours that one thread stands in for share its spools by adding up.
		p.Needs = append(p.Needs, n)
	}
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
	if students := len(p.present()); students > 0 {
		const roundTo = 50 // cents
		p.FeeCents = math.Ceil(p.CostCents/float64(students)/roundTo) * roundTo
	}
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

// present are the students who are not absent.
func (p ClassPage) present() []store.ClassStudent {
	var all []store.ClassStudent
	for _, w := range p.Works {
		all = append(all, w.Students...)
	}
	return all
}

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
				extra = figures.Tests + (len(w.Students)+figures.StudentsPerSpare-1)/max(1, figures.StudentsPerSpare)
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

// Reserve speaks for what a class needs and has not reserved yet. What is
// short stays short; the rest is reserved all the same.
func (d Desk) Reserve(classID int64) error {
	if err := d.mayChange(); err != nil {
		return err
	}
	page, err := d.Shelf(classID)
	if err != nil {
		return err
	}
	wanted := map[int64]float64{}
	var order []int64
	for _, n := range page.Needs {
		if n.Item == nil {
			continue
		}
		if _, seen := wanted[n.Item.ID]; !seen {
			order = append(order, n.Item.ID)
		}
		wanted[n.Item.ID] += n.Quantity - n.Reserved - n.Missing()
	}
	var moves []store.StockMovement
	slices.Sort(order) // everyone locks in one order
	for _, itemID := range order {
		if n := wanted[itemID]; n > 1e-6 {
			moves = append(moves, store.StockMovement{ItemID: itemID, Kind: store.ReservedMove, Reserved: n, ClassID: &classID, MovedByID: d.Who.AccountID, MovedAt: d.now})
		}
	}
	if len(moves) == 0 {
		return Problems{"": "There is nothing more to reserve: what is on the shelf is spoken for already."}
	}
	err = d.shop.Move(moves...)
	if errors.Is(err, store.ErrShort) {
		return Problems{"": "Someone else has just reserved some of it. Look again at what is short."}
	}
	return err
}

// PutRight settles a class with the shelf: of each item it reserved, so much
// was used, and the rest is free again. used is by item, in the item's count.
func (d Desk) PutRight(classID int64, used map[int64]float64) error {
	if err := d.mayChange(); err != nil {
		return err
	}
	reserved, err := d.shop.ReservedFor(classID)
	if err != nil {
		return err
	}
	var moves []store.StockMovement
	line := func(m store.StockMovement) {
		m.ClassID, m.MovedByID, m.MovedAt = &classID, d.Who.AccountID, d.now
		moves = append(moves, m)
	}
	for itemID, held := range reserved {
		n, said := used[itemID]
		if !said {
			n = held
		}
		if n < 0 {
			return Problems{"": "What was used is 0 or more."}
		}
		if n > 0 {
			line(store.StockMovement{ItemID: itemID, Kind: store.Used, Quantity: -n, Reserved: -min(n, held)})
		}
		if n < held-1e-6 {
			line(store.StockMovement{ItemID: itemID, Kind: store.Released, Reserved: n - held})
		}
	}
	if len(moves) == 0 {
		return Problems{"": "The class has nothing reserved: there is nothing to put right."}
	}
	slices.SortFunc(moves, func(a, b store.StockMovement) int { return int(a.ItemID - b.ItemID) })
	err = d.shop.Move(moves...)
	if errors.Is(err, store.ErrShort) {
		return Problems{"": "More was used of something than was there: count that item first."}
	}
	return err
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
			if err := saved(d.shop.SaveStockItem(&item), item.Name); err != nil {
				return kept, err
			}
			if err := d.shop.Move(store.StockMovement{ItemID: item.ID, Kind: store.Returned, Quantity: 1, Note: "off-cut", ClassID: &classID, MovedByID: d.Who.AccountID, MovedAt: d.now}); err != nil {
				return kept, err
			}
		}
	}
	if kept == 0 {
		return 0, Problems{"": "No rest is at least 100 mm each way: there is nothing to keep."}
	}
	return kept, nil
}

// A BuyLine is one thing to buy, rounded up to packs.
type BuyLine struct {
	Item store.StockItem
	// Short is what is missing, Buy what is bought for it.
	Short, Buy float64
	Packs      int
	Cents      int
	// For names the classes that need it.
	For []string
}

// A BuyList is what the coming classes lack and what runs low.
type BuyList struct {
	Lines []BuyLine
	// Nothing lists what no item of the shelf stands for.
	Nothing []string
	Cents   int
}

// BuyList works out what to buy.
func (d Desk) BuyList() (BuyList, error) {
	var list BuyList
	classes, err := d.Classes()
	if err != nil {
		return list, err
	}
	items, err := d.shop.Stock()
	if err != nil {
		return list, err
	}
	wanted := map[int64]float64{}
	names := map[int64][]string{}
	for _, c := range classes {
		if c.Over {
			continue
		}
		page, err := d.Shelf(c.ID)
		if err != nil {
			return list, err
		}
		for _, n := range page.Needs {
			if n.Item == nil {
				list.Nothing = append(list.Nothing, fmt.Sprintf("%s for %s", n.What, c.Name))
				continue
			}
			wanted[n.Item.ID] += n.Quantity - n.Reserved
			if !slices.Contains(names[n.Item.ID], c.Name) {
				names[n.Item.ID] = append(names[n.Item.ID], c.Name)
			}
		}
	}
	for _, item := range items {
		short := wanted[item.ID] - item.Available()
		if item.Remnant {
			continue
		}
		if low := item.ReorderPoint - (item.Available() - wanted[item.ID]); low > short && low > 0 {
			short = low
		}
		if short <= 1e-6 {
			continue
		}
		line := BuyLine{Item: item, Short: short, Packs: int(math.Ceil(short/item.Pack - 1e-9)), For: names[item.ID]}
		line.Buy = float64(line.Packs) * item.Pack
		line.Cents = line.Packs * item.PackCents
		list.Cents += line.Cents
		list.Lines = append(list.Lines, line)
	}
	return list, nil
}

// ThreadWords names the thread of the shelf that stands in for a colour on a
// step card.
func (c StepCard) ThreadWords(color string) string {
	if name, ok := c.Threads[color]; ok {
		return name
	}
	return "thread"
}

// shelfThreads names, for each colour of a class, the nearest thread there is.
func (d Desk) shelfThreads(page ClassPage) (map[string]string, error) {
	items, err := d.shop.Stock()
	if err != nil {
		return nil, err
	}
	shelf := ShelfPage{ClassPage: page}
	shelf.threads(items)
	names := map[string]string{}
	for _, n := range shelf.Needs {
		if n.Item != nil {
			names[n.Color] = n.Item.Name
			if n.Match.Difference >= thread.Alike {
				names[n.Color] += " (" + n.Match.Words() + ")"
			}
		}
	}
	return names, nil
}
