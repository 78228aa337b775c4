package ui

import (
	"errors"
	"html/template"
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"

	"github.com/gofiber/fiber/v3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/actor"
	"chalkstep/app/form"
)

// A page that shows what is wrong with the whole form and with a name.
func TestNothingIsRefusedInSilence(t *testing.T) {
	page := template.Must(template.New("").Parse(`{{.Whole}} / {{.Of "name"}}`))
	const name, turn = "It's a name & more: write it.", "A design is turned by 0° or 90°."
	for what, c := range map[string]struct {
		refused *Refused
		want    string
	}{
		"nothing":               {nil, " / "},
		"a field that is there": {Refuse("name", name), " / " + name},
		"a field that is not":   {Refuse("turn", turn), turn + " / "},
		"one that is there and one that not": {
			&Refused{problems: form.Problems{"name": name, "turn": turn}}, turn + " / " + name},
		"the whole form and a field": {&Refused{problems: form.Problems{"": "Look again.", "turn": turn}},
			"Look again. " + turn + " / "},
	} {
		t.Run(what, func(t *testing.T) {
			var out strings.Builder
			require.NoError(t, c.refused.inFull(func() error {
				out.Reset()
				return page.Execute(&out, c.refused)
			}))
			assert.Equal(t, template.HTMLEscapeString(c.want), out.String())
		})
	}
}

// What a form is shown with again, by why it was refused.
func TestAFormIsShownAgain(t *testing.T) {
	conflict := form.Conflict{Version: 7, Fields: []form.Difference{{Label: "Name", Saved: "Wharf", Typed: ""}}}
	for what, c := range map[string]struct {
		err  error
		want string
	}{
		"a word where a number belongs": {form.Problems{"width": "Write a length."}, "width=ten, version 3"},
		"a field that is right":         {form.Problems{"height": "Write a length."}, "width=10, version 3"},
		"somebody saved meanwhile":      {conflict, "width=10, version 7, Name: they saved “Wharf”, you typed nothing"},
		"it would do more besides": {form.Offer{Field: "width", Words: "Seen?", Key: "abc"},
			"width=ten, version 3, agree abc"},
		"somebody may not": {actor.ErrMayNot, "width=10, version 3"},
	} {
		t.Run(what, func(t *testing.T) {
			app := fiber.New()
			said := ""
			app.Post("/", func(ctx fiber.Ctx) error {
				return Again(ctx, c.err, func(r *Refused) error {
					page := template.Must(template.New("").Parse(`width={{.Typed "width" 10}}, version {{.Version 3}}` +
						`{{range .Beside}}, {{.Label}}: {{.}}{{end}}{{with .Agree}}, agree {{.}}{{end}}`))
					var out strings.Builder
					err := page.Execute(&out, r)
					said = out.String()
					return err
				})
			})
			typed := strings.NewReader(url.Values{"width": {"ten"}}.Encode())
			request := httptest.NewRequest(fiber.MethodPost, "/?width=9", typed)
			request.Header.Set(fiber.HeaderContentType, fiber.MIMEApplicationForm)
			answer, err := app.Test(request)
			require.NoError(t, err)
			require.NoError(t, answer.Body.Close())
			assert.Equal(t, fiber.StatusUnprocessableEntity, answer.StatusCode)
			assert.Equal(t, c.want, said)
		})
	}
	t.Run("what nobody can mend is passed on", func(t *testing.T) {
		broken := errors.New("the disk is on fire")
		app := fiber.New()
		app.Post("/", func(ctx fiber.Ctx) error {
			assert.ErrorIs(t, Again(ctx, broken, func(*Refused) error { return nil }), broken)
			return nil
		})
		answer, err := app.Test(httptest.NewRequest(fiber.MethodPost, "/", nil))
		require.NoError(t, err)
		require.NoError(t, answer.Body.Close())
	})
}
