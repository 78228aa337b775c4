package app

import (
	"cmp"
	"errors"
	"slices"

	"chalkstep/store"
)

// Reserve speaks for what a class needs and has not reserved yet. What is
// short stays short; the rest is reserved all the same.
func (d Desk) Reserve(classID int64) error {
	if err := d.mayChange(); err != nil {
		return err
	}
	page, err := d.Shelf(classID)
	if err != nil {
		return err
	}
	wanted := map[int64]float64{}
	var order []int64
	for _, n := range page.Needs {
		if n.Item == nil {
			continue
		}
		if _, seen := wanted[n.Item.ID]; !seen {
			order = append(order, n.Item.ID)
		}
		wanted[n.Item.ID] += n.Quantity - n.Reserved - n.Missing()
	}
	var moves []store.StockMovement
	slices.Sort(order) // everyone locks in one order
	for _, itemID := range order {
		if n := wanted[itemID]; n > 1e-6 {
			moves = append(moves, store.StockMovement{ItemID: itemID, Kind: store.ReservedMove, Reserved: n, ClassID: &classID, MovedByID: d.Who.AccountID, MovedAt: d.now})
		}
	}
	if len(moves) == 0 {
		return Problems{"": "There is nothing more to reserve: what is on the shelf is spoken for already."}
	}
	err = d.shop.Move(moves...)
	if errors.Is(err, store.ErrShort) {
		return Problems{"": "Someone else has just reserved some of it. Look again at what is short."}
	}
	return err
}

// PutRight settles a class with the shelf: of each item it reserved, so much
// was used, and the rest is free again. used is by item, in the item's count.
func (d Desk) PutRight(classID int64, used map[int64]float64) error {
	if err := d.mayChange(); err != nil {
		return err
	}
	reserved, err := d.shop.ReservedFor(classID)
	if err != nil {
		return err
	}
	var moves []store.StockMovement
	line := func(m store.StockMovement) {
		m.ClassID, m.MovedByID, m.MovedAt = &classID, d.Who.AccountID, d.now
		moves = append(moves, m)
	}
	for itemID, held := range reserved {
		n, said := used[itemID]
		if !said {
			n = held
		}
		if n < 0 {
			return Problems{"": "What was used is 0 or more."}
		}
		if n > 0 {
			line(store.StockMovement{ItemID: itemID, Kind: store.Used, Quantity: -n, Reserved: -min(n, held)})
		}
		if n < held-1e-6 {
			line(store.StockMovement{ItemID: itemID, Kind: store.Released, Reserved: n - held})
		}
	}
	if len(moves) == 0 {
		return Problems{"": "The class has nothing reserved: there is nothing to put right."}
	}
	slices.SortFunc(moves, func(a, b store.StockMovement) int { return cmp.Compare(a.ItemID, b.ItemID) })
	err = d.shop.Move(moves...)
	if errors.Is(err, store.ErrShort) {
		return Problems{"": "More was used of something than was there: count that item first."}
	}
	return err
}
