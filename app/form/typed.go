package form

import (
	"errors"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"unicode"
	"unicode/utf8"

	"chalkstep/core/measure"
	"chalkstep/core/say"
	"chalkstep/core/stock"
)

// Lengths of texts, in characters; the database holds to the same.
const (
	LongestName = 120
	LongestNote = 300
	LongestText = 1000
)

// Cleaned is a text without what cannot be written or read: what is no UTF-8,
// control characters but for line ends, and marks that turn the direction of
// what follows them.
func Cleaned(text string) string {
	return strings.Map(func(r rune) rune {
		switch {
		case r == utf8.RuneError, unicode.IsControl(r) && r != '\n', TurnsDirection(r):
			return -1
		}
		return r
	}, strings.ReplaceAll(text, "\r\n", "\n"))
}

// TurnsDirection tells marks that embed, override or isolate a direction of
// writing. What is written in scripts that run from the right does not need
// them, and around a name they turn whole lines.
func TurnsDirection(r rune) bool { return r >= 0x202a && r <= 0x202e || r >= 0x2066 && r <= 0x2069 }

// Shortened is a text of at most so many characters.
func Shortened(text string, most int) string {
	if utf8.RuneCountInString(text) <= most {
		return text
	}
	return string([]rune(text)[:most])
}

// Text reads a typed text of at most so many characters, in one line. What
// cannot be kept is a problem, and never left out silently.
func Text(problems Problems, field, typed string, most int) string {
	t := strings.TrimSpace(typed)
	switch n := utf8.RuneCountInString(t); {
	case Cleaned(t) != t || strings.Contains(t, "\n"):
		problems[field] = "There is a character in it that cannot be kept: write it again by hand."
	case n > most:
		problems[field] = fmt.Sprintf("Keep it to %d characters: these are %s.", most, measure.Count(n))
	default:
		return t
	}
	return ""
}

// Name reads a typed name, which has to be there; missing says what to do when
// it is not.
func Name(problems Problems, field, typed, missing string) string {
	t := Text(problems, field, typed, LongestName)
	if t == "" && problems[field] == "" {
		problems[field] = missing
	}
	return t
}

// Between notes a problem when a number lies outside its limits.
func Between(problems Problems, field string, value, from, to float64, text string) {
	if !(value >= from && value <= to) {
		problems[field] = text
	}
}

// Length reads a length typed in the person's units, within limits in
// millimetres.
func Length(p say.Printer, problems Problems, field, typed string, from, to float64) float64 {
	return length(p, problems, field, typed, from, to, say.T("The length is %s to %s.", say.MM(from), say.MM(to)))
}

// FineLength is [For.Length] where a millimetre is much.
func FineLength(p say.Printer, problems Problems, field, typed string, from, to float64) float64 {
	return length(p, problems, field, typed, from, to, say.T("The length is %s to %s.", say.Fine(from), say.Fine(to)))
}

func length(p say.Printer, problems Problems, field, typed string, from, to float64, limits say.Text) float64 {
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
	Between(problems, field, mm, from, to, p.Say(limits))
	return mm
}

// Number reads a typed number within limits; text says what to write.
func Number(problems Problems, field, typed string, from, to float64, text string) float64 {
	n, err := measure.ParseNumber(typed)
	if err != nil || !(n >= from && n <= to) {
		problems[field] = text
		return 0
	}
	return n
}

// Whole reads a typed whole number within limits.
func Whole(problems Problems, field, typed string, from, to int, text string) int {
	n, err := measure.ParseCount(typed)
	if err != nil || n < from || n > to {
		problems[field] = text
		return 0
	}
	return n
}

// Quantity reads how much of an item was typed: metres or yards of what is
// counted by length. Thread may be said in spools: "2 spools".
func Quantity(p say.Printer, problems Problems, field string, item stock.Item, typed, problem string) float64 {
	if item.Form == stock.Spool {
		for _, word := range []string{"spools", "spool"} {
			if spools, said := strings.CutSuffix(strings.ToLower(strings.TrimSpace(typed)), word); said {
				return Number(problems, field, spools, 0, 1e4, problem) * item.Single()
			}
		}
	}
	n := Number(problems, field, typed, 0, 1e6, problem)
	if item.ByLength() {
		return n * p.Units.ClothMM()
	}
	return n
}

// TypedLength is a length as a form is filled with it, empty for none.
func TypedLength(p say.Printer, mm float64) string {
	if mm == 0 {
		return ""
	}
	return p.Units.Field(mm)
}

// TypedQuantity is a quantity of an item as a form is filled with it.
func TypedQuantity(p say.Printer, item stock.Item, n float64) string {
	if item.ByLength() {
		return Plain(math.Round(n/p.Units.ClothMM()*1000) / 1000)
	}
	return Plain(n)
}

// Plain writes a number as a form is filled with it.
func Plain(n float64) string { return strconv.FormatFloat(n, 'f', -1, 64) }

// Tenth writes minutes as a form is filled with them: to a tenth.
func Tenth(minutes float64) string { return Plain(math.Round(minutes*10) / 10) }

// Chosen reads one of some choices; empty stands for the workshop's.
func Chosen(problems Problems, field, typed string, of []string, problem string) string {
	if typed != "" && !slices.Contains(of, typed) {
		problems[field] = problem
		return ""
	}
	return typed
}
