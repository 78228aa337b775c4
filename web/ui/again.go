package ui

import (
	"errors"
	"html"
	"maps"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/actor"
	"chalkstep/app/form"
)

// Again shows a form once more with what was typed when err is a problem the
// person can mend, and passes any other error on. Nothing is refused in silence: what the page
// shows beside no field, as where the field is not there any more, is said of the whole form.
func Again(c fiber.Ctx, err error, show func(form.Problems) error) error {
	var problems form.Problems
	switch {
	case errors.As(err, &problems):
	case errors.Is(err, actor.ErrMayNot):
		problems = form.Problems{"": form.Sentence(err.Error())}
	default:
		return err
	}
	c.Status(fiber.StatusUnprocessableEntity)
	kept := KeepTyped(c, problems)
	if err := show(kept); err != nil {
		return err
	}
	silent := unsaid(c.Response().Body(), problems)
	if len(silent) == 0 {
		return nil
	}
	kept[""] = strings.TrimSpace(kept[""] + " " + strings.Join(silent, " "))
	return show(kept)
}

// unsaid are the problems of fields that a page does not show.
func unsaid(page []byte, problems form.Problems) []string {
	shown := html.UnescapeString(string(page))
	var texts []string
	for _, field := range slices.Sorted(maps.Keys(problems)) {
		if field != "" && field != form.VersionField && !strings.Contains(shown, problems[field]) {
			texts = append(texts, problems[field])
		}
	}
	return texts
}

// typedPrefix marks, among the problems a form is shown with, what was typed
// into a field that has one.
const typedPrefix = "typed "

// secret are the fields whose text is never shown again.
var secret = map[string]bool{"password": true, "old": true, "new": true}

// KeepTyped adds what was typed into the fields that have problems, so that a
// word where a number belongs is shown again as it was.
func KeepTyped(c fiber.Ctx, problems form.Problems) form.Problems {
	all := form.Problems{}
	for name, text := range problems {
		all[name] = text
		if typed := c.FormValue(name, c.Query(name)); typed != "" && !secret[name] {
			all[typedPrefix+name] = typed
		}
	}
	return all
}

// Mendable takes an error apart: problems that the person can mend are shown
// on the page, with what was typed; any other error is passed on.
func Mendable(c fiber.Ctx, err error) (form.Problems, error) {
	var problems form.Problems
	if err != nil && !errors.As(err, &problems) {
		return nil, err
	}
	return KeepTyped(c, problems), nil
}
