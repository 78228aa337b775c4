package actor

import (
	"context"
	"crypto/rand"
	"errors"
	"time"

	"chalkstep/app/form"
	"chalkstep/store"
)

// invitedFor is how long a link to choose one's password works.
const invitedFor = 7 * 24 * time.Hour

// NewInvite is the token of a link by which somebody chooses their own password, with what
// is kept of it and until when it works.
func (d Actor) NewInvite() (token string, hash []byte, until time.Time) {
	token = rand.Text()
	return token, tokenHash(token), d.Now.Add(invitedFor)
}

// Invited finds whom a link invites; [ErrNotFound] where it was used, renewed, or is old.
func (a *App) Invited(ctx context.Context, token string) (store.Invited, error) {
	return a.store.Invited(ctx, tokenHash(token), a.now())
}

// Accept keeps the password that an invited person chose.
func (a *App) Accept(ctx context.Context, token, password string) error {
	who, err := a.Invited(ctx, token)
	if err != nil {
		return err
	}
	problems := form.Problems{}
	CheckPassword(problems, "password", password)
	if err := problems.OrNil(); err != nil {
		return err
	}
	hash, err := a.Hash(ctx, password)
	if err != nil {
		return err
	}
	err = a.store.For(ctx, who.WorkshopID).Accept(who.ID, tokenHash(token), hash)
	if errors.Is(err, store.ErrNotFound) {
		return NotFound("the invitation")
	}
	return err
}

// ShortestPassword is how many characters a password has at least.
const ShortestPassword = 10

// CheckPassword notes a problem with a new password.
func CheckPassword(problems form.Problems, field, password string) {
	switch n := len([]rune(password)); {
	case n < ShortestPassword:
		problems[field] = "A password has at least 10 characters."
	case len(password) > LongestPassword:
		problems[field] = "A password has at most 200 characters."
	}
}
