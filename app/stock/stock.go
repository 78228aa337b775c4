package stock

import (
	"errors"
	"math"
	"slices"
	"strings"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/recipe"
	"chalkstep/core/say"
	"chalkstep/core/stitch"
	"chalkstep/core/stock"
	"chalkstep/core/supply"
	"chalkstep/store"
)

// A StockPage is a stretch of the shelf.
type StockPage struct {
	Items []stock.Item
	// All and Low count the whole shelf, and what has less free than its
	// reorder point.
	All, Low int
	Pages    form.Pages
}

// Stock opens the shelf, or what of it has some words in its name or stands
// for them, by kind. Remnants that are used up are in the ledger alone.
func (d UseCases) Stock(words string, page int) (StockPage, error) {
	if err := d.Need(actor.See); err != nil {
		return StockPage{}, err
	}
	const onPage = 60
	list := StockPage{Pages: form.NewPages(words, page, onPage)}
	items, err := d.Items()
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
	slices.SortStableFunc(list.Items, func(a, b stock.Item) int {
		return slices.Index(supply.Kinds, a.Key.Kind) - slices.Index(supply.Kinds, b.Key.Kind)
	})
	list.Pages.Total = len(list.Items)
	from := min(len(list.Items), list.Pages.Rows().From)
	list.Items = list.Items[from:min(len(list.Items), from+onPage)]
	return list, nil
}

// A StockItemPage is one item with its ledger.
type StockItemPage struct {
	Item   stock.Item
	Ledger []stock.Move
	// Typed is how its form shows it.
	Typed StockInput
}

// StockItem opens one item, a new one for ID 0.
func (d UseCases) StockItem(id int64) (StockItemPage, error) {
	if err := d.Need(actor.See); err != nil {
		return StockItemPage{}, err
	}
	if id == 0 {
		item := stock.Item{Key: supply.Key{Kind: supply.Stabilizer}, Form: stock.Roll, Pack: 1000}
		return StockItemPage{Item: item, Typed: StockInput{Kind: string(supply.Stabilizer), Form: string(stock.Roll)}}, nil
	}
	item, err := d.Workshop.StockItem(id)
	if err != nil {
		return StockItemPage{}, err
	}
	ledger, err := d.Workshop.Ledger(id)
	return StockItemPage{item, ledger, d.typedItem(item)}, err
}

// A StockInput is what a person says of an item; numbers are typed.
type StockInput struct {
	ID      int64  `form:"-"`
	Version int    `form:"version"`
	Name    string `form:"name" says:"Name"`
	// Kind says which of the fields of its key count; Called is the name of a
	// blank or a part.
	Kind     string `form:"kind" says:"Kind"`
	Material string `form:"material" says:"Material"`
	Weight   string `form:"weight" says:"Weight"`
	Fabric   string `form:"fabric" says:"Fabric"`
	Fibre    string `form:"fibre" says:"Fibre"`
	Color    string `form:"color" says:"Colour"`
	Style    string `form:"style" says:"Style"`
	Point    string `form:"point" says:"Point"`
	Size     string `form:"size" says:"Size"`
	Called   string `form:"called" says:"What it is"`
	// Form of what comes by the length: a roll or a sheet.
	Form     string `form:"form" says:"Lies as"`
	Width    string `form:"width" says:"Width"`
	Height   string `form:"height" says:"Height"`
	Metres   string `form:"metres" says:"Metres"`
	Pack     string `form:"pack" says:"Bought at once"`
	PackCost string `form:"pack-cost" says:"What that costs"`
	Reorder  string `form:"reorder" says:"Buy again below"`
	Supplier string `form:"supplier" says:"Supplier"`
	Place    string `form:"place" says:"Place"`
	Grain    bool   `form:"grain" says:"Keeps its grain"`
}

