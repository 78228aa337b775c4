package e2e

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// A student opens their own page on their phone with the link they were given and a PIN
// they choose, sees when they sit, books a machine where they may be alone, and closes the
// page again; what is not theirs it does not show.
func TestAStudentOnTheirOwnPhone(t *testing.T) {
	base := start(t)
	v, phone := visit(t, base), visit(t, base)
	v.signIn("instructor")
	v.open("/students/1/link")
	link := v.attribute(`input[aria-label="Link of Ana Thorne"]`, "value")
	path := link[strings.Index(link, "/me/"):]

	phone.size(390, 844)
	phone.open("/me")
	phone.sees("h1", "Open your own link.")
	phone.open(path)
	phone.sees("h1", "Ana Thorne, choose a PIN.")
	phone.write("#pin", "12")
	phone.enter("form button.main")
	phone.sees("#pin-problem", "4 to 12 digits")
	phone.accessible("the door of a student")
	phone.write("#pin", "4711")
	phone.enter("form button.main")
	phone.sees("h1", "You sit at ")
	phone.sees(".own", "Your kit:")
	phone.accessible("the own page of a student")
	phone.dark(true)
	phone.accessible("the own page of a student in the dark")
	width := phone.page.Timeout(patience).MustEval(`() => document.documentElement.scrollWidth`).Int()
	require.LessOrEqual(t, width, 390, "nothing spills over")

	phone.choose("#machine", "Lan")
	phone.day("#date", "2026-11-30")
	phone.enter("#bookings button.main")
	phone.sees("#bookings", "Mon 30 Nov, 10:00–11:00, Lantern")
	phone.choose("#machine", "Lan")
	phone.day("#date", "2026-11-30")
	phone.enter("#bookings button.main")
	phone.sees("#from-problem", "You have something else from 10:00 to 11:00 then")
	phone.day("#date", "2026-12-02")
	phone.clock("#from", "07:00")
	phone.enter("#bookings button.main")
	phone.sees("#bookings", "open from 09:00 to 21:00")
	v.open("/machines/bookings?week=2026-11-30")
	v.sees("tbody", "Ana Thorne")

	phone.open("/me")
	phone.enter(`button[aria-label^="Cancel Mon 30 Nov"]`)
	phone.open("/students")
	phone.sees("form", "Password")
	phone.open("/me")
	phone.enter(`form[action="/me/leave"] button`)
	phone.sees("h1", "Open your own link.")
	phone.open(path)
	phone.sees("h1", "Ana Thorne, what is your PIN?")
}
