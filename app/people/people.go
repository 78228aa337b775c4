package people

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"errors"
	"fmt"
	"slices"
	"strings"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/store"
)

// A PersonLine is one of those who may sign in.
type PersonLine struct {
	store.Person
	// Sessions is at how many browsers they are signed in now.
	Sessions int
	// You tells that it is who looks.
	You bool
}

// A PeoplePage is who may sign in to the workshop.
type PeoplePage struct {
	People []PersonLine
	Roles  []store.Role
}

// People opens who may sign in.
func (d UseCases) People() (PeoplePage, error) {
	if err := d.Need(actor.ManagePeople); err != nil {
		return PeoplePage{}, err
	}
	page := PeoplePage{Roles: store.Roles}
	accounts, err := d.Workshop.Accounts()
	if err != nil {
		return page, err
	}
	sessions, err := d.Workshop.CountSessions(d.Now.Add(-actor.SessionLength))
	if err != nil {
		return page, err
	}
	for _, a := range accounts {
		page.People = append(page.People, PersonLine{a, sessions[a.ID], a.ID == d.Who.AccountID})
	}
	return page, nil
}

// A PersonInput is somebody to add.
type PersonInput struct {
	Name     string `form:"name"`
	Email    string `form:"email"`
	Role     string `form:"role"`
	Password string `form:"password"`
}

// AddPerson lets somebody sign in, with a password to begin with that they change on their
// own page; without one they are invited by a link, whose token is given.
func (d UseCases) AddPerson(ctx context.Context, in PersonInput) (invite string, err error) {
	if err := d.Need(actor.ManagePeople); err != nil {
		return "", err
	}
	byLink := in.Password == ""
	if byLink {
		in.Password = rand.Text() // nobody knows it
	}
	problems := form.Problems{}
	person := store.Person{Name: form.Name(problems, "name", in.Name, "Write the person's name."),
		Role: store.Role(in.Role)}
	person.Email = email(problems, "email", in.Email)
	if !slices.Contains(store.Roles, person.Role) {
		problems["role"] = "Choose what the person may do."
	}
	actor.CheckPassword(problems, "password", in.Password)
	if err := problems.OrNil(); err != nil {
		return "", err
	}
	hash, err := d.App().Hash(ctx, in.Password)
	if err != nil {
		return "", err
	}
	token, kept, until := d.NewInvite()
	made := false
	_, err = actor.Once(d, func(d UseCases) (int64, error) {
		id, err := d.Workshop.AddAccount(person, hash)
		if err == nil && byLink {
			made = true
			err = d.Workshop.Invite(id, kept, until)
		}
		return id, err
	})
	if errors.Is(err, store.ErrTaken) {
		return "", form.Problems{"email": "Somebody signs in with this e-mail already."}
	}
	if !made {
		token = ""
	}
	return token, form.Saved(err, person.Name)
}

// InvitePerson gives somebody a link by which they choose a password of their own: for who
// has forgotten theirs. It works once, for a week; the link of before ends.
func (d UseCases) InvitePerson(id int64) (token string, err error) {
	if err := d.Need(actor.ManagePeople); err != nil {
		return "", err
	}
	token, kept, until := d.NewInvite()
	made := false
	err = actor.OnceOnly(d, func(d UseCases) error {
		if _, err := d.Workshop.Account(id); err != nil {
			return err
		}
		made = true
		return d.Workshop.Invite(id, kept, until)
	})
	if err == nil && !made {
		err = form.Problems{"": "That link was made already, and is shown once: make another."}
	}
	return token, err
}

// email reads a typed e-mail address.
func email(problems form.Problems, field, typed string) string {
	address := strings.TrimSpace(typed)
	before, after, at := strings.Cut(address, "@")
	if !at || before == "" || after == "" || len(address) > actor.LongestEmail || form.Cleaned(address) != address ||
		strings.ContainsAny(address, " ,;") {
		problems[field] = "Write an e-mail address such as sam@example.org."
	}
	return address
}

// RemovePerson keeps somebody from signing in again and ends their sessions.
func (d UseCases) RemovePerson(id int64) error {
	if err := d.Need(actor.ManagePeople); err != nil {
		return err
	}
	if id == d.Who.AccountID {
		return form.Problems{"": "You cannot remove yourself: another owner has to."}
	}
	err := actor.OnceOnly(d, func(d UseCases) error { return d.Workshop.RemoveAccount(id, d.Now) })
	if errors.Is(err, store.ErrLastOwner) {
		return form.Problems{"": "A workshop keeps at least one owner."}
	}
	return err
}

