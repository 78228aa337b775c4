package stock

import (
	"math"
	"slices"
	"time"

	"chalkstep/core/say"
	"chalkstep/core/supply"
)

// A Wanted is what one class takes, with the class's name and when it is.
type Wanted struct {
	Class    string
	From, To time.Time
	Taking   Taking
}

// A Purchase is one thing to buy, rounded up to packs.
type Purchase struct {
	Item Item
	// Short is what is missing to keep the reorder point, Buy what is bought
	// for it, in the item's own count.
	Short, Buy float64
	Packs      int
	Cents      int
	// For names the classes that need it.
	For []string
}

// An Absent is a thing of which there is nothing on the shelf, with how much of
// it is wanted, and by which classes.
type Absent struct {
	Need Need
	For  []string
}

// Say names the thing, how much, and what for.
func (a Absent) Say() say.Text {
	var names say.List
	for _, class := range a.For {
		names = append(names, say.Name(class))
	}
	amount := a.Need.Amount(a.Need.Quantity)
	if a.Need.Quantity <= Hair {
		amount = say.T("%s", say.Count(a.Need.AtOnce))
	}
	if a.Need.Key.Kind.ByLength() {
		amount = say.T("%s of a roll %s wide", amount, say.MM(usualWidthMM))
	}
	if taken := a.Need.Taken; taken != nil {
		return say.T("%s, %s, for %s (%s is taken for another colour)", a.Need.Say(), amount, names, taken.Name)
	}
	return say.T("%s, %s, for %s", a.Need.Say(), amount, names)
}

// A List is what to buy.
type List struct {
	Purchases []Purchase
	// Nothing lists what no item of the shelf stands for.
	Nothing []Absent
	Cents   int
}

// Buy works out what classes lack together over time, what they lack at one
// time, and what runs low. What is used up adds up over the classes; spools and
// tools that are there again afterwards are counted for classes that overlap.
func Buy(wanted []Wanted, items []Item) List {
	var list List
	sums, atOnce := map[int64]float64{}, map[int64]int{}
	names := map[int64][]string{}
	for _, w := range wanted {
		for _, n := range w.Taking.Needs {
			if n.Item == nil {
				list.lacks(n, w.Class)
				continue
			}
			sums[n.Item.ID] += n.Quantity - n.Reserved
			if !slices.Contains(names[n.Item.ID], w.Class) {
				names[n.Item.ID] = append(names[n.Item.ID], w.Class)
			}
		}
		// The most at one time is reached when some class begins.
		now := map[int64]int{}
		for _, other := range wanted {
			if !other.From.After(w.From) && (other.To.After(w.From) || other.From.Equal(w.From)) {
				for _, n := range other.Taking.Needs {
					if n.Item != nil {
						now[n.Item.ID] += n.AtOnce
					}
				}
			}
		}
		for id, n := range now {
			atOnce[id] = max(atOnce[id], n)
		}
	}
	for _, item := range items {
		short := sums[item.ID] + item.ReorderPoint - item.Available()
		if lacking := float64(atOnce[item.ID]) - item.Singles(); lacking > 0 {
			short = max(short, lacking*item.Single())
		}
		if item.Remnant || short <= Hair || item.Pack <= 0 {
			continue
		}
		p := Purchase{Item: item, Short: short, Packs: int(math.Ceil(short/item.Pack - 1e-9)), For: names[item.ID]}
		p.Buy = float64(p.Packs) * item.Pack
		p.Cents = p.Packs * item.PackCents
		list.Cents += p.Cents
		list.Purchases = append(list.Purchases, p)
	}
	return list
}

// lacks adds what there is nothing of to its like.
func (l *List) lacks(n Need, class string) {
	i := slices.IndexFunc(l.Nothing, func(a Absent) bool {
		return a.Need.Key == n.Key && a.Need.Key.Kind != supply.StepCard
	})
	if i < 0 {
		l.Nothing = append(l.Nothing, Absent{n, []string{class}})
		return
	}
	a := &l.Nothing[i]
	a.Need.Quantity, a.Need.AtOnce = a.Need.Quantity+n.Quantity, max(a.Need.AtOnce, n.AtOnce)
	if !slices.Contains(a.For, class) {
		a.For = append(a.For, class)
	}
}
