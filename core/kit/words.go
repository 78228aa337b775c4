package kit

import (
	"slices"
	"strconv"
	"strings"

	"chalkstep/core/supply"
)

// ItemOfWords finds the line of a bag that words stood for before lines had
// IDs: "medium tear-away 200 × 250 mm", "piece of linen 144 × 143 mm", "step
// card ". fabrics are the fabrics of recipes. What no words of the trade stand
// for is the blank where it has a size, and a part where it has none.
func ItemOfWords(words string, fabrics []string) ItemID {
	item := Item{}
	what, size := sizeOfWords(words)
	item.SizeMM = size
	as, of, layered := strings.Cut(what, " of ")
	stuff := supply.FromWords("sheet", what, "", fabrics)
	switch {
	case what == "step card":
		item.Key = supply.Key{Kind: supply.StepCard}
	case layered && slices.Contains(LayerKinds, LayerKind(as)):
		item.As, item.Key = LayerKind(as), supply.FromWords("fabric", of, "", fabrics)
	case slices.Contains(LayerKinds, LayerKind(what)):
		item.As, item.Key = LayerKind(what), stuff
	case stuff.Kind.ByLength():
		item.Key = stuff
	case size != [2]float64{}:
		item.Key = supply.Named(supply.Blank, what)
	default:
		item.Key = supply.Named(supply.Part, what)
	}
	return item.ID()
}

// sizeOfWords takes a size off the end of words.
func sizeOfWords(words string) (what string, size [2]float64) {
	what = strings.TrimSpace(words)
	rest, ok := strings.CutSuffix(what, " mm")
	left, height, sized := cutLast(rest, " × ")
	name, width, _ := cutLast(left, " ")
	if !ok || !sized {
		return what, size
	}
	for i, text := range []string{width, height} {
		n, err := strconv.ParseFloat(strings.ReplaceAll(text, ",", ""), 64)
		if err != nil {
			return what, [2]float64{}
		}
		size[i] = n
	}
	return name, size
}

// cutLast is [strings.Cut] at the last place.
func cutLast(s, sep string) (before, after string, found bool) {
	if i := strings.LastIndex(s, sep); i >= 0 {
		return s[:i], s[i+len(sep):], true
	}
	return s, "", false
}
