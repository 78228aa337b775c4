package desk

import (
	"context"
	"crypto/hmac"
	"crypto/sha256"
	"encoding/base64"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"chalkstep/core/booking"
	"chalkstep/core/crew"
)

// A FeedLink is the link of a calendar: of which workshop, of what, and of which version.
type FeedLink struct {
	WorkshopID int64
	booking.Calendar
	Version int
}

func (l FeedLink) sign(key []byte) []byte {
	mac := hmac.New(sha256.New, key)
	_, _ = fmt.Fprintf(mac, "chalkstep calendar %d %s %d %d", l.WorkshopID, l.Kind, l.ID, l.Version)
	return mac.Sum(nil)[:feedMAC]
}

// feedMAC is how much of the signature a link carries: 128 bits, as it lives long.
const feedMAC = 16

// Token is what the link carries: it reads one calendar, and nothing else.
func (l FeedLink) Token(key []byte) string {
	return fmt.Sprintf("%d.%s.%d.%d.%s", l.WorkshopID, l.Kind, l.ID, l.Version, base64.RawURLEncoding.EncodeToString(l.sign(key)))
}

// calendarKinds are those that a link may be for.
var calendarKinds = []booking.CalendarKind{booking.OfWorkshop, booking.OfMachine, booking.OfStudent}

// readFeedLink takes a token apart; ok is false for what is none.
func readFeedLink(token string) (l FeedLink, signed []byte, ok bool) {
	const longest = 120
	parts := strings.Split(token, ".")
	if len(parts) != 5 || len(token) > longest {
		return l, nil, false
	}
	var err error
	if l.WorkshopID, err = strconv.ParseInt(parts[0], 10, 64); err != nil {
		return l, nil, false
	}
	if l.Kind = booking.CalendarKind(parts[1]); !slices.Contains(calendarKinds, l.Kind) {
		return l, nil, false
	}
	if l.ID, err = strconv.ParseInt(parts[2], 10, 64); err != nil {
		return l, nil, false
	}
	if l.Version, err = strconv.Atoi(parts[3]); err != nil {
		return l, nil, false
	}
	signed, err = base64.RawURLEncoding.DecodeString(parts[4])
	return l, signed, err == nil
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
	if l.Version != found.Version || !hmac.Equal(signed, l.sign(found.Key)) {
		return Who{}, NotFound("the calendar")
	}
	who, err := newWho(crew.Person{Role: crew.Reader}, found.Workshop)
	who.Calendar, who.Revision, who.settings = l.Calendar, found.Revision, &found.Workshop
	return who, err
}
