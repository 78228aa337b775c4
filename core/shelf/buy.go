package shelf

import (
	"math"
	"slices"

	"chalkstep/core/say"
)

// A Wanted is what one class takes, with the class's name.
type Wanted struct {
	Class  string
	Taking Taking
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

// A List is what to buy.
type List struct {
	Purchases []Purchase
	// Nothing lists what no item of the shelf stands for, with its class.
	Nothing []say.Text
	Cents   int
}

// Buy works out what classes lack together, and what runs low.
func Buy(wanted []Wanted, items []Item) List {
	var list List
	sums := map[int64]float64{}
	names := map[int64][]string{}
	for _, w := range wanted {
		for _, n := range w.Taking.Needs {
			if n.Item == nil {
				list.Nothing = append(list.Nothing, say.T("%s for %s", n.Say(), w.Class))
				continue
			}
			sums[n.Item.ID] += n.Quantity - n.Reserved
			if !slices.Contains(names[n.Item.ID], w.Class) {
				names[n.Item.ID] = append(names[n.Item.ID], w.Class)
			}
		}
	}
	for _, item := range items {
		short := sums[item.ID] + item.ReorderPoint - item.Available()
		if item.Remnant || short <= hair || item.Pack <= 0 {
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
