package bookings

import (
	"fmt"
	"math"
	"net/url"
	"strconv"
	"strings"
	"time"

	app "chalkstep/app/bookings"
	"chalkstep/core/booking"
	"chalkstep/core/fleet"
	"chalkstep/core/say"
	"chalkstep/web/ui"
)

// A weekView draws a week: a band a day, a lane a machine, the hours along a yardstick.
type weekView struct {
	Answer, Note   string
	Week, Only     string
	Earlier, Later string
	All            string
	Machines       []machineChoice
	Width, Height  float64
	Hours          []hourTick
	Days           []dayBand
	Lines          []bookingLine
	Waits          []waitLine
	// More says how many bookings the list leaves out, which the drawing has.
	More     string
	Slots    []slotLine
	Cannot   []string
	Asked    bool
	LaneLeft float64
}

type machineChoice struct {
	ID   int64
	Name string
	Link string
	Here bool
}

type hourTick struct {
	X    float64
	Text string
	Last bool
}

// A dayBand is a day of the week: its lanes, and what lies in them.
type dayBand struct {
	Y, Height, TextY float64
	Name             string
	Today            bool
	// Closed says why nothing can be booked, empty where it can.
	Closed string
	Lanes  []lane
	Blocks []weekBlock
	Free   []freeStretch
	// NowX is where it is now, 0 on another day.
	NowX float64
}

type lane struct {
	Y, TextY float64
	Name     string
}

// A weekBlock is a booking, or a time in which the machine cannot be used.
type weekBlock struct {
	X, Y, Width, Height, TextY float64
	Kind, Text, Title          string
	Link                       string
}

// A freeStretch can be booked: pressing it fills in the form.
type freeStretch struct {
	X, Y, Width, Height float64
	Link, Title         string
	// From and To are minutes of the day, for pressing in the middle of it.
	From, To int
}

type bookingLine struct {
	ID                        int64
	Day, Time, Machine, For   string
	ForLink, Beside, Overrode string
	Cancel                    bool
	Out                       bool
	// Sit tells that they are expected to sit down, Sat that they have.
	Sit, Sat bool
}

type slotLine struct {
	Text, Why string
	Link      string
}

// Measures of the drawing, in pixels.
const (
	weekWidth  = 800.0
	laneLeft   = 132.0
	hoursTop   = 18.0
	dayGap     = 8.0
	fleetLane  = 16.0
	singleLane = 40.0
	laneInset  = 1.5
	letterWide = 6.2 // of the text in blocks, on average
)

// aBooking is how long is proposed where nothing else says.
const aBooking = 60

func newWeekView(p ui.P, d app.UseCases, page app.WeekPage, slots app.SlotsPage, look app.SlotsInput) weekView {
	v := weekView{Week: page.From.Format(time.DateOnly), Width: weekWidth, LaneLeft: laneLeft, Asked: slots.Asked}
	only := int64(0)
	if len(page.Machines) == 1 && len(page.All) > 1 {
		only = page.Machines[0].ID
		v.Only = strconv.FormatInt(only, 10)
	}
	v.Earlier, v.Later = weekAddress(page.From.AddDate(0, 0, -7).Format(time.DateOnly), only),
		weekAddress(page.To.Format(time.DateOnly), only)
	v.All = weekAddress(v.Week, 0)
	for _, m := range page.All {
		v.Machines = append(v.Machines, machineChoice{m.ID, m.Name, weekAddress(v.Week, m.ID), m.ID == only})
	}
	v.answer(p, page)
	v.draw(p, d, page)
	v.list(p, page)
	v.Waits = waitLines(p, page.Waits)
	for _, s := range slots.Slots {
		q := url.Values{"at": {fmt.Sprint(s.Machine.ID)}, "student": {look.Student}, "note": {look.Design}}
		if s.Machine.Accompanied {
			q.Set("accompanied", "yes")
		}
		v.Slots = append(v.Slots, slotLine{
			p.When(s.From, s.To) + " at " + s.Machine.Name, strings.Join(p.Lines(s.Why), "; "),
			stretchLink(q, s.From.In(d.Who.Zone), s.To.In(d.Who.Zone)),
		})
	}
	v.Cannot = p.Lines(slots.Cannot)
	return v
}

// stretchLink fills the form in with a stretch of time.
func stretchLink(q url.Values, from, to time.Time) string {
	q.Set("week", from.Format(time.DateOnly))
	q.Set("date", from.Format(time.DateOnly))
	q.Set("from", from.Format("15:04"))
	q.Set("to", to.Format("15:04"))
	return "/machines/bookings?" + q.Encode() + "#book"
}

