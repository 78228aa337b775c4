package stock

import (
	"cmp"
	"errors"
	"slices"

	"chalkstep/core/cutplan"
)

// mostRemnants of one material are tried for a class.
const mostRemnants = 8

// offcuts chooses the remnants that save most of a roll, which may be nil.
type offcuts struct {
	roll *Item
	lay  Layouter
}

// A cutting is a way to cut all pieces of a material.
type cutting struct {
	beds []Bed
	// rollMM is the length it takes of the roll, remnantMM2 the area of the
	// remnants it takes, placedMM2 that of the pieces on them.
	rollMM, remnantMM2, placedMM2 float64
	onRoll                        bool
	err                           error
}

// better tells whether a cutting saves more than another: less of the roll, and
// if that is the same, less of the remnants.
func (c cutting) better(than cutting) bool {
	if (c.err == nil) != (than.err == nil) {
		return c.err == nil
	}
	return cmp.Or(cmp.Compare(round(c.rollMM), round(than.rollMM)),
		cmp.Compare(round(c.remnantMM2), round(than.remnantMM2))) < 0
}

// round forgives what is lost in adding up.
func round(mm float64) int64 { return int64(mm*1000 + 0.5) }

// all cuts pieces from some remnants, in their order, and the rest from the roll.
func (o offcuts) all(wanted []cutplan.Piece, remnants []*Item) cutting {
	var c cutting
	for _, item := range remnants {
		if len(wanted) == 0 {
			break
		}
		bed, rest, area := o.on(item, wanted)
		if area == 0 {
			continue
		}
		c.beds, wanted = append(c.beds, bed), rest
		c.remnantMM2, c.placedMM2 = c.remnantMM2+item.WidthMM*item.HeightMM, c.placedMM2+area
	}
	if len(wanted) == 0 {
		return c
	}
	bed := Bed{Item: o.roll, WidthMM: usualWidthMM}
	if o.roll != nil {
		bed.WidthMM = o.roll.WidthMM
	}
	c.onRoll = true
	layout, _, err := o.lay(false, cutplan.Material{WidthMM: bed.WidthMM}, grained(wanted, o.roll != nil && o.roll.Grain))
	if err != nil && !errors.Is(err, cutplan.ErrTooLong) {
		c.err = err
		return c
	}
	bed.Layout = layout
	c.beds, c.rollMM = append(c.beds, bed), layout.LengthMM
	return c
}

// on lays as many pieces as fit on a remnant; area is of those that do, in
// square millimetres.
func (o offcuts) on(item *Item, wanted []cutplan.Piece) (bed Bed, rest []cutplan.Piece, areaMM2 float64) {
	layout, rest, err := o.lay(true, cutplan.Material{WidthMM: item.WidthMM, MaxLengthMM: item.HeightMM},
		grained(wanted, item.Grain))
	if err != nil || len(layout.Placed) == 0 {
		return Bed{}, wanted, 0
	}
	for _, p := range layout.Placed {
		areaMM2 += p.WMM * p.HMM
	}
	return Bed{Item: item, WidthMM: item.WidthMM, Layout: layout}, slices.Clone(rest), areaMM2
}

// choose tries remnants in several orders, each as far as it saves something,
// and leaves out those that save nothing.
func (o offcuts) choose(wanted []cutplan.Piece, remnants []*Item, without cutting) cutting {
	area := func(i *Item) float64 { return i.WidthMM * i.HeightMM }
	slices.SortStableFunc(remnants, func(a, b *Item) int { return cmp.Compare(area(b), area(a)) })
	remnants = remnants[:min(mostRemnants, len(remnants))]
	smallestFirst := slices.Clone(remnants)
	slices.Reverse(smallestFirst)
	orders := [][]*Item{remnants, smallestFirst,
		o.greedy(wanted, remnants, func(placed float64, _ *Item) float64 { return placed }),
		o.greedy(wanted, remnants, func(placed float64, i *Item) float64 { return placed / area(i) }),
	}
	best := without
	for _, order := range orders {
		c := o.all(wanted, order)
		order = used(c)
		for i := 0; i < len(order); i++ { // what saves nothing stays on the shelf
			fewer := slices.Delete(slices.Clone(order), i, i+1)
			if d := o.all(wanted, fewer); d.better(c) {
				c, order = d, used(d)
				i = -1
			}
		}
		if c.better(best) {
			best = c
		}
	}
	return best
}

// used are the remnants of a cutting.
func used(c cutting) []*Item {
	var items []*Item
	for _, b := range c.beds {
		if b.Item != nil && b.Item.Form == Sheet {
			items = append(items, b.Item)
		}
	}
	return items
}

// greedy takes the remnants one after the other, each time the one that is worth
// most by what it takes of the pieces that are left.
func (o offcuts) greedy(wanted []cutplan.Piece, remnants []*Item,
	worth func(placedMM2 float64, i *Item) float64) []*Item {
	left := slices.Clone(remnants)
	var order []*Item
	for len(left) > 0 && len(wanted) > 0 {
		at, most, rest := -1, 0.0, wanted
		for i, item := range left {
			if _, after, area := o.on(item, wanted); area > 0 && worth(area, item) > most {
				at, most, rest = i, worth(area, item), after
			}
		}
		if at < 0 {
			break
		}
		order, wanted = append(order, left[at]), rest
		left = slices.Delete(left, at, at+1)
	}
	return order
}
