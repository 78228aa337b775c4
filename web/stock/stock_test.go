package stock

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"chalkstep/store"
)

// An item's form shows what people wrote: metres for what is counted by
// length, and nothing where there is nothing.
func TestAnItemAsItsFormShowsIt(t *testing.T) {
	roll := input(store.StockItem{ID: 4, Kind: store.StockRoll, Name: "Tear-away", WidthMM: 500, Pack: 10_000, PackCents: 1450, ReorderPoint: 2500, Version: 3})
	assert.Equal(t, []string{"500", "10", "14.50", "2.5"}, []string{roll.Width, roll.Pack, roll.PackCost, roll.Reorder})
	assert.Empty(t, roll.Height)
	assert.Equal(t, 3, roll.Version)
	needles := input(store.StockItem{Kind: store.StockNeedle, Pack: 5})
	assert.Equal(t, "5", needles.Pack)
	assert.Empty(t, needles.PackCost)
}

func TestWordsOfTheShelf(t *testing.T) {
	kindWords := Funcs["kindWords"].(func(string) string)
	for _, kind := range store.StockKinds {
		assert.NotEmpty(t, kindWords(kind), kind)
	}
	ofKind := Funcs["ofKind"].(func([]store.StockItem, string) []store.StockItem)
	items := []store.StockItem{{Kind: store.StockRoll, Name: "a"}, {Kind: store.StockThread, Name: "b"}, {Kind: store.StockRoll, Name: "c"}}
	assert.Len(t, ofKind(items, store.StockRoll), 2)
	signed := Funcs["signed"].(func(store.StockItem, float64) string)
	roll := store.StockItem{Kind: store.StockRoll}
	assert.Equal(t, []string{"+1.50 m", "−0.20 m", ""}, []string{signed(roll, 1500), signed(roll, -200), signed(roll, 0)})
	money := Funcs["money"].(func(float64) string)
	assert.Equal(t, []string{"7.50", "0.07"}, []string{money(749.6), money(7)})
}
