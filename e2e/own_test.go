package e2e

import (
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
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
	phone.sees("h1", "You are done at ") // she has sewn already
	phone.sees(".own", "Your kit:")
	phone.accessible("the own page of a student")
	phone.dark(true)
	phone.accessible("the own page of a student in the dark")
	width := phone.page.Timeout(patience).MustEval(`() => document.documentElement.scrollWidth`).Int()
	require.LessOrEqual(t, width, 390, "nothing spills over")

	// The card, and a rehearsal of it stop by stop.
	phone.enter(`a[href="/me/card"]`)
	phone.sees("h1", "Ana Thorne: Crab hand towel on ")
	phone.accessible("the own card of a student")
	phone.enter(`a[href="/me/rehearsal"]`)
	for title := ""; !strings.HasPrefix(title, "Stop 2"); {
		phone.enter(".rehearsal a.main")
		var err error
		title, err = phone.find("h1").Text()
		require.NoError(t, err)
	}
	phone.hit("details summary")
	phone.sees("details", "stitches, about 4 minutes")
	require.Positive(t, phone.page.Timeout(patience).MustEval(
		`() => document.querySelector("img.stop").decode()
			.then(() => document.querySelector("img.stop").naturalWidth)`).Int(), "the stop is drawn")
	phone.accessible("a rehearsal")
	phone.open("/me")

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

	// Noor waits for that time, and has it once Ana's is called off; Ana reads that it was.
	v.write("#student", "Noor Haddad")
	v.choose("#machine", "Lan")
	v.day("#date", "2026-11-30")
	v.focus(`#book input[name="wait"]`)
	v.press(input.Space)
	v.enter("#book button.main")
	v.sees("#waits", "Noor Haddad")
	v.open("/machines/bookings?week=2026-11-30")
	v.enter(`button[aria-label="Cancel Lantern for Ana Thorne"]`)
	v.sees("tbody", "Noor Haddad")
	v.open("/machines/messages")
	v.sees("h1", "2 messages have not been read")
	phone.open("/me")
	phone.sees("#messages", "called off by the workshop: Lantern, Mon 30 Nov, 10:00 to 11:00")
	phone.enter("#messages button")
	phone.choose("#machine", "Lan")
	phone.day("#date", "2026-12-01")
	phone.clock("#from", "10:00")
	phone.enter("#bookings button.main")
	phone.sees("#bookings", "Tue 1 Dec, 10:00–11:00, Lantern")

	phone.open("/me")
	phone.enter(`button[aria-label^="Cancel Tue 1 Dec"]`)
	phone.open("/students")
	phone.sees("form", "Password")
	v.open("/students/1/link")
	v.sees("#phones", "Close it there")
	phone.open("/me")
	phone.enter(`form[action="/me/leave"] button`)
	phone.sees("h1", "Open your own link.")
	phone.open(path)
	phone.sees("h1", "Ana Thorne, what is your PIN?")
}
