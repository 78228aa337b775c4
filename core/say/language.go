package say

import (
	"golang.org/x/text/feature/plural"
	"golang.org/x/text/language"

	"chalkstep/core/measure"
)

// A Language has the translations of what is said. What it lacks is said in
// English: a missing translation is better read than a missing text.
type Language struct {
	Tag language.Tag
	// Texts are by format, Words by word.
	Texts, Words map[string]string
	// Nouns are by the English singular, with their forms.
	Nouns map[string]Forms
}

// Forms of a noun by count; Other is used where the form for a count is
// empty.
type Forms struct{ One, Two, Few, Many, Other string }

// format is the translation of a format.
func (l *Language) format(english string) string {
	if l != nil {
		if own, ok := l.Texts[english]; ok {
			return own
		}
	}
	return english
}

func (l *Language) word(english string) string {
	if l != nil {
		if own, ok := l.Words[english]; ok {
			return own
		}
	}
	return english
}

// count prints a count with the form of its noun that the language has for
// it.
func (l *Language) count(n N) string {
	if l == nil {
		return measure.Plural(n.N, n.Noun)
	}
	forms, ok := l.Nouns[n.Noun]
	if !ok {
		return measure.Plural(n.N, n.Noun)
	}
	form := forms.Other
	own := map[plural.Form]string{plural.One: forms.One, plural.Two: forms.Two, plural.Few: forms.Few,
		plural.Many: forms.Many}
	if text := own[plural.Cardinal.MatchPlural(l.Tag, n.N, 0, 0, 0, 0)]; text != "" {
		form = text
	}
	return measure.Count(n.N) + " " + form
}
