// Package stock is the area of the shelf: what is there, what is spoken for,
// and what to buy.
package stock

import (
	"fmt"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/actor"
	"chalkstep/app/prep"
	appstock "chalkstep/app/stock"
	"chalkstep/core/recipe"
	"chalkstep/core/stock"
	"chalkstep/core/supply"
	"chalkstep/web/ui"
)

const area = "Stock"

// Routes of the area.
func Routes(f *fiber.App) {
	f.Get("/stock", ui.With(list))
	f.Get("/stock/buy", ui.With(buy))
	f.Get("/stock/buy.csv", ui.With(buyCSV))
	f.Get("/stock/buy.pdf", ui.With(buyPDF))
	f.Get("/stock/new", ui.With(ui.Needs(actor.ChangeStock, func(c fiber.Ctx, d appstock.UseCases) error {
		return showForm(c, d, 0, d.InputFor(c.Query("key")), nil)
	})))
	f.Post("/stock/new", ui.With(func(c fiber.Ctx, d appstock.UseCases) error { return save(c, d, 0) }))
	f.Get("/stock/:id", ui.WithID(func(c fiber.Ctx, d appstock.UseCases, id int64) error {
		return showForm(c, d, id, nil, nil)
	}))
	f.Post("/stock/:id", ui.WithID(save))
	f.Post("/stock/:id/move", ui.WithID(move))
}

// kindWords name the kinds of things on pages.
var kindWords = map[supply.Kind]string{
	supply.Stabilizer: "Stabilizer", supply.Topper: "Topper", supply.Fabric: "Fabric", supply.Batting: "Batting",
	supply.Film: "Film", supply.Fusible: "Fusible",
	supply.SoftCover: "Soft cover", supply.Pen: "Marking pens", supply.Tape: "Tape and adhesive",
	supply.Interfacing: "Interfacing", supply.Spray: "Adhesive spray", supply.Tool: "Tools and aids",
	supply.Thread: "Thread", supply.Bobbin: "Bobbins", supply.Needle: "Needles", supply.Blank: "Blanks",
	supply.Part: "Sundries",
}

// A choice of a form.
type choice struct{ Value, Name string }

func kindChoices() []choice {
	var all []choice
	for _, k := range supply.Kinds {
		if name := kindWords[k]; name != "" {
			all = append(all, choice{string(k), name})
		}
	}
	return all
}

// An itemRow is an item as the list shows it.
type itemRow struct {
	ID                           int64
	Name, StandsFor, Color       string
	There, Reserved, Free, Place string
	Remnant, Low                 bool
}

// A section is the items of one kind.
type section struct {
	Name string
	Rows []itemRow
}

func list(c fiber.Ctx, d appstock.UseCases) error {
	page, err := d.Stock(c.Query("words"), ui.Page(c))
	if err != nil {
		return err
	}
	var sections []section
	for _, item := range page.Items {
		name := kindWords[item.Key.Kind]
		if n := len(sections); n == 0 || sections[n-1].Name != name {
			sections = append(sections, section{Name: name})
		}
		last := &sections[len(sections)-1]
		last.Rows = append(last.Rows, rowOf(d, item))
	}
	return ui.Render(c, "stock/list", area, area, fiber.Map{"Page": page, "Pages": page.Pages, "Sections": sections})
}

func rowOf(d appstock.UseCases, i stock.Item) itemRow {
	row := itemRow{
		ID: i.ID, Name: i.Name, StandsFor: d.Say(i.Key), There: d.Say(i.Amount(i.OnHand)),
		Free: d.Say(i.Amount(i.Available())), Reserved: "–", Place: i.Place, Remnant: i.Remnant, Low: i.Low(),
	}
	if i.Reserved > 0 {
		row.Reserved = d.Say(i.Amount(i.Reserved))
	}
	if i.Key.Kind == supply.Thread {
		row.Color = i.Key.Color.String()
	}
	return row
}

