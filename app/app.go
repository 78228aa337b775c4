// Package app holds the use cases: what a page or a command asks for, in one
// call each. It joins the trade's rules in core with the store, and owns
// transactions and the clock.
package app

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"chalkstep/core/measure"
	"chalkstep/core/say"
	"chalkstep/store"
)

// An App serves all workshops.
type App struct {
	store *store.Store
	now   func() time.Time
	memo  *memo
	// hashing lets few passwords be worked on at a time: each takes memory.
	hashing *hashing
}

// New makes an App on a store; now is the clock, time.Now outside tests.
func New(s *store.Store, now func() time.Time) *App {
	return &App{store: s, now: now, memo: newMemo(), hashing: newHashing()}
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
	Role       string
	Workshop   string
	Zone       *time.Location
	// Printer writes in their units and by their clock.
	Printer say.Printer
	// Revision moves on with every change of the workshop: what was worked out
	// at one is right until it does.
	Revision int64
	settings *store.WorkshopRow
}

// newWho puts together who somebody is.
func newWho(account store.Account, workshop store.WorkshopRow) (Who, error) {
	zone, err := time.LoadLocation(workshop.TimeZone)
	if err != nil {
		return Who{}, fmt.Errorf("reading the workshop's time zone: %w", err)
	}
	return Who{AccountID: account.ID, WorkshopID: workshop.ID, Name: account.Name, Email: account.Email, Role: account.Role, Workshop: workshop.Name, Zone: zone, Printer: printerOf(account, workshop, zone)}, nil
}

// printerOf writes as somebody chose, or as their workshop has it.
func printerOf(account store.Account, workshop store.WorkshopRow, zone *time.Location) say.Printer {
	units, _ := measure.UnitsNamed(cmp.Or(account.Units, workshop.Units))
	return say.Printer{Units: units, TwelveHours: cmp.Or(account.Clock, workshop.Clock) == twelveHours, Zone: zone}
}

const twelveHours = "12"

// A Desk is one person at work in their workshop.
type Desk struct {
	Who  Who
	shop store.Workshop
	now  time.Time
	app  *App
	// form is the key of the form being sent, nil for none: what it does is
	// done once.
	form []byte
	// asked notes that a use case said what it needs, nil where nobody looks.
	asked *bool
}

// Desk opens the use cases for someone who is signed in.
func (a *App) Desk(ctx context.Context, who Who) Desk {
	return Desk{Who: who, shop: a.store.For(ctx, who.WorkshopID), now: a.now(), app: a}
}

// Sending is the desk while it works on a sent form, which counts once however
// often its key comes.
func (d Desk) Sending(form []byte) Desk {
	d.form = form
	return d
}

// once runs what a form asks for, in one transaction and for each form once;
// sent again, it gives what the first made.
func (d Desk) once(f func(Desk) (int64, error)) (int64, error) {
	return d.shop.Once(d.form, d.now, func(tx store.Workshop) (int64, error) {
		inner := d
		inner.shop, inner.form = tx, nil
		return f(inner)
	})
}

// onceOnly is once for what makes nothing that has a number.
func (d Desk) onceOnly(f func(Desk) error) error {
	_, err := d.once(func(d Desk) (int64, error) { return 0, f(d) })
	return err
}

// settings reads the workshop's own row, which came with the session.
func (d Desk) settings() (store.WorkshopRow, error) {
	if d.Who.settings != nil {
		return *d.Who.settings, nil
	}
	return d.shop.Settings()
}

// Date is the day in the workshop's time zone, as forms write it.
func (d Desk) Date() string { return d.now.In(d.Who.Zone).Format("2006-01-02") }

// Printer writes for the person at the desk.
func (d Desk) Printer() say.Printer { return d.Who.Printer }

// Say writes something for the person at the desk.
func (d Desk) Say(what any) string { return d.Who.Printer.Say(what) }

// notFound is the error for what is not there.
func notFound(format string, args ...any) error {
	return fmt.Errorf("finding "+format+": %w", append(args, store.ErrNotFound)...)
}

// mendable makes a problem of the trade one of the whole form.
func (d Desk) mendable(err error) error {
	var p say.Problem
	if errors.As(err, &p) {
		return Problems{"": d.Who.Printer.Sentence(p.Text)}
	}
	return err
}

// Problems say, by form field, what is wrong with what was typed and what to
// do. An empty field name is about the whole form.
type Problems map[string]string

func (p Problems) Error() string {
	var all []string
	for field, text := range p {
		all = append(all, strings.TrimSpace(field+" "+text))
	}
	slices.Sort(all)
	return strings.Join(all, "; ")
}

// orNil keeps an empty list of problems from being an error.
func (p Problems) orNil() error {
	if len(p) == 0 {
		return nil
	}
	return p
}

// saved turns the store's errors into problems a person can act on. name is
// the field that holds the name.
func saved(err error, name string) error {
	switch {
	case errors.Is(err, store.ErrTaken):
		return Problems{"name": fmt.Sprintf("%q is there already: choose another name.", name)}
	case errors.Is(err, store.ErrChanged):
		return Problems{"": "Someone else changed this while you were editing. Open it again in another tab, compare, and save what should stay."}
	case errors.Is(err, store.ErrInUse):
		return Problems{"": "Something this refers to is gone. Choose again and save."}
	case errors.Is(err, store.ErrRefused):
		return Problems{"": "Something here is larger or longer than can be kept. Shorten it and save again."}
	}
	return err
}
