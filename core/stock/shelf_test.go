package stock_test

import (
	"math"
	"math/rand/v2"
	"strconv"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/classday"
	"chalkstep/core/classday/classdaytest"
	"chalkstep/core/cutplan"
	"chalkstep/core/kit"
	"chalkstep/core/stitch"
	"chalkstep/core/stock"
	"chalkstep/core/supply"
)

var tearAway = supply.Sheet(supply.TearAway, supply.Light)

// stocked is a shelf that has all of what the badges take: five sets of a
// sheet, a square and two pins, red and blue thread, bobbins and needles.
func stocked() []stock.Item {
	return []stock.Item{
		{ID: 1, Key: tearAway, Form: stock.Roll, Name: "Tear-away, 50 cm", WidthMM: 500, Pack: 10_000, PackCents: 1200,
			OnHand: 5000},
		{ID: 2, Key: supply.Spool(supply.Polyester, classdaytest.Red), Form: stock.Spool, Name: "Buoy red", Metres: 1000,
			Pack: 1e6, PackCents: 400, OnHand: 2.4e6},
		{ID: 3, Key: supply.Spool(supply.Polyester, stitch.RGB{R: 0x20, G: 0x50, B: 0x8a}), Form: stock.Spool,
			Name: "Harbour blue", Metres: 1000, Pack: 1e6, PackCents: 400, OnHand: 3e6},
		{ID: 4, Key: supply.Bobbins("LOW,  clear"), Form: stock.Each, Name: "Bobbins", Pack: 10, PackCents: 300, OnHand: 10},
		{ID: 5, Key: supply.Needles(supply.EmbroideryPoint, "75/11"), Form: stock.Each, Name: "Needles", Pack: 5,
			PackCents: 500, OnHand: 10},
		{ID: 6, Key: supply.Named(supply.Blank, "cotton square"), Form: stock.Each, Name: "Squares", Pack: 1, PackCents: 150,
			OnHand: 20},
		{ID: 7, Key: supply.Named(supply.Part, "Badge pin"), Form: stock.Each, Name: "Pins", Pack: 20, PackCents: 300,
			OnHand: 7, ReorderPoint: 5},
		{ID: 9, Key: supply.Key{Kind: supply.Pen}, Form: stock.Each, Name: "Water pens", Pack: 2, PackCents: 500, OnHand: 2},
		{ID: 90, Key: supply.Snips, Form: stock.Each, Name: "Snips", Pack: 1, PackCents: 300, OnHand: 2},
	}
}

func take(t *testing.T, items []stock.Item, reserved map[int64]float64) (classday.Plan, stock.Taking) {
	t.Helper()
	p := classdaytest.Plan(t, classdaytest.Class())
	packing, err := p.Pack(stock.Widths(items))
	require.NoError(t, err)
	return p, stock.Take(p, packing.Kit, stock.Of(items), reserved, stock.Lay)
}

func need(t *testing.T, taking stock.Taking, what string) stock.Need {
	t.Helper()
	for _, n := range taking.Needs {
		if n.Say().String() == what {
			return n
		}
	}
	require.Fail(t, "not needed", what)
	return stock.Need{}
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
	assert.Equal(t, p.Spools[red.Key], red.AtOnce, "as many spools as machines sew it at once")
	assert.Less(t, red.Quantity, 1e6, "and the metres that are sewn")
	assert.Contains(t, red.Amount(red.Quantity).String(), " m")
	pens := need(t, taking, "marking pen that comes out again")
	assert.Zero(t, pens.Quantity, "pens are there again afterwards")
	assert.Equal(t, 1, pens.AtOnce, "one for three students")
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
	items := append(stocked(),
		stock.Item{ID: 8, Key: tearAway, Form: stock.Sheet, Name: "Left over", WidthMM: 420, HeightMM: 320, Remnant: true,
			Pack: 1, OnHand: 1})
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

	// One spool is all there is: it goes to one colour, and the other, which the
	// design tells apart, is not given it without being asked.
	one := stocked()[:2]
	one[1].OnHand = 1e6
	_, taking = take(t, one, nil)
	var red, blue stock.Need
	for _, n := range taking.Needs {
		switch n.Key.Color {
		case classdaytest.Red:
			red = n
		case classdaytest.Blue:
			blue = n
		}
	}
	require.NotNil(t, red.Item)
	assert.Equal(t, "Buoy red", red.Item.Name)
	assert.Nil(t, blue.Item)
	require.NotNil(t, blue.Taken)
	assert.Equal(t, "Buoy red", blue.Taken.Name)
	assert.True(t, blue.Short())
	assert.Equal(t, "dark blue thread", taking.Spools()(blue.Key).String())
}

