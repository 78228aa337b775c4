// Package signin lets people in and out.
package signin

import (
	"errors"
	"net/url"
	"strings"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/actor"
	"chalkstep/web/guard"
	"chalkstep/web/ui"
)

// Routes of signing in and out.
func Routes(f *fiber.App, a *actor.App, g *guard.Guard) {
	f.Get("/sign-in", func(c fiber.Ctx) error {
		if _, signedIn := guard.Who(c); signedIn {
			return c.Redirect().Status(fiber.StatusSeeOther).To("/")
		}
		return show(c, "", nil)
	})
	f.Post("/sign-in", func(c fiber.Ctx) error { return signIn(c, a, g) })
	f.Get("/welcome/:token", func(c fiber.Ctx) error { return welcome(c, a, nil) })
	f.Post("/welcome/:token", func(c fiber.Ctx) error {
		err := a.Accept(c.Context(), c.Params("token"), c.FormValue("password"))
		if err != nil {
			return ui.Again(c, err, func(p *ui.Refused) error { return welcome(c, a, p) })
		}
		return c.Redirect().Status(fiber.StatusSeeOther).To("/sign-in")
	})
	f.Post("/sign-out", func(c fiber.Ctx) error {
		if err := a.SignOut(c.Context(), guard.SessionToken(c)); err != nil {
			return err
		}
		g.SignOut(c)
		return c.Redirect().Status(fiber.StatusSeeOther).To("/sign-in")
	})
}

func show(c fiber.Ctx, email string, problems *ui.Refused) error {
	return ui.Render(c, "signin/signin", "", "Sign in", fiber.Map{"Email": email, "To": wanted(c), "Problems": problems})
}

// welcome asks whoever was invited for a password of their own.
func welcome(c fiber.Ctx, a *actor.App, problems *ui.Refused) error {
	who, err := a.Invited(c.Context(), c.Params("token"))
	if err != nil {
		return err
	}
	c.Set(fiber.HeaderCacheControl, "no-store")
	return ui.Render(c, "signin/welcome", "", "Welcome",
		fiber.Map{"Invited": who, "Token": c.Params("token"), "Problems": problems})
}

// wanted is the page that somebody came for before they had signed in: one of
// our own.
func wanted(c fiber.Ctx) string {
	to := c.FormValue("to", c.Query("to"))
	at, err := url.Parse(to)
	if err != nil || at.Host != "" || at.Scheme != "" || !strings.HasPrefix(to, "/") || strings.HasPrefix(to, "//") ||
		strings.ContainsAny(to, "\\\r\n") {
		return "/"
	}
	return to
}

func signIn(c fiber.Ctx, a *actor.App, g *guard.Guard) error {
	email := c.FormValue("email")
	in, err := a.SignIn(c.Context(), actor.SignInInput{
		Email: email, Password: c.FormValue("password"), Address: g.Address(c), Agent: c.Get(fiber.HeaderUserAgent),
		Before: guard.SessionToken(c), Known: guard.Known(c),
	})
	switch {
	case errors.Is(err, actor.ErrSignIn):
		c.Status(fiber.StatusUnprocessableEntity)
		return show(c, email, ui.Refuse("", "This e-mail and password do not belong together. Check both and try again."))
	case errors.Is(err, actor.ErrTries):
		c.Status(fiber.StatusTooManyRequests)
		return show(c, email, ui.Refuse("", "Too many tries. Wait five minutes, then try again."))
	case err != nil:
		return err
	}
	g.SignIn(c, in.Token)
	g.SetKnown(c, in.Known)
	return c.Redirect().Status(fiber.StatusSeeOther).To(wanted(c))
}

// Required sends whoever is not signed in to do so, and opens the workshop to
// whoever is.
func Required(a *actor.App) fiber.Handler {
	return func(c fiber.Ctx) error {
		who, signedIn := guard.Who(c)
		if !signedIn {
			to := "/sign-in"
			if from, err := url.Parse(c.Get("HX-Current-URL")); c.Get("HX-Request") != "" && err == nil {
				// Part of a page that is open would swallow the form: the whole page goes there.
				c.Set("HX-Redirect", to+"?to="+url.QueryEscape(from.RequestURI()))
				return c.SendStatus(fiber.StatusUnauthorized)
			}
			if c.Method() == fiber.MethodGet && c.Path() != "/" {
				to += "?to=" + url.QueryEscape(string(c.Request().URI().RequestURI()))
			}
			return c.Redirect().Status(fiber.StatusSeeOther).To(to)
		}
		ui.SetDesk(c, a.For(c.Context(), who))
		return c.Next()
	}
}
