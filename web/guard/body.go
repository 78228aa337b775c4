package guard

import (
	"fmt"
	"io"
	"strings"

	"github.com/gofiber/fiber/v3"
)

// How much a request may bring.
const (
	// visitorBytes before somebody has signed in.
	visitorBytes = 16 << 10
	// formBytes of a form of our own pages.
	formBytes = 512 << 10
	// heavyAtOnce uploads are held in memory at a time; others wait.
	heavyAtOnce = 4
)

// An Upload is a place where files may be sent to.
type Upload struct {
	// Path as a request has it, or its end when it begins with a star.
	Path      string
	MostBytes int
}

func (u Upload) is(path string) bool {
	if end, open := strings.CutPrefix(u.Path, "*"); open {
		return strings.HasSuffix(path, end)
	}
	return path == u.Path
}

// Body reads what a request brings, after it is known who sends it: little
// from a visitor, a form from those who are signed in, and files where files
// are taken. What is not read is let go by, so that the answer arrives.
func (g *Guard) Body(uploads ...Upload) fiber.Handler {
	return func(c fiber.Ctx) error {
		stream := c.Request().BodyStream()
		if stream == nil {
			return c.Next()
		}
		most := visitorBytes
		if _, signedIn := Who(c); signedIn {
			most = formBytes
			for _, u := range uploads {
				if u.is(c.Path()) {
					most = u.MostBytes
				}
			}
		}
		if len(c.Request().Header.Peek(fiber.HeaderContentEncoding)) > 0 {
			pass(stream, most)
			return fiber.NewError(fiber.StatusUnsupportedMediaType, "a request is not taken in compressed")
		}
		claimed := c.Request().Header.ContentLength()
		if claimed > most {
			pass(stream, claimed)
			return fiber.ErrRequestEntityTooLarge
		}
		if claimed > formBytes || claimed < 0 && most > formBytes {
			select {
			case g.bodies <- struct{}{}:
				defer func() { <-g.bodies }()
			case <-c.Context().Done():
				return fmt.Errorf("waiting for other uploads: %w", c.Context().Err())
			}
		}
		data, err := io.ReadAll(io.LimitReader(stream, int64(most)+1))
		if err != nil {
			return fiber.NewError(fiber.StatusBadRequest, "the request ended before it was whole")
		}
		if len(data) > most {
			pass(stream, mostPassed)
			return fiber.ErrRequestEntityTooLarge
		}
		c.Request().SetBodyRaw(data)
		return c.Next()
	}
}

// mostPassed bytes are let go by before the connection is given up.
const mostPassed = 64 << 20

// pass lets a body go by without keeping it: a connection that is cut while
// the browser still sends shows its own error instead of our answer.
func pass(stream io.Reader, most int) {
	_, _ = io.CopyN(io.Discard, stream, int64(min(most, mostPassed)))
}
