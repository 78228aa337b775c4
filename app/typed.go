package app

import (
	"fmt"
	"strings"

	"chalkstep/core/measure"
)

// between notes a problem when a number lies outside its limits.
func between(problems Problems, field string, value, from, to float64, text string) {
	if !(value >= from && value <= to) {
		problems[field] = text
	}
}

// length reads a typed length within limits in millimetres.
func length(problems Problems, field, typed string, from, to float64) float64 {
	mm, err := measure.ParseMM(typed)
	if err != nil {
		problems[field] = "Write a length such as 100, 100 mm or 4 in."
		return 0
	}
	between(problems, field, mm, from, to, "The length is "+measure.MM(from)+" to "+measure.MM(to)+".")
	return mm
}

// number reads a typed number within limits.
func number(problems Problems, field, typed string, from, to float64, text string) float64 {
	var n float64
	if _, err := fmt.Sscan(strings.ReplaceAll(strings.TrimSpace(typed), ",", "."), &n); err != nil || !(n >= from && n <= to) {
		problems[field] = text
		return 0
	}
	return n
}
