package actor

import (
	"errors"
	"fmt"
	"slices"
	"strings"

	"chalkstep/store"
)

// A Permission is something a role may do. Every use case names the one it
// needs, reading or writing.
type Permission string

// The permissions there are.
const (
	// See everything of the workshop but what is the owner's.
	See Permission = "see"
	// SignOff steps of the ladder, and take sign-offs back.
	SignOff Permission = "sign-off"
	// PackKits: cut, packed, handed out, returned.
	PackKits Permission = "pack-kits"
	// RunClasses: note what happens while a class runs.
	RunClasses Permission = "run-classes"
	// PressStation: say at a machine what happens at it.
	PressStation Permission = "press-station"
	// ReadCalendar that a link is for.
	ReadCalendar Permission = "read-calendar"
	// SeeOwn and BookOwn: a student's own class, ladder and bookings.
	SeeOwn  Permission = "see-own"
	BookOwn Permission = "book-own"
	// Change what the area has.
	ChangeDesigns  Permission = "change-designs"
	ChangeProjects Permission = "change-projects"
	ChangeClasses  Permission = "change-classes"
	ChangeStock    Permission = "change-stock"
	ChangeRoom     Permission = "change-room"
	ChangeStudents Permission = "change-students"
	// Book machines for students, and cancel bookings.
	Book Permission = "book"
	// ReadChanges: who changed what.
	ReadChanges Permission = "read-changes"
	// SetHouse rules, OverrideLocks on resizing, ManagePeople of the workshop.
	SetHouse      Permission = "set-house"
	OverrideLocks Permission = "override-locks"
	ManagePeople  Permission = "manage-people"
	// ManageSelf: one's own password, sessions, units and clock.
	ManageSelf Permission = "manage-self"
)

// Permissions lists them all.
var Permissions = []Permission{
	See, SignOff, PackKits, RunClasses, PressStation, ReadCalendar, SeeOwn, BookOwn, ChangeDesigns, ChangeProjects,
	ChangeClasses, ChangeStock, ChangeRoom, ChangeStudents, Book, ReadChanges, SetHouse, OverrideLocks, ManagePeople,
	ManageSelf,
}

// roles say what each role may. A role that is not here may nothing.
var roles = map[store.Role][]Permission{
	store.StationPhone:   {PressStation},
	store.CalendarReader: {ReadCalendar},
	store.Keeper:         {Book},
	store.StudentPage:    {SeeOwn, BookOwn},
	store.Assistant:      {See, SignOff, PackKits, RunClasses, ManageSelf},
	store.Instructor: {See, SignOff, PackKits, RunClasses, ManageSelf, ChangeDesigns, ChangeProjects, ChangeClasses,
		ChangeStock, ChangeRoom, ChangeStudents, Book, ReadChanges},
	store.Owner: Permissions,
}

// May tells whether somebody may do something.
func (w Who) May(p Permission) bool { return slices.Contains(roles[w.Role], p) }

// Need is an error for somebody who may not do something.
func (w Who) Need(p Permission) error {
	if !w.May(p) {
		return mayNot{w.Role, p}
	}
	return nil
}

// doing says what a permission is for, as a sentence goes on with it.
var doing = map[Permission]string{
	See: "see the workshop", SignOff: "sign steps off", PackKits: "pack kits", RunClasses: "run classes",
	PressStation: "press at a station", ReadCalendar: "read a calendar", SeeOwn: "see a student's own pages",
	BookOwn: "book as a student", ChangeDesigns: "change designs", ChangeProjects: "change projects",
	ChangeClasses: "change classes",
	ChangeStock:   "change the shelf", ChangeRoom: "change machines and hoops", ChangeStudents: "change students",
	Book: "book machines", ReadChanges: "read what was changed", SetHouse: "change house rules",
	OverrideLocks: "set a lock on resizing aside", ManagePeople: "change who works here",
	ManageSelf: "change their own account",
}

// ErrMayNot means that the role does not allow it.
var ErrMayNot = errors.New("the role does not allow it")

// mayNot says who may not do what.
type mayNot struct {
	role store.Role
	Permission
}

func (e mayNot) Error() string {
	article := "a"
	if e.role != "" && strings.ContainsAny(string(e.role[:1]), "aeio") {
		article = "an"
	}
	return fmt.Sprintf("%s %s may not %s: ask the owner of the workshop", article, e.role, doing[e.Permission])
}

// Is makes it an [ErrMayNot].
func (e mayNot) Is(target error) bool { return target == ErrMayNot }

// ErrUnasked means that a use case did not say what it needs, so it is refused.
var ErrUnasked = errors.New("nobody said who may do this")

// Need guards a use case: each begins with it.
func (d Actor) Need(p Permission) error {
	if d.asked != nil {
		*d.asked = true
	}
	return d.Who.Need(p)
}

// Watched is the actor while somebody checks that what they do names what
// it needs: asked tells so afterwards.
func (d Actor) Watched() (watched Actor, asked func() bool) {
	said := new(bool)
	d.asked = said
	return d, func() bool { return *said }
}
