package guard

import (
	"crypto/hmac"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"fmt"
	"io"
	"maps"
	"net/url"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"
)

// FormField is the name of the field that says a form is ours.
const FormField = "_csrf"

// errForeign is the answer to a form that was not sent from our own page, or
// from one of an earlier session.
var errForeign = fiber.NewError(fiber.StatusForbidden, "this form was not sent from a page of this session")

const halfToken = 16

// FormToken is for the hidden field of a form: proof that the page was made
// for this browser. Each is another, though all say the same, so that it can
// neither be guessed from the length of compressed pages nor be taken for the
// one of another page.
func FormToken(c fiber.Ctx) string {
	token := make([]byte, 2*halfToken)
	_, _ = rand.Read(token[:halfToken]) // never fails
	for i, b := range proof(visit(c)) {
		token[halfToken+i] = token[i] ^ b
	}
	return base64.RawURLEncoding.EncodeToString(token)
}

// visit is what this browser has that no other site can read: its session's
// token, or a visitor's.
func visit(c fiber.Ctx) string {
	if token, ok := c.Locals(tokenKey).(string); ok {
		return token
	}
	token := c.Cookies(visitCookie)
	if len(token) < halfToken {
		token = rand.Text()
		if g, ok := c.Locals(guardKey).(*Guard); ok {
			g.setCookie(c, visitCookie, token)
		}
	}
	c.Locals(tokenKey, token)
	return token
}

func proof(visit string) []byte {
	mac := hmac.New(sha256.New, []byte(visit))
	_, _ = mac.Write([]byte("chalkstep form"))
	return mac.Sum(nil)[:halfToken]
}

// Form refuses forms that were not sent from our own pages.
func (g *Guard) Form(c fiber.Ctx) error {
	if c.Method() != fiber.MethodPost {
		return c.Next()
	}
	if !g.ownOrigin(c) {
		return errForeign
	}
	token, err := base64.RawURLEncoding.DecodeString(c.FormValue(FormField))
	if err != nil || len(token) != 2*halfToken {
		return errForeign
	}
	for i := range halfToken {
		token[halfToken+i] ^= token[i]
	}
	if !hmac.Equal(token[halfToken:], proof(visit(c))) {
		return errForeign
	}
	return c.Next()
}

// ownOrigin tells whether a browser that says where a form comes from says
// that it comes from here.
func (g *Guard) ownOrigin(c fiber.Ctx) bool {
	switch c.Get("Sec-Fetch-Site") {
	case "same-origin", "none":
		return true
	case "":
	default:
		return false
	}
	origin := c.Get(fiber.HeaderOrigin)
	if origin == "" {
		return true // not a browser of today: the token decides
	}
	from, err := url.Parse(origin)
	if err != nil || from.Host == "" {
		return false
	}
	return strings.EqualFold(from.Host, c.Host()) || g.cfg.Public != nil && strings.EqualFold(from.Host, g.cfg.Public.Host)
}

// FormKey names what was sent, so that the same form sent again has the same
// name: from the same page, with the same in it.
func FormKey(c fiber.Ctx) ([]byte, error) {
	if c.Method() != fiber.MethodPost || c.FormValue(FormField) == "" {
		return nil, nil
	}
	sum := sha256.New()
	fmt.Fprintf(sum, "%q %q\n", c.Path(), visit(c))
	form, err := c.MultipartForm()
	if err != nil { // not of parts
		_, _ = sum.Write(c.Request().Body())
		return sum.Sum(nil), nil
	}
	// The line between parts is another each time; what is in them is not.
	for _, name := range slices.Sorted(maps.Keys(form.Value)) {
		fmt.Fprintf(sum, "%q=%q\n", name, form.Value[name])
	}
	for _, name := range slices.Sorted(maps.Keys(form.File)) {
		for _, header := range form.File[name] {
			fmt.Fprintf(sum, "%q=%q\n", name, header.Filename)
			file, err := header.Open()
			if err != nil {
				return nil, fmt.Errorf("reading an upload: %w", err)
			}
			_, err = io.Copy(sum, file)
			file.Close()
			if err != nil {
				return nil, fmt.Errorf("reading an upload: %w", err)
			}
		}
	}
	return sum.Sum(nil), nil
}
