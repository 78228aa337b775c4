package shelf_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/day"
	"chalkstep/core/day/daytest"
	"chalkstep/core/shelf"
	"chalkstep/core/stitch"
	"chalkstep/core/supply"
)

var tearAway = supply.Sheet(supply.TearAway, supply.Light)

// stocked is a shelf that has all of what the badges take: five sets of a
// sheet, a square and two pins, red and blue thread, bobbins and needles.
func stocked() []shelf.Item {
	return []shelf.Item{
		{ID: 1, Key: tearAway, Form: shelf.Roll, Name: "Tear-away, 50 cm", WidthMM: 500, Pack: 10_000, PackCents: 1200, OnHand: 5000},
		{ID: 2, Key: supply.Spool(supply.Polyester, daytest.Red), Form: shelf.Each, Name: "Buoy red", Metres: 1000, Pack: 1, PackCents: 400, OnHand: 3},
		{ID: 3, Key: supply.Spool(supply.Polyester, stitch.RGB{R: 0x20, G: 0x50, B: 0x8a}), Form: shelf.Each, Name: "Harbour blue", Metres: 1000, Pack: 1, PackCents: 400, OnHand: 3},
		{ID: 4, Key: supply.Bobbins("LOW,  clear"), Form: shelf.Each, Name: "Bobbins", Pack: 10, PackCents: 300, OnHand: 10},
		{ID: 5, Key: supply.Needles(supply.EmbroideryPoint, "75/11"), Form: shelf.Each, Name: "Needles", Pack: 5, PackCents: 500, OnHand: 10},
		{ID: 6, Key: supply.Named(supply.Blank, "cotton square"), Form: shelf.Each, Name: "Squares", Pack: 1, PackCents: 150, OnHand: 20},
		{ID: 7, Key: supply.Named(supply.Part, "Badge pin"), Form: shelf.Each, Name: "Pins", Pack: 20, PackCents: 300, OnHand: 7, ReorderPoint: 5},
	}
}

func take(t *testing.T, items []shelf.Item, reserved map[int64]float64) (day.Plan, shelf.Taking) {
	t.Helper()
	p := daytest.Plan(t, daytest.Class())
	packing, err := p.Pack(shelf.Widths(items))
	require.NoError(t, err)
	return p, shelf.Take(p, packing.Kit, shelf.Of(items), reserved, shelf.Lay)
}

func need(t *testing.T, taking shelf.Taking, what string) shelf.Need {
	t.Helper()
	for _, n := range taking.Needs {
		if n.Say().String() == what {
			return n
		}
	}
	require.Fail(t, "not needed", what)
	return shelf.Need{}
}

// What a class takes is found by its key, whatever is written on the box.
func TestAClassTakesFromTheShelf(t *testing.T) {
	p, taking := take(t, stocked(), nil)
	assert.Equal(t, "Needles", need(t, taking, "needles 75/11 embroidery").Item.Name)
	assert.Equal(t, "Bobbins", need(t, taking, "bobbins, low, clear").Item.Name, "capitals and spaces do not count")
	assert.Equal(t, 5.0, need(t, taking, "Cotton square").Quantity, "students, test and spare")
	pins := need(t, taking, "badge pin")
	assert.Equal(t, 10.0, pins.Quantity)
	assert.Equal(t, 3.0, pins.Missing())
	require.Len(t, taking.Short(), 1)
	assert.Equal(t, "3", pins.Amount(pins.Missing()).String())

	red := need(t, taking, "thread Buoy red")
	assert.Equal(t, float64(p.Spools[red.Key]), red.Quantity, "as many spools as machines sew it at once")
	assert.Equal(t, "Buoy red", taking.Spools()(red.Key).String())
	sheets := need(t, taking, "light tear-away")
	assert.Greater(t, sheets.Quantity, 300.0)
	assert.Less(t, sheets.Quantity, 700.0, "five sheets side by side on half a metre")
	assert.Contains(t, sheets.Amount(sheets.Quantity).String(), " m")
	assert.False(t, taking.Reserved)
	assert.InDelta(t, 0, taking.FeeCents-50*float64(int(taking.FeeCents/50)), 1e-9, "a fee in half units")
	assert.GreaterOrEqual(t, taking.FeeCents*3, taking.Cents)
}

