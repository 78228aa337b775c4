package actor

import (
	"context"
	"crypto/rand"
	"errors"
	"net/netip"
	"strconv"
	"strings"
	"time"

	"chalkstep/app/form"
	"chalkstep/store"
)

// A StudentLink is the personal link of a student, of a version.
type StudentLink struct {
	WorkshopID, StudentID int64
	Version               int
}

func (l StudentLink) link() sealed {
	return sealed{"student", longMAC,
		[]string{strconv.FormatInt(l.WorkshopID, 10), strconv.FormatInt(l.StudentID, 10), strconv.Itoa(l.Version)}}
}

// Token is what the link carries: with the student's PIN it opens their own pages, and
// nothing else.
func (l StudentLink) Token(key []byte) string { return l.link().token(key) }

// A Door is what a personal link leads to.
type Door struct {
	Name, Workshop string
	// HasPIN tells that the student chose one: until then the link asks for it.
	HasPIN bool
	access store.Access
}

// Door finds what a student's link leads to; [ErrNotFound] for one that was not signed here,
// or was renewed.
func (a *App) Door(ctx context.Context, token string) (Door, error) {
	parts, signed, ok := takenApart(token, 3, 100)
	if !ok {
		return Door{}, NotFound("the link")
	}
	var l StudentLink
	var bad [3]error
	l.WorkshopID, bad[0] = strconv.ParseInt(parts[0], 10, 64)
	l.StudentID, bad[1] = strconv.ParseInt(parts[1], 10, 64)
	l.Version, bad[2] = strconv.Atoi(parts[2])
	if errors.Join(bad[:]...) != nil {
		return Door{}, NotFound("the link")
	}
	found, err := a.store.Access(ctx, l.WorkshopID, l.StudentID)
	if err != nil {
		return Door{}, err
	}
	if found.Version != l.Version || !l.link().isSealed(found.Key, signed) {
		return Door{}, NotFound("the link")
	}
	return Door{found.Name, found.Workshop.Name, found.PINHash != "", found}, nil
}

// Lengths of a PIN.
const (
	ShortestPIN, LongestPIN = 4, 12
)

// Wrong PINs: after so many, each waits twice as long as the one before; a day without any
// and they are forgotten.
const (
	freePINs     = 4
	firstPINWait = time.Minute
	mostPINWait  = 12 * time.Hour
	forgetPINs   = 24 * time.Hour
	// ManyPINs that were wrong are shown to staff.
	ManyPINs = 3
)

// pinWait is how long the next try waits after so many wrong ones.
func pinWait(tries int) time.Duration {
	if tries <= freePINs {
		return 0
	}
	const enough = 10 // doublings
	return min(firstPINWait<<min(tries-freePINs-1, enough), mostPINWait)
}

// A WaitError is that too many tries were wrong, until when; it is an [ErrTries].
type WaitError struct{ Until time.Time }

func (e WaitError) Error() string { return "too many tries: wait until " + e.Until.String() }

// Is makes it an [ErrTries].
func (e WaitError) Is(target error) bool { return target == ErrTries }

// SinceWrongPINs is since when wrong PINs are not forgotten.
func (d Actor) SinceWrongPINs() time.Time { return d.Now.Add(-forgetPINs) }

// Enter opens a student's own pages to who has their link and their PIN, and gives the token
// of what is opened. The first PIN that comes is the one that is kept. [ErrSignIn] means a
// wrong one, [ErrTries] too many of them.
func (a *App) Enter(ctx context.Context, link, pin string, from netip.Addr, agent string) (session string, err error) {
	door, err := a.Door(ctx, link)
	if err != nil {
		return "", err
	}
	pin = strings.TrimSpace(pin)
	if len(pin) < ShortestPIN || len(pin) > LongestPIN || strings.Trim(pin, "0123456789") != "" {
		return "", form.Problems{"pin": "A PIN has 4 to 12 digits."}
	}
	shop := a.store.For(ctx, door.access.Workshop.ID)
	limits := []Limit{{triesKey(from, ""), triesPerAddress}}
	if err := a.reached(ctx, limits); err != nil {
		return "", err
	}
	if !door.HasPIN {
		hash, err := a.Hash(ctx, pin)
		if err != nil {
			return "", err
		}
		if err := shop.SetPIN(door.access.StudentID, door.access.Version, hash); errors.Is(err, store.ErrChanged) {
			return "", form.Problems{
				"pin": "Somebody chose a PIN with this link meanwhile. If that was not you, ask for a new link."}
		} else if err != nil {
			return "", err
		}
	} else {
		until, ok, err := shop.ClaimPINTry(door.access.StudentID, a.now(), a.now().Add(-forgetPINs), pinWait)
		if err != nil {
			return "", err
		}
		if !ok {
			return "", WaitError{until}
		}
		if err := a.compare(ctx, pin, true, func() (string, error) { return door.access.PINHash, nil }, limits); err != nil {
			return "", err
		}
		if err := shop.RightPIN(door.access.StudentID); err != nil {
			return "", err
		}
	}
	session = rand.Text()
	return session, shop.BeginAccess(door.access.StudentID, tokenHash(session),
		form.Shortened(form.Cleaned(agent), mostAgent), a.now())
}

// mostAgent letters of the name of a browser are kept.
const mostAgent = 200

// ownFor is how long a student's own pages stay open on a phone.
const ownFor = 90 * 24 * time.Hour

// Student finds whose own pages a session opens; [ErrNotFound] when nobody's, any more.
func (a *App) Student(ctx context.Context, session string) (Who, error) {
	found, err := a.store.AccessBy(ctx, tokenHash(session), a.now().Add(-ownFor))
	if err != nil {
		return Who{}, err
	}
	who, err := newWho(store.Person{Name: found.Name, Role: store.StudentPage, Units: found.Units}, found.Workshop)
	who.StudentID, who.Revision, who.settings = found.StudentID, found.Revision, &found.Workshop
	return who, err
}

// Leave closes a student's own pages.
func (a *App) Leave(ctx context.Context, session string) error {
	return a.store.EndAccess(ctx, tokenHash(session))
}

// OwnSince is since when what is open on a student's phones was opened, at the latest.
func (d Actor) OwnSince() time.Time { return d.Now.Add(-ownFor) }
