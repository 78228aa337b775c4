package stock

import (
	"slices"
	"strconv"

	"chalkstep/core/cutplan"
	"chalkstep/core/kit"
	"chalkstep/core/say"
	"chalkstep/core/supply"
)

// usualWidthMM stands in where nothing of a material is on the shelf.
const usualWidthMM = 1000

// A Layouter lays pieces on a material: all of them, or with fill as many as
// fit; the rest comes back. [Lay] is one.
type Layouter func(fill bool, m cutplan.Material, pieces []cutplan.Piece) (layout cutplan.Layout, rest []cutplan.Piece,
	err error)

// Lay lays pieces out.
func Lay(fill bool, m cutplan.Material, pieces []cutplan.Piece) (cutplan.Layout, []cutplan.Piece, error) {
	if fill {
		return cutplan.Fill(m, pieces)
	}
	layout, err := cutplan.Plan(m, pieces)
	return layout, nil, err
}

// A Cut is the pieces of one material, laid on what is on the shelf.
type Cut struct {
	Material supply.Key
	// Pieces of it; layouts name them by their place here.
	Pieces []kit.Piece
	// Beds are cut in their order: remnants first, then the roll.
	Beds []Bed
	// Why says what is amiss with the plan.
	Why say.Text
}

// A Bed is a layout with what it lies on.
type Bed struct {
	// Item is nil where nothing of the material is on the shelf.
	Item    *Item
	WidthMM float64
	Layout  cutplan.Layout
}

// Remnant tells that it is cut from what was left over before.
func (b Bed) Remnant() bool { return b.Item != nil && b.Item.Remnant }

// From is what it is cut from.
func (b Bed) From() say.Text {
	if b.Item == nil {
		return say.T("a roll")
	}
	return say.Name(b.Item.Name)
}

// Count of all pieces.
func (c Cut) Count() int {
	n := 0
	for _, p := range c.Pieces {
		n += p.Count
	}
	return n
}

// Piece that a layout names.
func (c Cut) Piece(id string) kit.Piece {
	i, err := strconv.Atoi(id)
	if err != nil || i < 0 || i >= len(c.Pieces) {
		return kit.Piece{}
	}
	return c.Pieces[i]
}

// Offcuts of a roll on the shelf that are worth keeping; a remnant's rests are
// not kept again, and what was never there leaves nothing.
func (c Cut) Offcuts() []cutplan.Offcut {
	var all []cutplan.Offcut
	for _, b := range c.Beds {
		if b.Item != nil && !b.Remnant() {
			all = append(all, b.Layout.Offcuts...)
		}
	}
	return all
}

// Widths tells how wide each material on a shelf lies.
func Widths(items []Item) func(supply.Key) float64 {
	widths := map[supply.Key]float64{}
	for _, i := range items {
		if i.ByLength() && widths[i.Key] == 0 {
			widths[i.Key] = i.WidthMM
		}
	}
	return func(material supply.Key) float64 {
		if w, known := widths[material]; known {
			return w
		}
		return usualWidthMM
	}
}

// cutsOf sorts what a kit cuts by material, and lays it out.
func cutsOf(k kit.Kit, items []Item, reserved map[int64]float64, lay Layouter) []Cut {
	var cuts []Cut
	for _, line := range k.Cuts {
		at := slices.IndexFunc(cuts, func(c Cut) bool { return c.Material == line.Key })
		if at < 0 {
			at = len(cuts)
			cuts = append(cuts, Cut{Material: line.Key})
		}
		cuts[at].Pieces = append(cuts[at].Pieces,
			kit.Piece{As: line.As, Key: line.Key, SizeMM: line.SizeMM, Turn: line.Turn, Count: int(line.Count)})
	}
	for i := range cuts {
		cuts[i].layOut(items, reserved, lay)
	}
	return cuts
}

// layOut lays the pieces on remnants first, then on the roll.
func (c *Cut) layOut(items []Item, reserved map[int64]float64, lay Layouter) {
	var wanted []cutplan.Piece
	for i, p := range c.Pieces {
		wanted = append(wanted,
			cutplan.Piece{ID: strconv.Itoa(i), WMM: p.SizeMM[0], HMM: p.SizeMM[1], Count: p.Count, Turn: p.Turn})
	}
	var remnants []*Item
	for n := range items {
		item := &items[n]
		if item.Key == c.Material && item.Form == Sheet {
			for range min(mostRemnants, int(item.Available()+reserved[item.ID]+Hair)) {
				remnants = append(remnants, item)
			}
		}
	}
	roll := rollOf(items, c.Material)
	o := offcuts{roll: roll, lay: lay}
	best := o.all(wanted, nil)
	if len(remnants) > 0 {
		best = o.choose(wanted, remnants, best)
	}
	c.Beds = best.beds
	if best.err != nil {
		c.Why = say.Of(best.err)
	} else if roll == nil && best.onRoll {
		c.Why = say.T("Nothing of it is on the shelf; laid out on a width of %s.", say.MM(usualWidthMM))
	}
}

// grained are pieces for a material with a grain, none of which may be turned.
func grained(pieces []cutplan.Piece, grain bool) []cutplan.Piece {
	if !grain {
		return pieces
	}
	pieces = slices.Clone(pieces)
	for i := range pieces {
		pieces[i].Turn = false
	}
	return pieces
}

// rollOf finds the roll of a material with most free of it, or what may stand
// in for the material.
func rollOf(items []Item, material supply.Key) *Item {
	var best *Item
	for i := range items {
		if items[i].Key == material && items[i].ByLength() && (best == nil || items[i].Available() > best.Available()) {
			best = &items[i]
		}
	}
	return best
}
