// Package actor is who is at work, what they may do, and commands that count once. The areas of the
// application beside it hold the use cases: what a page or a command asks for, in one call each.
package actor

import (
	"cmp"
	"context"
	"fmt"
	"time"

	"golang.org/x/sync/semaphore"

	"chalkstep/app/form"
	"chalkstep/core/booking"
	"chalkstep/core/measure"
	"chalkstep/core/policy"
	"chalkstep/core/say"
	"chalkstep/store"
)

// An App serves all workshops.
type App struct {
	store *store.Store
	now   func() time.Time
	memo  *Memo
	// hashing lets few passwords be worked on at a time: each takes memory.
	hashing          *hashing
	photos, printing *semaphore.Weighted
	news             *news
}

// New makes an App on a store; now is the clock, time.Now outside tests.
func New(s *store.Store, now func() time.Time) *App {
	return &App{store: s, now: now, memo: newMemo(), hashing: newHashing(), photos: semaphore.NewWeighted(photosAtOnce),
		printing: semaphore.NewWeighted(printsAtOnce), news: &news{waiting: map[int64]map[chan struct{}]bool{}}}
}

// Now is the time by the clock of the application.
func (a *App) Now() time.Time { return a.now() }

// Ready tells whether the database answers.
func (a *App) Ready(ctx context.Context) error { return a.store.Ping(ctx) }

// Who is signed in, and where.
type Who struct {
	AccountID  int64
	WorkshopID int64
	SessionID  int64
	Name       string
	Email      string
	Role       store.Role
	// Place is where the phone of a station lies, zero for a person.
	Place Place
	// StudentID is that of a student at their own pages, 0 for others.
	StudentID int64
	// Calendar is what a program reads by its link, nothing for a person.
	Calendar booking.Calendar
	Workshop string
	Zone     *time.Location
	// Printer writes in their units and by their clock.
	Printer say.Printer
	// Revision moves on with every change of the workshop: what was worked out
	// at one is right until it does.
	Revision int64
	settings *policy.Workshop
}

// newWho puts together who somebody is.
func newWho(person store.Person, workshop policy.Workshop) (Who, error) {
	zone, err := time.LoadLocation(workshop.Zone)
	if err != nil {
		return Who{}, fmt.Errorf("reading the workshop's time zone: %w", err)
	}
	return Who{AccountID: person.ID, WorkshopID: workshop.ID, Name: person.Name, Email: person.Email, Role: person.Role,
		Workshop: workshop.Name, Zone: zone, Printer: printerOf(person, workshop, zone)}, nil
}

// printerOf writes as somebody chose, or as their workshop has it.
func printerOf(person store.Person, workshop policy.Workshop, zone *time.Location) say.Printer {
	units, _ := measure.UnitsNamed(cmp.Or(person.Units, workshop.Units))
	return say.Printer{Units: units, TwelveHours: cmp.Or(person.Clock, workshop.Clock) == twelveHours, Zone: zone}
}

const twelveHours = "12"

// A For is one person at work in their workshop.
type Actor struct {
	Who Who
	// Workshop is the workshop in the database, Now what time it is.
	Workshop store.Workshop
	Now      time.Time
	ctx      context.Context
	app      *App
	// form is the key of the form being sent, nil for none: what it does is
	// done once.
	form []byte
	// asked notes that a use case said what it needs, nil where nobody looks.
	asked *bool
}

// For opens the use cases for someone who is signed in.
func (a *App) For(ctx context.Context, who Who) Actor {
	who.Printer.Today = a.now()
	return Actor{Who: who, Workshop: a.store.For(ctx, who.WorkshopID), Now: a.now(), ctx: ctx, app: a}
}

// Sending is the actor while they work on a sent form, which counts once however
// often its key comes.
func (d Actor) Sending(form []byte) Actor {
	d.form = form
	return d
}

// once runs what a form asks for, in one transaction and for each form once;
// sent again, it gives what the first made.
func (d Actor) once(f func(Actor) (int64, error)) (int64, error) {
	// What is free is free before anybody decides.
	if err := d.Workshop.FreeCalledOff(d.Now); err != nil {
		return 0, err
	}
	return d.Workshop.Once(d.form, d.Now, func(tx store.Workshop) (int64, error) {
		if err := tx.Acting(d.Who.AccountID, d.Who.StudentID); err != nil {
			return 0, err
		}
		inner := d
		inner.Workshop, inner.form = tx, nil
		return f(inner)
	})
}

// Once runs what a form asks for in an area, in one transaction and for each
// form once; sent again, it gives what the first made.
func Once[A ~struct{ Actor }](a A, f func(A) (int64, error)) (int64, error) {
	return struct{ Actor }(a).once(func(d Actor) (int64, error) { return f(A(struct{ Actor }{d})) })
}

// OnceOnly is [Once] for what makes nothing that has a number.
func OnceOnly[A ~struct{ Actor }](a A, f func(A) error) error {
	_, err := Once(a, func(a A) (int64, error) { return 0, f(a) })
	return err
}

// As is somebody at work in an area.
func As[A ~struct{ Actor }](d Actor) A { return A(struct{ Actor }{d}) }

// Settings reads what the workshop holds to, which came with the session.
func (d Actor) Settings() (policy.Workshop, error) {
	if d.Who.settings != nil {
		return *d.Who.settings, nil
	}
	return d.Workshop.Settings()
}

// Date is the day in the workshop's time zone, as forms write it.
func (d Actor) Date() string { return d.Now.In(d.Who.Zone).Format("2006-01-02") }

// Clock is the time, by the workshop's clocks, by which forms are read.
func (d Actor) Clock() form.Clock { return form.Clock{Now: d.Now, Zone: d.Who.Zone} }

// Printer writes for the person at work.
func (d Actor) Printer() say.Printer { return d.Who.Printer }

// Say writes something for the person at work.
func (d Actor) Say(what any) string { return d.Who.Printer.Say(what) }

// NotFound is the error for what is not there.
func NotFound(format string, args ...any) error {
	return fmt.Errorf("finding "+format+": %w", append(args, store.ErrNotFound)...)
}
