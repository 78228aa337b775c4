// Package say holds what is to be said until it is known to whom: a [Text] is
// a format with quantities, and a [Printer] writes it in the reader's units,
// clock and language. The rules of the trade say why by texts, so that nothing
// they say is tied to millimetres or to English.
package say

import (
	"fmt"
	"strconv"
	"strings"
	"time"
	"unicode"
	"unicode/utf8"

	"chalkstep/core/measure"
)

// A Text is a format and what it is about. The format is English, with a %s
// for each argument in its order or a %[2]s for the one meant, and is the key
// by which a [Language] knows the text. The zero Text says nothing.
type Text struct {
	Format string
	Args   []any
}

// T is a text of a format and its arguments: the quantities of this package,
// words, other texts, anything that is a [Sayer], and plain strings, which are
// names and printed as they are.
func T(format string, args ...any) Text { return Text{format, args} }

// Name is a text that is nothing but a name or what a person wrote.
func Name(name string) Text { return T("%s", name) }

// Silent tells that a text says nothing.
func (t Text) Silent() bool { return t.Format == "" }

// String writes a text in millimetres, by a 24-hour clock, in English: for
// logs, tests and the shell.
func (t Text) String() string { return Plain.Say(t) }

// MarshalText implements [encoding.TextMarshaler], as String does.
func (t Text) MarshalText() ([]byte, error) { return []byte(t.String()), nil }

// A Sayer can be said.
type Sayer interface{ Say() Text }

// Quantities and words that a text may hold.
type (
	// MM is a length in millimetres.
	MM float64
	// Fine is a small length in millimetres, printed to a tenth of one.
	Fine float64
	// Size is a width and a height in millimetres.
	Size [2]float64
	// Thread is a length of thread in millimetres, printed in metres or yards.
	Thread float64
	// Cloth is a length off a roll in millimetres, printed in metres or yards.
	Cloth float64
	// Minutes is a stretch of time.
	Minutes float64
	// Count is how many.
	Count int
	// Percent is a whole share of a hundred.
	Percent int
	// A Clock is a time of day; Day is its day, Date its day with the year.
	Clock time.Time
	Day   time.Time
	Date  time.Time
	// Word is a word of ours, which has translations; a plain string has none.
	Word string
	// Cents is money as the shelf has it, without a currency.
	Cents int
	// List is things in a row, as a sentence has them.
	List []any
)

// N is a count with its noun: "4 stops".
type N struct {
	N    int
	Noun string
}

// Decimal is a number with so many places.
type Decimal struct {
	Value  float64
	Places int
}

// A Printer writes for one reader.
type Printer struct {
	Units measure.Units
	// TwelveHours writes times as 3:40 pm.
	TwelveHours bool
	// Zone of the times; nil leaves them in their own.
	Zone *time.Location
	// Today tells which year need not be said; zero leaves it out always.
	Today time.Time
	// Language of the reader; nil is English.
	Language *Language
}

// Plain writes millimetres, by a 24-hour clock, in English.
var Plain Printer

// Say writes a text, a quantity or a word.
func (p Printer) Say(what any) string {
	switch v := what.(type) {
	case Text:
		return p.text(v)
	case string:
		return v
	case MM:
		return p.Units.Length(float64(v))
	case Fine:
		return p.Units.Fine(float64(v))
	case Size:
		return p.Units.Size(v[0], v[1])
	case Thread:
		return p.Units.Thread(float64(v))
	case Cloth:
		return p.Units.Cloth(float64(v))
	case Minutes:
		return p.minutes(float64(v))
	case Count:
		return measure.Count(int(v))
	case Percent:
		return strconv.Itoa(int(v)) + " %"
	case Clock:
		return p.clock(time.Time(v))
	case Day:
		if day := p.in(time.Time(v)); !p.Today.IsZero() && day.Year() != p.in(p.Today).Year() {
			return day.Format("Mon 2 Jan 2006")
		}
		return p.in(time.Time(v)).Format("Mon 2 Jan")
	case Date:
		return p.in(time.Time(v)).Format("2 Jan 2006")
	case Word:
		return p.Language.word(string(v))
	case Cents:
		return fmt.Sprintf("%d.%02d", v/100, v%100)
	case List:
		return p.list(v)
	case N:
		return p.Language.count(v)
	case Decimal:
		return strconv.FormatFloat(v.Value, 'f', v.Places, 64)
	case Sayer:
		return p.text(v.Say())
	}
	// A mistake in a text is seen by whoever reads it, and by its test.
	return fmt.Sprintf("%%!(%T)", what)
}

// Sentence writes a text as a sentence: with a capital letter and a full stop.
func (p Printer) Sentence(what any) string { return Sentence(p.Say(what)) }

// Lines writes several texts.
func (p Printer) Lines(texts []Text) []string {
	lines := make([]string, len(texts))
	for i, t := range texts {
		lines[i] = p.Say(t)
	}
	return lines
}

// Sentence makes a text a sentence.
func Sentence(text string) string {
	first, size := utf8.DecodeRuneInString(text)
	if size == 0 {
		return ""
	}
	text = string(unicode.ToUpper(first)) + text[size:]
	if strings.ContainsRune(".!?:", rune(text[len(text)-1])) {
		return text
	}
	return text + "."
}

func (p Printer) text(t Text) string {
	if t.Silent() {
		return ""
	}
	args := make([]any, len(t.Args))
	for i, a := range t.Args {
		args[i] = p.Say(a)
	}
	return fmt.Sprintf(p.Language.format(t.Format), args...)
}

func (p Printer) minutes(minutes float64) string {
	n := measure.WholeMinutes(minutes)
	if n < 120 {
		return p.Language.count(N{n, "minute"})
	}
	return p.text(T("%s h %s", strconv.Itoa(n/60), fmt.Sprintf("%02d", n%60)))
}

func (p Printer) in(t time.Time) time.Time {
	if p.Zone == nil {
		return t
	}
	return t.In(p.Zone)
}

func (p Printer) clock(t time.Time) string {
	if p.TwelveHours {
		return p.in(t).Format("3:04 pm")
	}
	return p.in(t).Format("15:04")
}

func (p Printer) list(items List) string {
	words := make([]string, len(items))
	for i, item := range items {
		words[i] = p.Say(item)
	}
	if len(words) < 2 {
		return strings.Join(words, "")
	}
	last := len(words) - 1
	return p.text(T("%s and %s", strings.Join(words[:last], ", "), words[last]))
}

// Listed puts things in a row as a sentence has them.
func Listed[E any](items []E) List {
	list := make(List, len(items))
	for i, item := range items {
		list[i] = item
	}
	return list
}

// Few is a list of at most so many things, and how many there are beyond them.
func Few[E any](items []E, most int) List {
	if len(items) <= most {
		return Listed(items)
	}
	return append(Listed(items[:most]), T("%s more", Count(len(items)-most)))
}
