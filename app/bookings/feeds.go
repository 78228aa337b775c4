package bookings

import (
	"slices"

	"chalkstep/app/actor"
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
func (d UseCases) Feeds() ([]Feed, error) {
	if err := d.Need(actor.Book); err != nil {
		return nil, err
	}
	machines, err := d.Workshop.Machines()
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
func (d UseCases) StudentFeed(id int64) (Feed, error) {
	if err := d.Need(actor.Book); err != nil {
		return Feed{}, err
	}
	s, err := d.Workshop.Student(id)
	if err != nil {
		return Feed{}, err
	}
	feeds, err := d.signed([]Feed{{Calendar: booking.Calendar{Kind: booking.OfStudent, ID: id}, Name: s.Name}})
	if err != nil {
		return Feed{}, err
	}
	return feeds[0], nil
}

func (d UseCases) signed(feeds []Feed) ([]Feed, error) {
	keys, err := d.Workshop.FeedKeys()
	for i, f := range feeds {
		feeds[i].Token = actor.NewFeedLink(d.Who.WorkshopID, f.Calendar, keys).Token(keys.Key)
	}
	return feeds, err
}

// RenewFeed gives a calendar another link: that of before is read no more.
func (d UseCases) RenewFeed(of booking.Calendar) error {
	if err := d.Need(actor.Book); err != nil {
		return err
	}
	switch of.Kind {
	case booking.OfWorkshop:
		of.ID = 0
	case booking.OfMachine:
		if _, err := d.Workshop.Machine(of.ID); err != nil {
			return err
		}
	case booking.OfStudent:
		if _, err := d.Workshop.Student(of.ID); err != nil {
			return err
		}
	default:
		return actor.NotFound("that calendar")
	}
	return actor.OnceOnly(d, func(d UseCases) error { return d.Workshop.RenewFeed(of) })
}

// daysBack are how far back a calendar goes.
const daysBack = 60

// ReadFeed is the calendar that a link opens, as a file; site is where the application is,
// empty for links within it to be left out.
func (d UseCases) ReadFeed(site string) ([]byte, error) {
	if err := d.Need(actor.ReadCalendar); err != nil {
		return nil, err
	}
	of, name := d.Who.Calendar, d.Who.Workshop
	switch of.Kind {
	case booking.OfMachine:
		machines, err := d.Workshop.Machines()
		if err != nil {
			return nil, err
		}
		i := slices.IndexFunc(machines, func(m fleet.Machine) bool { return m.ID == of.ID })
		if i < 0 {
			return nil, actor.NotFound("the machine")
		}
		name = machines[i].Name + ", " + name
	case booking.OfStudent:
		s, err := d.Workshop.Student(of.ID)
		if err != nil {
			return nil, err
		}
		name, site = s.Name+", "+name, "" // pages of staff are nothing to them
	}
	entries, err := d.Workshop.Entries(of, d.Now.AddDate(0, 0, -daysBack))
	if err != nil {
		return nil, err
	}
	return paper.Calendar(name, site, d.Who.WorkshopID, entries, d.Now), nil
}
