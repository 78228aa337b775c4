package stock

import (
	"math"
	"slices"

	"chalkstep/core/classday"
	"chalkstep/core/kit"
	"chalkstep/core/say"
	"chalkstep/core/stitch"
	"chalkstep/core/supply"
	"chalkstep/core/thread"
)

// A Need is one thing a class takes from the shelf.
type Need struct {
	Key supply.Key
	// Name is how a person wrote it, where a person named it.
	Name string
	// Remnant is a sheet left over that gives some of the pieces.
	Remnant bool
	// Quantity that is used up, in the item's own count: millimetres, pieces.
	Quantity float64
	// AtOnce is how many spools or pieces have to be there at one time, whether
	// or not they are used up; LacksAtOnce how many of these are not.
	AtOnce, LacksAtOnce int
	Working             []say.Text
	// Item is what is on the shelf for it, nil for nothing of the kind; OnHand
	// and Reserved of it are what is left for this need.
	Item *Item
	// Near says how near the item comes to what was asked for.
	Near supply.StandIn
	// Taken is the thread that would come nearest, but is taken for another
	// colour of the class: two that the design tells apart would be one on the
	// cloth. Nobody is given it without being asked.
	Taken *Item
	// Reserved is what the class has spoken for already.
	Reserved float64
}

// Say names the need.
func (n Need) Say() say.Text {
	switch {
	case n.Remnant:
		return say.T("%s, remnant", n.Key)
	case n.Key.Kind == supply.Thread && n.Item != nil:
		return say.T("thread %s", n.Item.Name)
	case n.Name != "":
		return say.Name(n.Name)
	}
	return n.Key.Say()
}

// Hair forgives what is lost in adding up.
const Hair = 1e-6

// Missing is how much the shelf lacks for it.
func (n Need) Missing() float64 {
	if n.Item == nil {
		return n.Quantity
	}
	return max(0, n.Quantity-n.Reserved-n.Item.Available())
}

// Short tells that the shelf lacks some of it.
func (n Need) Short() bool { return n.Missing() > Hair || n.LacksAtOnce > 0 }

// Lacks says what the shelf lacks for it; it is silent where nothing is.
func (n Need) Lacks() say.Text {
	missing, single := n.Missing(), "piece"
	if n.Key.Kind == supply.Thread {
		single = "spool"
	}
	switch {
	case missing > Hair:
		return n.Amount(missing)
	case n.LacksAtOnce > 0:
		return say.T("%s", say.N{N: n.LacksAtOnce, Noun: single})
	}
	return say.Text{}
}

// Amount is a quantity of it as people count it.
func (n Need) Amount(quantity float64) say.Text {
	if n.Item != nil {
		return n.Item.Amount(quantity)
	}
	return Item{Key: n.Key, Form: Usual(n.Key.Kind)}.Amount(quantity)
}

// A Taking is what a class takes from the shelf, with its cut plans and what
// it costs.
type Taking struct {
	Needs []Need
	Cuts  []Cut
	// Cents is for everything, FeeCents what each student would pay.
	Cents, FeeCents float64
	// Reserved tells that all of it is spoken for.
	Reserved bool
}

// Unpriced names what a class uses of which nobody knows what it costs, each once; remnants cost nothing.
func (t Taking) Unpriced() say.List {
	var names say.List
	seen := map[string]bool{}
	for _, n := range t.Needs {
		known := n.Item != nil && n.Item.Pack > 0 && n.Item.PackCents > 0
		if name := n.Say().String(); !known && !n.Remnant && n.Quantity > Hair && !seen[name] {
			seen[name], names = true, append(names, n.Say())
		}
	}
	return names
}

// Short lists what the shelf lacks.
func (t Taking) Short() []Need {
	return slices.DeleteFunc(slices.Clone(t.Needs), func(n Need) bool { return !n.Short() })
}

// Take works out what a class takes from the shelf: remnants first, the
// nearest thread for each colour, and of it as many spools as are sewn with at
// once. reserved is what the class has spoken for already, by item.
func Take(p classday.Plan, k kit.Kit, on *Stock, reserved map[int64]float64, lay Layouter) Taking {
	var t Taking
	t.Cuts = cutsOf(k, on.items, reserved, lay)
	for _, c := range t.Cuts {
		t.cut(c)
	}
	for _, line := range k.Thread {
		t.thread(p, line, on)
	}
	for _, line := range slices.Concat(k.Bobbins, k.Needles, k.Blanks, k.Parts) {
		t.piece(line, on)
	}
	for _, line := range k.Tools {
		t.tool(line, on)
	}
	students := 0
	for _, w := range p.Works {
		students += len(w.Places)
	}
	t.addUp(reserved, students)
	return t
}

// cut adds what a material's pieces are cut from.
func (t *Taking) cut(c Cut) {
	for _, b := range c.Beds {
		n := Need{Key: c.Material, Remnant: b.Remnant(), Item: b.Item, Near: supply.StandIn{Same: true}}
		if b.Item != nil && b.Item.Form == Sheet {
			n.Quantity = 1
			n.Working = []say.Text{
				say.T("gives %s of the %s: remnants go first", say.Count(len(b.Layout.Placed)), say.N{N: c.Count(), Noun: "piece"})}
		} else {
			n.Quantity = b.Layout.LengthMM
			n.Working = []say.Text{say.T("%s laid out: see the cut plan", say.N{N: len(b.Layout.Placed), Noun: "piece"})}
		}
		t.Needs = append(t.Needs, n)
	}
	if len(c.Beds) == 0 {
		t.Needs = append(t.Needs, Need{Key: c.Material, Working: []say.Text{c.Why}})
	}
}

