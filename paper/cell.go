package paper

import "strings"

// Cell is a text for a cell of a CSV table. Programs that open tables take
// what begins like a formula for one, so such a text is made plain.
func Cell(text string) string {
	if text != "" && strings.ContainsRune("=+-@\t\r\n|%", rune(text[0])) {
		return "'" + text
	}
	return text
}
