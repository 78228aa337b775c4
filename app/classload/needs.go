package classload

import (
	"crypto/sha256"
	"encoding/json"
	"fmt"
	"slices"

	"chalkstep/app/actor"
	"chalkstep/core/classday"
	"chalkstep/core/cutplan"
	"chalkstep/core/kit"
	"chalkstep/core/say"
	"chalkstep/core/stock"
	"chalkstep/core/supply"
)

// A KitsPage is a class with everything it needs, and the bags it goes into.
type KitsPage struct {
	classday.Plan
	classday.Packing
	// Spool names the thread of the shelf that is taken for one.
	Spool func(supply.Key) say.Text
	// Problem says why the kits are not known.
	Problem say.Text
}

// Done counts the kits that are packed or farther.
func (p KitsPage) Done() int {
	n := 0
	for _, b := range p.Bags {
		if b.Kit.Been(kit.Packed) {
			n++
		}
	}
	return n
}

func (d Loader) Kits(classID int64) (KitsPage, error) {
	page, err := d.Shelf(classID)
	if err != nil {
		return KitsPage{}, err
	}
	return KitsPage{Plan: page.Plan, Packing: page.Packing, Spool: page.Taking.Spools(), Problem: page.Problem}, nil
}

// A ShelfPage is what a class takes from the shelf.
type ShelfPage struct {
	classday.Plan
	classday.Packing
	stock.Taking
	// Problem says why the needs are not known.
	Problem say.Text
}

// CutDone tells that the kits of all who come are cut.
func (p ShelfPage) CutDone() bool {
	return !slices.ContainsFunc(p.Bags, func(b classday.Bag) bool { return !b.Kit.Been(kit.Cut) })
}

func (d Loader) Shelf(classID int64) (ShelfPage, error) {
	c, err := d.Workshop.Class(classID)
	if err != nil {
		return ShelfPage{}, err
	}
	items, err := d.Items()
	if err != nil {
		return ShelfPage{}, err
	}
	pages, err := d.Shelves([]classday.Class{c}, items)
	if err != nil {
		return ShelfPage{}, err
	}
	return pages[0], nil
}

// Shelves opens what classes take from the shelf. One whose needs cannot be
// worked out says why in its Problem and spoils no other.
func (d Loader) Shelves(classes []classday.Class, items []stock.Item) ([]ShelfPage, error) {
	plans, err := d.planned(classes)
	if err != nil {
		return nil, err
	}
	on, widths := stock.Of(items), stock.Widths(items)
	pages := make([]ShelfPage, len(plans))
	each(len(plans), func(i int) { pages[i] = d.shelfOf(plans[i], on, widths) })
	for i := range pages {
		if pages[i].Problem.Silent() {
			if err := d.keepCost(&pages[i]); err != nil {
				return nil, err
			}
		}
	}
	return pages, nil
}

// shelfOf is what one class takes from the shelf.
func (d Loader) shelfOf(p classday.Plan, on *stock.Stock, widths func(supply.Key) float64) ShelfPage {
	page := ShelfPage{Plan: p}
	packing, err := p.Pack(widths)
	switch {
	case err != nil:
		page.Problem = say.Of(err)
	case !p.Planned() && slices.ContainsFunc(p.Works, classday.Work.Gone):
		page.Problem = p.Why
	default:
		page.Packing = packing
		page.Taking = stock.Take(p, packing.Kit, on, p.Class.Reserved, d.layOut)
	}
	return page
}

// keepCost stores the cost of a class until the class is over. After that it shows the stored cost,
// even if prices have changed.
func (d Loader) keepCost(page *ShelfPage) error {
	said, fee := page.SaidCents, page.SaidFeeCents
	switch {
	case !page.Planned():
		return nil
	case page.Class.Over(d.Now) && said != nil && fee != nil:
		page.Cents, page.FeeCents = *said, *fee
		return nil
	case said != nil && fee != nil && *said == page.Cents && *fee == page.FeeCents:
		return nil
	}
	if d.Workshop.Room() != nil {
		return nil // it is kept when there is room again
	}
	return d.Workshop.KeepCost(page.Class.ID, page.Cents, page.FeeCents)
}

// layOut is [stock.Lay] that remembers how the same was laid before.
func (d Loader) layOut(fill bool, m cutplan.Material, pieces []cutplan.Piece) (cutplan.Layout, []cutplan.Piece, error) {
	text, err := json.Marshal([]any{fill, m, pieces})
	if err != nil {
		return cutplan.Layout{}, nil, fmt.Errorf("writing down what is cut: %w", err)
	}
	hash := sha256.Sum256(text)
	if l, known := d.Memo().Layouts.Get(hash); known {
		return l.Layout, l.Rest, nil
	}
	l, err := actor.Shared(d.Actor, "layout "+string(hash[:]), func() (l actor.Laid, err error) {
		if l.Layout, l.Rest, err = stock.Lay(fill, m, pieces); err == nil {
			d.Memo().Layouts.Add(hash, l)
		}
		return l, err
	})
	return l.Layout, l.Rest, err
}