// piece adds what is taken as it is.
func (t *Taking) piece(line kit.Line, on *Stock) {
	if line.Count == 0 {
		return
	}
	n := Need{Key: line.Key, Name: line.Name, Quantity: line.Count, Working: line.Working}
	if found := on.nearest(line.Key); len(found) > 0 {
		n.Item, n.Near = &on.items[found[0].Index], found[0]
	}
	t.Needs = append(t.Needs, n)
}

// tool is what has to be there, and is there again afterwards.
func (t *Taking) tool(line kit.Line, on *Stock) {
	n := Need{Key: line.Key, Name: line.Name, AtOnce: int(line.Count), Working: line.Working}
	if found := on.nearest(line.Key); len(found) > 0 {
		n.Item, n.Near = &on.items[found[0].Index], found[0]
	}
	t.Needs = append(t.Needs, n)
}

// thread takes the nearest thread of the shelf that is not taken for a colour
// that looks other: the metres that are sewn, and as many spools as are sewn
// with at once.
func (t *Taking) thread(p classday.Plan, line kit.Line, on *Stock) {
	n := Need{Key: line.Key, Quantity: line.Count, AtOnce: max(1, p.Spools[line.Key]), Working: slices.Clone(line.Working)}
	found := on.nearest(line.Key)
	for _, f := range found {
		if item := &on.items[f.Index]; t.toldApart(line.Key.Color, item.ID) {
			if n.Taken == nil {
				n.Taken = item
			}
		} else {
			n.Item, n.Near = item, f
			break
		}
	}
	others := 2
	for _, f := range found {
		if item := &on.items[f.Index]; others > 0 && item != n.Item {
			n.Working = append(n.Working,
				say.T("or %s: %s, ΔE %s", item.Name, Nearness(f), say.Decimal{Value: f.Off, Places: 1}))
			others--
		}
	}
	n.Working = append(n.Working,
		say.T("%s in all; sewn on %s at once at the most", say.Thread(line.Count), say.N{N: n.AtOnce, Noun: "machine"}))
	t.Needs = append(t.Needs, n)
}

// Nearness says how near something comes to what was wanted.
func Nearness(s supply.StandIn) say.Text {
	if s.Same {
		return thread.Match{}.Say()
	}
	return s.Why
}

// toldApart tells whether a thread is taken already for a colour that looks
// other than the one wanted now.
func (t *Taking) toldApart(wanted stitch.RGB, itemID int64) bool {
	return slices.ContainsFunc(t.Needs, func(n Need) bool {
		return n.Key.Kind == supply.Thread && n.Item != nil && n.Item.ID == itemID &&
			thread.Difference(wanted, n.Key.Color) >= thread.Alike
	})
}

// addUp shares out what is reserved, and finds costs. One item may serve
// several needs.
func (t *Taking) addUp(reserved map[int64]float64, students int) {
	left, free, singles := map[int64]float64{}, map[int64]float64{}, map[int64]int{}
	t.Reserved = len(t.Needs) > 0
	for i := range t.Needs {
		n := &t.Needs[i]
		if n.Item == nil {
			t.Reserved, n.LacksAtOnce = false, n.AtOnce
			continue
		}
		item := *n.Item // of its own, as what is free of it is shared out
		n.Item = &item
		if _, seen := left[item.ID]; !seen {
			left[item.ID], free[item.ID], singles[item.ID] = reserved[item.ID], item.Available(), int(item.Singles())
		}
		n.LacksAtOnce = max(0, n.AtOnce-singles[item.ID])
		singles[item.ID] = max(0, singles[item.ID]-n.AtOnce)
		n.Reserved = min(n.Quantity, left[item.ID])
		left[item.ID] -= n.Reserved
		item.OnHand, item.Reserved = free[item.ID], 0
		t.Cents += item.Cents(n.Quantity)
		free[item.ID] = max(0, free[item.ID]-(n.Quantity-n.Reserved))
		t.Reserved = t.Reserved && n.Reserved >= n.Quantity-Hair
	}
	if students > 0 {
		const roundTo = 50 // cents
		t.FeeCents = math.Ceil(t.Cents/float64(students)/roundTo) * roundTo
	}
}

// Spools names, for each thread of a class, the spool of the shelf that is
// taken for it.
func (t Taking) Spools() func(supply.Key) say.Text {
	return func(key supply.Key) say.Text {
		for _, n := range t.Needs {
			switch {
			case n.Key != key || n.Item == nil:
			case n.Near.Same || n.Near.Off < thread.Alike:
				return say.Name(n.Item.Name)
			default:
				return say.T("%s (%s)", n.Item.Name, n.Near.Why)
			}
		}
		return say.T("%s thread", say.Word(thread.Name(key.Color)))
	}
}
