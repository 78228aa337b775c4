package planning

import (
	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/classday"
	"chalkstep/core/fleet"
	"chalkstep/core/live"
	"chalkstep/store"
)

// A TodayPage is what the day asks for.
type TodayPage struct {
	// Next is the next class that is not over, opened; nil when there is none.
	Next *classday.Plan
	// Now is set if the next class has begun.
	Now *live.Page
	// Ended is set if a class of today has ended.
	Ended    *ClassLine
	Bookings []fleet.Booking
	// MoreBookings there are today beyond those shown.
	MoreBookings int
	// Coming are classes after the next.
	Coming []ClassLine
	// WrongPINs are those that somebody tried at students' links.
	WrongPINs []store.WrongPINs
	// Counts say what is there to plan with, when no class is to come.
	Counts struct{ Designs, Machines int64 }
}

// Today opens the day.
func (d UseCases) Today() (TodayPage, error) {
	if err := d.Need(actor.See); err != nil {
		return TodayPage{}, err
	}
	const classes, bookings = 7, 40
	var page TodayPage
	list, err := d.classes(form.NewPages("", 1, classes))
	if err != nil {
		return page, err
	}
	for i, c := range list.Classes[:min(list.Coming, len(list.Classes))] {
		if i > 0 {
			page.Coming = append(page.Coming, c)
			continue
		}
		if page.Now, page.Next, err = d.nowOrNext(c); err != nil {
			return page, err
		}
	}
	from := form.Midnight(d.Now, d.Who.Zone)
	if len(list.Classes) > list.Coming {
		last := list.Classes[list.Coming]
		if last.Begun && last.OffAt == nil && last.OverAt.After(from) {
			page.Ended = &last
		}
	}
	today, total, err := d.Workshop.BookingsBetween(from, from.AddDate(0, 0, 1), store.Rows{Limit: bookings})
	if err != nil {
		return page, err
	}
	page.Bookings, page.MoreBookings = today, total-len(today)
	if page.WrongPINs, err = d.Workshop.WrongPINs(d.SinceWrongPINs(), actor.ManyPINs); err != nil {
		return page, err
	}
	if page.Next != nil {
		return page, nil
	}
	if page.Counts.Machines, err = d.Workshop.CountMachines(); err != nil {
		return page, err
	}
	page.Counts.Designs, err = d.Workshop.CountDesigns()
	return page, err
}

// nowOrNext opens a class, as it runs where it has begun.
func (d UseCases) nowOrNext(c ClassLine) (now *live.Page, next *classday.Plan, err error) {
	if c.Begun {
		page, err := d.load().Runs(c.ID)
		return &page, &page.Plan, err
	}
	plan, err := d.Class(c.ID)
	return nil, &plan, err
}

// AsItRuns opens a class as it runs.
func (d UseCases) AsItRuns(id int64) (live.Page, error) {
	if err := d.Need(actor.See); err != nil {
		return live.Page{}, err
	}
	return d.load().Runs(id)
}
