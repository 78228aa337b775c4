package desk

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

// Years outside of these are slips of a key.
const FirstYear, LastYear = 2000, 2199

// Stretch reads a date and two clock times in the workshop's time zone.
func (d Desk) Stretch(problems Problems, date, from, to string) (start, end time.Time) {
	day, err := time.ParseInLocation("2006-01-02", strings.TrimSpace(date), d.Who.Zone)
	if err != nil {
		problems["date"] = "Choose a date."
	} else if day.Year() < FirstYear || day.Year() > LastYear {
		problems["date"] = "Choose a day of these years."
	}
	clock := func(field, typed string) time.Time {
		t, err := time.ParseInLocation("15:04", strings.TrimSpace(typed), d.Who.Zone)
		if err != nil {
			problems[field] = "Write a clock time such as 10:00."
		}
		at := time.Date(day.Year(), day.Month(), day.Day(), t.Hour(), t.Minute(), 0, 0, d.Who.Zone)
		if err == nil && problems["date"] == "" && (at.Hour() != t.Hour() || at.Minute() != t.Minute()) {
			problems[field] = fmt.Sprintf("The clocks go forward that day: there is no %s.", t.Format("15:04"))
		}
		return at
	}
	start, end = clock("from", from), clock("to", to)
	if len(problems) == 0 && !end.After(start) {
		problems["to"] = "The end has to be after the start."
	}
	if len(problems) == 0 && end.Sub(start) > 12*time.Hour {
		problems["to"] = "At most 12 hours at a time."
	}
	return start, end
}
