// Package stock is the area of the shelf: what is there, what is spoken for,
// and what to buy.
package stock

import (
	"fmt"
	"strconv"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app"
	"chalkstep/store"
	"chalkstep/web/ui"
)

const area = "Stock"

// Routes of the area.
func Routes(f *fiber.App) {
	f.Get("/stock", ui.With(list))
	f.Get("/stock/buy", ui.With(buy))
	f.Get("/stock/buy.csv", ui.With(buyCSV))
	f.Get("/stock/buy.pdf", ui.With(buyPDF))
	f.Get("/stock/new", ui.With(func(c fiber.Ctx, d app.Desk) error {
		return form(c, d, 0, app.StockInput{Kind: store.StockRoll, Color: "#808080", Pack: "1"}, app.Problems{})
	}))
	f.Post("/stock/new", ui.With(func(c fiber.Ctx, d app.Desk) error { return save(c, d, 0) }))
	f.Get("/stock/:id", ui.WithID(show))
	f.Post("/stock/:id", ui.WithID(save))
	f.Post("/stock/:id/move", ui.WithID(move))
}

func list(c fiber.Ctx, d app.Desk) error {
	page, err := d.Stock()
	if err != nil {
		return err
	}
	return ui.Render(c, "stock/list", area, area, fiber.Map{"Page": page, "Kinds": store.StockKinds})
}

func buy(c fiber.Ctx, d app.Desk) error {
	page, err := d.BuyList()
	if err != nil {
		return err
	}
	return ui.Render(c, "stock/buy", area, "To buy", fiber.Map{"Page": page, "Sheets": app.PaperSizes()})
}

func buyCSV(c fiber.Ctx, d app.Desk) error {
	page, err := d.BuyList()
	if err != nil {
		return err
	}
	data, err := page.CSV()
	if err != nil {
		return err
	}
	return ui.Send(c, "to-buy.csv", data)
}

func buyPDF(c fiber.Ctx, d app.Desk) error {
	page, err := d.BuyList()
	if err != nil {
		return err
	}
	data, err := page.PDF(c.Query("sheet", "A4"))
	if err != nil {
		return err
	}
	return ui.Send(c, "to-buy.pdf", data)
}

func show(c fiber.Ctx, d app.Desk, id int64) error {
	page, err := d.StockItem(id)
	if err != nil {
		return err
	}
	return form(c, d, id, input(page.Item), app.Problems{})
}

// input is an item as its form shows it: what is counted by length in metres.
func input(i store.StockItem) app.StockInput {
	pack, reorder := i.Pack, i.ReorderPoint
	if i.ByLength() {
		pack, reorder = pack/1000, reorder/1000
	}
	text := func(f float64) string {
		if f == 0 {
			return ""
		}
		return strconv.FormatFloat(f, 'f', -1, 64)
	}
	in := app.StockInput{
		ID: i.ID, Version: i.Version, Kind: i.Kind, Name: i.Name, Matches: i.Matches, Color: i.Color, Width: text(i.WidthMM), Height: text(i.HeightMM),
		Metres: text(i.Metres), Pack: text(pack), Reorder: text(reorder), Supplier: i.Supplier, Place: i.Place, Grain: i.Grain,
	}
	if i.PackCents > 0 {
		in.PackCost = app.Cents(i.PackCents)
	}
	return in
}

func form(c fiber.Ctx, d app.Desk, id int64, in app.StockInput, problems app.Problems) error {
	page, err := d.StockItem(id)
	if err != nil {
		return err
	}
	title := "New item"
	if id != 0 {
		title = page.Item.Name
	}
	return ui.Render(c, "stock/item", area, title, fiber.Map{"Page": page, "In": in, "Kinds": store.StockKinds, "Problems": problems})
}

func save(c fiber.Ctx, d app.Desk, id int64) error {
	in := app.StockInput{
		ID: id, Version: int(ui.Number(c.FormValue("version"))), Kind: c.FormValue("kind"), Name: c.FormValue("name"), Matches: c.FormValue("matches"), Color: c.FormValue("color"),
		Width: c.FormValue("width"), Height: c.FormValue("height"), Metres: c.FormValue("metres"), Pack: c.FormValue("pack"), PackCost: c.FormValue("pack-cost"),
		Reorder: c.FormValue("reorder"), Supplier: c.FormValue("supplier"), Place: c.FormValue("place"), Grain: c.FormValue("grain") != "",
	}
	saved, err := d.SaveStockItem(in)
	if err != nil {
		return ui.Again(c, err, func(p app.Problems) error { return form(c, d, id, in, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/stock/%d", saved))
}

func move(c fiber.Ctx, d app.Desk, id int64) error {
	err := d.MoveStock(id, app.MoveInput{Kind: c.FormValue("kind"), Quantity: c.FormValue("quantity"), Note: c.FormValue("note")})
	if err != nil {
		return ui.Again(c, err, func(p app.Problems) error {
			page, err := d.StockItem(id)
			if err != nil {
				return err
			}
			return form(c, d, id, input(page.Item), p)
		})
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/stock/%d", id))
}

// Funcs are the words only this area's templates, and a class's prep, need.
var Funcs = map[string]any{
	"amount": app.Amount,
	"cents":  app.Cents,
	"money":  func(cents float64) string { return app.Cents(int(cents + 0.5)) },
	"kindWords": func(kind string) string {
		return map[string]string{
			store.StockRoll: "Rolls", store.StockSheet: "Sheets and remnants", store.StockFabric: "Fabric", store.StockThread: "Thread", store.StockBobbin: "Bobbins",
			store.StockNeedle: "Needles", store.StockBlank: "Blanks", store.StockSundry: "Sundries",
		}[kind]
	},
	"ofKind": func(items []store.StockItem, kind string) []store.StockItem {
		var some []store.StockItem
		for _, i := range items {
			if i.Kind == kind {
				some = append(some, i)
			}
		}
		return some
	},
	// signed prints what a movement changed.
	"signed": func(item store.StockItem, n float64) string {
		switch {
		case n > 0:
			return "+" + app.Amount(item, n)
		case n < 0:
			return "−" + app.Amount(item, -n)
		}
		return ""
	},
}
