// Package guard stands before the pages: it knows where a request comes from,
// how long it may take and how much it may bring, who is signed in, and that a
// form was sent from one of the application's own pages.
package guard

import (
	"context"
	"errors"
	"net/netip"
	"net/url"
	"time"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/actor"
)

// Config is what the guard needs to know of the surroundings.
type Config struct {
	App *actor.App
	// Public is the address people use, nil when it is the one the program
	// listens on.
	Public *url.URL
	// Proxies are the networks of proxies whose word is taken for where a
	// request comes from.
	Proxies []netip.Prefix
	// Secure marks cookies for HTTPS only, also where the public address does
	// not say so.
	Secure bool
	// Patience is how long a request may take.
	Patience time.Duration
}

// A Guard stands before the pages.
type Guard struct {
	cfg    Config
	bodies *bodies
}

// New makes a guard.
func New(cfg Config) *Guard { return &Guard{cfg: cfg, bodies: newBodies()} }

// Names of cookies: of a session, and of a visitor who has none yet, whose
// sign-in form has to come from our own page all the same.
const (
	sessionCookie = "chalkstep"
	visitCookie   = "chalkstep_visit"
)

// Names under which a request carries what the guard found.
const (
	whoKey   = "guard: who"
	tokenKey = "guard: token"
	guardKey = "guard"
)

// Know finds who sends a request, if anybody is signed in. A session that has
// ended is nobody's.
func (g *Guard) Know(c fiber.Ctx) error {
	c.Locals(guardKey, g)
	token := c.Cookies(sessionCookie)
	if token == "" {
		return c.Next()
	}
	c.Locals(tokenKey, token)
	ctx, cancel := context.WithTimeout(c.Context(), g.cfg.Patience)
	who, err := g.cfg.App.Session(ctx, token)
	cancel()
	switch {
	case errors.Is(err, actor.ErrNotFound):
	case err != nil:
		return err
	default:
		c.Locals(whoKey, who)
	}
	return c.Next()
}

// Who is signed in.
func Who(c fiber.Ctx) (who actor.Who, signedIn bool) {
	who, signedIn = c.Locals(whoKey).(actor.Who)
	return who, signedIn
}

// SignIn gives the browser the token of its session.
func (g *Guard) SignIn(c fiber.Ctx, token string) {
	g.setCookie(c, sessionCookie, token)
}

// knownCookie is what a browser is known by where somebody signed in at it, for
// as long as browsers keep a cookie.
const (
	knownCookie = "chalkstep_known"
	knownDays   = 400
)

// Known is what the browser has of earlier sign-ins.
func Known(c fiber.Ctx) string { return c.Cookies(knownCookie) }

// SetKnown has the browser known at the next sign-in.
func (g *Guard) SetKnown(c fiber.Ctx, known string) {
	c.Cookie(&fiber.Cookie{Name: knownCookie, Value: known, Path: "/sign-in", Expires: time.Now().AddDate(0, 0, knownDays),
		HTTPOnly: true, Secure: g.secure(c), SameSite: fiber.CookieSameSiteLaxMode})
}

// SessionToken is the token the browser sent, of a live session or not.
func SessionToken(c fiber.Ctx) string {
	return c.Cookies(sessionCookie)
}

// ownCookie carries the token of a student's own pages, for as long as it may be good.
const (
	ownCookie = "chalkstep_own"
	ownDays   = 90
)

// OwnToken is that of a student's own pages, as the browser sent it.
func OwnToken(c fiber.Ctx) string { return c.Cookies(ownCookie) }

// SetOwn gives the browser the token of a student's own pages, none to take it away.
func (g *Guard) SetOwn(c fiber.Ctx, token string) {
	expires := time.Now().AddDate(0, 0, ownDays)
	if token == "" {
		expires = time.Unix(0, 0)
	}
	c.Cookie(&fiber.Cookie{Name: ownCookie, Value: token, Path: "/", Expires: expires, HTTPOnly: true, Secure: g.secure(c),
		SameSite: fiber.CookieSameSiteLaxMode})
}

// SignOut takes the token from the browser.
func (g *Guard) SignOut(c fiber.Ctx) {
	c.Cookie(&fiber.Cookie{Name: sessionCookie, Value: "", Path: "/", Expires: time.Unix(0, 0), HTTPOnly: true,
		Secure: g.secure(c), SameSite: fiber.CookieSameSiteLaxMode})
}

func (g *Guard) setCookie(c fiber.Ctx, name, value string) {
	c.Cookie(&fiber.Cookie{Name: name, Value: value, Path: "/", SessionOnly: true, HTTPOnly: true, Secure: g.secure(c),
		SameSite: fiber.CookieSameSiteLaxMode})
}

// secure tells whether cookies are for HTTPS only.
func (g *Guard) secure(c fiber.Ctx) bool {
	return g.cfg.Secure || g.cfg.Public != nil && g.cfg.Public.Scheme == "https" || c.Scheme() == "https"
}

// Base is the address people use, without a slash at its end, for links that
// leave the application.
func Base(c fiber.Ctx) string {
	if g, ok := c.Locals(guardKey).(*Guard); ok && g.cfg.Public != nil {
		return g.cfg.Public.Scheme + "://" + g.cfg.Public.Host
	}
	return c.BaseURL()
}
