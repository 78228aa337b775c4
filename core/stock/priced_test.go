package stock_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"chalkstep/core/stock"
	"chalkstep/core/supply"
)

// What a class uses of which nobody knows the price is named once; what is left over, and what comes without a price
// on purpose, is not.
func TestWhatNobodyKnowsThePriceOf(t *testing.T) {
	priced := &stock.Item{Name: "Needles", Pack: 5, PackCents: 450}
	unpriced := &stock.Item{Name: "Felt", Pack: 1}
	needle, felt := supply.Key{Kind: supply.Needle, Size: "75/11"}, supply.Key{Kind: supply.Fabric, Name: "felt"}
	taking := stock.Taking{Needs: []stock.Need{
		{Key: needle, Quantity: 2, Item: priced}, {Key: felt, Quantity: 3, Item: unpriced}, {Key: felt, Quantity: 1},
		{Key: felt, Quantity: 1, Remnant: true}, {Key: supply.Bobbins("low"), Quantity: 0},
	}}
	names := taking.Unpriced()
	assert.Len(t, names, 1, "%v", names)
	assert.Empty(t, stock.Taking{Needs: []stock.Need{{Key: needle, Quantity: 2, Item: priced}}}.Unpriced())
}