// A remnant that gives some of the pieces goes first, and the roll gives the
// rest.
func TestRemnantsGoFirst(t *testing.T) {
	_, without := take(t, stocked(), nil)
	items := append(stocked(), shelf.Item{ID: 8, Key: tearAway, Form: shelf.Sheet, Name: "Left over", WidthMM: 420, HeightMM: 320, Remnant: true, Pack: 1, OnHand: 1})
	_, taking := take(t, items, nil)
	left := need(t, taking, "light tear-away, remnant")
	assert.Equal(t, 1.0, left.Quantity)
	assert.Less(t, need(t, taking, "light tear-away").Quantity, need(t, without, "light tear-away").Quantity)
	require.Len(t, taking.Cuts, 1)
	c := taking.Cuts[0]
	require.Len(t, c.Beds, 2)
	assert.True(t, c.Beds[0].Remnant())
	assert.Equal(t, "Left over", c.Beds[0].From().String())
	placed := 0
	for _, b := range c.Beds {
		placed += len(b.Layout.Placed)
		for _, piece := range b.Layout.Placed {
			assert.Equal(t, tearAway, c.Piece(piece.ID).Key)
		}
	}
	assert.Equal(t, c.Count(), placed, "every piece is laid out once")
	assert.Equal(t, 5, placed)
}

// What is reserved counts first, and one item serves several needs.
func TestWhatIsReservedIsSharedOut(t *testing.T) {
	items := stocked()
	items[6].Reserved = 7
	_, taking := take(t, items, map[int64]float64{7: 7})
	pins := need(t, taking, "badge pin")
	assert.Equal(t, 7.0, pins.Reserved)
	assert.Equal(t, 3.0, pins.Missing())

	one := stocked()[:2]
	one[1].OnHand = 1
	_, taking = take(t, one, nil)
	both := 0
	for _, n := range taking.Needs {
		if n.Key.Kind == supply.Thread {
			both++
			assert.Equal(t, "Buoy red", n.Item.Name, "the only thread there is")
		}
	}
	require.Equal(t, 2, both)
	var blue shelf.Need
	for _, n := range taking.Needs {
		if n.Key.Color == daytest.Blue {
			blue = n
		}
	}
	require.NotNil(t, blue.AlsoFor, "red and blue would be one on the cloth")
	assert.Equal(t, daytest.Red, *blue.AlsoFor)
	assert.True(t, blue.Short(), "the one spool is spoken for")
	assert.Equal(t, "Buoy red (another colour)", taking.Spools()(blue.Key).String())
}

// With nothing on the shelf, everything is short and says so.
func TestAnEmptyShelf(t *testing.T) {
	_, taking := take(t, nil, nil)
	assert.Len(t, taking.Short(), len(taking.Needs))
	assert.Contains(t, taking.Cuts[0].Why.String(), "Nothing of it is on the shelf")
	assert.Equal(t, "a roll", taking.Cuts[0].Beds[0].From().String())
	assert.Zero(t, taking.Cents)
	list := shelf.Buy([]shelf.Wanted{{Class: "Saturday", Taking: taking}}, nil)
	assert.Len(t, list.Nothing, len(taking.Needs))
	assert.Equal(t, "light tear-away for Saturday", list.Nothing[0].String())
}

// What is bought comes in packs, and keeps what should always be there.
func TestWhatToBuyComesInPacks(t *testing.T) {
	items := stocked()
	_, taking := take(t, items, nil)
	list := shelf.Buy([]shelf.Wanted{{"Saturday", taking}, {"Sunday", taking}}, items)
	bought := map[string]shelf.Purchase{}
	sum := 0
	for _, p := range list.Purchases {
		bought[p.Item.Name] = p
		sum += p.Cents
		assert.GreaterOrEqual(t, p.Buy, p.Short)
		assert.InDelta(t, float64(p.Packs)*p.Item.Pack, p.Buy, 1e-9)
	}
	assert.Equal(t, sum, list.Cents)
	pins := bought["Pins"]
	assert.Equal(t, 18.0, pins.Short, "twice 10, less 7, and 5 that should always be there")
	assert.Equal(t, 1, pins.Packs)
	assert.Equal(t, []string{"Saturday", "Sunday"}, pins.For)
	assert.NotContains(t, bought, "Squares")
	assert.Empty(t, list.Nothing)
}

func TestAmountsAsPeopleCountThem(t *testing.T) {
	for _, c := range []struct {
		item shelf.Item
		n    float64
		says string
	}{
		{shelf.Item{Key: tearAway, Form: shelf.Roll}, 1904, "1.90 m"},
		{shelf.Item{Key: tearAway, Form: shelf.Sheet}, 2, "2 sheets"},
		{shelf.Item{Key: supply.Spool(supply.Polyester, daytest.Red), Form: shelf.Each}, 1, "1 spool"},
		{shelf.Item{Key: supply.Needles(supply.Ballpoint, "75/11"), Form: shelf.Each}, 1200, "1,200"},
	} {
		assert.Equal(t, c.says, c.item.Amount(c.n).String())
	}
	assert.Equal(t, 0.0, shelf.Item{PackCents: 5}.Cents(3), "what has no pack has no price")
}
