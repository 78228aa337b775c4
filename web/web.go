// Package web is the application's face: Fiber with one folder for each area
// of the product, its handlers and templates side by side. A handler parses,
// asks the app once, and renders; it holds no rule of the trade.
package web

import (
	"context"
	"embed"
	"errors"
	"io/fs"
	"path"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/middleware/helmet"
	"github.com/gofiber/fiber/v3/middleware/recover"
	"github.com/gofiber/fiber/v3/middleware/static"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/app/people"
	"chalkstep/core/photo"
	"chalkstep/core/stitch"
	"chalkstep/web/bookings"
	"chalkstep/web/calendar"
	"chalkstep/web/designs"
	"chalkstep/web/fleet"
	"chalkstep/web/guard"
	"chalkstep/web/keeping"
	"chalkstep/web/live"
	"chalkstep/web/planning"
	"chalkstep/web/prep"
	"chalkstep/web/projects"
	"chalkstep/web/settings"
	"chalkstep/web/signin"
	"chalkstep/web/station"
	"chalkstep/web/stock"
	"chalkstep/web/student"
	"chalkstep/web/students"
	"chalkstep/web/today"
	"chalkstep/web/ui"
	"chalkstep/web/wrapup"
)

//go:embed */*.html
var templates embed.FS

// Config is what the face needs from outside; a Patience of 0 is the usual.
type Config = guard.Config

// UsualPatience is how long a request may take where nothing else is set.
const UsualPatience = 20 * time.Second

// contentPolicy allows nothing inline and nothing from another host.
const contentPolicy = "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self'; font-src 'self'; " +
	"connect-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'"

// photoForm is a photo with the fields beside it.
const photoForm = photo.MostBytes + 64<<10

// uploads are the places files are sent to.
var uploads = []guard.Upload{
	{Route: "/designs", Needs: actor.ChangeDesigns, MostBytes: stitch.MaxBytes + 64<<10},
	{Route: "/designs/:id/stitch-outs", Needs: actor.ChangeDesigns, MostBytes: photoForm},
	{Route: "/projects/:id/photo", Needs: actor.ChangeProjects, MostBytes: photoForm},
	{Route: "/projects/:id/tests", Needs: actor.ChangeProjects, MostBytes: photoForm},
	{Route: "/classes/:id/wrap/:student/photo", Needs: actor.RunClasses, MostBytes: photoForm},
	{Route: "/students/marks", Needs: actor.SignOff, MostBytes: photoForm},
	{Route: "/students/roster", Needs: actor.ChangeStudents, MostBytes: people.MostRosterBytes + 64<<10},
}

// readyWithin is how long the database may take to show that it is there.
const readyWithin = 800 * time.Millisecond

// New assembles the application's routes.
func New(cfg Config) (*fiber.App, error) {
	files, err := ui.Static()
	if err != nil {
		return nil, err
	}
	templates, err := newViews(templates)
	if err != nil {
		return nil, err
	}
	if cfg.Patience == 0 {
		cfg.Patience = UsualPatience
	}
	var proxies []string
	for _, p := range cfg.Proxies {
		proxies = append(proxies, p.String())
	}
	f := fiber.New(fiber.Config{
		AppName:      "Chalk Step",
		Views:        templates,
		ErrorHandler: showError,
		// An address is spelt one way, so that what stands before a page agrees
		// with the page about which it is.
		StrictRouting: guard.Routing.StrictRouting, CaseSensitive: guard.Routing.CaseSensitive,
		// Addresses with a form's fields in them, and other applications' cookies.
		ReadBufferSize: 16 << 10,
		ReadTimeout:    30 * time.Second,
		IdleTimeout:    2 * time.Minute,
		// Bodies are read by the guard, when it is known who sends them.
		StreamRequestBody: true, DisablePreParseMultipartForm: true, BodyLimit: stitch.MaxBytes * 2,
		TrustProxy: len(proxies) > 0, TrustProxyConfig: fiber.TrustProxyConfig{Proxies: proxies},
	})
	f.Use(headAsGet, recover.New(recover.Config{EnableStackTrace: true}), logRequests, pack(), helmet.New(helmet.Config{
		ContentSecurityPolicy: contentPolicy, ReferrerPolicy: "same-origin", XFrameOptions: "DENY",
	}))
	f.Get("/healthz", func(c fiber.Ctx) error { return c.SendString("ok\n") })
	f.Get("/readyz", func(c fiber.Ctx) error {
		ctx, cancel := context.WithTimeout(c.Context(), readyWithin)
		defer cancel()
		err := cfg.App.Ready(ctx)
		if errors.Is(err, actor.ErrFull) {
			return c.Status(fiber.StatusServiceUnavailable).SendString("the disk is full\n")
		}
		if err != nil {
			return c.Status(fiber.StatusServiceUnavailable).SendString("the database does not answer\n")
		}
		return c.SendString("ready\n")
	})
	f.Use("/static", versioned, serve(files))

	streams := ui.NewStreams()
	f.Hooks().OnPreShutdown(streams.End)
	g := guard.New(cfg)
	// A body is waited for before the time for answering begins.
	f.Use(streams.Carry, g.Know, g.Body(uploads...), g.Deadline)
	station.Routes(f, cfg.App)
	calendar.Routes(f, cfg.App)
	f.Use(g.Form)
	signin.Routes(f, cfg.App, g)
	student.Routes(f, cfg.App, g)
	f.Use(signin.Required(cfg.App), ui.Keep(cfg.App.Now))
	today.Routes(f)
	designs.Routes(f)
	projects.Routes(f)
	planning.Routes(f)
	prep.Routes(f)
	live.Routes(f)
	wrapup.Routes(f)
	stock.Routes(f)
	bookings.Routes(f)
	fleet.Routes(f)
	students.Routes(f)
	settings.Routes(f)
	keeping.Routes(f)
	f.Use(func(fiber.Ctx) error { return actor.ErrNotFound })
	return f, nil
}

