package web

import (
	"github.com/gofiber/fiber/v3"
	"github.com/valyala/fasthttp"

	"chalkstep/web/ui"
)

// pack compresses answers for browsers that can unpack them. Fiber's own
// middleware reads an answer to its end before it looks what it is, and a
// stream has none.
func pack() fiber.Handler {
	compress := fasthttp.CompressHandlerBrotliLevel(func(*fasthttp.RequestCtx) {},
		fasthttp.CompressBrotliDefaultCompression, fasthttp.CompressDefaultCompression)
	return func(c fiber.Ctx) error {
		if err := c.Next(); err != nil {
			return err
		}
		if !ui.IsStream(c) && c.Response().StatusCode() != fiber.StatusPartialContent {
			compress(c.RequestCtx())
		}
		c.Vary(fiber.HeaderAcceptEncoding)
		return nil
	}
}
