package settings

import "strings"

// Funcs are the words only this area's templates need.
var Funcs = map[string]any{"browserWords": browserWords}

// browserWords says in a word or two what a browser calls itself.
func browserWords(agent string) string {
	device := "a computer"
	switch {
	case strings.Contains(agent, "Mobile"):
		device = "a phone"
	case strings.Contains(agent, "Tablet"):
		device = "a tablet"
	case agent == "":
		return "a program"
	}
	return device
}
