package app

import "chalkstep/store"

// A TodayPage is what the day asks for.
type TodayPage struct {
	// Next is the next class that is not over, opened; nil when there is none.
	Next     *ClassPage
	Bookings []store.Booking
	// Coming are the classes after the next.
	Coming []ClassLine
	// Counts say what is there to plan with, when no class is to come.
	Counts struct{ Designs, Machines int64 }
}

// Today opens the day.
func (d Desk) Today() (TodayPage, error) {
	var page TodayPage
	classes, err := d.Classes()
	if err != nil {
		return page, err
	}
	if len(classes) > 0 && !classes[0].Over {
		next, err := d.Class(classes[0].ID)
		if err != nil {
			return page, err
		}
		page.Next = &next
		for _, c := range classes[1:] {
			if !c.Over {
				page.Coming = append(page.Coming, c)
			}
		}
	}
	from := midnight(d.now, d.Who.Zone)
	if page.Bookings, err = d.shop.BookingsBetween(from, from.AddDate(0, 0, 1)); err != nil {
		return page, err
	}
	if page.Next != nil {
		return page, nil
	}
	if page.Counts.Machines, err = d.shop.CountMachines(); err != nil {
		return page, err
	}
	page.Counts.Designs, err = d.shop.CountDesigns()
	return page, err
}
