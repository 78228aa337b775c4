package form

import (
	"fmt"
	"strings"
	"time"
)

// Midnight begins a day in a time zone.
func Midnight(t time.Time, zone *time.Location) time.Time {
	y, m, day := t.In(zone).Date()
	return time.Date(y, m, day, 0, 0, 0, 0, zone)
}

// Years outside of these are slips of a key, and so is a day that lies farther
// ahead than anybody plans, unless somebody says that it is meant.
const (
	FirstYear, LastYear = 2000, 2199
	yearsAhead          = 2
)

// LongestTimes is how long something that is typed as two clock times of a day may be.
const LongestTimes = 12 * time.Hour

// Far is the field by which somebody says that a day far ahead is meant.
const Far = "far"

// A Clock is the time that a form was sent, by the clocks of a workshop.
type Clock struct {
	Now  time.Time
	Zone *time.Location
}

// day looks at a day that was typed, and makes a problem of one that cannot be
// meant.
func (c Clock) day(problems Problems, field string, day time.Time, far bool) {
	switch {
	case day.Year() < FirstYear || day.Year() > LastYear:
		problems[field] = "Choose a day of these years."
	case !far && day.After(c.Now.AddDate(yearsAhead, 0, 0)):
		problems[field] = fmt.Sprintf(
			"That is in %d, more than two years ahead. If it is meant, tick that the year is right.", day.Year())
		problems[Far] = "Is the year right?"
	}
}

// Moment reads a day with a clock time, as a form writes it, in the workshop's
// time zone.
func (c Clock) Moment(problems Problems, field, typed string) time.Time {
	at, err := time.ParseInLocation("2006-01-02T15:04", strings.TrimSpace(typed), c.Zone)
	if err != nil {
		problems[field] = "Choose a day and a time."
		return at
	}
	if at.Format("2006-01-02T15:04") != strings.TrimSpace(typed) {
		problems[field] = "The clocks go forward then: there is no such time that day."
		return at
	}
	c.day(problems, field, at, true)
	return at
}

// Times reads a date and two clock times in the workshop's time zone; far
// says that a day far ahead is meant.
func (c Clock) Times(problems Problems, date, from, to string, far bool) (start, end time.Time) {
	day, err := time.ParseInLocation("2006-01-02", strings.TrimSpace(date), c.Zone)
	if err != nil {
		problems["date"] = "Choose a date."
	} else {
		c.day(problems, "date", day, far)
	}
	clock := func(field, typed string) time.Time {
		t, err := time.ParseInLocation("15:04", strings.TrimSpace(typed), c.Zone)
		if err != nil {
			problems[field] = "Write a clock time such as 10:00."
		}
		at := time.Date(day.Year(), day.Month(), day.Day(), t.Hour(), t.Minute(), 0, 0, c.Zone)
		if err == nil && problems["date"] == "" && (at.Hour() != t.Hour() || at.Minute() != t.Minute()) {
			problems[field] = fmt.Sprintf("The clocks go forward that day: there is no %s.", t.Format("15:04"))
		}
		return at
	}
	start, end = clock("from", from), clock("to", to)
	if len(problems) == 0 && !end.After(start) {
		problems["to"] = "The end has to be after the start."
	}
	if len(problems) == 0 && end.Sub(start) > LongestTimes {
		problems["to"] = "At most 12 hours at a time."
	}
	return start, end
}
