package people

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"errors"
	"fmt"
	"slices"
	"strings"

	"chalkstep/app/desk"

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
func (d Desk) People() (PeoplePage, error) {
	if err := d.Need(desk.ManagePeople); err != nil {
		return PeoplePage{}, err
	}
	page := PeoplePage{Roles: store.Roles}
	accounts, err := d.Shop.Accounts()
	if err != nil {
		return page, err
	}
	sessions, err := d.Shop.CountSessions(d.Now.Add(-desk.SessionLength))
	if err != nil {
		return page, err
	}
	for _, a := range accounts {
		page.People = append(page.People, PersonLine{a, sessions[a.ID], a.ID == d.Who.AccountID})
	}
	return page, nil
}

// A PersonInput is somebody to add.
type PersonInput struct{ Name, Email, Role, Password string }

// AddPerson lets somebody sign in, with a password to begin with that they change on their
// own page; without one they are invited by a link, whose token is given.
func (d Desk) AddPerson(ctx context.Context, in PersonInput) (invite string, err error) {
	if err := d.Need(desk.ManagePeople); err != nil {
		return "", err
	}
	byLink := in.Password == ""
	if byLink {
		in.Password = rand.Text() // nobody knows it
	}
	problems := desk.Problems{}
	person := store.Person{Name: desk.Name(problems, "name", in.Name, "Write the person's name."), Role: store.Role(in.Role)}
	person.Email = email(problems, "email", in.Email)
	if !slices.Contains(store.Roles, person.Role) {
		problems["role"] = "Choose what the person may do."
	}
	desk.CheckPassword(problems, "password", in.Password)
	if err := problems.OrNil(); err != nil {
		return "", err
	}
	hash, err := d.App().Hash(ctx, in.Password)
	if err != nil {
		return "", err
	}
	token, kept, until := d.NewInvite()
	made := false
	_, err = desk.Once(d, func(d Desk) (int64, error) {
		id, err := d.Shop.AddAccount(person, hash)
		if err == nil && byLink {
			made = true
			err = d.Shop.Invite(id, kept, until)
		}
		return id, err
	})
	if errors.Is(err, store.ErrTaken) {
		return "", desk.Problems{"email": "Somebody signs in with this e-mail already."}
	}
	if !made {
		token = ""
	}
	return token, desk.Saved(err, person.Name)
}

// InvitePerson gives somebody a link by which they choose a password of their own: for who
// has forgotten theirs. It works once, for a week; the link of before ends.
func (d Desk) InvitePerson(id int64) (token string, err error) {
	if err := d.Need(desk.ManagePeople); err != nil {
		return "", err
	}
	token, kept, until := d.NewInvite()
	made := false
	err = desk.OnceOnly(d, func(d Desk) error {
		if _, err := d.Shop.Account(id); err != nil {
			return err
		}
		made = true
		return d.Shop.Invite(id, kept, until)
	})
	if err == nil && !made {
		err = desk.Problems{"": "That link was made already, and is shown once: make another."}
	}
	return token, err
}

// email reads a typed e-mail address.
func email(problems desk.Problems, field, typed string) string {
	address := strings.TrimSpace(typed)
	before, after, at := strings.Cut(address, "@")
	if !at || before == "" || after == "" || len(address) > desk.LongestEmail || desk.Cleaned(address) != address || strings.ContainsAny(address, " ,;") {
		problems[field] = "Write an e-mail address such as sam@example.org."
	}
	return address
}

// RemovePerson keeps somebody from signing in again and ends their sessions.
func (d Desk) RemovePerson(id int64) error {
	if err := d.Need(desk.ManagePeople); err != nil {
		return err
	}
	if id == d.Who.AccountID {
		return desk.Problems{"": "You cannot remove yourself: another owner has to."}
	}
	err := desk.OnceOnly(d, func(d Desk) error { return d.Shop.RemoveAccount(id, d.Now) })
	if errors.Is(err, store.ErrLastOwner) {
		return desk.Problems{"": "A workshop keeps at least one owner."}
	}
	return err
}

