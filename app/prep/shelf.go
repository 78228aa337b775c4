package prep

import (
	"cmp"
	"errors"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/cutplan"
	"chalkstep/core/say"
	"chalkstep/core/stock"
	"chalkstep/core/supply"
	"chalkstep/store"
)

// Reserve speaks for what a class needs and has not reserved yet. What is
// short stays short; the rest is reserved all the same.
func (d UseCases) Reserve(classID int64) error {
	if err := d.Need(actor.ChangeClasses); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error { return d.reserve(classID) })
}

func (d UseCases) reserve(classID int64) error {
	// What the class has reserved is looked at with the class locked, so that
	// two at once do not both reserve it.
	if err := d.Workshop.LockClass(classID); err != nil {
		return err
	}
	page, err := d.Shelf(classID)
	if err != nil {
		return err
	}
	if !page.Problem.Silent() {
		return form.Problems{"": d.Say(page.Problem)}
	}
	if err := d.load().Changeable(page.Class); err != nil {
		return err
	}
	if page.Class.Off() {
		return form.Problems{"": "The class was called off: nothing is reserved for it."}
	}
	wanted := map[int64]float64{}
	for _, n := range page.Needs {
		if n.Item != nil {
			wanted[n.Item.ID] += n.Quantity - n.Reserved - n.Missing()
		}
	}
	var moves []stock.Move
	for _, itemID := range slices.Sorted(maps.Keys(wanted)) { // everyone locks in one order
		if n := wanted[itemID]; n > stock.Hair {
			moves = append(moves,
				stock.Move{ItemID: itemID, Kind: stock.Promised, Reserved: n, ClassID: classID, ByID: d.Who.AccountID, At: d.Now})
		}
	}
	if len(moves) == 0 {
		return form.Problems{"": "There is nothing more to reserve: what is on the shelf is spoken for already."}
	}
	err = d.Workshop.Move(moves...)
	if errors.Is(err, store.ErrShort) {
		return form.Problems{"": "Someone else has just reserved some of it. Look again at what is short."}
	}
	return err
}

// Gone is what went of an item in a class, as it is typed in the unit the page shows:
// what was used, and what was spoiled beside.
type Gone struct{ Used, Spoiled string }

// PutRight settles a class with the shelf: of each item it reserved, so much
// was used or spoiled, and the rest is back on the shelf. It is typed by item; what is not
// said was used as reserved.
func (d UseCases) PutRight(classID int64, gone map[int64]Gone) error {
	if err := d.Need(actor.ChangeClasses); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error { return d.putRight(classID, gone) })
}

func (d UseCases) putRight(classID int64, typed map[int64]Gone) error {
	if err := d.Workshop.LockClass(classID); err != nil {
		return err
	}
	by, err := d.Workshop.ReservedFor(classID)
	if err != nil {
		return err
	}
	reserved := by[classID]
	if len(reserved) == 0 {
		return form.Problems{"": "The class has nothing reserved: there is nothing to put right."}
	}
	itemIDs := slices.Sorted(maps.Keys(reserved))
	if err := d.Workshop.LockStock(itemIDs...); err != nil {
		return err
	}
	var moves []stock.Move
	measured := map[int64]float64{} // thread in millimetres, by the item it came from
	line := func(m stock.Move) {
		m.ClassID, m.ByID, m.At = classID, d.Who.AccountID, d.Now
		moves = append(moves, m)
	}
	problems := form.Problems{}
	for _, itemID := range itemIDs {
		held := reserved[itemID]
		n, spoiled := held, 0.0
		if t, said := typed[itemID]; said {
			item, err := d.Workshop.StockItem(itemID)
			if err != nil {
				return err
			}
			n, spoiled = t.read(d.Printer(), problems, item)
			if item.Key.Kind == supply.Thread && n > 0 &&
				strings.TrimSpace(t.Used) != form.TypedQuantity(d.Printer(), item, held) {
				measured[itemID] = n
			}
		}
		if n > 0 {
			line(stock.Move{ItemID: itemID, Kind: stock.Used, Quantity: -n, Reserved: -min(n, held)})
		}
		if spoiled > 0 {
			line(stock.Move{ItemID: itemID, Kind: stock.Spoiled, Quantity: -spoiled, Reserved: -min(spoiled, max(0, held-n))})
		}
		if n+spoiled < held-stock.Hair {
			line(stock.Move{ItemID: itemID, Kind: stock.Released, Reserved: n + spoiled - held})
		}
	}
	if err := problems.OrNil(); err != nil {
		return err
	}
	if err := d.noteThread(classID, measured); err != nil {
		return err
	}
	err = d.Workshop.Move(moves...)
	if errors.Is(err, store.ErrShort) {
		return form.Problems{"": "More was used of something than was there: count that item first."}
	}
	return err
}

