package ui

import (
	"math"
	"strings"
	"time"

	"chalkstep/core/say"
)

// A P prints on pages for the person who reads them: in their units and by
// their clock. Quantities stay on one line.
type P struct{ say.Printer }

// Lowered is a title as the middle of a sentence has it.
func Lowered(title say.Word) string { return strings.ToLower(string(title[:1])) + string(title[1:]) }

// unbroken keeps a quantity on one line.
func unbroken(text string) string { return strings.ReplaceAll(text, " ", "\u00a0") }

// Length prints millimetres to whole ones, or inches to eighths.
func (p P) Length(mm float64) string { return unbroken(p.Say(say.MM(mm))) }

// Fine prints a small length.
func (p P) Fine(mm float64) string { return unbroken(p.Say(say.Fine(mm))) }

// Exact prints a length that is multiplied many times over.
func (p P) Exact(mm float64) string { return unbroken(p.Units.Exact(mm)) }

// Off prints how far something is off, across and up.
func (p P) Off(acrossMM, upMM float64) string {
	sign := func(mm float64) string {
		if mm > 0 {
			return "+" + p.Fine(mm)
		}
		return p.Fine(mm)
	}
	return sign(acrossMM) + ", " + sign(upMM)
}

// Nudge prints how far something may go each way, across and up.
func (p P) Nudge(acrossMM, upMM float64) string {
	return unbroken(p.Units.Nudge(acrossMM, upMM))
}

// Across prints a distance as so far left or right.
func (p P) Across(mm float64) string { return p.way(mm, "left", "right") }

// Up prints a distance as so far down or up.
func (p P) Up(mm float64) string { return p.way(mm, "down", "up") }

// Above prints a distance as so far below or above.
func (p P) Above(mm float64) string { return p.way(mm, "below", "above") }

func (p P) way(mm float64, below, above string) string {
	if mm < 0 {
		return p.Fine(-mm) + " " + below
	}
	return p.Fine(mm) + " " + above
}

// Size prints a width and a height in millimetres.
func (p P) Size(widthMM, heightMM float64) string {
	return unbroken(p.Say(say.Size{widthMM, heightMM}))
}

// Thread prints a length of thread in millimetres.
func (p P) Thread(mm float64) string { return unbroken(p.Say(say.Thread(mm))) }

// Field fills a field with a length in millimetres.
func (p P) Field(mm float64) string { return p.Units.Field(mm) }

// Minutes prints a stretch of time.
func (p P) Minutes(minutes float64) string { return unbroken(p.Say(say.Minutes(minutes))) }

// Count prints how many.
func (p P) Count(n int) string { return p.Say(say.Count(n)) }

// Whole prints a number rounded to whole.
func (p P) Whole(n float64) string { return p.Say(say.Count(math.Round(n))) }

// Tenth prints a number to a tenth.
func (p P) Tenth(n float64) string { return p.Say(say.Decimal{Value: n, Places: 1}) }

// N prints a count with its noun.
func (p P) N(n int, noun string) string { return p.Say(say.N{N: n, Noun: noun}) }

// Cents prints money.
func (p P) Cents(cents int) string { return p.Say(say.Cents(cents)) }

// ClockField is a time of day as a field for times has it.
func (p P) ClockField(t time.Time) string {
	if p.Zone != nil {
		t = t.In(p.Zone)
	}
	return t.Format("15:04")
}

// Clock prints a time of day, Day its day, Date its day with the year.
func (p P) Clock(t time.Time) string { return p.Say(say.Clock(t)) }

// Day prints the day of a time.
func (p P) Day(t time.Time) string { return p.Say(say.Day(t)) }

// When prints a stretch of time of one day.
func (p P) When(from, to time.Time) string {
	return p.Day(from) + ", " + p.Clock(from) + "–" + p.Clock(to)
}

// Date prints the day of a time with its year.
func (p P) Date(t time.Time) string { return p.Say(say.Date(t)) }
