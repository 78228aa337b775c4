// Package bookings is who has which machine when: bookings, who waits for one, calendars.
package bookings

import "chalkstep/app/actor"

// UseCases are those of somebody at work in this area.
type UseCases struct{ actor.Actor }
