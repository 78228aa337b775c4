// Package ui is what all pages share: the layout, the signs, the words for
// quantities, and how a handler gets at its desk and renders a view.
package ui

import (
	"bytes"
	"crypto/sha256"
	"embed"
	"encoding/hex"
	"errors"
	"fmt"
	"html/template"
	"io"
	"io/fs"
	"math"
	"slices"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/actor"
	"chalkstep/core/design"
	"chalkstep/core/measure"
	"chalkstep/core/stitch/picture"
	"chalkstep/web/guard"
)

// dist holds what the build collects: styles, fonts and the htmx script.
//
//go:embed all:dist
var dist embed.FS

// static holds the scripts of our own, one module for each behaviour.
//
//go:embed static
var static embed.FS

// Static is everything served under /static.
func Static() (fs.FS, error) {
	built, err := fs.Sub(dist, "dist")
	if err != nil {
		return nil, fmt.Errorf("opening the built files: %w", err)
	}
	if _, err := fs.Stat(built, "app.css"); err != nil {
		return nil, errors.New("this binary was built without its styles: run make build")
	}
	own, err := fs.Sub(static, "static")
	if err != nil {
		return nil, fmt.Errorf("opening the scripts: %w", err)
	}
	return layered{built, own}, nil
}

// Script is one of our own scripts, for where it has to be served from another place.
func Script(name string) ([]byte, error) {
	data, err := static.ReadFile("static/" + name)
	if err != nil {
		return nil, fmt.Errorf("opening a script: %w", err)
	}
	return data, nil
}

// layered is two file systems seen as one.
type layered struct{ first, second fs.FS }

func (l layered) Open(name string) (fs.File, error) {
	if f, err := l.first.Open(name); err == nil {
		return f, nil
	}
	return l.second.Open(name)
}

// versionOf changes when any static file does, so that browsers may keep them.
func versionOf(files ...embed.FS) string {
	hash := sha256.New()
	for _, f := range files {
		_ = fs.WalkDir(f, ".", func(path string, entry fs.DirEntry, err error) error {
			if err == nil && !entry.IsDir() {
				data, _ := f.ReadFile(path)
				hash.Write(data)
			}
			return err
		})
	}
	return hex.EncodeToString(hash.Sum(nil))[:12]
}

// An Area is a tick of the yardstick. Its number is also its key.
type Area struct {
	Key  int
	Name string
	Path string
}

// Areas that there are so far, in their places on the yardstick.
var Areas = []Area{
	{1, "Today", "/"}, {2, "Classes", "/classes"}, {3, "Projects", "/projects"}, {4, "Designs", "/designs"},
	{5, "Stock", "/stock"}, {6, "Machines", "/machines"}, {7, "Students", "/students"}, {9, "Settings", "/settings"},
}

// ticks has a place for each of the nine areas; those to come are bare.
func ticks() []Area {
	all := make([]Area, Areas[len(Areas)-1].Key)
	for _, a := range Areas {
		all[a.Key-1] = a
	}
	return all
}

const deskKey = "desk"

// SetDesk puts the signed-in person's desk where handlers find it.
func SetDesk(c fiber.Ctx, d actor.Actor) { c.Locals(deskKey, d) }

// With gives a handler its desk, in the area it belongs to. Problems it returns are shown as a page
// that says what to do.
func With[A ~struct{ actor.Actor }](h func(fiber.Ctx, A) error) fiber.Handler {
	return func(c fiber.Ctx) error {
		at, ok := c.Locals(deskKey).(actor.Actor)
		if !ok {
			return c.Redirect().To("/sign-in")
		}
		form, err := guard.FormKey(c)
		if err != nil {
			return err
		}
		watched, asked := at.Sending(form).Watched()
		if err := h(c, actor.As[A](watched)); err != nil {
			return err
		}
		// What nobody has said who may do, nobody may.
		if !asked() {
			c.Response().Reset()
			return fmt.Errorf("%s %s: %w", c.Method(), c.Path(), actor.ErrUnasked)
		}
		return nil
	}
}

// Needs guards the page of a form, which is only for those who may send it.
func Needs[A ~struct{ actor.Actor }](p actor.Permission, h func(fiber.Ctx, A) error) func(fiber.Ctx, A) error {
	return func(c fiber.Ctx, d A) error {
		if err := struct{ actor.Actor }(d).Need(p); err != nil {
			return err
		}
		return h(c, d)
	}
}

