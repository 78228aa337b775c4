package web

import (
	"log/slog"
	"time"

	"github.com/gofiber/fiber/v3"

	"chalkstep/web/guard"
)

// logRequests writes down what was asked by the pattern of its route: an address
// may be a secret, and so may what stands behind it.
func logRequests(c fiber.Ctx) error {
	start := time.Now()
	err := c.Next()
	if err != nil {
		if handled := c.App().ErrorHandler(c, err); handled != nil {
			return handled
		}
	}
	level := slog.LevelDebug
	switch status := c.Response().StatusCode(); {
	case status == fiber.StatusServiceUnavailable:
		level = slog.LevelWarn
	case status >= fiber.StatusInternalServerError:
		level = slog.LevelError
	}
	if slog.Default().Enabled(c.Context(), level) {
		slog.Log(c.Context(), level, "request", "method", c.Method(), "route", routeOf(c), "status",
			c.Response().StatusCode(), "took", time.Since(start), "error", err)
	}
	return nil
}

// routeOf is the pattern of the route that a request asks for, also where it did
// not get as far, and "none" where there is none.
func routeOf(c fiber.Ctx) string {
	for _, route := range c.App().GetRoutes(true) {
		if route.Method == c.Method() && fiber.RoutePatternMatch(c.Path(), route.Path, guard.Routing) {
			return route.Path
		}
	}
	return "none"
}
