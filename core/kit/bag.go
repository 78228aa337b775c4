package kit

import (
	"strconv"

	"chalkstep/core/say"
	"chalkstep/core/supply"
)

// An Item is a line of one student's bag.
type Item struct {
	// As is what a cut piece is laid as.
	As     LayerKind
	Key    supply.Key
	SizeMM [2]float64
	Count  int
	// Name is how a person wrote it, where a person named it.
	Name string
}

// An ItemID names a line of a bag, in the database and in forms: what it is
// laid as, its size, and its key.
type ItemID string

// ID of the line.
func (i Item) ID() ItemID {
	size := ""
	if i.SizeMM != [2]float64{} {
		size = strconv.FormatFloat(i.SizeMM[0], 'f', -1, 64) + "x" + strconv.FormatFloat(i.SizeMM[1], 'f', -1, 64)
	}
	return ItemID(string(i.As) + "@" + size + ":" + i.Key.String())
}

// Say names the item without its size.
func (i Item) Say() say.Text {
	switch {
	case i.Name != "":
		return say.Name(i.Name)
	case i.As != "" && i.Key.Kind == supply.Fabric:
		return say.T("%s of %s", say.Word(i.As), i.Key)
	}
	return i.Key.Say()
}

// Whole is the item with count and size: "6 × badge pin", "medium tear-away,
// 200 × 200 mm".
func (i Item) Whole() say.Text {
	text := i.Say()
	if i.Count > 1 {
		text = say.T("%s × %s", say.Count(i.Count), text)
	}
	if i.SizeMM != [2]float64{} {
		text = say.T("%s, %s", text, say.Size(i.SizeMM))
	}
	return text
}

// Bag lists what one student at a seat gets: the pieces, the blank, the parts
// and the step card.
func Bag(r Request, s Seat) []Item {
	var items []Item
	for _, p := range r.ofSet(s) {
		items = append(items, Item{As: p.As, Key: p.Key, SizeMM: p.SizeMM, Count: p.Count})
	}
	if r.Blank.Key.Kind != "" {
		items = append(items, r.Blank)
	}
	items = append(items, r.Parts...)
	return append(items, Item{Key: supply.Key{Kind: supply.StepCard}, Count: 1})
}
