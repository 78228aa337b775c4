package app

import (
	"errors"
	"math"
	"slices"
	"strings"

	"chalkstep/core/recipe"
	"chalkstep/core/say"
	"chalkstep/core/shelf"
	"chalkstep/core/stitch"
	"chalkstep/core/supply"
	"chalkstep/store"
)

// A StockPage is a stretch of the shelf.
type StockPage struct {
	Items []shelf.Item
	// All and Low count the whole shelf, and what has less free than its
	// reorder point.
	All, Low int
	Pages    Pages
}

// Stock opens the shelf, or what of it has some words in its name or stands
// for them, by kind. Remnants that are used up are in the ledger alone.
func (d Desk) Stock(words string, page int) (StockPage, error) {
	if err := d.may(See); err != nil {
		return StockPage{}, err
	}
	const onPage = 60
	list := StockPage{Pages: newPages(words, page, onPage)}
	items, err := d.items()
	if err != nil {
		return list, err
	}
	find := supply.Fold(list.Pages.Words)
	for _, i := range items {
		if i.Remnant && i.OnHand <= 0 {
			continue
		}
		list.All++
		if i.Low() {
			list.Low++
		}
		if strings.Contains(supply.Fold(i.Name+" "+d.Say(i.Key)+" "+i.Place), find) {
			list.Items = append(list.Items, i)
		}
	}
	slices.SortStableFunc(list.Items, func(a, b shelf.Item) int {
		return slices.Index(supply.Kinds, a.Key.Kind) - slices.Index(supply.Kinds, b.Key.Kind)
	})
	list.Pages.Total = len(list.Items)
	from := min(len(list.Items), list.Pages.stretch().From)
	list.Items = list.Items[from:min(len(list.Items), from+onPage)]
	return list, nil
}

// A StockItemPage is one item with its ledger.
type StockItemPage struct {
	Item   shelf.Item
	Ledger []store.StockMovement
	// Typed is how its form shows it.
	Typed StockInput
}

// StockItem opens one item, a new one for ID 0.
func (d Desk) StockItem(id int64) (StockItemPage, error) {
	if err := d.may(See); err != nil {
		return StockItemPage{}, err
	}
	if id == 0 {
		item := shelf.Item{Key: supply.Key{Kind: supply.Stabilizer}, Form: shelf.Roll, Pack: 1000}
		return StockItemPage{Item: item, Typed: StockInput{Kind: string(supply.Stabilizer), Form: string(shelf.Roll)}}, nil
	}
	row, err := d.shop.StockItem(id)
	if err != nil {
		return StockItemPage{}, err
	}
	ledger, err := d.shop.Ledger(id)
	return StockItemPage{row.Value(), ledger, d.typedItem(row.Value())}, err
}

// A StockInput is what a person says of an item; numbers are typed.
type StockInput struct {
	ID      int64
	Version int
	Name    string
	// Kind says which of the fields of its key count; Called is the name of a
	// blank or a part.
	Kind, Material, Weight, Fabric string
	Fibre, Color                   string
	Style, Point, Size, Called     string
	// Form of what comes by the length: a roll or a sheet.
	Form                    string
	Width, Height, Metres   string
	Pack, PackCost, Reorder string
	Supplier, Place         string
	Grain                   bool
}

// typedItem is an item as its form shows it.
func (d Desk) typedItem(i shelf.Item) StockInput {
	units := d.Printer().Units
	field := func(mm float64) string {
		if mm == 0 {
			return ""
		}
		return units.Field(mm)
	}
	in := StockInput{
		ID: i.ID, Version: i.Version, Name: i.Name, Kind: string(i.Key.Kind), Form: string(i.Form), Width: field(i.WidthMM), Height: field(i.HeightMM),
		Pack: d.typedQuantity(i, i.Pack), PackCost: d.Say(say.Cents(i.PackCents)), Reorder: d.typedQuantity(i, i.ReorderPoint), Supplier: i.Supplier, Place: i.Place, Grain: i.Grain,
	}
	if i.Metres > 0 {
		in.Metres = plain(i.Metres)
	}
	k := i.Key
	switch k.Kind {
	case supply.Stabilizer:
		in.Material, in.Weight = k.Material, k.Weight
	case supply.Fabric:
		in.Fabric = k.Material
	case supply.Thread:
		in.Fibre, in.Color = k.Fibre, k.Color.String()
	case supply.Bobbin:
		in.Style = k.Style
	case supply.Needle:
		in.Point, in.Size = k.Style, k.Size
	case supply.Blank, supply.Part:
		in.Called = k.Name
	}
	return in
}

// key reads what an item is.
func (in StockInput) key(problems Problems) supply.Key {
	one := func(field, typed string, of []string, problem string) string {
		if !slices.Contains(of, typed) {
			problems[field] = problem
		}
		return typed
	}
	switch kind := supply.Kind(in.Kind); kind {
	case supply.Stabilizer:
		return supply.Sheet(one("material", in.Material, supply.StabilizerMaterials, "Choose what it is."), one("weight", in.Weight, supply.Weights, "Choose its weight."))
	case supply.Topper, supply.Batting, supply.Film, supply.Fusible:
		return supply.Key{Kind: kind}
	case supply.Fabric:
		if !slices.Contains(recipe.Fabrics, recipe.Fabric(in.Fabric)) {
			problems["fabric"] = "Choose the fabric."
		}
		return supply.Cloth(in.Fabric)
	case supply.Thread:
		color, err := stitch.ParseRGB(strings.ToLower(in.Color))
		if err != nil {
			problems["color"] = "Choose its colour."
		}
		return supply.Spool(one("fibre", in.Fibre, supply.Fibres, "Choose what it is spun of."), color)
	case supply.Bobbin:
		return supply.Bobbins(name(problems, "style", in.Style, "Write the style, in the words of the machines that take it."))
	case supply.Needle:
		return supply.Needles(one("point", in.Point, supply.Points, "Choose its point."), one("size", in.Size, supply.NeedleSizes, "Choose its size."))
	case supply.Blank, supply.Part:
		return supply.Named(kind, name(problems, "called", in.Called, "Write what projects call it."))
	}
	problems["kind"] = "Choose what kind of thing it is."
	return supply.Key{}
}

