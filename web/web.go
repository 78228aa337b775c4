// Package web is the application's face: Fiber with one folder for each area
// of the product, its handlers and templates side by side. A handler parses,
// asks the app once, and renders; it holds no rule of the trade.
package web

import (
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"net/http"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/extractors"
	"github.com/gofiber/fiber/v3/middleware/compress"
	"github.com/gofiber/fiber/v3/middleware/csrf"
	"github.com/gofiber/fiber/v3/middleware/helmet"
	"github.com/gofiber/fiber/v3/middleware/recover"
	"github.com/gofiber/fiber/v3/middleware/session"
	"github.com/gofiber/fiber/v3/middleware/static"
	"github.com/gofiber/template/html/v2"

	"chalkstep/app"
	"chalkstep/core/stitch"
	"chalkstep/store"
	"chalkstep/web/classes"
	"chalkstep/web/designs"
	"chalkstep/web/machines"
	"chalkstep/web/projects"
	"chalkstep/web/settings"
	"chalkstep/web/signin"
	"chalkstep/web/stock"
	"chalkstep/web/students"
	"chalkstep/web/today"
	"chalkstep/web/ui"
)

//go:embed */*.html
var templates embed.FS

// Config is what the face needs from outside.
type Config struct {
	App *app.App
	// Sessions keeps sessions and sign-in attempts, shared by all copies of
	// the application.
	Sessions fiber.Storage
	// Secure marks cookies for HTTPS only.
	Secure bool
}

// contentPolicy allows nothing inline and nothing from another host.
const contentPolicy = "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self'; font-src 'self'; connect-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'"

const sessionLength = 12 * time.Hour

// New assembles the application's routes.
func New(cfg Config) (*fiber.App, error) {
	files, err := ui.Static()
	if err != nil {
		return nil, err
	}
	engine := html.NewFileSystem(http.FS(templates), ".html")
	for _, words := range []map[string]any{ui.Funcs, designs.Funcs, projects.Funcs, classes.Funcs, stock.Funcs} {
		engine.AddFuncMap(words)
	}
	if err := engine.Load(); err != nil {
		return nil, fmt.Errorf("reading the templates: %w", err)
	}
	const formOverhead = 1 << 20
	f := fiber.New(fiber.Config{
		AppName:      "Chalk Step",
		Views:        engine,
		BodyLimit:    stitch.MaxBytes + formOverhead,
		ErrorHandler: showError,
		ReadTimeout:  30 * time.Second,
		IdleTimeout:  2 * time.Minute,
	})
	f.Use(recover.New(recover.Config{EnableStackTrace: true}), logRequests, compress.New(), helmet.New(helmet.Config{
		ContentSecurityPolicy: contentPolicy, ReferrerPolicy: "same-origin", XFrameOptions: "DENY",
	}))
	f.Get("/healthz", func(c fiber.Ctx) error { return c.SendString("ok\n") })
	f.Get("/readyz", func(c fiber.Ctx) error {
		if err := cfg.App.Ready(c.Context()); err != nil {
			return c.Status(fiber.StatusServiceUnavailable).SendString("the database does not answer\n")
		}
		return c.SendString("ready\n")
	})
	f.Use("/static", cacheForGood, serve(files))

	sessions, sessionStore := session.NewWithStore(session.Config{
		Storage: cfg.Sessions, Extractor: extractors.FromCookie("chalkstep"), IdleTimeout: sessionLength,
		CookieHTTPOnly: true, CookieSecure: cfg.Secure, CookieSameSite: "Lax",
	})
	f.Use(sessions, csrf.New(csrf.Config{
		Session: sessionStore, Extractor: extractors.FromForm("_csrf"), CookieName: "chalkstep_csrf", CookieHTTPOnly: true, CookieSecure: cfg.Secure, IdleTimeout: sessionLength,
	}))
	signin.Routes(f, cfg.App, cfg.Sessions)
	f.Use(signin.Required(cfg.App))
	today.Routes(f)
	designs.Routes(f)
	projects.Routes(f)
	classes.Routes(f)
	stock.Routes(f)
	machines.Routes(f)
	students.Routes(f)
	settings.Routes(f)
	f.Use(func(fiber.Ctx) error { return store.ErrNotFound })
	return f, nil
}

func serve(files fs.FS) fiber.Handler { return static.New("", static.Config{FS: files}) }

// cacheForGood lets browsers keep what carries a version in its address, and
// fonts, which never change.
func cacheForGood(c fiber.Ctx) error {
	c.Set(fiber.HeaderCacheControl, "public, max-age=31536000, immutable")
	return c.Next()
}

func logRequests(c fiber.Ctx) error {
	start := time.Now()
	err := c.Next()
	if err != nil {
		if handled := c.App().ErrorHandler(c, err); handled != nil {
			return handled
		}
	}
	level := slog.LevelDebug
	if c.Response().StatusCode() >= fiber.StatusInternalServerError {
		level = slog.LevelError
	}
	slog.Log(c.Context(), level, "request", "method", c.Method(), "path", c.Path(), "status", c.Response().StatusCode(), "took", time.Since(start), "error", err)
	return nil
}

// showError answers with a page that says what went wrong and what to do.
func showError(c fiber.Ctx, err error) error {
	status := fiber.StatusInternalServerError
	answer, advice := "Something went wrong here.", "Nothing was lost that was saved before. Go back and try again; if it happens once more, tell whoever runs this server."
	var fiberError *fiber.Error
	var problems app.Problems
	switch {
	case errors.Is(err, store.ErrNotFound):
		status, answer, advice = fiber.StatusNotFound, "There is no such page.", "It may have been removed, or the address is mistyped."
	case errors.As(err, &problems):
		status, answer, advice = fiber.StatusUnprocessableEntity, problems.Error(), "Go back, change it, and try again."
	case errors.Is(err, app.ErrMayNot):
		status, answer, advice = fiber.StatusForbidden, app.Sentence(app.ErrMayNot.Error()), "Ask an instructor or the owner."
	case errors.As(err, &fiberError):
		status = fiberError.Code
		switch status {
		case fiber.StatusForbidden:
			answer, advice = "This form is too old to be sent.", "Open the page again and fill it in once more."
		case fiber.StatusRequestEntityTooLarge:
			answer, advice = "That file is larger than 32 MiB.", "No stitch file is. Check that it is the right one."
		case fiber.StatusNotFound, fiber.StatusMethodNotAllowed:
			answer, advice = "There is no such page.", "It may have been removed, or the address is mistyped."
		}
	}
	c.Status(status)
	return ui.Render(c, "ui/error", "", answer, fiber.Map{"Answer": answer, "Advice": advice})
}
