package prep

import (
	"fmt"
	"slices"

	"chalkstep/app/actor"
	"chalkstep/app/classload"
	"chalkstep/app/form"
	"chalkstep/core/classday"
	"chalkstep/core/kit"
	"chalkstep/core/say"
	"chalkstep/store"
)

// Kits opens what a class needs, and its bags in sitting order.
func (d UseCases) Kits(classID int64) (classload.KitsPage, error) {
	if err := d.Need(actor.See); err != nil {
		return classload.KitsPage{}, err
	}
	return d.load().Kits(classID)
}

// Shelf opens what a class takes from the shelf.
func (d UseCases) Shelf(classID int64) (classload.ShelfPage, error) {
	if err := d.Need(actor.See); err != nil {
		return classload.ShelfPage{}, err
	}
	return d.load().Shelf(classID)
}

// A KitInput is what a person says of a kit: what is in the bag, and the
// state it goes to, empty to leave it.
type KitInput struct {
	StudentID int64    `form:"student"`
	Version   int      `form:"version"`
	Packed    []string `form:"packed"`
	State     string   `form:"state"`
	// Scanned comes from the card that a label's code opens: what is in the
	// bag is left as it is.
	Scanned bool `form:"scanned"`
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
			return d.load().Changeable(page.Class)
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
		return form.Problems{fmt.Sprintf("kit-%d", in.StudentID): fmt.Sprintf("%s's kit is not complete: %s still missing.",
			bag.Name, d.Say(are))}
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