// SaveStockItem adds or changes an item.
func (d Desk) SaveStockItem(in StockInput) (int64, error) {
	if err := d.may(ChangeStock); err != nil {
		return 0, err
	}
	problems := Problems{}
	item := shelf.Item{ID: in.ID, Version: in.Version, Grain: in.Grain, Pack: 1, Key: in.key(problems), Form: shelf.Each}
	item.Name = name(problems, "name", in.Name, "Give it the name on its box.")
	item.Supplier = text(problems, "supplier", in.Supplier, LongestName)
	item.Place = text(problems, "place", in.Place, LongestName)
	if item.Key.Kind.ByLength() {
		if item.Form = shelf.Form(in.Form); item.Form != shelf.Roll && item.Form != shelf.Sheet {
			problems["form"] = "Choose whether it is a roll or a sheet."
		}
		item.WidthMM = d.length(problems, "width", in.Width, 10, 10_000)
	}
	if item.Form == shelf.Sheet {
		item.HeightMM = d.length(problems, "height", in.Height, 10, 10_000)
	}
	if item.Key.Kind == supply.Thread {
		item.Metres = number(problems, "metres", in.Metres, 1, 20_000, "Write the metres on a spool.")
	}
	typed := func(field, t string, none float64, problem string) float64 {
		if strings.TrimSpace(t) == "" {
			return none
		}
		return d.quantity(problems, field, item, t, problem)
	}
	item.Pack = typed("pack", in.Pack, item.Count(1), "Write how many are bought at once, more than 0.")
	if item.Pack <= 0 && problems["pack"] == "" {
		problems["pack"] = "Write how many are bought at once, more than 0."
	}
	if strings.TrimSpace(in.PackCost) != "" {
		item.PackCents = int(math.Round(number(problems, "pack-cost", in.PackCost, 0, 100_000, "Write what a pack costs, such as 12.50.") * 100))
	}
	item.ReorderPoint = typed("reorder", in.Reorder, 0, "Write from how many on to buy again.")
	if err := problems.orNil(); err != nil {
		return 0, err
	}
	row := store.ItemRow(item)
	if in.ID != 0 { // a remnant stays one
		was, err := d.shop.StockItem(in.ID)
		if err != nil {
			return 0, err
		}
		row.Remnant = was.Remnant
	}
	return d.once(func(d Desk) (int64, error) {
		err := saved(d.shop.SaveStockItem(&row), item.Name)
		return row.ID, err
	})
}

// quantity reads how much of an item was typed: metres or yards of what is
// counted by length.
func (d Desk) quantity(problems Problems, field string, item shelf.Item, typed, problem string) float64 {
	n := number(problems, field, typed, 0, 1e6, problem)
	if item.ByLength() {
		return n * d.Printer().Units.ClothMM()
	}
	return n
}

// typedQuantity is a quantity of an item as a form is filled with it.
func (d Desk) typedQuantity(item shelf.Item, n float64) string {
	if item.ByLength() {
		return plain(math.Round(n/d.Printer().Units.ClothMM()*1000) / 1000)
	}
	return plain(n)
}

// TypedQuantity is a quantity of an item as a form is filled with it.
func (d Desk) TypedQuantity(item shelf.Item, n float64) string { return d.typedQuantity(item, n) }

// A MoveInput is a movement as a person writes it; the quantity is typed, in
// metres or yards for what is counted by length.
type MoveInput struct{ Kind, Quantity, Note string }

// MoveStock writes a movement into an item's ledger.
func (d Desk) MoveStock(itemID int64, in MoveInput) error {
	if err := d.may(ChangeStock); err != nil {
		return err
	}
	return d.onceOnly(func(d Desk) error { return d.moveStock(itemID, in) })
}

func (d Desk) moveStock(itemID int64, in MoveInput) error {
	row, err := d.shop.StockItem(itemID)
	if err != nil {
		return err
	}
	item := row.Value()
	problems := Problems{}
	note := text(problems, "note", in.Note, LongestNote)
	n := d.quantity(problems, "quantity", item, in.Quantity, "Write how much, as a number.")
	if in.Kind != store.Counted && n == 0 && len(problems) == 0 {
		problems["quantity"] = "Write how much, more than 0."
	}
	if !slices.Contains([]string{store.Bought, store.Used, store.Returned, store.Spoiled, store.Counted}, in.Kind) {
		problems["kind"] = "Choose what happened."
	}
	if err := problems.orNil(); err != nil {
		return err
	}
	m := store.StockMovement{ItemID: itemID, Kind: in.Kind, Quantity: n, Note: note, MovedByID: d.Who.AccountID, MovedAt: d.now}
	if in.Kind == store.Used || in.Kind == store.Spoiled {
		m.Quantity = -n
	}
	if in.Kind == store.Counted {
		err = d.shop.Count(m, n)
	} else {
		err = d.shop.Move(m)
	}
	if errors.Is(err, store.ErrShort) {
		return Problems{"quantity": d.Say(say.T("Only %s is there and free, %s spoken for by classes.", item.Amount(item.Available()), item.Amount(item.Reserved)))}
	}
	return err
}
