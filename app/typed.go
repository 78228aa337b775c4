package app

import (
	"errors"
	"fmt"
	"strings"
	"unicode"
	"unicode/utf8"

	"chalkstep/core/measure"
	"chalkstep/core/say"
)

// Lengths of texts, in characters; the database holds to the same.
const (
	LongestName = 120
	LongestNote = 300
	LongestText = 1000
)

// cleaned is a text without what cannot be written or read: what is no UTF-8,
// control characters but for line ends, and marks that turn the direction of
// what follows them.
func cleaned(text string) string {
	return strings.Map(func(r rune) rune {
		switch {
		case r == utf8.RuneError, unicode.IsControl(r) && r != '\n', turnsDirection(r):
			return -1
		}
		return r
	}, strings.ReplaceAll(text, "\r\n", "\n"))
}

// turnsDirection tells marks that embed, override or isolate a direction of
// writing. What is written in scripts that run from the right does not need
// them, and around a name they turn whole lines.
func turnsDirection(r rune) bool { return r >= 0x202a && r <= 0x202e || r >= 0x2066 && r <= 0x2069 }

// shortened is a text of at most so many characters.
func shortened(text string, most int) string {
	if utf8.RuneCountInString(text) <= most {
		return text
	}
	return string([]rune(text)[:most])
}

// text reads a typed text of at most so many characters, in one line. What
// cannot be kept is a problem, and never left out silently.
func text(problems Problems, field, typed string, most int) string {
	t := strings.TrimSpace(typed)
	switch n := utf8.RuneCountInString(t); {
	case cleaned(t) != t || strings.Contains(t, "\n"):
		problems[field] = "There is a character in it that cannot be kept: write it again by hand."
	case n > most:
		problems[field] = fmt.Sprintf("Keep it to %d characters: these are %s.", most, measure.Count(n))
	default:
		return t
	}
	return ""
}

// name reads a typed name, which has to be there; missing says what to do when
// it is not.
func name(problems Problems, field, typed, missing string) string {
	t := text(problems, field, typed, LongestName)
	if t == "" && problems[field] == "" {
		problems[field] = missing
	}
	return t
}

// between notes a problem when a number lies outside its limits.
func between(problems Problems, field string, value, from, to float64, text string) {
	if !(value >= from && value <= to) {
		problems[field] = text
	}
}

// length reads a length typed in the person's units, within limits in
// millimetres.
func (d Desk) length(problems Problems, field, typed string, from, to float64) float64 {
	p := d.Printer()
	mm, err := p.Units.Parse(typed)
	var either measure.ThousandsError
	switch {
	case errors.As(err, &either):
		problems[field] = Sentence(either.Error())
		return 0
	case err != nil && p.Units == measure.Inches:
		problems[field] = "Write a length such as 4, 4 in, 14 7/8 or 100 mm."
		return 0
	case err != nil:
		problems[field] = "Write a length such as 100, 100 mm or 4 in."
		return 0
	}
	between(problems, field, mm, from, to, p.Say(say.T("The length is %s to %s.", say.MM(from), say.MM(to))))
	return mm
}

// number reads a typed number within limits; text says what to write.
func number(problems Problems, field, typed string, from, to float64, text string) float64 {
	n, err := measure.ParseNumber(typed)
	if err != nil || !(n >= from && n <= to) {
		problems[field] = text
		return 0
	}
	return n
}

// whole reads a typed whole number within limits.
func whole(problems Problems, field, typed string, from, to int, text string) int {
	n, err := measure.ParseCount(typed)
	if err != nil || n < from || n > to {
		problems[field] = text
		return 0
	}
	return n
}
