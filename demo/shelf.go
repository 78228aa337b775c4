package demo

import (
	"fmt"

	"chalkstep/core/blank"
	"chalkstep/core/kit"
	"chalkstep/core/recipe"
	"chalkstep/store"
)

// addStock fills the shelf, with some things short.
func (l *loader) addStock() error {
	for _, s := range []struct {
		item  store.StockItem
		there float64
	}{
		{store.StockItem{Kind: store.StockRoll, Name: "Tear-away light, 50 cm", Matches: "light tear-away", WidthMM: 500, Pack: 10_000, PackCents: 1450, ReorderPoint: 3000, Supplier: "Tidewater Notions", Place: "A1"}, 8200},
		{store.StockItem{Kind: store.StockRoll, Name: "Tear-away medium, 50 cm", Matches: "medium tear-away", WidthMM: 500, Pack: 10_000, PackCents: 1650, ReorderPoint: 3000, Supplier: "Tidewater Notions", Place: "A1"}, 1900},
		{store.StockItem{Kind: store.StockRoll, Name: "Cut-away medium, 50 cm", Matches: "medium cut-away", WidthMM: 500, Pack: 10_000, PackCents: 1990, ReorderPoint: 2000, Supplier: "Tidewater Notions", Place: "A2"}, 5400},
		{store.StockItem{Kind: store.StockRoll, Name: "Mesh, 50 cm", Matches: "light mesh cut-away", WidthMM: 500, Pack: 10_000, PackCents: 2300, ReorderPoint: 2000, Place: "A2"}, 4000},
		{store.StockItem{Kind: store.StockRoll, Name: "Film that water takes away, 40 cm", Matches: "water-soluble topper", WidthMM: 400, Pack: 9000, PackCents: 980, ReorderPoint: 1500, Supplier: "Tidewater Notions", Place: "A3"}, 3600},
		{store.StockItem{Kind: store.StockSheet, Name: "Remnant of tear-away medium", Matches: "medium tear-away", WidthMM: 420, HeightMM: 310, Remnant: true, Pack: 1, Place: "A1"}, 1},
		{store.StockItem{Kind: store.StockFabric, Name: "Plain cotton, 110 cm", Matches: "woven-cotton", WidthMM: 1100, Grain: true, Pack: 1000, PackCents: 690, ReorderPoint: 2000, Place: "B1"}, 6300},
		{store.StockItem{Kind: store.StockFabric, Name: "Sea linen, 140 cm", Matches: "linen", WidthMM: 1400, Grain: true, Pack: 1000, PackCents: 1490, ReorderPoint: 1000, Place: "B1"}, 2100},
		{store.StockItem{Kind: store.StockFabric, Name: "Cotton batting, 150 cm", Matches: "batting", WidthMM: 1500, Pack: 1000, PackCents: 890, Place: "B2"}, 2500},
		{store.StockItem{Kind: store.StockThread, Name: "Deep harbour", Color: "#1d3a4d", Metres: 1000, Pack: 1, PackCents: 420, ReorderPoint: 2, Place: "C1"}, 4},
		{store.StockItem{Kind: store.StockThread, Name: "Buoy red", Color: "#c03a2a", Metres: 1000, Pack: 1, PackCents: 420, ReorderPoint: 2, Place: "C1"}, 3},
		{store.StockItem{Kind: store.StockThread, Name: "Sailcloth", Color: "#ece6d6", Metres: 1000, Pack: 1, PackCents: 420, ReorderPoint: 2, Place: "C1"}, 5},
		{store.StockItem{Kind: store.StockThread, Name: "Lamp yellow", Color: "#d89b22", Metres: 1000, Pack: 1, PackCents: 420, ReorderPoint: 1, Place: "C2"}, 2},
		{store.StockItem{Kind: store.StockThread, Name: "Low tide", Color: "#4a82a6", Metres: 1000, Pack: 1, PackCents: 420, ReorderPoint: 1, Place: "C2"}, 2},
		{store.StockItem{Kind: store.StockThread, Name: "Wet sand", Color: "#cfc5ad", Metres: 1000, Pack: 1, PackCents: 420, ReorderPoint: 1, Place: "C2"}, 3},
		{store.StockItem{Kind: store.StockThread, Name: "Rope", Color: "#b98d4c", Metres: 1000, Pack: 1, PackCents: 420, Place: "C3"}, 2},
		{store.StockItem{Kind: store.StockBobbin, Name: "Bobbins, low and clear", Matches: "low, clear", Pack: 10, PackCents: 600, ReorderPoint: 8, Place: "D1"}, 14},
		{store.StockItem{Kind: store.StockBobbin, Name: "Bobbins, tall steel", Matches: "tall, steel", Pack: 10, PackCents: 700, ReorderPoint: 4, Place: "D1"}, 3},
		{store.StockItem{Kind: store.StockBobbin, Name: "Pre-wound on card", Matches: "pre-wound, card", Pack: 12, PackCents: 1100, ReorderPoint: 4, Place: "D1"}, 9},
		{store.StockItem{Kind: store.StockNeedle, Name: "Needles 75/11 embroidery", Matches: "75/11 embroidery", Pack: 5, PackCents: 550, ReorderPoint: 5, Place: "D2"}, 12},
		{store.StockItem{Kind: store.StockNeedle, Name: "Needles 90/14 embroidery", Matches: "90/14 embroidery", Pack: 5, PackCents: 550, ReorderPoint: 5, Place: "D2"}, 4},
		{store.StockItem{Kind: store.StockNeedle, Name: "Needles 80/12 ballpoint", Matches: "80/12 ballpoint", Pack: 5, PackCents: 590, ReorderPoint: 5, Place: "D2"}, 6},
		{store.StockItem{Kind: store.StockBlank, Name: "Felt sheets 16 × 21", Matches: "felt sheet", Pack: 10, PackCents: 850, ReorderPoint: 5, Place: "E1"}, 16},
		{store.StockItem{Kind: store.StockBlank, Name: "Canvas totes", Matches: "canvas tote", Pack: 5, PackCents: 2250, ReorderPoint: 3, Supplier: "Gangway Blanks", Place: "E2"}, 9},
		{store.StockItem{Kind: store.StockBlank, Name: "Hand towels", Matches: "hand towel", Pack: 4, PackCents: 1960, ReorderPoint: 2, Supplier: "Gangway Blanks", Place: "E2"}, 7},
		{store.StockItem{Kind: store.StockSundry, Name: "Badge pins", Matches: "badge pin", Pack: 20, PackCents: 300, ReorderPoint: 10, Place: "E3"}, 25},
	} {
		if err := l.shop.SaveStockItem(&s.item); err != nil {
			return err
		}
		move := store.StockMovement{ItemID: s.item.ID, Kind: store.Bought, Quantity: s.there, Note: "first count", MovedByID: l.assessor, MovedAt: l.now.AddDate(0, 0, -30)}
		if err := l.shop.Move(move); err != nil {
			return fmt.Errorf("putting %s on the shelf: %w", s.item.Name, err)
		}
	}
	return nil
}

