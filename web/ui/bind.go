package ui

import (
	"fmt"
	"reflect"

	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/schema"
)

// Bind fills what a form asks for with what was sent, as an address or as a form, by the tags that
// name its fields. A box that is ticked is true, whatever it says; a row that is no number is
// −1, as by [Number]. A field that nothing names keeps what it has.
func Bind(c fiber.Ctx, in any) error {
	// Without a tag a field would be filled by its own name: one that the form does not have, such as the row it is of.
	for _, field := range reflect.VisibleFields(reflect.TypeOf(in).Elem()) {
		if field.Tag.Get("form") == "" {
			return fmt.Errorf("a form of %T: %s has no tag", in, field.Name)
		}
	}
	if err := decoder.Decode(in, sent(c)); err != nil {
		return fmt.Errorf("reading a form of %T: %w", in, fiber.NewError(fiber.StatusBadRequest, err.Error()))
	}
	return nil
}

// sent are the values of the address or the form, by field.
func sent(c fiber.Ctx) map[string][]string {
	values := map[string][]string{}
	args := c.Request().PostArgs()
	if c.Method() == fiber.MethodGet {
		args = c.RequestCtx().QueryArgs()
	} else if parts, err := c.MultipartForm(); err == nil {
		return parts.Value
	}
	for field, value := range args.All() {
		values[string(field)] = append(values[string(field)], string(value))
	}
	return values
}

var decoder = newDecoder()

func newDecoder() *schema.Decoder {
	d := schema.NewDecoder()
	d.SetAliasTag("form")
	d.IgnoreUnknownKeys(true)
	d.ZeroEmpty(true)
	d.RegisterConverter(false, func(text string) reflect.Value { return reflect.ValueOf(text != "") })
	d.RegisterConverter(0, func(text string) reflect.Value { return reflect.ValueOf(Small(text)) })
	d.RegisterConverter(int64(0), func(text string) reflect.Value { return reflect.ValueOf(Number(text)) })
	return d
}
