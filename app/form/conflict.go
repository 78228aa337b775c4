package form

import (
	"errors"
	"fmt"
	"maps"
	"reflect"
	"slices"
	"strings"

	"chalkstep/store"
)

// A Conflict is what somebody else saved while a form was being filled in.
type Conflict struct {
	// Version is what they saved: sent again with it, the form has been looked at beside theirs.
	Version int
	Fields  []Difference
}

// A Difference is a field that holds something else now than what was typed.
type Difference struct{ Label, Saved, Typed string }

func (d Difference) String() string {
	return fmt.Sprintf("they saved %s, you typed %s", orNothing(d.Saved), orNothing(d.Typed))
}

func (Conflict) Error() string {
	return "Someone else changed this while you were editing. What they saved stands here beside what you typed: " +
		"change it, or save again to keep yours."
}

// Compare makes a conflict of a form that somebody else saved meanwhile: what they
// saved stands beside what was typed, field by field. The fields are those with a tag that says
// what they are called. saved is only asked then.
func Compare[T any](err error, typed T, saved func() (T, int, error)) error {
	if !errors.Is(err, store.ErrChanged) {
		return err
	}
	now, version, err := saved()
	if err != nil {
		return err
	}
	theirs, ours := map[string]string{}, map[string]string{}
	fieldsOf(reflect.ValueOf(now), "", theirs)
	fieldsOf(reflect.ValueOf(typed), "", ours)
	conflict := Conflict{Version: version}
	labels := slices.Concat(slices.Collect(maps.Keys(theirs)), slices.Collect(maps.Keys(ours)))
	slices.Sort(labels)
	for _, label := range slices.Compact(labels) {
		if theirs[label] != ours[label] {
			conflict.Fields = append(conflict.Fields, Difference{label, theirs[label], ours[label]})
		}
	}
	return conflict
}

func orNothing(text string) string {
	if strings.TrimSpace(text) == "" {
		return "nothing"
	}
	return "“" + text + "”"
}

// fieldsOf writes down what the fields of a form hold, by what they are called.
func fieldsOf(v reflect.Value, label string, into map[string]string) {
	switch v.Kind() {
	case reflect.Struct:
		for i := range v.NumField() {
			says := v.Type().Field(i).Tag.Get("says")
			if says == "" {
				continue
			}
			fieldsOf(v.Field(i), strings.TrimSpace(label+" "+says), into)
		}
	case reflect.Map:
		for _, key := range v.MapKeys() {
			fieldsOf(v.MapIndex(key), strings.TrimSpace(label+" "+key.String()), into)
		}
	case reflect.Slice:
		if e := v.Type().Elem().Kind(); e == reflect.Struct {
			for i := range v.Len() {
				fieldsOf(v.Index(i), fmt.Sprintf("%s %d", label, i+1), into)
			}
			return
		}
		texts := make([]string, v.Len())
		for i := range texts {
			texts[i] = fmt.Sprint(v.Index(i))
		}
		into[label] = strings.Join(texts, ", ")
	case reflect.Bool:
		into[label] = map[bool]string{true: "yes", false: "no"}[v.Bool()]
	default:
		into[label] = strings.TrimSpace(fmt.Sprint(v))
	}
}
