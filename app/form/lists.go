package form

import "strings"

// Listed puts things in a row as a sentence does.
func Listed(words []string) string {
	if len(words) < 2 {
		return strings.Join(words, "")
	}
	last := len(words) - 1
	return strings.Join(words[:last], ", ") + " and " + words[last]
}
