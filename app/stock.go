package app

import (
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"

	"chalkstep/core/measure"
	"chalkstep/core/stitch"
	"chalkstep/store"
)

// A StockPage is the shelf.
type StockPage struct {
	Items []store.StockItem
	// Low are items with less free than their reorder point.
	Low []store.StockItem
}

// Stock opens the shelf.
func (d Desk) Stock() (StockPage, error) {
	items, err := d.shop.Stock()
	page := StockPage{Items: items}
	for _, i := range items {
		if i.Available() < i.ReorderPoint {
			page.Low = append(page.Low, i)
		}
	}
	return page, err
}

// A StockItemPage is one item with its ledger.
type StockItemPage struct {
	Item   store.StockItem
	Ledger []store.StockMovement
}

// StockItem opens one item, a new one for ID 0.
func (d Desk) StockItem(id int64) (StockItemPage, error) {
	if id == 0 {
		return StockItemPage{Item: store.StockItem{Kind: store.StockRoll, Pack: 1}}, nil
	}
	item, err := d.shop.StockItem(id)
	if err != nil {
		return StockItemPage{}, err
	}
	ledger, err := d.shop.Ledger(id)
	return StockItemPage{item, ledger}, err
}

// A StockInput is what a person says of an item; numbers are typed.
type StockInput struct {
	ID                         int64
	Version                    int
	Kind, Name, Matches, Color string
	Width, Height, Metres      string
	Pack, PackCost, Reorder    string
	Supplier, Place            string
	Grain                      bool
}

// SaveStockItem adds or changes an item.
func (d Desk) SaveStockItem(in StockInput) (int64, error) {
	if err := d.mayChange(); err != nil {
		return 0, err
	}
	problems := Problems{}
	item := store.StockItem{
		ID: in.ID, Version: in.Version, Kind: in.Kind, Name: strings.TrimSpace(in.Name), Matches: strings.TrimSpace(in.Matches),
		Supplier: strings.TrimSpace(in.Supplier), Place: strings.TrimSpace(in.Place), Grain: in.Grain, Pack: 1,
	}
	if item.Name == "" {
		problems["name"] = "Give it the name on its box."
	}
	if !slices.Contains(store.StockKinds, in.Kind) {
		problems["kind"] = "Choose what kind of thing it is."
	}
	optional := func(field, typed string, most float64, text string) float64 {
		if strings.TrimSpace(typed) == "" {
			return 0
		}
		return number(problems, field, typed, 0, most, text)
	}
	if item.ByLength() || in.Kind == store.StockSheet {
		item.WidthMM = length(problems, "width", in.Width, 10, 10_000)
	}
	if in.Kind == store.StockSheet {
		item.HeightMM = length(problems, "height", in.Height, 10, 10_000)
	}
	if in.Kind == store.StockThread {
		item.Color = strings.ToLower(in.Color)
		if _, err := stitch.ParseRGB(item.Color); err != nil {
			problems["color"] = "Choose its colour."
		}
		item.Metres = number(problems, "metres", in.Metres, 1, 20_000, "Write the metres on a spool.")
	}
	if strings.TrimSpace(in.Pack) != "" {
		item.Pack = number(problems, "pack", in.Pack, 0.001, 1e6, "Write how many are bought at once, more than 0.")
	}
	if item.ByLength() {
		item.Pack *= 1000
	}
	item.PackCents = int(math.Round(optional("pack-cost", in.PackCost, 100_000, "Write what a pack costs, such as 12.50.") * 100))
	item.ReorderPoint = optional("reorder", in.Reorder, 1e6, "Write from how many on to buy again.")
	if item.ByLength() {
		item.ReorderPoint *= 1000
	}
	if err := problems.orNil(); err != nil {
		return 0, err
	}
	err := d.shop.SaveStockItem(&item)
	return item.ID, saved(err, item.Name)
}

// A MoveInput is a movement as a person writes it; the quantity is typed, in
// metres for what is counted by length.
type MoveInput struct{ Kind, Quantity, Note string }

// MoveStock writes a movement into an item's ledger.
func (d Desk) MoveStock(itemID int64, in MoveInput) error {
	if err := d.mayChange(); err != nil {
		return err
	}
	item, err := d.shop.StockItem(itemID)
	if err != nil {
		return err
	}
	problems := Problems{}
	n := number(problems, "quantity", in.Quantity, 0, 1e6, "Write how much, as a number.")
	if in.Kind != store.Counted && n == 0 && len(problems) == 0 {
		problems["quantity"] = "Write how much, more than 0."
	}
	if !slices.Contains([]string{store.Bought, store.Used, store.Returned, store.Spoiled, store.Counted}, in.Kind) {
		problems["kind"] = "Choose what happened."
	}
	if err := problems.orNil(); err != nil {
		return err
	}
	if item.ByLength() {
		n *= 1000
	}
	m := store.StockMovement{ItemID: itemID, Kind: in.Kind, Quantity: n, Note: strings.TrimSpace(in.Note), MovedByID: d.Who.AccountID, MovedAt: d.now}
	if in.Kind == store.Used || in.Kind == store.Spoiled {
		m.Quantity = -n
	}
	if in.Kind == store.Counted {
		err = d.shop.Count(m, n)
	} else {
		err = d.shop.Move(m)
	}
	if errors.Is(err, store.ErrShort) {
		return Problems{"quantity": fmt.Sprintf("Only %s is there and free, %s spoken for by classes.", Amount(item, item.Available()), Amount(item, item.Reserved))}
	}
	return err
}

// Amount prints a quantity of an item as people count it: metres of a roll,
// spools, pieces.
func Amount(item store.StockItem, n float64) string {
	switch {
	case item.ByLength():
		return fmt.Sprintf("%.2f m", n/1000)
	case item.Kind == store.StockThread:
		return measure.Plural(int(math.Round(n)), "spool")
	case item.Kind == store.StockSheet:
		return measure.Plural(int(math.Round(n)), "sheet")
	}
	return measure.Whole(n)
}

// Cents prints money as the workshop's shelf has it, without a currency.
func Cents(n int) string { return fmt.Sprintf("%d.%02d", n/100, n%100) }

// Cost is what a quantity of an item cost, in cents.
func Cost(item store.StockItem, n float64) float64 {
	return n / item.Pack * float64(item.PackCents)
}
