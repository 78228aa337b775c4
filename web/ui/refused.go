package ui

import (
	"errors"
	"maps"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/actor"
	"chalkstep/app/form"
)

// A Refused is what a page says of a form that was not saved: what is wrong, beside its
// fields, with what was typed there. Nil is a form of which there is nothing to say.
type Refused struct {
	problems form.Problems
	typed    map[string]string
	conflict form.Conflict
	agree    string
	// shown are the fields whose problem the page has shown.
	shown map[string]bool
	// silent are the problems it showed nowhere, said of the whole form then.
	silent []string
}

// RefusedFor is a form with problems.
func RefusedFor(problems form.Problems) *Refused { return &Refused{problems: problems} }

// Refuse is a form with one problem; the whole form's where no field is named.
func Refuse(field, problem string) *Refused { return RefusedFor(form.Problems{field: problem}) }

// Has tells that there is something wrong with a field.
func (r *Refused) Has(field string) bool { return r != nil && r.problems[field] != "" }

// Of is what is wrong with a field, for the place beside it.
func (r *Refused) Of(field string) string {
	if !r.Has(field) {
		return ""
	}
	if r.shown == nil {
		r.shown = map[string]bool{}
	}
	r.shown[field] = true
	return r.problems[field]
}

// Typed is what a field is filled with: what was typed where that is refused, so that a word
// where a number belongs stands there as it was.
func (r *Refused) Typed(field string, value any) any {
	if r.Has(field) {
		return r.typed[field]
	}
	return value
}

// Whole is what is wrong with the whole form.
func (r *Refused) Whole() string {
	if r == nil {
		return ""
	}
	return strings.TrimSpace(r.problems[""] + " " + strings.Join(r.silent, " "))
}

// Beside is what somebody else saved meanwhile, field by field.
func (r *Refused) Beside() []form.Difference {
	if r == nil {
		return nil
	}
	return r.conflict.Fields
}

// Version is what a form says it was read at: what somebody else saved meanwhile is looked at
// once it stands beside what was typed.
func (r *Refused) Version(read int) int {
	if r == nil || r.conflict.Version == 0 {
		return read
	}
	return r.conflict.Version
}

// Agree is what a form is sent with by who has seen what it would do besides.
func (r *Refused) Agree() string {
	if r == nil {
		return ""
	}
	return r.agree
}

// inFull renders a page so that nothing is refused in silence: what it shows beside no field,
// as where the field is not there any more, is said of the whole form.
func (r *Refused) inFull(render func() error) error {
	if err := render(); err != nil || r == nil {
		return err
	}
	for _, field := range slices.Sorted(maps.Keys(r.problems)) {
		if field != "" && !r.shown[field] {
			r.silent = append(r.silent, r.problems[field])
		}
	}
	if len(r.silent) == 0 {
		return nil
	}
	return render()
}

// Again shows a form once more with what was typed when err is a problem the
// person can mend, and passes any other error on.
func Again(c fiber.Ctx, err error, show func(*Refused) error) error {
	refused := Refuse("", form.Sentence(err.Error()))
	if !errors.Is(err, actor.ErrMayNot) {
		if refused, err = Mendable(c, err); err != nil {
			return err
		}
	}
	c.Status(fiber.StatusUnprocessableEntity)
	return show(refused)
}

// secret are the fields whose text is never shown again.
var secret = map[string]bool{"password": true, "old": true, "new": true}

// Mendable takes an error apart: what the person can mend is shown on the page, with what was
// typed; any other error is passed on.
func Mendable(c fiber.Ctx, err error) (*Refused, error) {
	r := &Refused{typed: map[string]string{}}
	var offer form.Offer
	switch {
	case err == nil:
		return nil, nil
	case errors.As(err, &r.problems):
	case errors.As(err, &r.conflict):
		r.problems = form.Problems{"": r.conflict.Error()}
	case errors.As(err, &offer):
		r.problems, r.agree = form.Problems{offer.Field: offer.Words}, offer.Key
	default:
		return nil, err
	}
	for field, values := range sent(c) {
		if r.Has(field) && !secret[field] {
			r.typed[field] = values[0]
		}
	}
	return r, nil
}
