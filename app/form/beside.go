package form

import (
	"errors"
	"fmt"
	"maps"
	"reflect"
	"slices"
	"strconv"
	"strings"

	"chalkstep/store"
)

// SavedPrefix marks, among the problems of a form, what somebody else saved
// while it was being filled in; VersionField is what it says it was read at, so
// that it can be sent again by who has looked.
const (
	SavedPrefix  = "beside "
	VersionField = "version"
)

// Compare makes a problem of a form that somebody else saved meanwhile: what they
// saved stands beside what was typed, field by field, and sent again the form
// is saved. The fields are those with a tag that says what they are called.
// saved is only asked then.
func Compare[T any](err error, typed T, saved func() (T, int, error)) error {
	if !errors.Is(err, store.ErrChanged) {
		return err
	}
	now, version, err := saved()
	if err != nil {
		return err
	}
	problems := Problems{
		"": "Someone else changed this while you were editing. What they saved stands here beside what you " +
			"typed: change it, or save again to keep yours.",
		VersionField: strconv.Itoa(version),
	}
	before, after := map[string]string{}, map[string]string{}
	fieldsOf(reflect.ValueOf(now), "", before)
	fieldsOf(reflect.ValueOf(typed), "", after)
	labels := slices.Sorted(maps.Keys(before))
	for label := range after {
		if _, both := before[label]; !both {
			labels = append(labels, label)
		}
	}
	for _, label := range labels {
		if before[label] != after[label] {
			problems[SavedPrefix+label] = fmt.Sprintf("they saved %s, you typed %s", orNothing(before[label]),
				orNothing(after[label]))
		}
	}
	return problems
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
