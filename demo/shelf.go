package demo

import (
	"fmt"

	"chalkstep/core/blank"
	"chalkstep/core/kit"
	"chalkstep/core/project"
	"chalkstep/core/recipe"
	"chalkstep/core/skill"
	"chalkstep/core/stitch"
	"chalkstep/core/stock"
	"chalkstep/core/supply"
	"chalkstep/core/technique"
)

// addStock fills the shelf, with some things short.
func (l *loader) addStock() error {
	const spoolMM = 1_000_000
	for _, s := range []struct {
		item  stock.Item
		there float64
	}{
		{stock.Item{Key: supply.Sheet(supply.TearAway, supply.Light), Form: stock.Roll, Name: "Tear-away light, 50 cm",
			WidthMM: 500, Pack: 10_000, PackCents: 1450, ReorderPoint: 3000, Supplier: "Tidewater Notions", Place: "A1"}, 8200},
		{stock.Item{Key: supply.Sheet(supply.TearAway, supply.Medium), Form: stock.Roll, Name: "Tear-away medium, 50 cm",
			WidthMM: 500, Pack: 10_000, PackCents: 1650, ReorderPoint: 3000, Supplier: "Tidewater Notions", Place: "A1"}, 1900},
		{stock.Item{Key: supply.Sheet(supply.CutAway, supply.Medium), Form: stock.Roll, Name: "Cut-away medium, 50 cm",
			WidthMM: 500, Pack: 10_000, PackCents: 1990, ReorderPoint: 2000, Supplier: "Tidewater Notions", Place: "A2"}, 5400},
		{stock.Item{Key: supply.Sheet(supply.MeshCutAway, supply.Light), Form: stock.Roll, Name: "Mesh, 50 cm", WidthMM: 500,
			Pack: 10_000, PackCents: 2300, ReorderPoint: 2000, Place: "A2"}, 4000},
		{stock.Item{Key: supply.Key{Kind: supply.Topper}, Form: stock.Roll, Name: "Film that water takes away, 40 cm",
			WidthMM: 400, Pack: 9000, PackCents: 980, ReorderPoint: 1500, Supplier: "Tidewater Notions", Place: "A3"}, 3600},
		{stock.Item{Key: supply.Sheet(supply.TearAway, supply.Medium), Form: stock.Sheet, Name: "Remnant of tear-away medium",
			WidthMM: 420, HeightMM: 310, Remnant: true, Pack: 1, Place: "A1"}, 1},
		{stock.Item{Key: supply.Cloth("woven-cotton"), Form: stock.Roll, Name: "Plain cotton, 110 cm", WidthMM: 1100,
			Grain: true, Pack: 1000, PackCents: 690, ReorderPoint: 2000, Place: "B1"}, 6300},
		{stock.Item{Key: supply.Cloth("linen"), Form: stock.Roll, Name: "Sea linen, 140 cm", WidthMM: 1400, Grain: true,
			Pack: 1000, PackCents: 1490, ReorderPoint: 1000, Place: "B1"}, 2100},
		{stock.Item{Key: supply.Key{Kind: supply.Batting}, Form: stock.Roll, Name: "Cotton batting, 150 cm", WidthMM: 1500,
			Pack: 1000, PackCents: 890, Place: "B2"}, 2500},
		{stock.Item{Key: supply.Spool(supply.Polyester, stitch.RGB{R: 0x1d, G: 0x3a, B: 0x4d}), Form: stock.Spool,
			Name: "Deep harbour", Metres: 1000, Pack: spoolMM, PackCents: 420, ReorderPoint: 2 * spoolMM, Place: "C1"},
			4 * spoolMM},
		{stock.Item{Key: supply.Spool(supply.Polyester, stitch.RGB{R: 0xc0, G: 0x3a, B: 0x2a}), Form: stock.Spool,
			Name: "Buoy red", Metres: 1000, Pack: spoolMM, PackCents: 420, ReorderPoint: 2 * spoolMM, Place: "C1"}, 3 * spoolMM},
		{stock.Item{Key: supply.Spool(supply.Polyester, stitch.RGB{R: 0xec, G: 0xe6, B: 0xd6}), Form: stock.Spool,
			Name: "Sailcloth", Metres: 1000, Pack: spoolMM, PackCents: 420, ReorderPoint: 2 * spoolMM, Place: "C1"},
			5 * spoolMM},
		{stock.Item{Key: supply.Spool(supply.Polyester, stitch.RGB{R: 0xd8, G: 0x9b, B: 0x22}), Form: stock.Spool,
			Name: "Lamp yellow", Metres: 1000, Pack: spoolMM, PackCents: 420, ReorderPoint: 1 * spoolMM, Place: "C2"},
			2 * spoolMM},
		{stock.Item{Key: supply.Spool(supply.Polyester, stitch.RGB{R: 0x4a, G: 0x82, B: 0xa6}), Form: stock.Spool,
			Name: "Low tide", Metres: 1000, Pack: spoolMM, PackCents: 420, ReorderPoint: 1 * spoolMM, Place: "C2"}, 2 * spoolMM},
		{stock.Item{Key: supply.Spool(supply.Polyester, stitch.RGB{R: 0xcf, G: 0xc5, B: 0xad}), Form: stock.Spool,
			Name: "Wet sand", Metres: 1000, Pack: spoolMM, PackCents: 420, ReorderPoint: 1 * spoolMM, Place: "C2"}, 3 * spoolMM},
		{stock.Item{Key: supply.Spool(supply.Polyester, stitch.RGB{R: 0xb9, G: 0x8d, B: 0x4c}), Form: stock.Spool,
			Name: "Rope", Metres: 1000, Pack: spoolMM, PackCents: 420, Place: "C3"}, 2 * spoolMM},
		{stock.Item{Key: supply.Bobbins("low, clear"), Form: stock.Each, Name: "Bobbins, low and clear", Pack: 10,
			PackCents: 600, ReorderPoint: 8, Place: "D1"}, 14},
		{stock.Item{Key: supply.Bobbins("tall, steel"), Form: stock.Each, Name: "Bobbins, tall steel", Pack: 10,
			PackCents: 700, ReorderPoint: 4, Place: "D1"}, 3},
		{stock.Item{Key: supply.Bobbins("pre-wound, card"), Form: stock.Each, Name: "Pre-wound on card", Pack: 12,
			PackCents: 1100, ReorderPoint: 4, Place: "D1"}, 9},
		{stock.Item{Key: supply.Needles(supply.EmbroideryPoint, "75/11"), Form: stock.Each, Name: "Needles 75/11 embroidery",
			Pack: 5, PackCents: 550, ReorderPoint: 5, Place: "D2"}, 12},
		{stock.Item{Key: supply.Needles(supply.EmbroideryPoint, "90/14"), Form: stock.Each, Name: "Needles 90/14 embroidery",
			Pack: 5, PackCents: 550, ReorderPoint: 5, Place: "D2"}, 4},
		{stock.Item{Key: supply.Needles(supply.Ballpoint, "80/12"), Form: stock.Each, Name: "Needles 80/12 ballpoint",
			Pack: 5, PackCents: 590, ReorderPoint: 5, Place: "D2"}, 6},
		{stock.Item{Key: supply.Key{Kind: supply.Pen}, Form: stock.Each, Name: "Pens that water takes out", Pack: 2,
			PackCents: 540, Place: "D3"}, 4},
		{stock.Item{Key: supply.Key{Kind: supply.Tape}, Form: stock.Each, Name: "Embroidery tape, 20 m", Pack: 1,
			PackCents: 480, Place: "D3"}, 3},
		{stock.Item{Key: supply.Named(supply.Blank, "felt sheet"), Form: stock.Each, Name: "Felt sheets 16 × 21", Pack: 10,
			PackCents: 850, ReorderPoint: 5, Place: "E1"}, 16},
		{stock.Item{Key: supply.Named(supply.Blank, "canvas tote"), Form: stock.Each, Name: "Canvas totes", Pack: 5,
			PackCents: 2250, ReorderPoint: 3, Supplier: "Gangway Blanks", Place: "E2"}, 9},
		{stock.Item{Key: supply.Named(supply.Blank, "hand towel"), Form: stock.Each, Name: "Hand towels", Pack: 4,
			PackCents: 1960, ReorderPoint: 2, Supplier: "Gangway Blanks", Place: "E2"}, 7},
		{stock.Item{Key: supply.Named(supply.Part, "badge pin"), Form: stock.Each, Name: "Badge pins", Pack: 20,
			PackCents: 300, ReorderPoint: 10, Place: "E3"}, 25},
		{stock.Item{Key: supply.Key{Kind: supply.Spray}, Form: stock.Each, Name: "Spray, 200 ml", Pack: 1, PackCents: 890,
			Place: "D3"}, 2},
		{stock.Item{Key: supply.Named(supply.Tool, "air-erase pen"), Form: stock.Each, Name: "Pens that fade", Pack: 2,
			PackCents: 520, Place: "D3"}, 3},
		{stock.Item{Key: supply.Named(supply.Tool, "pins"), Form: stock.Each, Name: "Glass-headed pins, a box", Pack: 1,
			PackCents: 340, Place: "D4"}, 4},
		{stock.Item{Key: supply.Named(supply.Tool, "mirror"), Form: stock.Each, Name: "Standing mirror", Pack: 1,
			Place: "by the door"}, 1},
		{stock.Item{Key: supply.Snips, Form: stock.Each, Name: "Thread snips", Pack: 1, PackCents: 350}, 8},
		{stock.Item{Key: supply.Named(supply.Tool, "appliqué scissors"), Form: stock.Each, Name: "Duck-billed scissors",
			Pack: 1, PackCents: 1480, Place: "D4"}, 3},
		{stock.Item{Key: supply.Key{Kind: supply.Fusible}, Form: stock.Roll, Name: "Fusible web on paper, 45 cm",
			WidthMM: 450, Pack: 5000, PackCents: 1120, ReorderPoint: 1000, Place: "B2"}, 3200},
	} {
		id, err := l.shop.SaveStockItem(s.item)
		if err != nil {
			return err
		}
		move := stock.Move{ItemID: id, Kind: stock.Bought, Quantity: s.there, Note: "first count", ByID: l.assessor,
			At: l.now.AddDate(0, 0, -30)}
		if err := l.shop.Move(move); err != nil {
			return fmt.Errorf("putting %s on the shelf: %w", s.item.Name, err)
		}
	}
	return nil
}

