// Package app holds the use cases: what a page or a command asks for, in one
// call each. It joins the trade's rules in core with the store, and owns
// transactions and the clock.
package app

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/alexedwards/argon2id"

	"chalkstep/store"
)

// An App serves all workshops.
type App struct {
	store *store.Store
	now   func() time.Time
}

// New makes an App on a store; now is the clock, time.Now outside tests.
func New(s *store.Store, now func() time.Time) *App { return &App{store: s, now: now} }

// Ready tells whether the database answers.
func (a *App) Ready(ctx context.Context) error { return a.store.Ping(ctx) }

// Who is signed in, and where.
type Who struct {
	AccountID  int64
	WorkshopID int64
	Name       string
	Role       string
	Workshop   string
	Zone       *time.Location
}

// MayChange tells whether someone of this role may change more than
// sign-offs.
func (w Who) MayChange() bool { return w.Role != store.Assistant }

// ErrSignIn means the e-mail and password do not belong together. It does
// not say which of them is wrong.
var ErrSignIn = errors.New("e-mail and password do not belong together")

// decoyHash is compared with when there is no such account, so that an
// answer takes as long either way.
var decoyHash = sync.OnceValues(func() (string, error) { return HashPassword("no such account") })

// HashPassword makes what is kept of a password.
func HashPassword(password string) (string, error) {
	hash, err := argon2id.CreateHash(password, argon2id.DefaultParams)
	if err != nil {
		return "", fmt.Errorf("hashing a password: %w", err)
	}
	return hash, nil
}

// SignIn checks an e-mail and a password.
func (a *App) SignIn(ctx context.Context, email, password string) (Who, error) {
	account, err := a.store.AccountByEmail(ctx, email)
	if errors.Is(err, store.ErrNotFound) {
		decoy, err := decoyHash()
		if err != nil {
			return Who{}, err
		}
		_, _ = argon2id.ComparePasswordAndHash(password, decoy)
		return Who{}, ErrSignIn
	}
	if err != nil {
		return Who{}, err
	}
	same, err := argon2id.ComparePasswordAndHash(password, account.PasswordHash)
	if err != nil {
		return Who{}, fmt.Errorf("checking the password of account %d: %w", account.ID, err)
	}
	if !same {
		return Who{}, ErrSignIn
	}
	return a.Who(ctx, account.WorkshopID, account.ID)
}

// Who looks a signed-in account up again, for each request.
func (a *App) Who(ctx context.Context, workshopID, accountID int64) (Who, error) {
	shop := a.store.For(ctx, workshopID)
	account, err := shop.Account(accountID)
	if err != nil {
		return Who{}, err
	}
	workshop, err := shop.Settings()
	if err != nil {
		return Who{}, err
	}
	zone, err := time.LoadLocation(workshop.TimeZone)
	if err != nil {
		return Who{}, fmt.Errorf("reading the workshop's time zone: %w", err)
	}
	return Who{AccountID: account.ID, WorkshopID: workshopID, Name: account.Name, Role: account.Role, Workshop: workshop.Name, Zone: zone}, nil
}

// A Desk is one person at work in their workshop.
type Desk struct {
	Who  Who
	shop store.Workshop
	now  time.Time
}

// Desk opens the use cases for someone who is signed in.
func (a *App) Desk(ctx context.Context, who Who) Desk {
	return Desk{Who: who, shop: a.store.For(ctx, who.WorkshopID), now: a.now()}
}

// Date is the day in the workshop's time zone, as forms write it.
func (d Desk) Date() string { return d.now.In(d.Who.Zone).Format("2006-01-02") }

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

// ErrMayNot means the role does not allow it.
var ErrMayNot = errors.New("an assistant may sign steps off, but not change this")

// mayChange guards everything but sign-offs.
func (d Desk) mayChange() error {
	if !d.Who.MayChange() {
		return ErrMayNot
	}
	return nil
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
	}
	return err
}
