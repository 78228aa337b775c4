package e2e

import (
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/require"
)

// An instructor keeps the machines well: says what was done, measures a hoop by a sewn
// cross, and prints what differs for its place.
func TestTheMachinesAreKeptWell(t *testing.T) {
	v := visit(t, start(t))
	v.signIn("instructor")
	v.open("/machines")
	v.sees("h1", "5 machines and 9 hoops in the room; care is due on Lantern.")
	v.enter(`tbody a[href="/machines/3"]`)
	v.sees("h1", "Lantern: technician's service is due.")
	v.write("#care-note", "belt and timing")
	v.enter(`button[name="care"][value="service"]`)
	v.sees("h1", "Lantern is well, as far as is known.")
	v.hit("#care summary")
	v.sees("#care", "belt and timing")

	v.open("/machines/2")
	v.enter(`a[href="/machines/2/hoops/2"]`)
	v.sees("h1", "How far do the marks of Small square miss Kettle's needle?")
	v.write("#across", "some")
	v.enter("form.sheet button.main")
	v.sees("#across-problem", "")
	require.Equal(t, "some", v.value("#across"), "what was typed stays")
	v.write("#across", "4.5")
	v.enter("form.sheet button.main")
	v.sees("form.sheet", "measured 24 Nov 2026")
	require.Equal(t, "-4.5 mm", v.value(`input[name="dx-2"]`), "the drawn cross lies to the left of the sewn one")
	v.open("/machines/2/sheet")
	v.sees(".differs", "It does not trim")
	v.sees(".station-sheet", "manual, the room's own rules and local regulations come first")
	require.Positive(t, v.page.Timeout(patience).MustEval(
		`() => document.querySelector(".station-sheet img").decode()
			.then(() => document.querySelector(".station-sheet img").naturalWidth)`).Int())
}

// The owner gives the ladder a step of their own, is told of a ring by its names, and takes
// the step off again.
func TestTheLadderIsTheWorkshops(t *testing.T) {
	v := visit(t, start(t))
	v.signIn("owner")
	v.open("/students/ladder")
	v.sees("h1", "The ladder has 21 steps")
	v.write("#title", "Hem a scarf")
	v.enter("#step button.main")
	v.sees("#short-problem", "short name")
	require.Equal(t, "Hem a scarf", v.value("#title"))
	v.write("#short", "Scarf")
	v.focus(`input[name="after"][value="names"]`)
	v.press(input.Space)
	v.enter("#step button.main")
	v.sees("h1", "The ladder has 22 steps")
	v.find(`svg.ladder a[href="/students/ladder?step=own-1#step"]`)
	v.open("/students/ladder?step=names")
	v.focus(`input[name="after"][value="own-1"]`)
	v.press(input.Space)
	v.enter("#step button.main")
	v.sees("#step", "These wait for each other, so none could come first: Names and lettering, Hem a scarf")
	v.open("/students/1")
	v.find(`svg.ladder a[href="/students/1?step=own-1#mark"]`)
	v.open("/students/ladder?step=own-1")
	v.enter(`form[action="/students/ladder/drop"] button`)
	v.sees("h1", "The ladder has 21 steps")
	v.open("/students/ladder?step=safe-start")
	v.sees("#step", "It stays on the ladder")
}

// What next for those of a class, and a piece of theirs looked at by an assistant.
func TestWhatNextAndWhatIsNotGoodYet(t *testing.T) {
	v := visit(t, start(t))
	v.signIn("assistant")
	v.open("/classes/3")
	v.enter(`a[href="/students/next?class=3"]`)
	v.sees("h1", "Buoy badges suits most: 7 of 8 students.")
	v.open("/classes/2/wrap")
	v.enter(`a[href="/classes/2/inspect/1"]`)
	v.sees("h1", "Is Crab hand towel, by Ana, good?")
	v.enter("form.sheet button.main")
	v.sees(".problems", "at least one thing")
	v.focus(`input[name="check-place"][value="good"]`)
	v.press(input.Space)
	v.focus(`input[name="check-loops"]`)
	v.press(input.ArrowRight)
	v.enter("form.sheet button.main")
	v.sees("h1", "1 thing to put right on Crab hand towel, by Ana.")
	v.sees("section", "rethread the top with the foot up")
	v.accessible("a piece that is not good yet")
	v.open("/classes/2/wrap")
	v.sees(".outcomes", "1 thing to put right")
	v.open("/students/1")
	v.sees("#made", "1 thing to put right")
}

// A class over somebody's booking names whom it moves, and where to, before it does.
func TestAClassMovesABooking(t *testing.T) {
	v := visit(t, start(t))
	v.signIn("instructor")
	v.open("/machines/bookings?at=1&date=2026-12-03&from=10:00&to=11:00&week=2026-12-03&student=Ana+Thorne")
	v.enter("#book button.main")
	v.sees("tbody", "Ana Thorne")
	v.open("/classes/new?project=Crab+hand+towel")
	v.write("#name", "Towels again")
	v.day("#date", "2026-12-03")
	v.focus(`input[name="machines"][value="1"]`)
	v.press(input.Space)
	v.focus(`input[name="students"][value="5"]`)
	v.press(input.Space)
	v.enter("#class-form button.main")
	v.sees("#class-form", "Ana Thorne has Heron from 10:00 to 11:00: instead Heron, Thu 3 Dec, 13:15 to 14:15.")
	v.focus(`input[name="moves"]`)
	v.press(input.Space)
	v.enter("#class-form button.main")
	v.sees("h1", "Everyone finishes by")
	v.open("/machines/bookings?week=2026-12-03")
	v.sees("tbody", "13:15–14:15 Heron Ana Thorne")
	v.open("/machines/messages")
	v.sees("tbody", "A class needs the machine. Instead of Heron, Thu 3 Dec, 10:00 to 11:00 you have Heron, Thu 3 Dec, "+
		"13:15 to 14:15.")
}