// answer says how full the week is, and where most room is.
func (v *weekView) answer(p ui.P, page app.WeekPage) {
	free, open := map[int64]float64{}, 0.0
	most := -1
	for i, m := range page.Machines {
		for _, s := range page.Free[m.ID] {
			free[m.ID] += s.Length().Hours()
		}
		if most < 0 || free[m.ID] > free[page.Machines[most].ID] {
			most = i
		}
	}
	for _, day := range page.Days {
		open += day.Open.Length().Hours()
	}
	v.Answer = fmt.Sprintf("%s in the week of %s.", p.N(len(page.Bookings), "booking"), p.Day(page.From))
	switch {
	case most < 0:
		v.Note = "There is no machine yet."
	case free[page.Machines[most].ID] < 0.5:
		v.Note = "Nothing is free any more."
	case len(page.Machines) == 1:
		v.Note = fmt.Sprintf("Free for %s of %s hours. Press a free stretch to book it.",
			p.Whole(free[page.Machines[most].ID]), p.Whole(open))
	default:
		m := page.Machines[most]
		v.Note = fmt.Sprintf("Most room is at %s: %s hours. Press a free stretch to book it.", m.Name, p.Whole(free[m.ID]))
	}
}

// hours are from the hour in which the house opens first to that in which it closes last,
// and around what is booked outside of them.
func hours(page app.WeekPage, zone *time.Location) (first, last int) {
	first, last = 9, 17
	widen := func(s booking.Span) {
		if s.Length() <= 0 {
			return
		}
		from, to := s.From.In(zone), s.To.In(zone)
		first, last = min(first, from.Hour()), max(last, to.Hour()+min(1, to.Minute()))
		if to.Day() != from.Day() {
			last = 24
		}
	}
	for _, day := range page.Days {
		widen(day.Open)
	}
	for _, b := range page.Bookings {
		widen(b.Span())
	}
	return first, last
}

func (v *weekView) draw(p ui.P, d app.UseCases, page app.WeekPage) {
	zone := d.Who.Zone
	first, last := hours(page, zone)
	minuteWide := (weekWidth - laneLeft - 4) / float64(60*(last-first))
	x := func(at time.Time) float64 {
		at = at.In(zone)
		return laneLeft + minuteWide*math.Min(float64(60*(last-first)),
			math.Max(0, float64(60*(at.Hour()-first)+at.Minute())))
	}
	for h := first; h <= last; h++ {
		v.Hours = append(v.Hours,
			hourTick{laneLeft + 60*minuteWide*float64(h-first), p.Clock(time.Date(2000, 1, 1, h%24, 0, 0, 0, zone)), h == last})
	}
	laneHigh := fleetLane
	if len(page.Machines) == 1 {
		laneHigh = singleLane
	}
	y := hoursTop
	for _, day := range page.Days {
		ends := day.Begins.AddDate(0, 0, 1)
		band := dayBand{Y: y, Height: laneHigh * float64(max(1, len(page.Machines))), Name: p.Day(day.Begins)}
		band.TextY = y + 12
		band.Today = !d.Now.Before(day.Begins) && d.Now.Before(ends)
		if band.Today {
			band.NowX = x(d.Now)
		}
		if day.Closed {
			band.Closed = "closed"
			if day.Why != "" {
				band.Closed = "closed: " + day.Why
			}
		}
		for _, m := range page.Machines {
			in := laneOf{y: y, high: laneHigh, x: x, day: booking.Span{From: day.Begins, To: ends}, zone: zone}
			band.Lanes = append(band.Lanes, lane{y, y + laneHigh/2 + 4, m.Name})
			band.Blocks = append(band.Blocks, in.blocks(p, m, page)...)
			band.Free = append(band.Free, in.free(p, m, page.Free[m.ID])...)
			y += laneHigh
		}
		y = band.Y + band.Height + dayGap
		v.Days = append(v.Days, band)
	}
	v.Height = y
}

// A laneOf is where a machine's day is drawn.
type laneOf struct {
	y, high float64
	x       func(time.Time) float64
	day     booking.Span
	zone    *time.Location
}

// ends are where a span is drawn in the lane; ok is false for one of another day.
func (l laneOf) ends(s booking.Span) (from, to float64, ok bool) {
	if !s.Meets(l.day) {
		return 0, 0, false
	}
	if s.From.Before(l.day.From) {
		s.From = l.day.From
	}
	if !s.To.Before(l.day.To) {
		s.To = l.day.To.Add(-time.Minute)
	}
	from, to = l.x(s.From), l.x(s.To)
	return from, to, to > from
}

