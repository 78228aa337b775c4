package settings

import "strings"

// Funcs are the words only this area's templates need.
var Funcs = map[string]any{"browserWords": browserWords}

// Names of what people measure in, and of how they read the clock.
var (
	unitNames  = map[string]string{"mm": "millimetres", "in": "inches"}
	clockNames = map[string]string{"24": "24 hours", "12": "12 hours"}
)

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
