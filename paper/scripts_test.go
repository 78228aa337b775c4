package paper_test

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/paper"
)

// Names as people have them, in the scripts of print.
var scriptNames = map[string]string{
	"Latin with marks": "Łukasz Şahin-Őry", "Vietnamese": "Nguyễn Thị Ánh",
	"Greek": "Ελένη Παπαδοπούλου", "Cyrillic": "Дмитрий Соколов", "Chinese": "王小明",
	"Japanese": "ひらがな",
	"Korean":   "김민준", "Arabic": "مريم الحداد", "Hebrew": "דוד לוי",
	"Hindi": "नन्दिनी",
	"Thai":  "สมชาย ใจดี", "Georgian": "გიორგი", "Armenian": "Հայկ",
	"Tamil": "தமிழ்", "Bengali": "বাংলা",
	"Gujarati": "ગુજરાતી", "Ethiopic": "አበበ", "Lao": "ລາວ", "Khmer": "ខ្មែរ",
	"Burmese": "မြန်မာ", "emoji": "🧵😀", "signs": "∑★✂♥",
}

func labelOf(name string) paper.Label {
	return paper.Label{Name: name, Class: "Buoy badges", Project: "Badges",
		Sitting: "Sits down as number 3, at " + paper.Isolated(name) + ", then waits", Lines: []string{"1 × felt sheet"},
		Link: "http://127.0.0.1:8080/"}
}

// Every script prints: what is printed can be read back from the page.
func TestNamesPrintInTheirScripts(t *testing.T) {
	for script, name := range scriptNames {
		t.Run(script, func(t *testing.T) {
			missing, err := paper.Unprintable(name)
			require.NoError(t, err)
			assert.Empty(t, missing)
			pdf, err := paper.Labels(t.Context(), []paper.Label{labelOf(name)}, paper.LabelSheets[0])
			require.NoError(t, err)
			printed := ""
			for _, w := range words(t, pdf) {
				printed += w.text
			}
			// Scripts that join letters print shapes of several at once.
			if slices.Contains([]string{"Latin with marks", "Greek", "Cyrillic", "Chinese", "Japanese", "Korean", "Hebrew"},
				script) {
				for _, r := range strings.ReplaceAll(name, " ", "") {
					assert.Contains(t, printed, string(r))
				}
			}
			assert.Greater(t, len([]rune(printed)), len([]rune("BadgesBuoybadgesSitsdownasnumber3,at,thenwaits1×feltsheet"))+1,
				"the name is on the page")
		})
	}
}

// What no font has is said beforehand and printed as a box of its own.
func TestWhatNoFontHasIsSaid(t *testing.T) {
	const odd = "Ada \U00016F00\U000E0A00 of \U00016F00"
	missing, err := paper.Unprintable(odd, "plain")
	require.NoError(t, err)
	assert.Equal(t, []rune{0x16F00}, missing[:1])
	drawn := func(name string) int {
		pdf, err := paper.Labels(t.Context(), []paper.Label{labelOf(name)}, paper.LabelSheets[0])
		require.NoError(t, err)
		return len(pdf)
	}
	assert.Greater(t, drawn("Ada \U00016F00"), drawn("Ada "), "a box is drawn in its place")
	missing, err = paper.Unprintable("joined\u200d and \u202eturned\u202c, controls\x07")
	require.NoError(t, err)
	assert.Empty(t, missing, "what is not seen is not missed")
}

// A name from the right, or with marks that turn directions, leaves the words
// round it where they are.
func TestANameDoesNotTurnItsLine(t *testing.T) {
	for _, name := range []string{"مريم", "דוד", "\u202eevil\u202c", "\u2067evil\u2069", "\u202eevil", "Ana"} {
		pdf, err := paper.Labels(t.Context(), []paper.Label{labelOf(name)}, paper.LabelSheets[0])
		require.NoError(t, err)
		var order []string
		at := map[string]float64{}
		for _, w := range words(t, pdf) {
			if text := strings.TrimRight(w.text,
				","); slices.Contains([]string{"Sits", "down", "number", "3", "at", "then", "waits"}, text) {
				order, at[text] = append(order, text), w.left
			}
		}
		require.Len(t, order, 7, name)
		slices.SortFunc(order, func(a, b string) int { return int(100 * (at[a] - at[b])) })
		assert.Equal(t, []string{"Sits", "down", "number", "3", "at", "then", "waits"}, order, name)
	}
}

// Printing ends when nobody waits for it any more.
func TestPrintingStopsWithItsRequest(t *testing.T) {
	ctx, cancel := context.WithCancel(t.Context())
	cancel()
	_, err := paper.Labels(ctx, []paper.Label{labelOf("Ana")}, paper.LabelSheets[0])
	assert.ErrorIs(t, err, context.Canceled)
	_, err = paper.Cards(ctx, []paper.Card{{Title: "Ana"}}, paper.A4)
	assert.ErrorIs(t, err, context.Canceled)
	_, err = paper.Table{Title: "To buy", Rows: [][]string{{"a"}}, Widths: []float64{1}}.PDF(ctx, paper.A4)
	assert.ErrorIs(t, err, context.Canceled)
}

// A word without end is broken and printed whole.
func TestAWordWithoutEndIsBroken(t *testing.T) {
	word := strings.Repeat("stabilizer", 200)
	pdf, err := paper.Table{Title: "To buy", Head: []string{"What"}, Rows: [][]string{{word}},
		Widths: []float64{1}}.PDF(t.Context(), paper.A4)
	require.NoError(t, err)
	printed := ""
	for _, w := range words(t, pdf) {
		printed += w.text
	}
	assert.Contains(t, printed, word)
}

// BenchmarkALongWord shows that the time grows with the length of a word and
// no faster.
func BenchmarkALongWord(b *testing.B) {
	for _, n := range []int{500, 1000, 2000, 4000} {
		b.Run(fmt.Sprint(n), func(b *testing.B) {
			table := paper.Table{Title: "To buy", Head: []string{"What"}, Rows: [][]string{{strings.Repeat("w", n)}},
				Widths: []float64{1}}
			for b.Loop() {
				if _, err := table.PDF(b.Context(), paper.A4); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}
