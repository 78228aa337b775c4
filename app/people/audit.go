package people

import (
	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/store"
)

// A Change is something that somebody changed, of a kind, to a thing of one kind.
type (
	Change       = store.Change
	ChangeKind   = store.ChangeKind
	ChangedThing = store.ChangedThing
)

// The kinds of change that a page tells in other words.
const (
	ThingAdded   = store.ThingAdded
	ThingChanged = store.ThingChanged
)

// A ChangesPage is a stretch of what was changed in the workshop.
type ChangesPage struct {
	Changes []Change
	Pages   form.Pages
}

// Changes opens what was changed, the newest first. Staff read it, and nobody changes it.
func (d UseCases) Changes(page int) (ChangesPage, error) {
	if err := d.Need(actor.ReadChanges); err != nil {
		return ChangesPage{}, err
	}
	const onPage = 50
	list := ChangesPage{Pages: form.NewPages("", page, onPage)}
	var err error
	list.Changes, list.Pages.Total, err = d.Workshop.Changes(list.Pages.Rows())
	return list, err
}