// read is how much of an item was used and spoiled, as typed.
func (t Gone) read(p say.Printer, problems form.Problems, item stock.Item) (used, spoiled float64) {
	used = form.Quantity(p, problems, fmt.Sprintf("used-%d", item.ID), item, t.Used,
		fmt.Sprintf("%s: write how much was used as a number, 0 or more.", item.Name))
	if strings.TrimSpace(t.Spoiled) != "" {
		spoiled = form.Quantity(p, problems, fmt.Sprintf("spoiled-%d", item.ID), item, t.Spoiled,
			fmt.Sprintf("%s: write how much was spoiled as a number, 0 or more.", item.Name))
	}
	return used, spoiled
}

// noteThread writes down what thread of a class was measured, by the item it came from,
// with what was sewn of it. What was used as reserved tells nothing: nobody measured it.
func (d UseCases) noteThread(classID int64, measured map[int64]float64) error {
	if len(measured) == 0 {
		return nil
	}
	ran, err := d.load().Runs(classID)
	if err != nil {
		return err
	}
	page, err := d.Shelf(classID)
	if err != nil {
		return err
	}
	return d.Workshop.SaveThread(classID, stock.Drawn(page.Needs, measured, ran.Sewn()))
}

// KeepOffcuts puts the rests of a class's cut plan on the shelf as remnants,
// to be used first next time. It answers how many.
func (d UseCases) KeepOffcuts(classID int64, material string) (int, error) {
	if err := d.Need(actor.ChangeClasses); err != nil {
		return 0, err
	}
	key, err := supply.Parse(material)
	if err != nil {
		return 0, form.Problems{"": "Choose whose off-cuts are kept."}
	}
	kept, err := actor.Once(d, func(d UseCases) (int64, error) {
		if err := d.Workshop.LockClass(classID); err != nil {
			return 0, err
		}
		if already, err := d.Workshop.KeptOffcuts(classID, key); err != nil || already {
			return 0, cmp.Or(err, error(form.Problems{"": "The class's off-cuts of it are on the shelf already."}))
		}
		return d.keepOffcuts(classID, key)
	})
	return int(kept), err
}

func (d UseCases) keepOffcuts(classID int64, material supply.Key) (kept int64, err error) {
	page, err := d.Shelf(classID)
	if err != nil {
		return 0, err
	}
	if !page.CutDone() {
		return 0, form.Problems{"": "Its kits are not all cut yet: what is left over lies there once they are."}
	}
	at := slices.IndexFunc(page.Cuts, func(c stock.Cut) bool { return c.Material == material })
	if at < 0 || len(page.Cuts[at].Offcuts()) == 0 {
		return 0, form.Problems{"": "No rest is at least 100 mm each way: there is nothing to keep."}
	}
	for _, o := range page.Cuts[at].Offcuts() {
		kept++
		item := stock.Item{Key: material, Form: stock.Sheet, WidthMM: math.Floor(o.WMM), HeightMM: math.Floor(o.HMM),
			Remnant: true, Pack: 1, Name: d.remnantName(material, o, page.Class.Name, kept)}
		id, err := d.Workshop.SaveStockItem(item)
		if err != nil {
			return 0, form.Saved(err, item.Name)
		}
		if err := d.Workshop.Move(stock.Move{ItemID: id, Kind: stock.Returned, Quantity: 1, Note: "off-cut", ClassID: classID,
			ByID: d.Who.AccountID, At: d.Now}); err != nil {
			return 0, err
		}
	}
	return kept, nil
}

// remnantName is what a kept off-cut is called on the shelf.
func (d UseCases) remnantName(material supply.Key, o cutplan.Offcut, class string, n int64) string {
	end := fmt.Sprintf(" %d", n)
	name := fmt.Sprintf("Remnant of %s %.0f × %.0f, %s", d.Say(material), math.Floor(o.WMM), math.Floor(o.HMM), class)
	return form.Shortened(name, form.LongestName-len(end)) + end
}
