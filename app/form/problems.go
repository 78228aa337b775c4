// Package form is what was typed: read into values, with what is wrong with it by field.
package form

import (
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"

	"chalkstep/core/say"
	"chalkstep/store"
)

// Problems say, by form field, what is wrong with what was typed and what to
// do. An empty field name is about the whole form.
type Problems map[string]string

// Error are the problems in words, as where there is no form to show them beside.
func (p Problems) Error() string {
	var all []string
	for _, field := range slices.Sorted(maps.Keys(p)) {
		all = append(all, p[field])
	}
	return strings.Join(all, " ")
}

// OrNil keeps an empty list of problems from being an error.
func (p Problems) OrNil() error {
	if len(p) == 0 {
		return nil
	}
	return p
}

// Saved turns the store's errors into problems a person can act on. name is
// the field that holds the name.
func Saved(err error, name string) error {
	switch {
	case errors.Is(err, store.ErrTaken):
		return Problems{"name": fmt.Sprintf("%q is there already: choose another name.", name)}
	case errors.Is(err, store.ErrChanged):
		return Problems{"": "Someone else changed this while you were editing. Open it again in another tab, compare, and " +
			"save what should stay."}
	case errors.Is(err, store.ErrInUse):
		return Problems{"": "Something this refers to is gone. Choose again and save."}
	case errors.Is(err, store.ErrRefused):
		return Problems{"": "Something here is larger or longer than can be kept. Shorten it and save again."}
	}
	return err
}

// Sentence makes an error text a sentence.
func Sentence(text string) string { return say.Sentence(text) }

// OfRow takes the first problem of a row into a form's own.
func (p Problems) OfRow(field, what string, n int, row Problems, order ...string) {
	for _, name := range order {
		if problem := row[name]; problem != "" && p[field] == "" {
			p[field] = rowOf(what, n, problem)
		}
	}
}

// row names the row of a list of forms, counted from 1.
func rowOf(what string, n int, problem string) string {
	return fmt.Sprintf("%s %d: %s", what, n, problem)
}
