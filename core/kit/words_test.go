package kit_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"chalkstep/core/kit"
)

func TestLinesOfBagsAreFoundByTheirFormerWords(t *testing.T) {
	fabrics := []string{"linen", "woven-cotton"}
	for words, id := range map[string]kit.ItemID{
		"medium tear-away 200 × 250 mm":         "@200x250:stabilizer;material=tear-away;weight=medium",
		"water-soluble topper 150 × 150 mm":     "@150x150:topper",
		"piece of linen 144 × 143 mm":           "piece@144x143:fabric;material=linen",
		"binding of woven-cotton 1,012 × 63 mm": "binding@1012x63:fabric;material=woven-cotton",
		"batting 270 × 270 mm":                  "batting@270x270:batting",
		"Canvas tote 380 × 420 mm":              "@380x420:blank;name=canvas+tote",
		"badge pin ":                            "@:part;name=badge+pin",
		"step card ":                            "@:step-card",
		"two × four mm":                         "@:part;name=two+%C3%97+four+mm",
	} {
		assert.Equal(t, id, kit.ItemOfWords(words, fabrics), words)
	}
}