// A buyRow is something to buy.
type buyRow struct {
	ID                                   int64
	Name, Supplier, Missing, InAll, Cost string
	Packs                                int
	For                                  []string
}

func buy(c fiber.Ctx, d prep.UseCases) error {
	page, err := d.BuyList()
	if err != nil {
		return err
	}
	var rows []buyRow
	for _, p := range page.Purchases {
		rows = append(rows, buyRow{ID: p.Item.ID, Name: p.Item.Name, Supplier: p.Item.Supplier,
			Missing: d.Say(p.Item.Amount(p.Short)), InAll: d.Say(p.Item.Bought(p.Buy)),
			Cost: ui.P{Printer: d.Printer()}.Cents(p.Cents), Packs: p.Packs, For: p.For})
	}
	return ui.Render(c, "stock/buy", area, "To buy", fiber.Map{"Page": page, "Rows": rows, "Sheets": actor.PaperSizes()})
}

func buyCSV(c fiber.Ctx, d prep.UseCases) error {
	data, err := d.BuyCSV()
	if err != nil {
		return err
	}
	return ui.Send(c, "to-buy.csv", data)
}

func buyPDF(c fiber.Ctx, d prep.UseCases) error {
	data, err := d.BuyPDF(c.Context(), c.Query("sheet", "A4"))
	if err != nil {
		return err
	}
	return ui.Send(c, "to-buy.pdf", data)
}

// A move of the ledger as the page shows it.
type moveRow struct {
	When, Kind, Note, There, Reserved, By string
	ClassID                               int64
	Class                                 string
}

// form shows an item; with typed, its form shows that instead.
func showForm(c fiber.Ctx, d appstock.UseCases, id int64, typed *appstock.StockInput, problems *ui.Refused) error {
	page, err := d.StockItem(id)
	if err != nil {
		return err
	}
	if typed != nil {
		page.Typed = *typed
	}
	title := "New item"
	if id != 0 {
		title = page.Item.Name
	}
	p := ui.P{Printer: d.Printer()}
	var moves []moveRow
	signed := func(n float64) string {
		switch {
		case n > 0:
			return "+" + d.Say(page.Item.Amount(n))
		case n < 0:
			return "−" + d.Say(page.Item.Amount(-n))
		}
		return ""
	}
	for _, m := range page.Ledger {
		moves = append(moves, moveRow{
			When: p.Day(m.At) + ", " + p.Clock(m.At), Kind: string(m.Kind), Note: m.Note, There: signed(m.Quantity),
			Reserved: signed(m.Reserved), By: m.By, ClassID: m.ClassID, Class: m.Class,
		})
	}
	unit := ""
	if page.Item.ByLength() {
		unit = ", " + p.Units.ClothUnit()
	}
	return ui.Render(c, "stock/item", area, title, fiber.Map{
		"Item": rowOf(d, page.Item), "Reorder": d.Say(page.Item.Amount(page.Item.ReorderPoint)), "In": page.Typed,
		"Kinds": kindChoices(), "Moves": moves, "Unit": unit, "ClothUnit": p.Units.ClothUnit(),
		"Materials": supply.StabilizerMaterials, "Weights": supply.Weights, "Fabrics": recipe.Fabrics,
		"Fibres": supply.Fibres, "Points": supply.Points, "Sizes": supply.NeedleSizes, "Problems": problems,
	})
}

func save(c fiber.Ctx, d appstock.UseCases, id int64) error {
	in := appstock.StockInput{ID: id}
	if err := ui.Bind(c, &in); err != nil {
		return err
	}
	saved, err := d.SaveStockItem(in)
	if err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error { return showForm(c, d, id, &in, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/stock/%d", saved))
}

func move(c fiber.Ctx, d appstock.UseCases, id int64) error {
	var in appstock.MoveInput
	if err := ui.Bind(c, &in); err != nil {
		return err
	}
	err := d.MoveStock(id, in)
	if err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error { return showForm(c, d, id, nil, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/stock/%d", id))
}
