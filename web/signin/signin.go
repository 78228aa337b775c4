// Package signin lets people in and out.
package signin

import (
	"errors"
	"fmt"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/middleware/limiter"
	"github.com/gofiber/fiber/v3/middleware/session"

	"chalkstep/app"
	"chalkstep/store"
	"chalkstep/web/ui"
)

// Keys of what a session remembers.
const (
	workshopKey = "workshop"
	accountKey  = "account"
)

// Failed sign-ins allowed within limitWindow: for one e-mail from one
// address, and from one address in all.
const (
	triesPerEmail   = 6
	triesPerAddress = 40
	limitWindow     = 5 * time.Minute
)

// Routes of signing in and out.
func Routes(f *fiber.App, a *app.App, attempts fiber.Storage) {
	f.Get("/sign-in", func(c fiber.Ctx) error { return show(c, "", nil) })
	tooMany := func(c fiber.Ctx) error {
		c.Status(fiber.StatusTooManyRequests)
		return show(c, c.FormValue("email"), app.Problems{"": "Too many tries. Wait five minutes, then try again."})
	}
	limit := func(most int, key func(fiber.Ctx) string) fiber.Handler {
		return limiter.New(limiter.Config{Storage: attempts, Max: most, Expiration: limitWindow, SkipSuccessfulRequests: true, KeyGenerator: key, LimitReached: tooMany})
	}
	f.Post("/sign-in",
		limit(triesPerAddress, func(c fiber.Ctx) string { return "sign-in:" + c.IP() }),
		limit(triesPerEmail, func(c fiber.Ctx) string {
			return "sign-in:" + c.IP() + ":" + strings.ToLower(strings.TrimSpace(c.FormValue("email")))
		}),
		func(c fiber.Ctx) error { return signIn(c, a) })
	f.Post("/sign-out", signOut)
}

func show(c fiber.Ctx, email string, problems app.Problems) error {
	if problems == nil {
		problems = app.Problems{}
	}
	return ui.Render(c, "signin/signin", "", "Sign in", fiber.Map{"Email": email, "Problems": problems})
}

func signIn(c fiber.Ctx, a *app.App) error {
	email := c.FormValue("email")
	who, err := a.SignIn(c.Context(), email, c.FormValue("password"))
	if errors.Is(err, app.ErrSignIn) {
		c.Status(fiber.StatusUnprocessableEntity)
		return show(c, email, app.Problems{"": "This e-mail and password do not belong together. Check both and try again."})
	}
	if err != nil {
		return err
	}
	s := session.FromContext(c)
	// A new session id, so that one known from before is worth nothing.
	if err := s.Regenerate(); err != nil {
		return fmt.Errorf("starting the session: %w", err)
	}
	s.Set(workshopKey, who.WorkshopID)
	s.Set(accountKey, who.AccountID)
	return c.Redirect().Status(fiber.StatusSeeOther).To("/")
}

func signOut(c fiber.Ctx) error {
	if err := session.FromContext(c).Destroy(); err != nil {
		return fmt.Errorf("ending the session: %w", err)
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/sign-in")
}

// Required sends whoever is not signed in to do so, and opens the desk of
// whoever is.
func Required(a *app.App) fiber.Handler {
	return func(c fiber.Ctx) error {
		s := session.FromContext(c)
		workshopID, _ := s.Get(workshopKey).(int64)
		accountID, _ := s.Get(accountKey).(int64)
		if workshopID == 0 || accountID == 0 {
			return c.Redirect().Status(fiber.StatusSeeOther).To("/sign-in")
		}
		who, err := a.Who(c.Context(), workshopID, accountID)
		if errors.Is(err, store.ErrNotFound) {
			return signOut(c)
		}
		if err != nil {
			return err
		}
		ui.SetDesk(c, a.Desk(c.Context(), who))
		return c.Next()
	}
}