// With nothing on the shelf, everything is short and says so.
func TestAnEmptyShelf(t *testing.T) {
	_, taking := take(t, nil, nil)
	assert.Len(t, taking.Short(), len(taking.Needs))
	assert.Contains(t, taking.Cuts[0].Why.String(), "Nothing of it is on the shelf")
	assert.Equal(t, "a roll", taking.Cuts[0].Beds[0].From().String())
	assert.Zero(t, taking.Cents)
	list := stock.Buy([]stock.Wanted{{Class: "Saturday", Taking: taking}}, nil)
	assert.Len(t, list.Nothing, len(taking.Needs))
	first := list.Nothing[0]
	assert.Contains(t, first.Say().String(), "light tear-away, ")
	assert.Contains(t, first.Say().String(), " m of a roll 1,000 mm wide, for Saturday")
	again := stock.Buy([]stock.Wanted{{Class: "Saturday", Taking: taking}, {Class: "Sunday", Taking: taking}}, nil)
	require.Len(t, again.Nothing, len(list.Nothing), "each thing once")
	assert.InDelta(t, 2*first.Need.Quantity, again.Nothing[0].Need.Quantity, 1e-6)
	assert.Contains(t, again.Nothing[0].Say().String(), "for Saturday and Sunday")
}

// What is bought comes in packs, and keeps what should always be there.
func TestWhatToBuyComesInPacks(t *testing.T) {
	items := stocked()
	_, taking := take(t, items, nil)
	list := stock.Buy([]stock.Wanted{{Class: "Saturday", Taking: taking}, {Class: "Sunday", Taking: taking}}, items)
	bought := map[string]stock.Purchase{}
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
		item stock.Item
		n    float64
		says string
	}{
		{stock.Item{Key: tearAway, Form: stock.Roll}, 1904, "1.90 m"},
		{stock.Item{Key: tearAway, Form: stock.Sheet}, 2, "2 sheets"},
		{stock.Item{Key: supply.Spool(supply.Polyester, classdaytest.Red), Form: stock.Spool, Metres: 1000}, 46_200,
			"46.2 m"},
		{stock.Item{Key: supply.Needles(supply.Ballpoint, "75/11"), Form: stock.Each}, 1200, "1,200"},
	} {
		assert.Equal(t, c.says, c.item.Amount(c.n).String())
	}
	assert.Equal(t, 0.0, stock.Item{PackCents: 5}.Cents(3), "what has no pack has no price")
}

// Spools and tools are counted for classes that overlap; what is sewn adds up.
func TestWhatIsNeededAtOnceAndOverTime(t *testing.T) {
	morning := time.Date(2026, 3, 7, 10, 0, 0, 0, time.UTC)
	spool := stock.Item{ID: 1, Key: supply.Spool(supply.Polyester, classdaytest.Red), Form: stock.Spool, Name: "Red",
		Metres: 1000, Pack: 1e6, PackCents: 400, OnHand: 2e6}
	pens := stock.Item{ID: 2, Key: supply.Key{Kind: supply.Pen}, Form: stock.Each, Name: "Pens", Pack: 2, OnHand: 2}
	class := func(name string, from time.Time, hours int, metres float64, atOnce int) stock.Wanted {
		return stock.Wanted{Class: name, From: from, To: from.Add(time.Duration(hours) * time.Hour),
			Taking: stock.Taking{Needs: []stock.Need{
				{Key: spool.Key, Item: &spool, Quantity: metres * 1000, AtOnce: atOnce}, {Key: pens.Key, Item: &pens, AtOnce: 2},
			}}}
	}
	buys := func(wanted ...stock.Wanted) map[string]string {
		got := map[string]string{}
		for _, p := range stock.Buy(wanted, []stock.Item{spool, pens}).Purchases {
			got[p.Item.Name] = p.Item.Bought(p.Buy).String()
		}
		return got
	}
	assert.Empty(t, buys(class("one", morning, 3, 300, 2), class("the next day", morning.AddDate(0, 0, 1), 3, 300, 2)),
		"the same spools and pens serve both")
	assert.Equal(t, map[string]string{"Red": "2 spools", "Pens": "2"},
		buys(class("one", morning, 3, 300, 2), class("beside it", morning.Add(time.Hour), 3, 300, 2)))
	assert.Empty(t, buys(class("one", morning, 3, 300, 2), class("after it", morning.Add(3*time.Hour), 3, 300, 2)))
	assert.Equal(t, map[string]string{"Red": "1 spool"},
		buys(class("one", morning, 3, 1300, 1), class("later", morning.AddDate(0, 0, 7), 3, 1300, 1)), "2,600 m of 2,000")
}

