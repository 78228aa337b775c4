package prep

import (
	"context"
	"fmt"
	"strings"
	"time"

	"chalkstep/app/actor"
	"chalkstep/core/say"
	"chalkstep/core/stock"
	"chalkstep/paper"
)

// A BuyList is what the coming classes lack and what runs low.
type BuyList struct {
	stock.List
	// Unknown lists classes whose needs are not known, and why.
	Unknown []say.Text
	// Until is when the last class begins that was counted, where there are
	// later ones.
	Until *time.Time
}

// mostClasses are worked out for a buy list: the next ones.
const mostClasses = 30

// BuyList works out what to buy.
func (d UseCases) BuyList() (BuyList, error) {
	if err := d.Need(actor.See); err != nil {
		return BuyList{}, err
	}
	var list BuyList
	classes, err := d.Workshop.ComingClasses(d.Now, mostClasses+1)
	if err != nil {
		return list, err
	}
	if len(classes) > mostClasses {
		classes = classes[:mostClasses]
		list.Until = &classes[mostClasses-1].StartsAt
	}
	items, err := d.Items()
	if err != nil {
		return list, err
	}
	pages, err := d.load().Shelves(classes, items)
	if err != nil {
		return list, err
	}
	var wanted []stock.Wanted
	for _, page := range pages {
		if !page.Problem.Silent() {
			list.Unknown = append(list.Unknown, say.T("%s: %s", page.Class.Name, page.Problem))
			continue
		}
		wanted = append(wanted,
			stock.Wanted{Class: page.Class.Name, From: page.Class.StartsAt, To: page.Class.EndsAt, Taking: page.Taking})
	}
	list.List = stock.Buy(wanted, items)
	return list, nil
}

// BuyCSV is the buy list as a table for spreadsheets and shops.
func (d UseCases) BuyCSV() ([]byte, error) {
	if err := d.Need(actor.See); err != nil {
		return nil, err
	}
	list, err := d.BuyList()
	if err != nil {
		return nil, err
	}
	rows := [][]string{{"item", "supplier", "missing", "packs", "to buy", "cost", "for"}}
	for _, p := range list.Purchases {
		rows = append(rows, []string{p.Item.Name, p.Item.Supplier, d.Say(p.Item.Amount(p.Short)), fmt.Sprint(p.Packs),
			d.Say(p.Item.Bought(p.Buy)), d.Say(say.Cents(p.Cents)), strings.Join(p.For, ", ")})
	}
	for _, what := range list.Nothing {
		rows = append(rows, []string{d.Say(what.Say()), "", "nothing of it on the shelf", "", "", "", ""})
	}
	return paper.CSV(rows)
}

// BuyPDF prints the buy list.
func (d UseCases) BuyPDF(ctx context.Context, sheetName string) ([]byte, error) {
	if err := d.Need(actor.See); err != nil {
		return nil, err
	}
	sheet, err := actor.Sheet(sheetName)
	if err != nil {
		return nil, err
	}
	list, err := d.BuyList()
	if err != nil {
		return nil, err
	}
	t := paper.Table{Title: "To buy", Intro: "What the coming classes lack and what runs low, rounded up to packs.",
		Head: []string{"What", "Packs", "In all", "Cost", "For"}, Widths: []float64{0.34, 0.1, 0.14, 0.12, 0.3},
		Foot: "In all " + d.Say(say.Cents(list.Cents))}
	for _, p := range list.Purchases {
		name := paper.Isolated(p.Item.Name)
		if p.Item.Supplier != "" {
			name += ", " + paper.Isolated(p.Item.Supplier)
		}
		t.Rows = append(t.Rows,
			[]string{name, fmt.Sprint(p.Packs), d.Say(p.Item.Bought(p.Buy)), d.Say(say.Cents(p.Cents)),
				strings.Join(p.For, ", ")})
	}
	for _, what := range list.Nothing {
		t.Rows = append(t.Rows, []string{d.Say(what.Say()), "", "", "", "nothing of it is on the shelf"})
	}
	return actor.Print(ctx, d.Actor, []any{"table", t, sheet}, func() ([]byte, error) { return t.PDF(ctx, sheet) })
}

// Unprintable says what of the buy list cannot be printed as it is written.
func (l BuyList) Unprintable() string {
	var texts []string
	for _, p := range l.Purchases {
		texts = append(append(texts, p.Item.Name, p.Item.Supplier), p.For...)
	}
	for _, absent := range l.Nothing {
		texts = append(texts, say.Plain.Say(absent.Say()))
	}
	return actor.Unprintable(texts...)
}
