package ui

import (
	"bytes"
	"mime/multipart"
	"net/http"
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"

	"github.com/gofiber/fiber/v3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

type tray struct {
	ID     int64    `form:"-"`
	Name   string   `form:"name"`
	Count  int      `form:"count"`
	Shelf  int64    `form:"shelf"`
	Locked bool     `form:"locked"`
	Colors []string `form:"colors"`
	Rows   []int64  `form:"rows"`
}

func TestFormsAreReadByTheirFields(t *testing.T) {
	for what, c := range map[string]struct {
		sent url.Values
		want tray
	}{
		"every kind of field": {url.Values{"name": {"Wharf"}, "count": {" 3 "}, "shelf": {"9000000000"}, "locked": {"yes"},
			"colors": {"blue", "navy, dark"}, "rows": {"1", "2"}},
			tray{7, "Wharf", 3, 9e9, true, []string{"blue", "navy, dark"}, []int64{1, 2}}},
		"nothing":        {url.Values{}, tray{ID: 7, Name: "as it was"}},
		"an empty field": {url.Values{"name": {""}, "count": {""}}, tray{ID: 7}},
		"words where numbers are": {url.Values{"count": {"three"}, "rows": {"1", "x"}},
			tray{7, "as it was", -1, 0, false, nil, []int64{1, -1}}},
		"a number beyond all": {url.Values{"count": {"99999999999999999999"}},
			tray{7, "as it was", -1, 0, false, nil, nil}},
		"what is not on the form":  {url.Values{"ID": {"1"}, "-": {"1"}, "other": {"1"}}, tray{ID: 7, Name: "as it was"}},
		"a field by another's way": {url.Values{"name.first": {"x"}, "colors.0.x": {"y"}}, tray{ID: 7, Name: "as it was"}},
	} {
		parts := func() (*bytes.Buffer, string) {
			var body bytes.Buffer
			w := multipart.NewWriter(&body)
			for field, values := range c.sent {
				for _, value := range values {
					require.NoError(t, w.WriteField(field, value))
				}
			}
			require.NoError(t, w.Close())
			return &body, w.FormDataContentType()
		}
		body, kind := parts()
		for how, request := range map[string]*http.Request{
			"address":   httptest.NewRequest(fiber.MethodGet, "/?"+c.sent.Encode(), nil),
			"form":      httptest.NewRequest(fiber.MethodPost, "/", strings.NewReader(c.sent.Encode())),
			"multipart": httptest.NewRequest(fiber.MethodPost, "/", body),
		} {
			t.Run(what+" by "+how, func(t *testing.T) {
				if how != "address" {
					request.Header.Set(fiber.HeaderContentType, fiber.MIMEApplicationForm)
				}
				if how == "multipart" {
					request.Header.Set(fiber.HeaderContentType, kind)
				}
				got := tray{ID: 7, Name: "as it was"}
				app := fiber.New()
				app.All("/", func(ctx fiber.Ctx) error { return Bind(ctx, &got) })
				answer, err := app.Test(request)
				require.NoError(t, err)
				require.NoError(t, answer.Body.Close())
				assert.Equal(t, fiber.StatusOK, answer.StatusCode)
				assert.Equal(t, c.want, got)
			})
		}
	}
}
