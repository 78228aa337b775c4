package live

import (
	"time"

	"chalkstep/core/say"
)

// A Page is a class at a moment of its clock: its state, and what is left of it.
type Page struct {
	State
	// Now is what the clock of the class shows.
	Now time.Time
	// Forecast of what is left; nothing is left where Left is false.
	Forecast Forecast
	Left     bool
	// Offers are what would help those who will not finish in time.
	Offers []Offer
	// Why says what is in the way of running it now, silent when nothing is.
	Why say.Text
}