// EndSessionsOf signs somebody out wherever they are signed in.
func (d UseCases) EndSessionsOf(id int64) error {
	if err := d.Need(actor.ManagePeople); err != nil {
		return err
	}
	keep := int64(0)
	if id == d.Who.AccountID {
		keep = d.Who.SessionID
	}
	return actor.OnceOnly(d, func(d UseCases) error {
		if _, err := d.Workshop.Account(id); err != nil {
			return err
		}
		return d.Workshop.EndSessionsOf(id, keep)
	})
}

// SetPasswordOf gives somebody a new password to begin with, and signs them
// out everywhere.
func (d UseCases) SetPasswordOf(ctx context.Context, id int64, password string) error {
	if err := d.Need(actor.ManagePeople); err != nil {
		return err
	}
	if id == d.Who.AccountID {
		return form.Problems{"": "Your own password is changed on your own page."}
	}
	problems := form.Problems{}
	actor.CheckPassword(problems, "password", password)
	if err := problems.OrNil(); err != nil {
		return err
	}
	return d.setPassword(ctx, id, 0, password)
}

// setPassword keeps a new password and ends all sessions but one.
func (d UseCases) setPassword(ctx context.Context, id, keep int64, password string) error {
	hash, err := d.App().Hash(ctx, password)
	if err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error {
		if err := d.Workshop.SetPassword(id, hash); err != nil {
			return err
		}
		return d.Workshop.EndSessionsOf(id, keep)
	})
}

// An OwnPage is what somebody may see and change of themselves.
type OwnPage struct {
	Name, Email string
	Role        store.Role
	// Units and Clock that they chose, empty for the workshop's, which are House.
	Units, Clock string
	House        struct{ Units, Clock string }
	Sessions     []SessionLine
}

// A SessionLine is a browser at which somebody is signed in.
type SessionLine struct {
	store.Session
	// Here tells that it is the one that asks.
	Here bool
}

// Own opens one's own page.
func (d UseCases) Own() (OwnPage, error) {
	if err := d.Need(actor.ManageSelf); err != nil {
		return OwnPage{}, err
	}
	page := OwnPage{Name: d.Who.Name, Email: d.Who.Email, Role: d.Who.Role}
	account, err := d.Workshop.Account(d.Who.AccountID)
	if err != nil {
		return page, err
	}
	settings, err := d.Settings()
	if err != nil {
		return page, err
	}
	page.Units, page.Clock, page.House.Units, page.House.Clock = account.Units, account.Clock, settings.Units,
		settings.Clock
	sessions, err := d.Workshop.SessionsOf(d.Who.AccountID, d.Now.Add(-actor.SessionLength))
	for _, s := range sessions {
		page.Sessions = append(page.Sessions, SessionLine{s, s.ID == d.Who.SessionID})
	}
	return page, err
}

// ChangePassword changes one's own password, and signs one out everywhere
// else.
func (d UseCases) ChangePassword(ctx context.Context, old, password string) error {
	if err := d.Need(actor.ManageSelf); err != nil {
		return err
	}
	problems := form.Problems{}
	actor.CheckPassword(problems, "new", password)
	if err := problems.OrNil(); err != nil {
		return err
	}
	own := sha256.Sum256(fmt.Appendf(nil, "own password\x00%d", d.Who.AccountID))
	switch _, err := d.App().CheckPassword(ctx, d.Who.Email, old, actor.Limit{Key: own[:], Most: actor.TriesPerEmail}); {
	case errors.Is(err, actor.ErrSignIn):
		return form.Problems{"old": "That is not your password."}
	case errors.Is(err, actor.ErrTries):
		return form.Problems{"old": "That was not your password too many times. Wait five minutes and try again."}
	case err != nil:
		return err
	}
	return d.setPassword(ctx, d.Who.AccountID, d.Who.SessionID, password)
}

// EndOtherSessions signs one out everywhere else.
func (d UseCases) EndOtherSessions() error {
	if err := d.Need(actor.ManageSelf); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error { return d.Workshop.EndSessionsOf(d.Who.AccountID, d.Who.SessionID) })
}

// SaveUnits keeps what one measures in and how one reads the clock.
func (d UseCases) SaveUnits(units, clock string) error {
	if err := d.Need(actor.ManageSelf); err != nil {
		return err
	}
	problems := form.Problems{}
	units = form.Chosen(problems, "units", units, form.UnitChoices, "Choose millimetres, inches or the workshop's.")
	clock = form.Chosen(problems, "clock", clock, form.ClockChoices, "Choose 24 hours, 12 hours or the workshop's.")
	if err := problems.OrNil(); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error { return d.Workshop.SetUnits(d.Who.AccountID, units, clock) })
}