// ways are techniques by their keys.
func ways(keys ...technique.Key) []technique.Technique {
	var all []technique.Technique
	for _, key := range keys {
		if t, known := technique.ByKey(key); known {
			all = append(all, t)
		}
	}
	return all
}

// rests say, by project, what it is beside its design: the blank's shape, what
// is laid in the hoop, what else is in the kit and done off the machine.
var rests = map[string]func(*project.Project){
	"Rope-knot sampler": func(p *project.Project) {
		p.Techniques = ways("template", "dry-run")
		p.Level, p.Blank.Shape, p.Blank.Spot = 1, blank.Square, blank.Centre
		p.Teaches = []skill.Key{skill.HoopWoven, skill.ChangeColour, skill.ReadBack}
	},
	"Lighthouse tote": func(p *project.Project) {
		p.Techniques = ways("template")
		p.Level, p.Blank.Shape, p.Blank.Spot, p.Blank.MoveYMM = 2, blank.Tote, blank.Centre, 30
		p.Teaches = []skill.Key{skill.MarkAlign}
	},
	"Crab hand towel": func(p *project.Project) {
		p.Techniques = ways("pre-wash", "template", "baste-box")
		p.Level, p.Blank.Shape, p.Blank.Spot = 3, blank.Towel, blank.AboveHem
		p.Teaches = []skill.Key{skill.Topper}
	},
	"Open sail T-shirt": func(p *project.Project) {
		p.Techniques = ways("pre-wash", "spray", "template", "pen-air", "try-on")
		p.Level, p.Blank.Shape, p.Blank.Size, p.Blank.Spot = 4, blank.Crew, "M", blank.Chest
		p.Teaches = []skill.Key{skill.HoopKnit}
	},
	"Buoy badges": func(p *project.Project) {
		p.Techniques = ways("template")
		p.Level, p.Blank.Shape, p.Blank.Spot = 5, blank.Square, blank.Centre
		p.Teaches = []skill.Key{skill.ManyInHoop}
		p.Parts = []project.Part{{Name: "badge pin", Count: 6}}
		p.Work = []project.Work{{Title: "Cut the badges out and pin them", Minutes: 8}}
	},
	"Compass mat": func(p *project.Project) {
		p.Techniques = ways("corners-below", "trim-in-hoop", "piece-by-piece")
		p.Level, p.Blank.Shape, p.Blank.Spot, p.InHoop = 5, blank.Square, blank.Centre, true
		p.Teaches = []skill.Key{skill.Applique, skill.LayersInHoop}
		p.House = recipe.Rules{Jumps: "at-end"}
		p.Layers = []project.Layer{
			{As: kit.Batting}, {As: kit.Background, Fabric: recipe.WovenCotton},
			{As: kit.PieceLayer, Fabric: recipe.Linen, BeforeStop: 2},
			{As: kit.Backing, Fabric: recipe.WovenCotton, Under: true, BeforeStop: 5}, {As: kit.Binding, Fabric: recipe.Linen},
		}
		p.Work = []project.Work{{Title: "Bind the edge", Minutes: 25}, {Title: "Press the binding", Minutes: 4, Iron: true}}
	},
}