// typedItem is an item as its form shows it.
func (d UseCases) typedItem(i stock.Item) StockInput {
	in := StockInput{
		ID: i.ID, Version: i.Version, Name: i.Name, Kind: string(i.Key.Kind), Form: string(i.Form),
		Width: form.TypedLength(d.Printer(), i.WidthMM), Height: form.TypedLength(d.Printer(), i.HeightMM),
		Pack: form.TypedQuantity(d.Printer(), i, i.Pack), PackCost: d.Say(say.Cents(i.PackCents)),
		Reorder: form.TypedQuantity(d.Printer(), i, i.ReorderPoint), Supplier: i.Supplier, Place: i.Place, Grain: i.Grain,
	}
	if i.Metres > 0 {
		in.Metres = form.Plain(i.Metres)
	}
	if i.Form == stock.Spool {
		in.Pack = form.Plain(math.Round(i.Pack / i.Single()))
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
	case supply.Blank, supply.Part, supply.Tool:
		in.Called = k.Name
	}
	return in
}

// InputFor is the form of a new item that is to be what a key names; nil where
// it names nothing.
func (d UseCases) InputFor(key string) *StockInput {
	k, err := supply.Parse(key)
	if err != nil {
		return nil
	}
	item := stock.Item{Key: k, Form: stock.Usual(k.Kind)}
	in := d.typedItem(item)
	in.Name, in.Pack, in.PackCost, in.Reorder = form.Sentence(d.Say(k)), "", "", ""
	if item.Form == stock.Spool {
		in.Metres = "1000"
	}
	return &in
}

// key reads what an item is.
func (in StockInput) key(problems form.Problems) supply.Key {
	one := func(field, typed string, of []string, problem string) string {
		if !slices.Contains(of, typed) {
			problems[field] = problem
		}
		return typed
	}
	switch kind := supply.Kind(in.Kind); kind {
	case supply.Stabilizer:
		return supply.Sheet(one("material", in.Material, supply.StabilizerMaterials, "Choose what it is."),
			one("weight", in.Weight, supply.Weights, "Choose its weight."))
	case supply.Topper, supply.Batting, supply.Film, supply.Fusible, supply.SoftCover, supply.Interfacing, supply.Pen,
		supply.Tape, supply.Spray:
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
		return supply.Bobbins(
			form.Name(problems, "style", in.Style, "Write the style, in the words of the machines that take it."))
	case supply.Needle:
		return supply.Needles(one("point", in.Point, supply.Points, "Choose its point."),
			one("size", in.Size, supply.NeedleSizes, "Choose its size."))
	case supply.Blank, supply.Part, supply.Tool:
		return supply.Named(kind, form.Name(problems, "called", in.Called, "Write what projects call it."))
	}
	problems["kind"] = "Choose what kind of thing it is."
	return supply.Key{}
}

// SaveStockItem adds or changes an item.
func (d UseCases) SaveStockItem(in StockInput) (int64, error) {
	if err := d.Need(actor.ChangeStock); err != nil {
		return 0, err
	}
	problems := form.Problems{}
	item := d.itemOf(in, problems)
	if err := problems.OrNil(); err != nil {
		return 0, err
	}
	if in.ID != 0 { // a remnant stays one
		was, err := d.Workshop.StockItem(in.ID)
		if err != nil {
			return 0, err
		}
		item.Remnant = was.Remnant
	}
	return actor.Once(d, func(d UseCases) (int64, error) {
		id, err := d.Workshop.SaveStockItem(item)
		err = form.Compare(err, in, func() (StockInput, int, error) {
			now, err := d.Workshop.StockItem(in.ID)
			return d.typedItem(now), now.Version, err
		})
		return id, form.Saved(err, item.Name)
	})
}

