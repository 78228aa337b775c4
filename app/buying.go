package app

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"math"
	"slices"
	"strings"

	"chalkstep/paper"
	"chalkstep/store"
)

// A BuyLine is one thing to buy, rounded up to packs.
type BuyLine struct {
	Item store.StockItem
	// Short is what is missing to keep the reorder point, Buy what is bought for it.
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
		page, err := d.shelf(c.ID, items)
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
		short := wanted[item.ID] + item.ReorderPoint - item.Available()
		if item.Remnant || short <= 1e-6 {
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

// CSV is the buy list as a table for spreadsheets and shops.
func (l BuyList) CSV() ([]byte, error) {
	var out bytes.Buffer
	w := csv.NewWriter(&out)
	rows := [][]string{{"item", "supplier", "missing", "packs", "to buy", "cost", "for"}}
	for _, line := range l.Lines {
		rows = append(rows, []string{line.Item.Name, line.Item.Supplier, Amount(line.Item, line.Short), fmt.Sprint(line.Packs), Amount(line.Item, line.Buy), Cents(line.Cents), strings.Join(line.For, ", ")})
	}
	for _, what := range l.Nothing {
		rows = append(rows, []string{what, "", "nothing of it on the shelf", "", "", "", ""})
	}
	if err := w.WriteAll(rows); err != nil {
		return nil, fmt.Errorf("writing the buy list: %w", err)
	}
	return out.Bytes(), nil
}

// PDF prints the buy list.
func (l BuyList) PDF(sheetName string) ([]byte, error) {
	sheet, err := paper.SheetNamed(sheetName)
	if err != nil {
		return nil, Problems{"": Sentence(err.Error())}
	}
	t := paper.Table{Title: "To buy", Intro: "What the coming classes lack and what runs low, rounded up to packs.", Head: []string{"What", "Packs", "In all", "Cost", "For"}, Widths: []float64{0.34, 0.1, 0.14, 0.12, 0.3}, Foot: "In all " + Cents(l.Cents)}
	for _, line := range l.Lines {
		name := line.Item.Name
		if line.Item.Supplier != "" {
			name += ", " + line.Item.Supplier
		}
		t.Rows = append(t.Rows, []string{name, fmt.Sprint(line.Packs), Amount(line.Item, line.Buy), Cents(line.Cents), strings.Join(line.For, ", ")})
	}
	for _, what := range l.Nothing {
		t.Rows = append(t.Rows, []string{what, "", "", "", "nothing of it is on the shelf"})
	}
	return t.PDF(sheet)
}
