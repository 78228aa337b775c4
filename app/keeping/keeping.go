// Package keeping takes things off the workshop's lists, and puts them back.
package keeping

import (
	"errors"
	"fmt"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/say"
	"chalkstep/store"
)

// Listed is a kind of thing that can be taken off its list.
type Listed = store.Listed

// The kinds.
const (
	Machine = store.ListedMachine
	Hoop    = store.ListedHoop
	Item    = store.ListedItem
	Student = store.ListedStudent
	Project = store.ListedProject
)

// UseCases are those of somebody at work in this area.
type UseCases struct{ actor.Actor }

// permission to change what is on a list.
var permission = map[store.Listed]actor.Permission{
	store.ListedMachine: actor.ChangeRoom, store.ListedHoop: actor.ChangeRoom, store.ListedItem: actor.ChangeStock,
	store.ListedStudent: actor.ChangeStudents, store.ListedProject: actor.ChangeProjects,
}

// need guards what is done to things of a kind.
func (d UseCases) need(kind store.Listed) error {
	if err := d.Need(actor.See); err != nil {
		return err
	}
	if !kind.Known() {
		return actor.NotFound("things of kind %q", kind)
	}
	return d.Need(permission[kind])
}

// Remove deletes a thing that nothing refers to. What something of the past
// refers to is taken off its list instead, and stays readable there; kept tells
// so. What is needed by something to come stays.
func (d UseCases) Remove(kind store.Listed, id int64) (kept bool, err error) {
	if err := d.need(kind); err != nil {
		return false, err
	}
	made, err := actor.Once(d, func(d UseCases) (int64, error) {
		uses, err := d.Workshop.StillNeeds(kind, id, d.Now)
		if err != nil {
			return 0, err
		}
		if len(uses) > 0 {
			return 0, form.Problems{"": d.needed(kind, uses)}
		}
		kept, err := d.Workshop.Remove(kind, id, d.Now)
		if kept {
			return 1, err
		}
		return 0, err
	})
	return made == 1, err
}

// needed says what still needs a thing, and what to do about it.
func (d UseCases) needed(kind store.Listed, uses []store.StillNeeded) string {
	var by say.List
	for _, u := range uses {
		if u.StartsAt == nil {
			by = append(by, say.Name(u.Name))
			continue
		}
		by = append(by, say.T("%s on %s", u.Name, say.Day(*u.StartsAt)))
	}
	do := map[store.Listed]string{
		store.ListedMachine: "Move or cancel that first.", store.ListedHoop: "Take it off these machines first.",
		store.ListedItem:    "Put that class's shelf right first.",
		store.ListedStudent: "Take them off that first.", store.ListedProject: "Give that class another project first.",
	}
	return fmt.Sprintf("The %s is still needed: %s. %s", kind, d.Say(by), do[kind])
}

// PutBack puts a thing on its list again.
func (d UseCases) PutBack(kind store.Listed, id int64) error {
	if err := d.need(kind); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error {
		err := d.Workshop.PutBack(kind, id)
		if errors.Is(err, store.ErrTaken) {
			return form.Problems{"": fmt.Sprintf("Another %s has its name now: give that one another name first.", kind)}
		}
		return err
	})
}

// A Page is a stretch of what is off the lists.
type Page struct {
	Removed []store.Removed
	Pages   form.Pages
}

// Removed opens what is off the lists, the latest first.
func (d UseCases) Removed(page int) (Page, error) {
	if err := d.Need(actor.See); err != nil {
		return Page{}, err
	}
	const onPage = 50
	list := Page{Pages: form.NewPages("", page, onPage)}
	var err error
	list.Removed, list.Pages.Total, err = d.Workshop.Removed(list.Pages.Rows())
	return list, err
}

// MayPutBack tells whether the reader may put a thing back.
func (d UseCases) MayPutBack(kind store.Listed) bool { return d.Who.May(permission[kind]) }