// itemOf reads what was typed of an item.
func (d UseCases) itemOf(in StockInput, problems form.Problems) stock.Item {
	item := stock.Item{ID: in.ID, Version: in.Version, Grain: in.Grain, Pack: 1, Key: in.key(problems), Form: stock.Each}
	item.Name = form.Name(problems, "name", in.Name, "Give it the name on its box.")
	item.Supplier = form.Text(problems, "supplier", in.Supplier, form.LongestName)
	item.Place = form.Text(problems, "place", in.Place, form.LongestName)
	if item.Key.Kind.ByLength() {
		if item.Form = stock.Form(in.Form); item.Form != stock.Roll && item.Form != stock.Sheet {
			problems["form"] = "Choose whether it is a roll or a sheet."
		}
		item.WidthMM = form.Length(d.Printer(), problems, "width", in.Width, 10, 10_000)
	}
	if item.Form == stock.Sheet {
		item.HeightMM = form.Length(d.Printer(), problems, "height", in.Height, 10, 10_000)
	}
	if item.Key.Kind == supply.Thread {
		item.Form = stock.Spool
		item.Metres = form.Number(problems, "metres", in.Metres, 1, 20_000, "Write the metres on a spool.")
	}
	d.readPack(in, &item, problems)
	if strings.TrimSpace(in.PackCost) != "" {
		item.PackCents = int(
			math.Round(form.Number(problems, "pack-cost", in.PackCost, 0, 100_000,
				"Write what a pack costs, such as 12.50.") * 100))
	}
	item.ReorderPoint = d.quantityOr(problems, "reorder", item, in.Reorder, 0, "Write from how many on to buy again.")
	return item
}

// readPack reads how much of an item is bought at once.
func (d UseCases) readPack(in StockInput, item *stock.Item, problems form.Problems) {
	if item.Form == stock.Spool { // thread is bought in spools, and counted by its length
		item.Pack = item.Single()
		if strings.TrimSpace(in.Pack) != "" {
			item.Pack *= float64(
				form.Whole(problems, "pack", in.Pack, 1, 1000, "Write how many spools are bought at once, 1 or more."))
		}
	} else {
		item.Pack = d.quantityOr(problems, "pack", *item, in.Pack, item.Count(1),
			"Write how many are bought at once, more than 0.")
	}
	if item.Pack <= 0 && problems["pack"] == "" {
		problems["pack"] = "Write how many are bought at once, more than 0."
	}
}

// quantityOr reads how much of an item was typed; empty is none.
func (d UseCases) quantityOr(problems form.Problems, field string, item stock.Item, typed string, none float64,
	problem string) float64 {
	if strings.TrimSpace(typed) == "" {
		return none
	}
	return form.Quantity(d.Printer(), problems, field, item, typed, problem)
}

// A MoveInput is a movement as a person writes it; the quantity is typed, in
// metres or yards for what is counted by length.
type MoveInput struct {
	Kind     stock.MoveKind `form:"kind"`
	Quantity string         `form:"quantity"`
	Note     string         `form:"note"`
}

// MoveStock writes a movement into an item's ledger.
func (d UseCases) MoveStock(itemID int64, in MoveInput) error {
	if err := d.Need(actor.ChangeStock); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error { return d.moveStock(itemID, in) })
}

func (d UseCases) moveStock(itemID int64, in MoveInput) error {
	item, err := d.Workshop.StockItem(itemID)
	if err != nil {
		return err
	}
	problems := form.Problems{}
	note := form.Text(problems, "note", in.Note, form.LongestNote)
	n := form.Quantity(d.Printer(), problems, "quantity", item, in.Quantity, "Write how much, as a number.")
	if in.Kind != stock.Counted && n == 0 && len(problems) == 0 {
		problems["quantity"] = "Write how much, more than 0."
	}
	if !slices.Contains(stock.ByHand, in.Kind) {
		problems["kind"] = "Choose what happened."
	}
	if err := problems.OrNil(); err != nil {
		return err
	}
	m := stock.Move{ItemID: itemID, Kind: in.Kind, Quantity: n, Note: note, ByID: d.Who.AccountID, At: d.Now}
	if in.Kind == stock.Used || in.Kind == stock.Spoiled {
		m.Quantity = -n
	}
	if in.Kind == stock.Counted {
		err = d.Workshop.Count(m, n)
	} else {
		err = d.Workshop.Move(m)
	}
	if errors.Is(err, store.ErrShort) {
		return form.Problems{
			"quantity": d.Say(say.T("Only %s is there and free, %s spoken for by classes.", item.Amount(item.Available()),
				item.Amount(item.Reserved)))}
	}
	return err
}
