package supply

import (
	"slices"
	"strings"

	"chalkstep/core/stitch"
)

// FromWords finds the key that the words of a shelf stood for before there
// were keys: "medium cut-away", "75/11 embroidery", "low, clear". kind is what
// the shelf called the thing then, fabrics are the fabrics of recipes. What no
// words of the trade stand for is a part of that name.
func FromWords(kind, words, color string, fabrics []string) Key {
	folded := Fold(words)
	first, rest, _ := strings.Cut(folded, " ")
	switch kind {
	case "thread":
		if c, err := stitch.ParseRGB(strings.ToLower(color)); err == nil {
			return Spool(Polyester, c)
		}
	case "bobbin":
		if folded != "" {
			return Bobbins(folded)
		}
	case "needle":
		if slices.Contains(Points, rest) && slices.Contains(NeedleSizes, first) {
			return Needles(rest, first)
		}
	case "blank":
		if folded != "" {
			return Named(Blank, folded)
		}
	case "roll", "sheet", "fabric":
		if k, ok := cutFrom(folded, fabrics); ok {
			return k
		}
	}
	if folded == "" {
		folded = "something"
	}
	return Named(Part, folded)
}

// cutFrom finds what a kit cuts its pieces from.
func cutFrom(words string, fabrics []string) (Key, bool) {
	weight, material, _ := strings.Cut(words, " ")
	switch {
	case slices.Contains(Weights, weight) && slices.Contains(StabilizerMaterials, material):
		return Sheet(material, weight), true
	case words == "water-soluble topper":
		return Key{Kind: Topper}, true
	case words == string(Batting) || words == string(Film) || words == string(Fusible):
		return Key{Kind: Kind(words)}, true
	case slices.Contains(fabrics, words):
		return Cloth(words), true
	}
	return Key{}, false
}
