package people

import (
	"slices"

	"chalkstep/app/actor"
	"chalkstep/paper"
	"chalkstep/store"
)

// OwnPath is where personal links begin.
const OwnPath = "/me/"

// An OwnLink is how a student opens their own page.
type OwnLink struct {
	StudentID   int64
	Name, Token string
	// HasPIN tells that they chose one.
	HasPIN bool
	// Wrong are PINs that were wrong since the last right one, nil for none.
	Wrong *store.WrongPINs
	// Phones are where it is open.
	Phones []store.Session
}

// OwnLink opens the personal link of a student, which is for staff to give them.
func (d UseCases) OwnLink(id int64) (OwnLink, error) {
	if err := d.Need(actor.ChangeStudents); err != nil {
		return OwnLink{}, err
	}
	s, err := d.Workshop.Student(id)
	if err != nil {
		return OwnLink{}, err
	}
	key, version, hasPIN, err := d.Workshop.AccessKey(id)
	link := actor.StudentLink{WorkshopID: d.Who.WorkshopID, StudentID: id, Version: version}
	if err != nil {
		return OwnLink{}, err
	}
	own := OwnLink{StudentID: id, Name: s.Name, Token: link.Token(key), HasPIN: hasPIN}
	if own.Phones, err = d.Workshop.Accesses(id, d.OwnSince()); err != nil {
		return own, err
	}
	wrong, err := d.Workshop.WrongPINs(d.SinceWrongPINs(), 1)
	if at := slices.IndexFunc(wrong, func(w store.WrongPINs) bool { return w.StudentID == id }); at >= 0 {
		own.Wrong = &wrong[at]
	}
	return own, err
}

// EndOwn closes a student's own pages where they are open.
func (d UseCases) EndOwn(id, session int64) error {
	if err := d.Need(actor.ChangeStudents); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error { return d.Workshop.EndAccessOf(id, session) })
}

// OwnCode is the personal link of a student as a code for a phone, in PNG; base is the
// address of the application.
func (d UseCases) OwnCode(id int64, base string) ([]byte, error) {
	link, err := d.OwnLink(id)
	if err != nil {
		return nil, err
	}
	return paper.Code(base + OwnPath + link.Token)
}

// RenewOwn gives a student another link: that of before, their PIN and what is open on their
// phones end.
func (d UseCases) RenewOwn(id int64) error {
	if err := d.Need(actor.ChangeStudents); err != nil {
		return err
	}
	if _, err := d.Workshop.Student(id); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error { return d.Workshop.RenewAccess(id) })
}
