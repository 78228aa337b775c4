package ui

import (
	"bytes"
	"crypto/rand"
	"time"

	"github.com/gofiber/fiber/v3"
	lru "github.com/hashicorp/golang-lru/v2"

	"chalkstep/web/guard"
)

// A pageKey says what a page follows from: whose it is, of what, at what
// revision of the workshop, and at which minute of the clock.
type pageKey struct {
	account, revision, minute int64
	address                   string
	part                      bool // asked for by a script, not by a person
}

// Kept pages are the newest few, none of them heavy.
const (
	mostKept      = 512
	heaviestKept  = 100 << 10
	longestKeptAt = 300 // characters of an address
)

// formPlace stands, in a page as it is kept, where each browser's own form
// token goes. Nobody can write it.
var formPlace = rand.Text()

// Names under which a request carries its page to whoever keeps it.
const (
	pageKeyName  = "ui: page"
	freshKeyName = "ui: fresh"
)

// Keep gives pages that were made since the workshop last changed again,
// instead of making them anew. What a page is made from is in its key, so
// copies of the application need not know of each other's.
func Keep(now func() time.Time) fiber.Handler {
	// New fails for a size below 1 only.
	pages, _ := lru.New[pageKey, []byte](mostKept)
	return func(c fiber.Ctx) error {
		who, signedIn := guard.Who(c)
		address := string(c.Request().URI().RequestURI())
		if !signedIn || c.Method() != fiber.MethodGet || len(address) > longestKeptAt {
			return c.Next()
		}
		key := pageKey{who.AccountID, who.Revision, now().Unix() / 60, address, c.Get("HX-Request") != ""}
		if page, kept := pages.Get(key); kept {
			return sendPage(c, page)
		}
		if err := c.Next(); err != nil {
			return err
		}
		page, made := c.Locals(pageKeyName).([]byte)
		if made && c.Response().StatusCode() == fiber.StatusOK && c.Locals(freshKeyName) == nil && len(page) <= heaviestKept {
			pages.Add(key, page)
		}
		return nil
	}
}

// Fresh marks a page that shows what no revision tells of, such as sessions.
func Fresh(c fiber.Ctx) { c.Locals(freshKeyName, true) }

// sendPage answers with a page, the browser's own token in its forms.
func sendPage(c fiber.Ctx, page []byte) error {
	c.Set(fiber.HeaderCacheControl, "no-store")
	c.Set(fiber.HeaderContentType, fiber.MIMETextHTMLCharsetUTF8)
	return c.Send(bytes.ReplaceAll(page, []byte(formPlace), []byte(guard.FormToken(c))))
}
