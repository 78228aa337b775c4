// Package stock is what lies on a workshop's shelf, and what a class takes from
// it: what stands in for what, remnants first, what is missing, what it costs,
// and what to buy.
package stock

import (
	"math"

	"chalkstep/core/say"
	"chalkstep/core/supply"
)

// A Form is how a thing lies on the shelf, and so what it is counted in.
type Form string

// The forms of things. Rolls and the thread on spools are counted in
// millimetres of their length, sheets and single things in pieces: bobbins,
// packs are opened.
const (
	Roll  Form = "roll"
	Sheet Form = "sheet"
	Each  Form = "each"
	Spool Form = "spool"
)

// Forms in the order a page asks for them.
var Forms = []Form{Roll, Sheet, Each, Spool}

// An Item of the shelf. ID and Version name the row.
type Item struct {
	ID      int64
	Version int
	Key     supply.Key
	Form    Form
	// Name is what is written on it.
	Name string
	// WidthMM of a roll or a sheet, HeightMM of a sheet.
	WidthMM, HeightMM float64
	// Metres on one spool of thread.
	Metres float64
	// Grain keeps pieces from being turned; Remnant is a sheet left over.
	Grain, Remnant bool
	// Pack is how many are bought at once, PackCents what that costs.
	Pack      float64
	PackCents int
	// ReorderPoint is what should always be there and free.
	ReorderPoint    float64
	Supplier, Place string
	// OnHand and Reserved are what the ledger sums up to.
	OnHand, Reserved float64
}

// Available is what nobody has spoken for.
func (i Item) Available() float64 { return i.OnHand - i.Reserved }

// ByLength tells whether it is counted in millimetres.
func (i Item) ByLength() bool { return i.Form == Roll || i.Form == Spool }

// Single is one of it as it is bought and lies there: a spool's length, or 1.
func (i Item) Single() float64 {
	if i.Form == Spool {
		return i.Metres * 1000
	}
	return 1
}

// Singles is how many spools or pieces there are of it, begun ones too.
func (i Item) Singles() float64 { return math.Ceil(i.OnHand/i.Single() - Hair) }

// Count is so many of it in its own count: a roll's are metres.
func (i Item) Count(n float64) float64 {
	if i.ByLength() {
		return n * 1000
	}
	return n
}

// Low tells that less of it is free than should be.
func (i Item) Low() bool { return i.Available() < i.ReorderPoint }

// Amount is a quantity of it as people count it: metres of a roll, spools,
// pieces.
func (i Item) Amount(n float64) say.Text {
	switch {
	case i.Form == Spool:
		return say.T("%s", say.Thread(n))
	case i.ByLength():
		return say.T("%s", say.Cloth(n))
	case i.Form == Sheet:
		return say.T("%s", say.N{N: int(math.Round(n)), Noun: "sheet"})
	}
	return say.T("%s", say.Count(math.Round(n)))
}

// Bought is a quantity of it as it is bought: thread in spools.
func (i Item) Bought(n float64) say.Text {
	if i.Form == Spool {
		return say.T("%s", say.N{N: int(math.Ceil(n/i.Single() - Hair)), Noun: "spool"})
	}
	return i.Amount(n)
}

// Cents is what a quantity of it cost.
func (i Item) Cents(n float64) float64 {
	if i.Pack <= 0 {
		return 0
	}
	return n / i.Pack * float64(i.PackCents)
}

// Usual is how a kind of thing lies on the shelf.
func Usual(kind supply.Kind) Form {
	switch {
	case kind.ByLength():
		return Roll
	case kind == supply.Thread:
		return Spool
	}
	return Each
}
