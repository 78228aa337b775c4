package stock

import "time"

// A MoveKind is why stock moves.
type MoveKind string

// What moves stock.
const (
	Bought   MoveKind = "bought"
	Promised MoveKind = "reserved"
	Released MoveKind = "released"
	Used     MoveKind = "used"
	Returned MoveKind = "returned"
	Spoiled  MoveKind = "spoiled"
	Counted  MoveKind = "counted"
)

// ByHand are the kinds of movement that a person writes down; the others come
// with what a class reserves.
var ByHand = []MoveKind{Bought, Used, Returned, Spoiled, Counted}

// A Move is a line of the ledger: what it changes of what is there, and of what
// is spoken for, in the item's own count.
type Move struct {
	ItemID             int64
	Kind               MoveKind
	Quantity, Reserved float64
	// ClassID is what it is for, 0 for no class, and Class its name.
	ClassID int64
	Class   string
	Note    string
	// ByID is who moved it, and By their name.
	ByID int64
	By   string
	At   time.Time
}
