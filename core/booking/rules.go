// Package booking is who may have which machine when: the rules of a house, the stretches
// that are free by them, and the best of these for something to sew.
package booking

import (
	"time"

	"chalkstep/core/say"
)

// A Span is a stretch of time, without its end.
type Span struct{ From, To time.Time }

// Length of a span.
func (s Span) Length() time.Duration { return s.To.Sub(s.From) }

// Meets tells whether two have a moment in common.
func (s Span) Meets(other Span) bool { return s.From.Before(other.To) && s.To.After(other.From) }

// Within tells whether a span lies in another.
func (s Span) Within(other Span) bool { return !s.From.Before(other.From) && !s.To.After(other.To) }

// Since is what is left of a span from a time on, with a length below 0 where nothing is.
func (s Span) Since(at time.Time) Span { return Span{later(s.From, at), s.To} }

// An Opening is when the house is open on a day, in minutes after midnight by the clock
// on the wall; one that does not end after it begins is a day on which it is closed.
type Opening struct {
	From int `json:"from"`
	To   int `json:"to"`
}

// Closed tells that it is not open at all.
func (o Opening) Closed() bool { return o.To <= o.From }

// A Closure is a day on which the house is closed, as forms write it (2026-12-25), and why.
type Closure struct {
	Day string `json:"day"`
	Why string `json:"why"`
}

// Rules of a house for booking (handbook, Booking shared machines). 0 stands for no limit,
// but for LeastMinutes.
type Rules struct {
	// Hours are by [time.Weekday].
	Hours  [7]Opening `json:"hours"`
	Closed []Closure  `json:"closed,omitempty"`
	// LeastMinutes and MostMinutes are how short and how long a booking is.
	LeastMinutes int `json:"least_minutes"`
	MostMinutes  int `json:"most_minutes"`
	// WeekMinutes is how much of a week somebody may have booked.
	WeekMinutes int `json:"week_minutes"`
	// GapMinutes lie between two people at one machine.
	GapMinutes int `json:"gap_minutes"`
	// AheadDays is how far ahead is booked.
	AheadDays int `json:"ahead_days"`
	// GraceMinutes after its start a booking is given up where nobody has sat down.
	GraceMinutes int `json:"grace_minutes"`
	// IdleDays is after how long without a mark clearance to book alone lapses.
	IdleDays int `json:"idle_days"`
}

// Defaults are the handbook's; the hours and after how long a clearance lapses are ours.
func Defaults() Rules {
	r := Rules{LeastMinutes: 30, MostMinutes: 180, WeekMinutes: 360, GapMinutes: 10, AheadDays: 28, GraceMinutes: 15,
		IdleDays: 365}
	for day := range r.Hours {
		r.Hours[day] = Opening{From: 9 * 60, To: 21 * 60}
	}
	return r
}

// OpenOn is when the house is open on the day of a moment, by the clock of a zone; ok is
// false on a closed day.
func (r Rules) OpenOn(day time.Time, zone *time.Location) (open Span, ok bool) {
	day = day.In(zone)
	o := r.Hours[day.Weekday()]
	if _, closed := r.ClosedOn(day, zone); closed || o.Closed() {
		return Span{}, false
	}
	at := func(minute int) time.Time {
		return time.Date(day.Year(), day.Month(), day.Day(), 0, minute, 0, 0, zone)
	}
	return Span{at(o.From), at(o.To)}, true
}

// ClosedOn finds the closure on the day of a moment.
func (r Rules) ClosedOn(day time.Time, zone *time.Location) (Closure, bool) {
	text := day.In(zone).Format(time.DateOnly)
	for _, c := range r.Closed {
		if c.Day == text {
			return c, true
		}
	}
	return Closure{}, false
}

// Week is the week of a moment by the clock of a zone, from Monday.
func Week(at time.Time, zone *time.Location) Span {
	at = at.In(zone)
	back := (int(at.Weekday()) + 6) % 7
	from := time.Date(at.Year(), at.Month(), at.Day()-back, 0, 0, 0, 0, zone)
	return Span{from, time.Date(from.Year(), from.Month(), from.Day()+7, 0, 0, 0, 0, zone)}
}

// A Broken rule says which and how.
type Broken struct {
	Rule Rule
	Why  say.Text
}

// A Rule of a house.
type Rule string

// The rules that a booking can break.
const (
	RuleHours Rule = "hours"
	RuleLeast Rule = "least"
	RuleMost  Rule = "most"
	RuleAhead Rule = "ahead"
	RuleWeek  Rule = "week"
	RuleGap   Rule = "gap"
)

// Check lists which rules a booking breaks, of somebody who has so much of its week booked
// already, at a machine that is taken otherwise as told.
func (r Rules) Check(s Span, weekMinutes float64, taken []Span, now time.Time, zone *time.Location) []Broken {
	var broken []Broken
	add := func(rule Rule, why say.Text) { broken = append(broken, Broken{rule, why}) }
	open, ok := r.OpenOn(s.From, zone)
	closure, closed := r.ClosedOn(s.From, zone)
	switch {
	case closed:
		add(RuleHours, say.T("the workshop is closed on %s: %s", say.Day(s.From), say.Name(closure.Why)))
	case !ok:
		add(RuleHours, say.T("the workshop is closed on %s", say.Day(s.From)))
	case !s.Within(open):
		add(RuleHours, say.T("the workshop is open from %s to %s then", say.Clock(open.From), say.Clock(open.To)))
	}
	minutes := s.Length().Minutes()
	if minutes < float64(r.LeastMinutes) {
		add(RuleLeast, say.T("a booking is at least %s", say.Minutes(r.LeastMinutes)))
	}
	if r.MostMinutes > 0 && minutes > float64(r.MostMinutes) {
		add(RuleMost, say.T("a booking is at most %s", say.Minutes(r.MostMinutes)))
	}
	if latest := now.AddDate(0, 0, r.AheadDays); r.AheadDays > 0 && s.From.After(latest) {
		add(RuleAhead, say.T("machines are booked at most %s ahead", say.N{N: r.AheadDays, Noun: "day"}))
	}
	if r.WeekMinutes > 0 && weekMinutes+minutes > float64(r.WeekMinutes) {
		add(RuleWeek, say.T("somebody has at most %s of a week, and %s of that one are booked", say.Minutes(r.WeekMinutes),
			say.Minutes(weekMinutes)))
	}
	gap := time.Duration(r.GapMinutes) * time.Minute
	for _, t := range taken {
		if !s.Meets(t) && s.Meets(Span{t.From.Add(-gap), t.To.Add(gap)}) {
			add(RuleGap, say.T("between two people lie %s, and the machine is taken from %s to %s", say.Minutes(r.GapMinutes),
				say.Clock(t.From), say.Clock(t.To)))
			break
		}
	}
	return broken
}
