package say_test

import (
	"encoding/json"
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/text/language"

	"chalkstep/core/measure"
	"chalkstep/core/say"
)

// One text is written for each reader in their own units and by their own
// clock.
func TestATextIsWrittenForItsReader(t *testing.T) {
	at := time.Date(2026, 11, 28, 15, 40, 0, 0, time.UTC)
	text := say.T("cut %s of %s by %s", say.N{N: 2, Noun: "sheet"}, say.Size{200, 250}, say.Clock(at))
	assert.Equal(t, "cut 2 sheets of 200 × 250 mm by 15:40", text.String())
	sydney, err := time.LoadLocation("Australia/Sydney")
	require.NoError(t, err)
	reader := say.Printer{Units: measure.Inches, TwelveHours: true, Zone: sydney}
	assert.Equal(t, "cut 2 sheets of 7 7/8 × 9 7/8 in by 2:40 am", reader.Say(text))
}

func TestQuantities(t *testing.T) {
	at := time.Date(2026, 11, 28, 15, 40, 0, 0, time.UTC)
	for want, quantity := range map[string]any{
		"62 mm": say.MM(62.4), "62 × 88 mm": say.Size{62, 88}, "46.2 m": say.Thread(46_210), "22 minutes": say.Minutes(22.4),
		"1 minute": say.Minutes(0.2),
		"2 h 05":   say.Minutes(125), "8,123": say.Count(8123), "15 %": say.Percent(15), "15:40": say.Clock(at),
		"Sat 28 Nov": say.Day(at), "28 Nov 2026": say.Date(at),
		"cut-away": say.Word("cut-away"), "12.50": say.Cents(1250), "4 stops": say.N{N: 4, Noun: "stop"},
		"1.35":              say.Decimal{Value: 1.35, Places: 2},
		"a, b and 2 copies": say.List{"a", say.T("%s", "b"), say.N{N: 2, Noun: "copy"}}, "a": say.List{"a"}, "": say.List{},
		"Ana, Bo and 3 more": say.Few([]string{"Ana", "Bo", "Cy", "Dee", "Iris"}, 2),
	} {
		assert.Equal(t, want, say.Plain.Say(quantity))
	}
}

// What a person wrote is printed as it is, whatever signs it holds.
func TestNamesArePrintedAsTheyAre(t *testing.T) {
	assert.Equal(t, "100 %s sure of “%d”", say.Name("100 %s sure of “%d”").String())
	assert.Equal(t, "for Ana %!", say.T("for %s", "Ana %!").String())
}

func TestSentences(t *testing.T) {
	for text, want := range map[string]string{"élan": "Élan.", "Done.": "Done.", "why?": "Why?", "first:": "First:",
		"": ""} {
		assert.Equal(t, want, say.Sentence(text))
	}
	assert.Equal(t, "The one medium hoop is 5 mm too small.",
		say.Plain.Sentence(say.T("the one %s hoop is %s too small", "medium", say.MM(5))))
}

func TestATextInsideATextAndInJSON(t *testing.T) {
	inner := say.T("needle %s", "75/11")
	assert.Equal(t, "take the needle 75/11", say.T("take the %s", inner).String())
	data, err := json.Marshal(map[string]say.Text{"because": inner, "nothing": {}})
	require.NoError(t, err)
	assert.JSONEq(t, `{"because":"needle 75/11","nothing":""}`, string(data))
	assert.True(t, say.Text{}.Silent())
}

// A mistake in a text is seen instead of lost.
func TestWhatCannotBeSaidIsSeen(t *testing.T) {
	assert.Contains(t, say.T("%s", 12).String(), "%!(int)")
	assert.Contains(t, say.T("%s and %s", "one").String(), "%!s(MISSING)")
}

// A language turns words round, knows how it counts, and says in English what
// it lacks.
func TestALanguage(t *testing.T) {
	polish := &say.Language{
		Tag: language.Polish,
		Texts: map[string]string{
			"%s of %s": "%[2]s: %[1]s",
		},
		Words: map[string]string{"cut-away": "wycinana"},
		Nouns: map[string]say.Forms{"sheet": {One: "arkusz", Few: "arkusze", Many: "arkuszy", Other: "arkusza"}},
	}
	p := say.Printer{Language: polish}
	for n, want := range map[int]string{1: "wycinana: 1 arkusz", 3: "wycinana: 3 arkusze", 5: "wycinana: 5 arkuszy",
		22: "wycinana: 22 arkusze"} {
		assert.Equal(t, want, p.Say(say.T("%s of %s", say.N{N: n, Noun: "sheet"}, say.Word("cut-away"))))
	}
	assert.Equal(t, "2 stops left", p.Say(say.T("%s left", say.N{N: 2, Noun: "stop"})))
}

func ExamplePrinter() {
	why := say.T("sheets are cut %s larger than the hoop", say.MM(25))
	fmt.Println(say.Plain.Sentence(why))
	fmt.Println(say.Printer{Units: measure.Inches}.Sentence(why))
	// Output:
	// Sheets are cut 25 mm larger than the hoop.
	// Sheets are cut 1 in larger than the hoop.
}