// WithID is With for a page about one row, whose number is in the path.
func WithID[A ~struct{ actor.Actor }](h func(fiber.Ctx, A, int64) error) fiber.Handler {
	return With(func(c fiber.Ctx, d A) error {
		id, err := ID(c, "id")
		if err != nil {
			return err
		}
		return h(c, d, id)
	})
}

// Render shows a view inside the layout. area is its tick on the yardstick.
func Render(c fiber.Ctx, view, area, title string, data fiber.Map) error {
	at, _ := c.Locals(deskKey).(actor.Actor)
	all := fiber.Map{
		"Area": area, "Title": title, "Ticks": ticks(), "Who": at.Who, "P": P{at.Printer()}, "CSRF": formPlace,
		"Version":  version,
		"Problems": (*Refused)(nil), "Path": c.Path(), "More": "",
	}
	for k, v := range data {
		all[k] = v
	}
	// The view comes first and apart, so that a mistake in it is an error and
	// not half a page.
	var content, page bytes.Buffer
	refused, _ := all["Problems"].(*Refused)
	err := refused.inFull(func() error {
		content.Reset()
		return c.App().Config().Views.Render(&content, view, all)
	})
	if err != nil {
		return fmt.Errorf("showing %s: %w", view, err)
	}
	all["Content"] = template.HTML(content.String())
	if err := c.App().Config().Views.Render(&page, "ui/layout", all); err != nil {
		return fmt.Errorf("showing %s: %w", view, err)
	}
	c.Locals(pageKeyName, page.Bytes())
	return sendPage(c, page.Bytes())
}

var version = versionOf(dist, static)

// Version of the static files, which changes when any of them does.
func Version() string { return version }

// ID reads a row's number from the path.
func ID(c fiber.Ctx, name string) (int64, error) {
	n := Number(c.Params(name))
	if n <= 0 {
		return 0, actor.ErrNotFound
	}
	return n, nil
}

// Upload reads a file that a form brought; without one, everything is empty.
func Upload(c fiber.Ctx, field string) (name string, data []byte, err error) {
	header, err := c.FormFile(field)
	if err != nil {
		return "", nil, nil
	}
	file, err := header.Open()
	if err != nil {
		return "", nil, fmt.Errorf("opening the upload: %w", err)
	}
	defer file.Close()
	if data, err = io.ReadAll(file); err != nil {
		return "", nil, fmt.Errorf("reading the upload: %w", err)
	}
	return header.Filename, data, nil
}

// All reads every value of a form field, also of a multipart form.
func All(c fiber.Ctx, field string) []string {
	if form, err := c.MultipartForm(); err == nil {
		return form.Value[field]
	}
	var values []string
	args := c.Request().PostArgs()
	if c.Method() == fiber.MethodGet {
		args = c.RequestCtx().QueryArgs()
	}
	for _, v := range args.PeekMulti(field) {
		values = append(values, string(v))
	}
	return values
}

// Rows are the fields of a form with parallel rows: one list for each row, with
// its fields in the order of the names. A field that is missing is empty.
func Rows(c fiber.Ctx, names ...string) [][]string {
	columns := make([][]string, len(names))
	most := 0
	for i, name := range names {
		columns[i] = All(c, name)
		most = max(most, len(columns[i]))
	}
	rows := make([][]string, most)
	for n := range rows {
		rows[n] = make([]string, len(names))
		for i, column := range columns {
			if n < len(column) {
				rows[n][i] = column[n]
			}
		}
	}
	return rows
}

// Send gives a file to keep.
func Send(c fiber.Ctx, name string, data []byte) error {
	c.Attachment(name)
	c.Set(fiber.HeaderContentType, fiber.MIMEOctetStream)
	return c.Send(data)
}

// Numbers reads every value of a form field as row numbers. What is no number
// is a row that is not there.
func Numbers(c fiber.Ctx, field string) []int64 {
	var ids []int64
	for _, v := range All(c, field) {
		if n := Number(v); n != 0 {
			ids = append(ids, n)
		}
	}
	return ids
}

