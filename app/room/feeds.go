package room

import (
	"slices"

	"chalkstep/app/desk"
	"chalkstep/core/booking"
	"chalkstep/core/fleet"
	"chalkstep/paper"
)

// A Feed is a calendar that programs read by a link.
type Feed struct {
	booking.Calendar
	Name string
	// Token is what its link carries.
	Token string
}

// Feeds lists the calendars of the workshop and of its machines. Who has a link reads the
// calendar, so they are for staff to give away.
func (d Desk) Feeds() ([]Feed, error) {
	if err := d.Need(desk.Book); err != nil {
		return nil, err
	}
	machines, err := d.Shop.Machines()
	if err != nil {
		return nil, err
	}
	feeds := []Feed{{Calendar: booking.Calendar{Kind: booking.OfWorkshop}, Name: "The whole workshop"}}
	for _, m := range machines {
		feeds = append(feeds, Feed{Calendar: booking.Calendar{Kind: booking.OfMachine, ID: m.ID}, Name: m.Name})
	}
	return d.signed(feeds)
}

// StudentFeed is the calendar of a student.
func (d Desk) StudentFeed(id int64) (Feed, error) {
	if err := d.Need(desk.Book); err != nil {
		return Feed{}, err
	}
	s, err := d.Shop.Student(id)
	if err != nil {
		return Feed{}, err
	}
	feeds, err := d.signed([]Feed{{Calendar: booking.Calendar{Kind: booking.OfStudent, ID: id}, Name: s.Name}})
	if err != nil {
		return Feed{}, err
	}
	return feeds[0], nil
}

func (d Desk) signed(feeds []Feed) ([]Feed, error) {
	keys, err := d.Shop.FeedKeys()
	for i, f := range feeds {
		feeds[i].Token = desk.NewFeedLink(d.Who.WorkshopID, f.Calendar, keys).Token(keys.Key)
	}
	return feeds, err
}

// RenewFeed gives a calendar another link: that of before is read no more.
func (d Desk) RenewFeed(of booking.Calendar) error {
	if err := d.Need(desk.Book); err != nil {
		return err
	}
	switch of.Kind {
	case booking.OfWorkshop:
		of.ID = 0
	case booking.OfMachine:
		if _, err := d.Shop.Machine(of.ID); err != nil {
			return err
		}
	case booking.OfStudent:
		if _, err := d.Shop.Student(of.ID); err != nil {
			return err
		}
	default:
		return desk.NotFound("that calendar")
	}
	return desk.OnceOnly(d, func(d Desk) error { return d.Shop.RenewFeed(of) })
}

// daysBack are how far back a calendar goes.
const daysBack = 60

// ReadFeed is the calendar that a link opens, as a file; site is where the application is,
// empty for links within it to be left out.
func (d Desk) ReadFeed(site string) ([]byte, error) {
	if err := d.Need(desk.ReadCalendar); err != nil {
		return nil, err
	}
	of, name := d.Who.Calendar, d.Who.Workshop
	switch of.Kind {
	case booking.OfMachine:
		machines, err := d.Shop.Machines()
		if err != nil {
			return nil, err
		}
		i := slices.IndexFunc(machines, func(m fleet.Machine) bool { return m.ID == of.ID })
		if i < 0 {
			return nil, desk.NotFound("the machine")
		}
		name = machines[i].Name + ", " + name
	case booking.OfStudent:
		s, err := d.Shop.Student(of.ID)
		if err != nil {
			return nil, err
		}
		name, site = s.Name+", "+name, "" // pages of staff are nothing to them
	}
	entries, err := d.Shop.Entries(of, d.Now.AddDate(0, 0, -daysBack))
	if err != nil {
		return nil, err
	}
	return paper.Calendar(name, site, d.Who.WorkshopID, entries, d.Now), nil
}
