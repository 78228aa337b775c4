package store

import (
	"context"
	"encoding"
	"fmt"
	"reflect"

	"gorm.io/gorm/schema"
)

// asText keeps a value that knows its own text, such as a key, in a column of
// text.
type asText struct{}

func init() { schema.RegisterSerializer("text", asText{}) }

// Scan implements [schema.SerializerInterface].
func (asText) Scan(ctx context.Context, field *schema.Field, dst reflect.Value, value any) error {
	into := reflect.New(field.FieldType)
	var err error
	switch text := value.(type) {
	case nil:
	case string:
		err = into.Interface().(encoding.TextUnmarshaler).UnmarshalText([]byte(text))
	case []byte:
		err = into.Interface().(encoding.TextUnmarshaler).UnmarshalText(text)
	default:
		err = fmt.Errorf("a %T is no text", value)
	}
	if err != nil {
		return fmt.Errorf("reading %s: %w", field.Name, err)
	}
	field.ReflectValueOf(ctx, dst).Set(into.Elem())
	return nil
}

// Value implements [schema.SerializerInterface].
func (asText) Value(_ context.Context, field *schema.Field, _ reflect.Value, value any) (any, error) {
	text, err := value.(encoding.TextMarshaler).MarshalText()
	if err != nil {
		return nil, fmt.Errorf("writing %s: %w", field.Name, err)
	}
	return string(text), nil
}
