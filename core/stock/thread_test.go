package stock_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"chalkstep/core/pace"
	"chalkstep/core/stitch"
	"chalkstep/core/stock"
	"chalkstep/core/supply"
)

// What thread really drew is known of an item that was measured, with all that was sewn
// from it and nothing else.
func TestThreadThatWasMeasured(t *testing.T) {
	navy, sand, red := supply.Key{Kind: supply.Thread, Color: stitch.RGB{B: 80}},
		supply.Key{Kind: supply.Thread, Color: stitch.RGB{R: 220, G: 200}},
		supply.Key{Kind: supply.Thread, Color: stitch.RGB{R: 200}}
	sewn := map[supply.Key]pace.Drawn{navy: {PathMM: 10_000, Ends: 5}, sand: {PathMM: 2_000, Ends: 1}}
	need := func(key supply.Key, item int64) stock.Need {
		return stock.Need{Key: key, Item: &stock.Item{ID: item, Key: key, Form: stock.Spool}, Reserved: 1}
	}
	for name, c := range map[string]struct {
		needs    []stock.Need
		measured map[int64]float64
		want     pace.Drawn
	}{
		"one of two": {[]stock.Need{need(navy, 1), need(sand, 2)}, map[int64]float64{1: 14_000},
			pace.Drawn{RealMM: 14_000, PathMM: 10_000, Ends: 5}},
		"both": {[]stock.Need{need(navy, 1), need(sand, 2)},
			map[int64]float64{1: 14_000, 2: 3_000}, pace.Drawn{RealMM: 17_000, PathMM: 12_000, Ends: 6}},
		"one spool stood in for the other": {[]stock.Need{need(navy, 1), need(sand, 1)}, map[int64]float64{1: 17_000},
			pace.Drawn{RealMM: 17_000, PathMM: 12_000, Ends: 6}},
		"of two spools one was not measured": {[]stock.Need{need(navy, 1), need(navy, 2)}, map[int64]float64{1: 7_000},
			pace.Drawn{}},
		"a spool shared with what is unknown": {[]stock.Need{need(navy, 1), need(sand, 1), need(sand, 2)},
			map[int64]float64{1: 15_000}, pace.Drawn{}},
		"nothing was sewn of it": {[]stock.Need{need(red, 3)}, map[int64]float64{3: 5_000}, pace.Drawn{}},
		"what is not on the shelf counts not": {[]stock.Need{{Key: navy}, need(sand, 2)}, map[int64]float64{2: 3_000},
			pace.Drawn{RealMM: 3_000, PathMM: 2_000, Ends: 1}},
		"what nobody reserved was not brought": {[]stock.Need{{Key: navy, Item: &stock.Item{ID: 1}}},
			map[int64]float64{1: 9_000}, pace.Drawn{}},
	} {
		t.Run(name, func(t *testing.T) { assert.Equal(t, c.want, stock.Drawn(c.needs, c.measured, sewn)) })
	}
}
