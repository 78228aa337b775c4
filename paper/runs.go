package paper

import (
	"slices"
	"strings"
	"unicode"

	"github.com/benoitkugler/textprocessing/fribidi"
	lru "github.com/hashicorp/golang-lru/v2"
	"github.com/tdewolff/canvas"
)

// Marks that set a text apart from the direction of what is around it.
const (
	isolate    = '\u2068'
	isolateEnd = '\u2069'
)

// Isolated sets a name apart, so that one written from the right does not turn
// what stands beside it in the line.
func Isolated(name string) string {
	if !strings.ContainsFunc(name, fromTheRight) {
		return name
	}
	return string(isolate) + strings.Map(func(r rune) rune {
		if turnsDirection(r) {
			return -1
		}
		return r
	}, name) + string(isolateEnd)
}

// fromTheRight tells characters of scripts that are written from the right.
func fromTheRight(r rune) bool {
	return unicode.In(r, unicode.Arabic, unicode.Hebrew, unicode.Syriac, unicode.Thaana, unicode.Nko, unicode.Adlam)
}

// turnsDirection tells marks that embed, override or isolate a direction.
func turnsDirection(r rune) bool { return r >= 0x202a && r <= 0x202e || r >= 0x2066 && r <= 0x2069 }

// invisible tells characters that are there to be heeded and not to be seen.
func invisible(r rune) bool {
	return turnsDirection(r) || unicode.In(r, unicode.Cf, unicode.Variation_Selector, unicode.Cc)
}

// A run is a stretch of a line in one font and one direction.
type run struct {
	text  string
	font  *canvas.FontFamily // nil where no font has its characters
	style canvas.FontStyle
	level int
}

// How a box for a character that no font has is drawn, in parts of the size.
const (
	boxPitch = 0.7
	boxSide  = 0.55
)

// boxes is how many characters of the run no font has.
func (r run) boxes() int { return len([]rune(r.text)) }

// width of a run at size 1.
func (r run) width() float64 {
	if r.font == nil {
		return boxPitch * float64(r.boxes())
	}
	const size = 10 // at which widths are measured; small sizes round
	return remembered(wideText{r.text, r.font, r.style}, func() float64 {
		return r.font.Face(size*pointsPerMM, ink, r.style).TextWidth(r.text) / size
	})
}

// Widths are remembered of so many words of so many bytes: finding one out takes
// a third of a millisecond, and a page asks for the same again and again.
const (
	knownWidths = 20_000
	longestWord = 60
)

// A wideText is a text as far as its width goes, in one font or, where that is
// nil, in whichever its characters need.
type wideText struct {
	text  string
	font  *canvas.FontFamily
	style canvas.FontStyle
}

var widths, _ = lru.New[wideText, float64](knownWidths) // fails for no size only

func remembered(t wideText, measure func() float64) float64 {
	if w, known := widths.Get(t); known {
		return w
	}
	w := measure()
	if len(t.text) <= longestWord {
		widths.Add(t, w)
	}
	return w
}

// runs takes a line apart as it is seen from the left: what is written from
// the right is in its own runs, and the line as a whole runs from the left.
func (f *faces) runs(line string, style canvas.FontStyle) []run {
	runes := []rune(line)
	levels := levelsOf(runes)
	var all []run
	var font *fontFile
	for i, r := range runes {
		if turnsDirection(r) || unicode.IsControl(r) {
			continue
		}
		found := font
		if !invisible(r) && !unicode.In(r, unicode.Mn, unicode.Me) || found == nil {
			found = f.find(r)
		} else if !found.has(r) && !invisible(r) {
			found = f.find(r) // a mark that the letter's font has not
		}
		if found == nil && invisible(r) {
			continue
		}
		n := len(all)
		if n == 0 || found != font || all[n-1].level != levels[i] {
			all = append(all, run{style: style, level: levels[i]})
			n++
			if found != nil {
				all[n-1].font, _ = found.family()
			}
		}
		font = found
		all[n-1].text += string(r)
	}
	reorder(all)
	return all
}

// levelsOf gives each character its level: even ones run from the left, odd
// ones from the right.
func levelsOf(runes []rune) []int {
	levels := make([]int, len(runes))
	if !slices.ContainsFunc(runes, fromTheRight) {
		return levels
	}
	base := fribidi.CharType(fribidi.LTR)
	seen, _ := fribidi.LogicalToVisual(fribidi.DefaultFlags, runes, &base)
	for i, level := range seen.EmbeddingLevels {
		levels[i] = int(level)
	}
	return levels
}

// reorder puts runs in the order they are seen in: from the highest level
// down, stretches of that level or more are turned round.
func reorder(runs []run) {
	highest := 0
	for _, r := range runs {
		highest = max(highest, r.level)
	}
	for level := highest; level > 0; level-- {
		for from := 0; from < len(runs); from++ {
			to := from
			for to < len(runs) && runs[to].level >= level {
				to++
			}
			slices.Reverse(runs[from:to])
			from = max(from, to-1)
		}
	}
}

// width of a line at size 1.
func (f *faces) width(line string, style canvas.FontStyle) float64 {
	return remembered(wideText{text: line, style: style}, func() (w float64) {
		for _, r := range f.runs(line, style) {
			w += r.width()
		}
		return w
	})
}

// fitting is how many bytes of a word fit a width at size 1: whole characters,
// and at least one. A word without end is looked at no farther than a line
// holds.
func (f *faces) fitting(word string, most float64, style canvas.FontStyle) int {
	const usual = 24
	if len(word) <= usual && f.width(word, style) <= most {
		return len(word)
	}
	var ends []int // of the characters with the marks that belong to them
	narrowest := 0.05
	for i, r := range word {
		if i > 0 && !unicode.In(r, unicode.Mn, unicode.Me, unicode.Mc) && !invisible(r) {
			ends = append(ends, i)
		}
		if float64(len(ends))*narrowest > most {
			break
		}
	}
	if float64(len(ends))*narrowest <= most {
		ends = append(ends, len(word))
	}
	high := 8
	for high < len(ends) && f.width(word[:ends[high-1]], style) <= most {
		high *= 2
	}
	high = min(high, len(ends))
	n, _ := slices.BinarySearchFunc(ends[:high], most, func(end int, most float64) int {
		if f.width(word[:end], style) <= most {
			return -1
		}
		return 1
	})
	return ends[max(0, n-1)]
}
