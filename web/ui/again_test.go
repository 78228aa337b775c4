package ui

import (
	"html/template"
	"io"
	"net/http/httptest"
	"testing"

	"github.com/gofiber/fiber/v3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/form"
)

// A page that shows what is wrong with a name, and with the whole form.
func TestNothingIsRefusedInSilence(t *testing.T) {
	const name, turn = "It's a name & more: write it.", "A design is turned by 0° or 90°."
	for what, c := range map[string]struct {
		problems form.Problems
		want     string
	}{
		"a field that is there":              {form.Problems{"name": name}, " / " + name},
		"a field that is not":                {form.Problems{"turn": turn}, turn + " / "},
		"one that is there and one that not": {form.Problems{"name": name, "turn": turn}, turn + " / " + name},
		"the whole form and a field":         {form.Problems{"": "Look again.", "turn": turn}, "Look again. " + turn + " / "},
		"what a form is sent again with":     {form.Problems{"": "Look again.", form.VersionField: "7"}, "Look again. / "},
	} {
		t.Run(what, func(t *testing.T) {
			app := fiber.New()
			app.Post("/", func(ctx fiber.Ctx) error {
				return Again(ctx, c.problems, func(p form.Problems) error {
					return ctx.SendString(template.HTMLEscapeString(p[""] + " / " + p["name"]))
				})
			})
			answer, err := app.Test(httptest.NewRequest(fiber.MethodPost, "/", nil))
			require.NoError(t, err)
			defer answer.Body.Close()
			page, err := io.ReadAll(answer.Body)
			require.NoError(t, err)
			assert.Equal(t, fiber.StatusUnprocessableEntity, answer.StatusCode)
			assert.Equal(t, template.HTMLEscapeString(c.want), string(page))
		})
	}
}
