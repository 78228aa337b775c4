package paper

import (
	"fmt"
	"time"

	ics "github.com/arran4/golang-ical"

	"chalkstep/core/booking"
)

// Calendar writes entries as an iCalendar file (RFC 5545), in UTC, so that it says the same
// whatever clocks do. An entry keeps its name for good: what is changed or called off is
// told by its sequence and status.
func Calendar(name, site string, workshopID int64, entries []booking.Entry, now time.Time) []byte {
	cal := ics.NewCalendar()
	cal.SetProductId("-//Chalk Step//Bookings//EN")
	cal.SetMethod(ics.MethodPublish)
	cal.SetName(name)
	cal.SetXWRCalName(name)
	const refresh = "PT1H"
	cal.SetRefreshInterval(refresh)
	cal.SetXPublishedTTL(refresh)
	for _, e := range entries {
		kind, summary := "booking", e.Name
		switch {
		case e.Class:
			kind = "class"
		case e.Name == "":
			summary = e.Machines + ": care"
		default:
			summary = e.Machines + ": " + e.Name
		}
		event := cal.AddEvent(fmt.Sprintf("%s-%d.%d@chalkstep", kind, e.ID, workshopID))
		event.SetDtStampTime(now)
		event.SetStartAt(e.From)
		event.SetEndAt(e.To)
		event.SetSummary(summary)
		event.SetSequence(max(0, e.Version-1))
		if e.Machines != "" {
			event.SetLocation(e.Machines)
		}
		event.SetStatus(ics.ObjectStatusConfirmed)
		if e.Cancelled {
			event.SetStatus(ics.ObjectStatusCancelled)
		}
		if site != "" && e.Class {
			event.SetURL(fmt.Sprintf("%s/classes/%d", site, e.ID))
		}
	}
	return []byte(cal.Serialize(ics.WithNewLineWindows))
}