// headAsGet answers HEAD as GET is answered; the server leaves the body out.
func headAsGet(c fiber.Ctx) error {
	if c.Method() != fiber.MethodHead {
		return c.Next()
	}
	c.Method(fiber.MethodGet)
	return c.RestartRouting()
}

func serve(files fs.FS) fiber.Handler { return static.New("", static.Config{FS: files}) }

// versioned serves what carries a version in its address, before its name, so that a
// script finds those of the same version beside it. Browsers keep it for good, as fonts,
// which never change; a page of before an upgrade is given what there is now.
func versioned(c fiber.Ctx) error {
	rest, kept := strings.TrimPrefix(c.Path(), "/static/"), true
	if first, name, in := strings.Cut(rest, "/"); in && name != "" {
		kept = first == ui.Version()
		c.Path("/static/" + name)
	} else {
		kept = path.Ext(rest) == ".woff2"
	}
	if kept {
		c.Set(fiber.HeaderCacheControl, "public, max-age=31536000, immutable")
	} else {
		c.Set(fiber.HeaderCacheControl, "no-cache")
	}
	return c.Next()
}

// retryAfter is what a browser is told when something is down or too busy.
const retryAfter = "5"

// showError answers with a page that says what went wrong and what to do.
func showError(c fiber.Ctx, err error) error {
	status, answer, advice := explained(c, err)
	if status == fiber.StatusServiceUnavailable {
		c.Set(fiber.HeaderRetryAfter, retryAfter)
	}
	c.Status(status)
	return ui.Render(c, "ui/error", "", answer, fiber.Map{"Answer": answer, "Advice": advice})
}

// explained puts an error into a status and words.
func explained(c fiber.Ctx, err error) (status int, answer, advice string) {
	var fiberError *fiber.Error
	var problems form.Problems
	var conflict form.Conflict
	switch {
	case errors.Is(err, actor.ErrNotFound):
		return fiber.StatusNotFound, "There is no such page.", "It may have been removed, or the address is mistyped."
	case errors.As(err, &problems):
		return fiber.StatusUnprocessableEntity, problems.Error(), "Go back, change it, and try again."
	case errors.As(err, &conflict):
		return fiber.StatusUnprocessableEntity, conflict.Error(), "Go back, change it, and try again."
	case errors.Is(err, actor.ErrMayNot):
		return fiber.StatusForbidden, form.Sentence(err.Error()),
			"What you may not do is left out of the pages; this address leads past them."
	case errors.Is(err, actor.ErrRefused):
		return fiber.StatusUnprocessableEntity, "There is something in it that cannot be kept.",
			"Go back, write it again by hand, and send it once more."
	case errors.Is(err, actor.ErrFull):
		return fiber.StatusServiceUnavailable, "The disk of this server is full, so nothing can be saved.",
			"Everything can still be read. Tell whoever runs this server to make room; what you typed is still there when " +
				"you go back."
	case errors.Is(err, actor.ErrUnavailable):
		return fiber.StatusServiceUnavailable, "The database does not answer just now.",
			"Nothing was changed. Wait a moment, then try again: what you typed is still there when you go back."
	case errors.Is(err, ui.ErrLinkFull):
		return fiber.StatusTooManyRequests, "This is open on too many screens already.",
			"Close it on one that nobody looks at, then open this page again."
	case errors.Is(err, ui.ErrStreamsFull):
		return fiber.StatusServiceUnavailable, "More pages are open here than can be kept up to date.",
			"Pressing works as always; open the page again to see what is new."
	case errors.Is(err, actor.ErrBusy):
		return fiber.StatusServiceUnavailable, "Many sign in at this moment.", "Wait a moment, then try again."
	case errors.Is(err, context.DeadlineExceeded), errors.Is(err, context.Canceled):
		return fiber.StatusServiceUnavailable, "That took too long and was given up.",
			"Nothing was changed. Wait a moment, then try again."
	case errors.As(err, &fiberError):
		switch fiberError.Code {
		case fiber.StatusForbidden:
			return fiberError.Code, "This form is too old to be sent.", "Open the page again and fill it in once more."
		case fiber.StatusRequestEntityTooLarge:
			if strings.HasPrefix(c.Get(fiber.HeaderContentType), fiber.MIMEMultipartForm) {
				return fiberError.Code, "That file is too large.",
					"A stitch file or bundle has at most 32 MiB, a photo 8 MB. Check that it is the right one."
			}
			return fiberError.Code, "That is more than this form can take.", "Go back, shorten it, and send it again."
		case fiber.StatusRequestTimeout:
			return fiberError.Code, "That came too slowly and was given up.",
				"Go where the connection is better, then send it again."
		case fiber.StatusBadRequest, fiber.StatusUnsupportedMediaType:
			return fiberError.Code, "That did not arrive in one piece.", "Go back and send it again."
		case fiber.StatusNotFound, fiber.StatusMethodNotAllowed:
			return fiberError.Code, "There is no such page.", "It may have been removed, or the address is mistyped."
		}
		if fiberError.Code < fiber.StatusInternalServerError {
			return fiberError.Code, "That was not understood.",
				"Go back and try again; a shorter address or fewer cookies may help."
		}
	}
	return fiber.StatusInternalServerError, "Something went wrong here.",
		"Nothing was lost that was saved before. Go back and try again; if it happens once more, tell whoever runs this " +
			"server."
}
