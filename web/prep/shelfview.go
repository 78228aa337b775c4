package prep

import (
	"chalkstep/app/actor"
	"chalkstep/app/classload"
	"chalkstep/app/form"
	app "chalkstep/app/prep"
	"chalkstep/core/say"
	"chalkstep/core/stock"
	"chalkstep/core/supply"
	"chalkstep/web/classhead"
	"chalkstep/web/ui"
)

// A shelfView is what a class takes from the shelf.
type shelfView struct {
	classhead.Head
	Answer, Fee, Cost, Short string
	// Kit says what a kit costs, Unpriced of what nobody knows it.
	Kit, Unpriced string
	// Priced tells that some price is known.
	Priced   bool
	AnyShort bool
	Needs    []needView
	Held     []heldView
	Cuts     []cutView
	Sheets   []string
	Unknown  string
	// CutDone tells that all kits are cut; Books is what reserving speaks for.
	CutDone bool
	Books   []string
}

// A needView is a line of what is needed.
type needView struct {
	Asked, There           string // colours
	What, Amount           string
	ItemID                 int64
	Item, Near, Off, Taken string
	Far                    bool
	Free, Lacks            string
	Reserved               bool
	Working                []string
}

// A heldView is something reserved, with how much of it was used as a form
// says it.
type heldView struct {
	ItemID     int64
	Name, Used string
	Reserved   string
}

// mostUnpriced are named of the things whose price nobody knows.
const mostUnpriced = 4

// fee says what a kit costs, as far as prices are known.
func (v *shelfView) fee(p ui.P, page classload.ShelfPage) {
	unpriced := page.Unpriced()
	v.Priced = page.Cents >= 1 || len(unpriced) == 0
	switch {
	case len(unpriced) == 0:
		v.Kit = "A kit costs"
		return
	case !v.Priced:
		v.Kit = "What a kit costs is not known: no price is on the shelf."
	default:
		v.Kit = "A kit costs at least"
	}
	if more := len(unpriced) - mostUnpriced; more > 0 {
		unpriced = append(unpriced[:mostUnpriced:mostUnpriced], say.T("%s more", say.Count(more)))
	}
	v.Unpriced = p.Say(say.T("Not known is the price of %s.", unpriced))
}

func newShelfView(d app.UseCases, page classload.ShelfPage, boxes string) shelfView {
	p := ui.P{Printer: d.Printer()}
	v := shelfView{Head: classhead.NewHead(d.Actor, page.Plan, "prep", "shelf", boxes), Sheets: actor.PaperSizes(),
		Fee: p.Cents(int(page.FeeCents + 0.5)), Cost: p.Cents(int(page.Cents + 0.5)), Unknown: p.Say(page.Problem)}
	v.fee(p, page)
	short := page.Short()
	v.AnyShort = len(short) > 0
	switch {
	case len(short) == 1:
		v.Answer = "1 thing is short."
	case v.AnyShort:
		v.Answer = p.Say(say.T("%s are short.", say.N{N: len(short), Noun: "thing"}))
	case page.Taking.Reserved:
		v.Answer = "Everything is on the shelf and reserved."
	default:
		v.Answer = "Everything is on the shelf."
	}
	var lacks say.List
	for _, n := range short {
		lacks = append(lacks, say.T("%s of %s", n.Lacks(), n.Say()))
	}
	v.Short = p.Say(say.T("%s", lacks))
	v.CutDone, v.Books = page.CutDone(), booksOf(p, page.Needs)
	held := map[int64]int{}
	for _, n := range page.Needs {
		v.Needs = append(v.Needs, newNeedView(p, n))
		if n.Item == nil || n.Reserved <= 0 {
			continue
		}
		at, seen := held[n.Item.ID]
		if !seen {
			at = len(v.Held)
			held[n.Item.ID] = at
			name := n.Item.Name
			if n.Item.ByLength() {
				name += ", " + p.Units.ClothUnit()
			}
			v.Held = append(v.Held, heldView{ItemID: n.Item.ID, Name: name})
		}
		held := reservedOf(page.Needs, n.Item.ID)
		v.Held[at].Used, v.Held[at].Reserved = form.TypedQuantity(d.Printer(), *n.Item, held), p.Say(n.Item.Amount(held))
	}
	for _, c := range page.Cuts {
		v.Cuts = append(v.Cuts, newCutViews(p, c)...)
	}
	return v
}

// booksOf says what reserving would speak for, item by item.
func booksOf(p ui.P, needs []stock.Need) []string {
	amounts, order := map[int64]float64{}, []stock.Item{}
	for _, n := range needs {
		if n.Item == nil {
			continue
		}
		if more := n.Quantity - n.Reserved - n.Missing(); more > 1e-6 {
			if amounts[n.Item.ID] == 0 {
				order = append(order, *n.Item)
			}
			amounts[n.Item.ID] += more
		}
	}
	var lines []string
	for _, item := range order {
		lines = append(lines, p.Say(say.T("%s of %s", item.Amount(amounts[item.ID]), item.Name)))
	}
	return lines
}

// reservedOf sums up what several needs have reserved of one item.
func reservedOf(needs []stock.Need, itemID int64) float64 {
	sum := 0.0
	for _, n := range needs {
		if n.Item != nil && n.Item.ID == itemID {
			sum += n.Reserved
		}
	}
	return sum
}

func newNeedView(p ui.P, n stock.Need) needView {
	v := needView{What: p.Say(n.Say()), Amount: p.Say(n.Amount(n.Quantity)), Working: p.Lines(n.Working),
		Reserved: n.Quantity > 0 && n.Reserved >= n.Quantity-1e-6}
	switch {
	case n.Quantity == 0:
		v.Amount = p.Say(say.T("%s, shared", say.Count(n.AtOnce)))
	case n.AtOnce > 1:
		v.Amount = p.Say(say.T("%s, %s at once", n.Amount(n.Quantity), say.N{N: n.AtOnce, Noun: "spool"}))
	}
	thread := n.Key.Kind == supply.Thread
	if thread {
		v.Asked = n.Key.Color.String()
	}
	if n.Short() {
		v.Lacks = p.Say(say.T("%s short", n.Lacks()))
	}
	if n.Item == nil {
		if n.Taken != nil {
			v.Taken = p.Say(say.T("%s comes nearest, and is taken for another colour", n.Taken.Name))
		}
		return v
	}
	v.ItemID, v.Item, v.Free = n.Item.ID, n.Item.Name, p.Say(n.Item.Amount(n.Item.OnHand))
	switch {
	case thread:
		v.There = n.Item.Key.Color.String()
		v.Near = p.Say(say.T("%s, ΔE %s", stock.Nearness(n.Near), say.Decimal{Value: n.Near.Off, Places: 1}))
		v.Far = n.Near.Off >= 5
	case !n.Near.Same:
		v.Near, v.Far = p.Say(n.Near.Why), true
	}
	return v
}
