package actor

import (
	"context"
	"errors"
	"slices"
	"strconv"

	"chalkstep/core/booking"
	"chalkstep/store"
)

// A FeedLink is the link of a calendar: of which workshop, of what, and of which version.
type FeedLink struct {
	WorkshopID int64
	booking.Calendar
	Version int
}

// NewFeedLink is the link of a calendar that the keys of its workshop open now.
func NewFeedLink(workshopID int64, of booking.Calendar, keys store.FeedKeys) FeedLink {
	return FeedLink{workshopID, of, keys.Version(of)}
}

// longMAC is how much of the signature a link carries that lives long: 128 bits.
const longMAC = 16

func (l FeedLink) link() sealed {
	return sealed{"calendar", longMAC,
		[]string{strconv.FormatInt(l.WorkshopID, 10), string(l.Kind), strconv.FormatInt(l.ID, 10), strconv.Itoa(l.Version)}}
}

// Token is what the link carries: it reads one calendar, and nothing else.
func (l FeedLink) Token(key []byte) string { return l.link().token(key) }

// calendarKinds are those that a link may be for.
var calendarKinds = []booking.CalendarKind{booking.OfWorkshop, booking.OfMachine, booking.OfStudent}

// readFeedLink takes a token apart; ok is false for what is none.
func readFeedLink(token string) (l FeedLink, signed []byte, ok bool) {
	parts, signed, ok := takenApart(token, 4, 120)
	if !ok {
		return l, nil, false
	}
	var bad [3]error
	l.WorkshopID, bad[0] = strconv.ParseInt(parts[0], 10, 64)
	l.Kind = booking.CalendarKind(parts[1])
	l.ID, bad[1] = strconv.ParseInt(parts[2], 10, 64)
	l.Version, bad[2] = strconv.Atoi(parts[3])
	return l, signed, errors.Join(bad[:]...) == nil && slices.Contains(calendarKinds, l.Kind)
}

// Reader finds what the link of a calendar opens; [ErrNotFound] for one that was not signed
// here, or was renewed.
func (a *App) Reader(ctx context.Context, token string) (Who, error) {
	l, signed, ok := readFeedLink(token)
	if !ok {
		return Who{}, NotFound("the calendar")
	}
	found, err := a.store.Feed(ctx, l.WorkshopID, l.Calendar)
	if err != nil {
		return Who{}, err
	}
	if l.Version != found.Version || !l.link().isSealed(found.Key, signed) {
		return Who{}, NotFound("the calendar")
	}
	who, err := newWho(store.Person{Role: store.CalendarReader}, found.Workshop)
	who.Calendar, who.Revision, who.settings = l.Calendar, found.Revision, &found.Workshop
	return who, err
}
