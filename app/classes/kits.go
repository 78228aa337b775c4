package classes

import (
	"fmt"
	"slices"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/classday"
	"chalkstep/core/kit"
	"chalkstep/core/say"
	"chalkstep/core/stock"
	"chalkstep/core/supply"
	"chalkstep/store"
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

// Kits opens what a class needs, and its bags in sitting order.
func (d UseCases) Kits(classID int64) (KitsPage, error) {
	if err := d.Need(actor.See); err != nil {
		return KitsPage{}, err
	}
	return d.kits(classID)
}

func (d UseCases) kits(classID int64) (KitsPage, error) {
	page, err := d.shelf(classID)
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

// Shelf opens what a class takes from the shelf.
func (d UseCases) Shelf(classID int64) (ShelfPage, error) {
	if err := d.Need(actor.See); err != nil {
		return ShelfPage{}, err
	}
	return d.shelf(classID)
}

func (d UseCases) shelf(classID int64) (ShelfPage, error) {
	c, err := d.Workshop.Class(classID)
	if err != nil {
		return ShelfPage{}, err
	}
	items, err := d.Items()
	if err != nil {
		return ShelfPage{}, err
	}
	pages, err := d.shelves([]classday.Class{c}, items)
	if err != nil {
		return ShelfPage{}, err
	}
	return pages[0], nil
}

// shelves opens what classes take from the shelf. One whose needs cannot be
// worked out says why in its Problem and spoils no other.
func (d UseCases) shelves(classes []classday.Class, items []stock.Item) ([]ShelfPage, error) {
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
func (d UseCases) shelfOf(p classday.Plan, on *stock.Stock, widths func(supply.Key) float64) ShelfPage {
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

// keepCost keeps what a class costs as long as it is to come, and afterwards
// says what was said then, whatever things cost since.
func (d UseCases) keepCost(page *ShelfPage) error {
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

// A KitInput is what a person says of a kit: what is in the bag, and the
// state it goes to, empty to leave it.
type KitInput struct {
	StudentID int64
	Version   int
	Packed    []string
	State     string
	// Scanned comes from the card that a label's code opens: what is in the
	// bag is left as it is.
	Scanned bool
}

// SaveKit keeps how far a kit is. A kit is packed when nothing is missing.
func (d UseCases) SaveKit(classID int64, in KitInput) error {
	if err := d.Need(actor.PackKits); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error { return d.saveKit(classID, in) })
}

func (d UseCases) saveKit(classID int64, in KitInput) error {
	page, err := d.Kits(classID)
	if err != nil {
		return err
	}
	at := slices.IndexFunc(page.Bags, func(b classday.Bag) bool { return b.ID == in.StudentID })
	if at < 0 {
		return fmt.Errorf("finding the kit of student %d: %w", in.StudentID, store.ErrNotFound)
	}
	bag := page.Bags[at]
	place := classday.Place{Student: bag.Student, Kit: bag.Kit, Version: in.Version}
	if in.State != "" {
		if !slices.Contains(kit.States, kit.State(in.State)) {
			return form.Problems{"state": "Choose how far the kit is."}
		}
		place.Kit = kit.State(in.State)
	}
	if page.Class.Over(d.Now) {
		if place.Kit != kit.Returned {
			return d.changeable(page.Class)
		}
		in.Scanned = true // what was in the bag stays
	}
	var missing say.List
	for _, item := range bag.Items {
		if in.Scanned && item.In || !in.Scanned && slices.Contains(in.Packed, string(item.ID())) {
			place.Packed = append(place.Packed, item.ID())
		} else {
			missing = append(missing, item.Item.Say())
		}
	}
	if place.Kit.Complete() && len(missing) > 0 {
		are := say.T("%s are", missing)
		if len(missing) == 1 {
			are = say.T("%s is", missing)
		}
		return form.Problems{fmt.Sprintf("kit-%d", in.StudentID): fmt.Sprintf("%s's kit is not complete: %s still missing.", bag.Name, d.Say(are))}
	}
	type said struct {
		State  string   `says:"State"`
		Packed []string `says:"In the bag"`
	}
	says := func(state kit.State, packed []kit.ItemID) said {
		s := said{State: string(state)}
		for _, item := range bag.Items {
			if slices.Contains(packed, item.ID()) {
				s.Packed = append(s.Packed, d.Say(item.Item.Say()))
			}
		}
		return s
	}
	err = form.Compare(d.Workshop.SaveKit(classID, place), says(place.Kit, place.Packed), func() (said, int, error) {
		return says(bag.Kit, bag.Packed), bag.Version, nil
	})
	return form.Saved(err, "")
}
