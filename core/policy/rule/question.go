// Package rule is the two forms that a workshop's rules have: a question with the schools that
// answer it, and a whole number with its limits. What a rule is about is with what it rules.
package rule

import (
	"fmt"
	"slices"
	"strings"
)

// A Question of some rules is one in which practitioners differ, with its schools, the default
// first.
type Question[R any] struct {
	Key, Title string
	Schools    []School
	// At is where the answer stands in the rules, the key of a school, or empty for the default.
	At func(*R) *string
}

// A School is one way to answer a Question, and why people hold to it.
type School struct{ Value, Says, Because string }

// Answer is a school.
func Answer(value, says, because string) School { return School{value, says, because} }

// Of is what some rules answer, empty where they leave it to the default.
func (q Question[R]) Of(r R) string { return *q.At(&r) }

// Set answers it.
func (q Question[R]) Set(r *R, value string) { *q.At(r) = value }

// Choice is what some rules come to, the default where nothing was chosen.
func (q Question[R]) Choice(r R) string {
	if v := q.Of(r); v != "" {
		return v
	}
	return q.Schools[0].Value
}

// School is the answer of some rules.
func (q Question[R]) School(r R) School {
	v := q.Choice(r)
	return q.Schools[slices.IndexFunc(q.Schools, func(s School) bool { return s.Value == v })]
}

// Check tells which answers there are, where one is none of them.
func (q Question[R]) Check(value string) error {
	if value == "" || slices.ContainsFunc(q.Schools, func(s School) bool { return s.Value == value }) {
		return nil
	}
	var known []string
	for _, s := range q.Schools {
		known = append(known, s.Value)
	}
	return fmt.Errorf("house rule %s is %q: expected one of %s", q.Key, value, strings.Join(known, ", "))
}

// Set answers the question of a key; an error says which answers there are, and leaves the rules as
// they are.
func Set[R any](questions []Question[R], r *R, key, value string) error {
	for _, q := range questions {
		if q.Key == key {
			err := q.Check(value)
			if err == nil {
				q.Set(r, value)
			}
			return err
		}
	}
	return fmt.Errorf("there is no house rule %q", key)
}

// Within has a question of some rules asked of others that have them.
func Within[W, R any](q Question[R], in func(*W) *R) Question[W] {
	return Question[W]{q.Key, q.Title, q.Schools, func(w *W) *string { return q.At(in(w)) }}
}