// The remnants taken save as much of the roll as any order of them would, in
// nearly all cases, and none lies cut that saves nothing.
func TestRemnantsAreChosenByWhatTheySave(t *testing.T) {
	rng := rand.New(rand.NewPCG(4, 4))
	cotton := supply.Cloth("woven-cotton")
	asGood, cases := 0, 60
	for range cases {
		k := kit.Kit{}
		for range 1 + rng.IntN(3) {
			k.Cuts = append(k.Cuts,
				kit.Line{Key: cotton, SizeMM: [2]float64{float64(60 + rng.IntN(200)), float64(60 + rng.IntN(200))},
					Count: float64(1 + rng.IntN(6)), Turn: true})
		}
		items := []stock.Item{{ID: 100, Key: cotton, Form: stock.Roll, WidthMM: 500, OnHand: 1e6, Pack: 1}}
		for n := range 3 {
			items = append(items,
				stock.Item{ID: int64(n + 1), Key: cotton, Form: stock.Sheet, Remnant: true, WidthMM: float64(100 + rng.IntN(350)),
					HeightMM: float64(100 + rng.IntN(350)), OnHand: 1, Pack: 1})
		}
		took := rollOf(stock.Take(classday.Plan{}, k, stock.Of(items), nil, stock.Lay))
		best := math.Inf(1)
		for _, order := range [][]int{{1, 2, 3}, {1, 3, 2}, {2, 1, 3}, {2, 3, 1}, {3, 1, 2}, {3, 2, 1}} {
			best = min(best, inOrder(t, k, items, order))
		}
		if took <= best+1 {
			asGood++
		}
	}
	t.Logf("remnants are used as well as in the best order in %d of %d", asGood, cases)
	assert.GreaterOrEqual(t, asGood, cases*95/100)
}

// rollOf is what a taking cuts of the roll.
func rollOf(taking stock.Taking) float64 {
	sum := 0.0
	for _, c := range taking.Cuts {
		for _, b := range c.Beds {
			if !b.Remnant() {
				sum += b.Layout.LengthMM
			}
		}
	}
	return sum
}

// inOrder is what the roll gives when remnants are used up in an order.
func inOrder(t *testing.T, k kit.Kit, items []stock.Item, order []int) float64 {
	t.Helper()
	var wanted []cutplan.Piece
	for i, l := range k.Cuts {
		wanted = append(wanted,
			cutplan.Piece{ID: strconv.Itoa(i), WMM: l.SizeMM[0], HMM: l.SizeMM[1], Count: int(l.Count), Turn: true})
	}
	for _, n := range order {
		if len(wanted) > 0 {
			if l, rest, err := cutplan.Fill(cutplan.Material{WidthMM: items[n].WidthMM, MaxLengthMM: items[n].HeightMM},
				wanted); err == nil && len(l.Placed) > 0 {
				wanted = rest
			}
		}
	}
	if len(wanted) == 0 {
		return 0
	}
	l, err := cutplan.Plan(cutplan.Material{WidthMM: 500}, wanted)
	require.NoError(t, err)
	return l.LengthMM
}