func (l laneOf) blocks(p ui.P, m fleet.Machine, page app.WeekPage) []weekBlock {
	var all []weekBlock
	add := func(s booking.Span, kind, text, link string) {
		from, to, ok := l.ends(s)
		if !ok {
			return
		}
		b := weekBlock{X: from, Y: l.y + laneInset, Width: to - from, Height: l.high - 2*laneInset, TextY: l.y + l.high/2 + 4,
			Kind: kind, Text: text, Link: link}
		b.Title = fmt.Sprintf("%s: %s, %s–%s", m.Name, text, p.Clock(s.From), p.Clock(s.To))
		if most := int((b.Width - 6) / letterWide); len([]rune(text)) > most {
			b.Text = string([]rune(text)[:max(0, most)])
		}
		all = append(all, b)
	}
	for _, o := range page.Outages {
		if o.Machine.ID == m.ID {
			s := booking.Span{From: o.StartsAt, To: l.day.To}
			if o.EndsAt != nil {
				s.To = *o.EndsAt
			}
			add(s, "out", o.Reason, "")
		}
	}
	for _, b := range page.Bookings {
		switch {
		case b.Machine.ID != m.ID:
		case b.Class != nil:
			add(b.Span(), "class", b.Class.Name, fmt.Sprintf("/classes/%d", b.Class.ID))
		case b.Student != nil:
			add(b.Span(), "practice", b.Student.Name, fmt.Sprintf("/students/%d", b.Student.ID))
		default:
			add(b.Span(), "care", strings.TrimSpace("care "+b.Note), "")
		}
	}
	return all
}

func (l laneOf) free(p ui.P, m fleet.Machine, free []booking.Span) []freeStretch {
	var all []freeStretch
	for _, s := range free {
		from, to, ok := l.ends(s)
		if !ok {
			continue
		}
		begins := s.From.In(l.zone)
		if begins.Second() > 0 || begins.Minute()%15 > 0 {
			begins = begins.Truncate(15 * time.Minute).Add(15 * time.Minute)
		}
		ends := begins.Add(aBooking * time.Minute)
		if ends.After(s.To) {
			ends = s.To.In(l.zone)
		}
		minute := func(at time.Time) int { return 60*at.In(l.zone).Hour() + at.In(l.zone).Minute() }
		all = append(all, freeStretch{
			X: from, Y: l.y + laneInset, Width: to - from, Height: l.high - 2*laneInset, From: minute(begins), To: minute(s.To),
			Link:  stretchLink(url.Values{"at": {fmt.Sprint(m.ID)}}, begins, ends),
			Title: fmt.Sprintf("Book %s: free on %s", m.Name, p.When(s.From, s.To)),
		})
	}
	return all
}

// A waitLine is somebody who waits for what another has.
type waitLine struct {
	ID         int64
	Text, Name string
}

func waitLines(p ui.P, waits []fleet.Wait) []waitLine {
	var lines []waitLine
	for _, x := range waits {
		lines = append(lines, waitLine{x.ID, x.Machine.Name + ", " + p.When(x.StartsAt, x.EndsAt), x.Student.Name})
	}
	return lines
}

// mostLines of bookings are in the list: the drawing has them all.
const mostLines = 16

// list is the week in words.
func (v *weekView) list(p ui.P, page app.WeekPage) {
	for i, b := range page.Bookings {
		if i == mostLines {
			v.More = fmt.Sprintf("%s more stand in the drawing: look at one machine to have them listed.",
				p.Count(len(page.Bookings)-mostLines))
			break
		}
		line := bookingLine{ID: b.ID, Day: p.Day(b.StartsAt), Time: p.Clock(b.StartsAt) + "–" + p.Clock(b.EndsAt),
			Machine: b.Machine.Name, For: b.For(), Overrode: b.Overrode, Cancel: b.Class == nil}
		var beside say.List
		if b.Class != nil {
			line.ForLink = fmt.Sprintf("/classes/%d", b.Class.ID)
		}
		if b.Accompanied {
			beside = append(beside, say.T("with an instructor"))
		}
		if b.Note != "" {
			beside = append(beside, say.Name(b.Note))
		}
		line.Sit, line.Sat = b.Awaited(p.Today), b.Sits(p.Today)
		line.Beside, line.Out = p.Say(beside), page.IsOut(b)
		v.Lines = append(v.Lines, line)
	}
}