// contents say, by project, what it is beside its design: the blank's shape,
// what is laid in the hoop, what else is in the kit and done off the machine.
func (l *loader) contents() map[string]store.ProjectContent {
	return map[string]store.ProjectContent{
		"Rope-knot sampler": {Level: 1, Shape: blank.Square, Spot: blank.Centre, Teaches: []string{"hoop-woven", "change-colour", "read-back"}},
		"Lighthouse tote":   {Level: 2, Shape: blank.Tote, Spot: blank.Centre, MoveYMM: 30, Teaches: []string{"mark-align"}},
		"Crab hand towel":   {Level: 3, Shape: blank.Towel, Spot: blank.AboveHem, Teaches: []string{"topper"}},
		"Open sail T-shirt": {Level: 4, Shape: blank.Crew, Size: "M", Spot: blank.Chest, Teaches: []string{"hoop-knit"}},
		"Buoy badges":       {Level: 5, Shape: blank.Square, Spot: blank.Centre, Teaches: []string{"many-in-hoop"}, Parts: []store.ProjectPart{{Name: "badge pin", Count: 6}}, Work: []store.ProjectWork{{Title: "Cut the badges out and pin them", Minutes: 8}}},
		"Compass mat": {Level: 5, Shape: blank.Square, Spot: blank.Centre, InHoop: true, Teaches: []string{"applique", "layers-in-hoop"}, House: recipe.House{Jumps: "at-end"},
			Layers: []store.ProjectLayer{
				{What: kit.Batting}, {What: kit.Background, Fabric: "woven-cotton"}, {What: kit.PieceLayer, Fabric: "linen", BeforeStop: 2},
				{What: kit.Backing, Fabric: "woven-cotton", Under: true, BeforeStop: 5}, {What: kit.Binding, Fabric: "linen"},
			},
			Work: []store.ProjectWork{{Title: "Bind the edge", Minutes: 25}, {Title: "Press the binding", Minutes: 4, Iron: true}}},
	}
}