// Number reads a row's number or another whole one that our own page wrote:
// 0 where nothing is written, −1 for what is no such number.
func Number(text string) int64 {
	text = strings.TrimSpace(text)
	if text == "" {
		return 0
	}
	n, err := strconv.ParseInt(text, 10, 64)
	if err != nil || n < 0 {
		return -1
	}
	return n
}

// Small is Number for what counts little: versions, levels, pages. What is
// larger than such a count can be is −1.
func Small(text string) int {
	n := Number(text)
	if n > math.MaxInt32 {
		return -1
	}
	return int(n)
}

// Decimal reads a number as it was meant; what is none is no number at all.
func Decimal(text string) float64 {
	if strings.TrimSpace(text) == "" {
		return 0
	}
	f, err := measure.ParseNumber(text)
	if err != nil {
		return math.NaN()
	}
	return f
}

// Page reads which page of a list is asked for, the first where none is.
func Page(c fiber.Ctx) int { return max(1, Small(c.Query("page"))) }

// Picture sends a picture that never changes under its address, which carries
// a version.
func Picture(c fiber.Ctx, mediaType string, data []byte) error {
	c.Set(fiber.HeaderContentType, mediaType)
	c.Set(fiber.HeaderCacheControl, "private, max-age=31536000, immutable")
	return c.Send(data)
}

// Suggest answers with options for a field that is being filled in: whatever
// the field is called, it is all that is sent.
func Suggest[A ~struct{ actor.Actor }](names func(A, string) ([]string, error)) fiber.Handler {
	return With(func(c fiber.Ctx, d A) error {
		typed := ""
		for _, value := range c.Queries() {
			typed = value
		}
		found, err := names(d, typed)
		if err != nil {
			return err
		}
		return options(c, found)
	})
}

func options(c fiber.Ctx, names []string) error {
	c.Set(fiber.HeaderCacheControl, "no-store")
	return c.Render("ui/options", names)
}

// Funcs are the words templates print with.
var Funcs = map[string]any{
	"has":        func(list []string, one any) bool { return slices.Contains(list, fmt.Sprint(one)) },
	"hasID":      slices.Contains[[]int64],
	"thumbOf":    func(d design.Design) string { return pictureURL(d, design.Thumb) },
	"drawingURL": func(d design.Design) string { return pictureURL(d, design.Drawing) },
	"drawingOf":  drawingOf,
	"join":       strings.Join,
	"px":         func(n float64) string { return strconv.FormatFloat(math.Round(10*n)/10, 'f', -1, 64) },
	"lower":      func(word any) string { return strings.ToLower(fmt.Sprint(word)) },
	"dict":       dict,
	"sign":       sign,
	"formats":    func(t []string) string { return "." + strings.Join(t, " .") },
}

// dict gathers names and values for a partial.
func dict(pairs ...any) (map[string]any, error) {
	if len(pairs)%2 != 0 {
		return nil, errors.New("dict: a name without a value")
	}
	m := map[string]any{}
	for i := 0; i < len(pairs); i += 2 {
		name, ok := pairs[i].(string)
		if !ok {
			return nil, fmt.Errorf("dict: %v is no name", pairs[i])
		}
		m[name] = pairs[i+1]
	}
	return m, nil
}

// pictureURL is where a picture of a design is, as it is now.
func pictureURL(d design.Design, kind design.PictureKind) string {
	return fmt.Sprintf("/designs/%d/picture/%s?v=%d", d.ID, kind, d.Version)
}

// A drawn is a design's drawing within a larger picture, in tenths of a
// millimetre from the design's centre, y down.
type drawn struct {
	Href                string
	X, Y, Width, Height float64
}

func drawingOf(d design.Design) drawn {
	halfX, halfY := picture.Extent(d.WidthMM, d.HeightMM)
	return drawn{pictureURL(d, design.Drawing), -halfX, -halfY, 2 * halfX, 2 * halfY}
}

// sign draws one of the marks of a paper pattern; a word beside it says the
// same, so it is hidden from readers of the page aloud.
func sign(name string) template.HTML {
	return template.HTML(`<svg class="sign" aria-hidden="true"><use href="/static/` + version + `/signs.svg#` +
		template.HTMLEscapeString(name) + `"/></svg>`)
}
