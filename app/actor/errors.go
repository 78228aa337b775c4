package actor

import (
	"errors"

	"chalkstep/app/form"
	"chalkstep/core/say"
	"chalkstep/store"
)

// Errors that a page answers in its own way.
var (
	// ErrNotFound means that there is no such thing in the workshop.
	ErrNotFound = store.ErrNotFound
	// ErrRefused means that something cannot be kept as it is.
	ErrRefused = store.ErrRefused
	// ErrFull means that nothing can be saved for want of room.
	ErrFull = store.ErrFull
	// ErrUnavailable means that the database does not answer.
	ErrUnavailable = store.ErrUnavailable
)

// Mendable makes a problem of the trade one of the whole form.
func (d Actor) Mendable(err error) error {
	var p say.Problem
	if errors.As(err, &p) {
		return form.Problems{"": d.Who.Printer.Sentence(p.Text)}
	}
	return err
}