// EndSessionsOf signs somebody out wherever they are signed in.
func (d Desk) EndSessionsOf(id int64) error {
	if err := d.Need(desk.ManagePeople); err != nil {
		return err
	}
	keep := int64(0)
	if id == d.Who.AccountID {
		keep = d.Who.SessionID
	}
	return desk.OnceOnly(d, func(d Desk) error {
		if _, err := d.Shop.Account(id); err != nil {
			return err
		}
		return d.Shop.EndSessionsOf(id, keep)
	})
}

// SetPasswordOf gives somebody a new password to begin with, and signs them
// out everywhere.
func (d Desk) SetPasswordOf(ctx context.Context, id int64, password string) error {
	if err := d.Need(desk.ManagePeople); err != nil {
		return err
	}
	if id == d.Who.AccountID {
		return desk.Problems{"": "Your own password is changed on your own page."}
	}
	problems := desk.Problems{}
	desk.CheckPassword(problems, "password", password)
	if err := problems.OrNil(); err != nil {
		return err
	}
	return d.setPassword(ctx, id, 0, password)
}

// setPassword keeps a new password and ends all sessions but one.
func (d Desk) setPassword(ctx context.Context, id, keep int64, password string) error {
	hash, err := d.App().Hash(ctx, password)
	if err != nil {
		return err
	}
	return desk.OnceOnly(d, func(d Desk) error {
		if err := d.Shop.SetPassword(id, hash); err != nil {
			return err
		}
		return d.Shop.EndSessionsOf(id, keep)
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
func (d Desk) Own() (OwnPage, error) {
	if err := d.Need(desk.ManageSelf); err != nil {
		return OwnPage{}, err
	}
	page := OwnPage{Name: d.Who.Name, Email: d.Who.Email, Role: d.Who.Role}
	account, err := d.Shop.Account(d.Who.AccountID)
	if err != nil {
		return page, err
	}
	settings, err := d.Settings()
	if err != nil {
		return page, err
	}
	page.Units, page.Clock, page.House.Units, page.House.Clock = account.Units, account.Clock, settings.Units, settings.Clock
	sessions, err := d.Shop.SessionsOf(d.Who.AccountID, d.Now.Add(-desk.SessionLength))
	for _, s := range sessions {
		page.Sessions = append(page.Sessions, SessionLine{s, s.ID == d.Who.SessionID})
	}
	return page, err
}

// ChangePassword changes one's own password, and signs one out everywhere
// else.
func (d Desk) ChangePassword(ctx context.Context, old, password string) error {
	if err := d.Need(desk.ManageSelf); err != nil {
		return err
	}
	problems := desk.Problems{}
	desk.CheckPassword(problems, "new", password)
	if err := problems.OrNil(); err != nil {
		return err
	}
	own := sha256.Sum256(fmt.Appendf(nil, "own password\x00%d", d.Who.AccountID))
	switch _, err := d.App().CheckPassword(ctx, d.Who.Email, old, desk.Limit{Key: own[:], Most: desk.TriesPerEmail}); {
	case errors.Is(err, desk.ErrSignIn):
		return desk.Problems{"old": "That is not your password."}
	case errors.Is(err, desk.ErrTries):
		return desk.Problems{"old": "That was not your password too many times. Wait five minutes and try again."}
	case err != nil:
		return err
	}
	return d.setPassword(ctx, d.Who.AccountID, d.Who.SessionID, password)
}

// EndOtherSessions signs one out everywhere else.
func (d Desk) EndOtherSessions() error {
	if err := d.Need(desk.ManageSelf); err != nil {
		return err
	}
	return desk.OnceOnly(d, func(d Desk) error { return d.Shop.EndSessionsOf(d.Who.AccountID, d.Who.SessionID) })
}

// SaveUnits keeps what one measures in and how one reads the clock.
func (d Desk) SaveUnits(units, clock string) error {
	if err := d.Need(desk.ManageSelf); err != nil {
		return err
	}
	problems := desk.Problems{}
	units = desk.Chosen(problems, "units", units, desk.UnitChoices, "Choose millimetres, inches or the workshop's.")
	clock = desk.Chosen(problems, "clock", clock, desk.ClockChoices, "Choose 24 hours, 12 hours or the workshop's.")
	if err := problems.OrNil(); err != nil {
		return err
	}
	return desk.OnceOnly(d, func(d Desk) error { return d.Shop.SetUnits(d.Who.AccountID, units, clock) })
}
