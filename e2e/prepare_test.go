package e2e

import (
	"fmt"
	"net/http"
	"net/url"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The morning before a class: what is short is seen and bought, the rest is
// reserved, cut and packed, and afterwards the shelf is right.
func TestPreparingAClass(t *testing.T) {
	base := start(t)
	v := visit(t, base)
	v.signIn("instructor")
	v.open("/classes/3")
	v.follow(func() { v.press('k') })
	v.enter(`a[href="/classes/3/shelf"]`)
	v.sees("h1", "1 thing is short.")
	v.sees(".answer", "41 of badge pin")

	// Pins are bought and written down, first with a slip.
	v.enter(`a[href="/stock/28"]`)
	v.sees("h1", "25 free")
	v.write("#quantity", "a few")
	v.enter("aside button.main")
	v.sees("#quantity-problem", "Write how much")
	assert.Equal(t, "a few", v.value("#quantity"))
	v.write("#quantity", "60")
	v.write("#note", "from the chandler's")
	v.enter("aside button.main")
	v.sees("h1", "85 free")
	v.sees("tbody tr:first-child", "bought from the chandler's")

	v.open("/classes/3/shelf")
	v.sees("h1", "Everything is on the shelf.")
	v.focus(`button[popovertarget="reserve"]`)
	v.press(input.Enter)
	v.sees("#reserve", "66 of Badge pins")
	v.enter("#reserve button.main")
	v.sees("h1", "Everything is on the shelf and reserved.")
	v.open("/stock/28")
	v.sees("h1", "19 free, 66 spoken for.")
	v.sees("tbody tr:first-child", "Buoy badges, first felt")

	// Kits: not packed while something is missing.
	v.open("/classes/3/kits")
	v.sees("h1", "0 of 8 kits packed.")
	first := "form.sheet:first-of-type "
	v.focus(first + "button.main")
	v.follow(func() { v.press(input.Enter) })
	v.sees(first, "cut")
	v.focus(first + "button.main")
	v.follow(func() { v.press(input.Enter) })
	v.sees(first+".problem", "kit is not complete")
	boxes, err := v.page.Elements(first + `input[type="checkbox"]`)
	require.NoError(t, err)
	for i := range boxes {
		v.focus(fmt.Sprintf("%slabel:nth-of-type(%d) input", first, i+1))
		v.press(input.Space)
	}
	v.focus(first + "button.main")
	v.follow(func() { v.press(input.Enter) })
	v.sees("h1", "1 of 8 kits packed.")
	v.sees(first, "packed")

	// Afterwards ten pins more than were packed are left over.
	v.open("/classes/3/shelf")
	v.focus(`button[popovertarget="right"]`)
	v.press(input.Enter)
	v.write(`#right form > div:last-of-type input[name="used"]`, "38")
	v.enter("#right button.main")
	v.open("/stock/28")
	v.sees("h1", "47 free.")

	c := signedIn(t, base)
	for _, address := range []string{"/classes/3/cut.pdf", "/classes/3/labels.pdf", "/classes/3/cards.pdf?sheet=Letter",
		"/stock/buy.pdf"} {
		assert.Equal(t, "%PDF-", c.get(t, address)[:5], address)
	}
	assert.Equal(t, "PK", c.get(t, "/classes/3/stick/1")[:2])
	assert.Contains(t, c.get(t, "/classes/3/stick/4"),
		"Pigeon cannot sew Buoy badges, six in one hoop: too tall by 45 mm.")
	assert.Contains(t, c.get(t, "/stock/buy.csv"), "item,supplier,missing,packs")
}

// Someone is ill, someone comes late, someone makes something else.
func TestTheRosterOfTheDay(t *testing.T) {
	v := visit(t, start(t))
	v.signIn("instructor")
	v.open("/classes/3/roster")
	v.choose(`select[aria-label="How Ana Thorne comes"]`, "abs")
	v.enter(`button[aria-label="Keep Ana Thorne"]`)
	v.choose(`select[aria-label="How Bo Lindqvist comes"]`, "late")
	v.enter(`button[aria-label="Keep Bo Lindqvist"]`)
	v.sees("section .problem", "Write by how many minutes they are late")
	v.choose(`select[aria-label="How Bo Lindqvist comes"]`, "late")
	v.write(`input[aria-label="Minutes Bo Lindqvist is late"]`, "20")
	v.enter(`button[aria-label="Keep Bo Lindqvist"]`)
	v.write(`input[aria-label="What Cy Okafor makes"]`, "Crab hand towel")
	v.enter(`button[aria-label="Keep Cy Okafor"]`)
	v.open("/classes/3/prep")
	v.sees("tbody", "top thread, polyester 40: Buoy red")
	v.sees("tbody", "hand towel")
	v.sees("tbody", "water-soluble topper")
	v.open("/classes/3/kits")
	v.sees("h1", "0 of 7 kits packed.")
	v.sees("main", "Crab hand towel at")
}

// The blank's mark is moved, a layer is laid, and the house is differed from.
func TestAProjectInFull(t *testing.T) {
	v := visit(t, start(t))
	v.signIn("owner")
	v.open("/projects/4")
	v.sees("#place", "50 mm from the neck edge to the top of the design")
	v.write(`#place input[name="down"]`, "10")
	v.enter("#place button")
	v.sees("#place", "60 mm from the neck edge to the top of the design")
	// It is moved by keys, and what that comes to is said before it is kept.
	v.focus("[data-on-blank]")
	v.press(input.ArrowUp)
	v.sees("#placed", "59 mm from the neck edge")
	assert.Equal(t, "9 mm", v.value(`#place input[name="down"]`))
	v.write(`#place input[name="down"]`, "10")
	v.choose(`#place select[name="size"]`, "8")
	v.enter("#place button")
	v.sees("#place", "46 mm from the neck edge")

	v.focus("#fold summary")
	v.press(input.Enter)
	v.choose(`select[aria-label="What new layer is"]`, "fus")
	v.press(input.Tab)
	v.sees("#lying", "Fusible")
	v.write(`input[aria-label="Width of layer 1"]`, "9000")
	v.enter("#layers button")
	v.sees("#layers .problem", "The length is 1 mm to 5,000 mm.")
	assert.Equal(t, "9000", v.value(`input[aria-label="Width of layer 1"]`))
	v.write(`input[aria-label="Width of layer 1"]`, "200")
	v.write(`input[aria-label="Height of layer 1"]`, "150")
	v.enter("#layers button")
	assert.Equal(t, "fusible", v.value(`select[aria-label="What layer 1 is"]`))

	v.focus("#house summary")
	v.press(input.Enter)
	v.choose(`#house select[name="topper"]`, "every")
	v.enter("#house button")
	v.sees("h1", "film over it")
	v.sees("aside", "Differs from the house")
	v.sees("aside", "Topper: every knit too")
}

// What is built in the hoop is its layers: one is moved to another stop by its
// ring, its size follows at once, and nothing is kept before it is said.
func TestLayersAreMovedAlongTheStops(t *testing.T) {
	v := visit(t, start(t))
	v.signIn("owner")
	v.open("/projects/6")
	v.sees("h1", "5 layers")
	v.sees("h1", "6 times something is laid, taped or trimmed")
	v.focus(`[data-ring="3"]`)
	v.press(input.ArrowLeft)
	v.waitFor(`input[aria-label="Stop that layer 4 is laid before"]`, "4")
	v.find(`[data-ring="3"][aria-valuenow="4"]:focus`)
	v.press(input.ArrowLeft)
	v.find(`[data-ring="3"][aria-valuenow="3"]:focus`)
	v.open("/projects/6")
	assert.Equal(t, "5", v.value(`input[aria-label="Stop that layer 4 is laid before"]`), "nothing was kept")

	// By mouse: the piece goes before the last stop.
	ring := v.find(`[data-ring="2"]`)
	box, err := ring.Shape()
	require.NoError(t, err)
	from := box.Box()
	require.NoError(t, v.page.Mouse.MoveTo(proto.NewPoint(from.X+from.Width/2, from.Y+11)))
	require.NoError(t, v.page.Mouse.Down(proto.InputMouseButtonLeft, 1))
	require.NoError(t, v.page.Mouse.MoveLinear(proto.NewPoint(from.X+3000, from.Y+11), 8))
	require.NoError(t, v.page.Mouse.Up(proto.InputMouseButtonLeft, 1))
	v.waitFor(`input[aria-label="Stop that layer 3 is laid before"]`, "6")
	v.find(`[data-ring="2"][aria-valuenow="6"]`)
	v.enter("#layers button.main")
	assert.Equal(t, "6", v.value(`input[aria-label="Stop that layer 3 is laid before"]`), "it is kept")
}

// The owner sets a house rule; an instructor may not.
func TestHouseRules(t *testing.T) {
	base := start(t)
	v := visit(t, base)
	v.signIn("owner")
	v.follow(func() { v.press('9') })
	v.sees("h1", "The house does as is usual everywhere.")
	v.write("#trim", "a bit")
	v.enter("form button.main")
	v.sees("#trim-problem", "Write a length")
	v.write("#trim", "6 mm")
	v.focus(`input[name="worn"]:checked`)
	v.press(input.ArrowDown)
	v.enter("form button.main")
	v.sees("h1", "The house differs from the usual in 1 rule.")
	assert.Equal(t, "6 mm", v.value("#trim"))
	w := visit(t, base)
	w.signIn("instructor")
	w.open("/settings")
	w.sees("main", "The owner changes house rules.")
	answer, err := signedIn(t, base).http.Get(base + "/settings")
	require.NoError(t, err)
	answer.Body.Close()
	assert.Equal(t, http.StatusOK, answer.StatusCode)
}

// The code on a label opens the student's card on a phone, and the kit is
// handed out and taken back from there.
func TestAKitIsHandedOutFromThePhone(t *testing.T) {
	v := visit(t, start(t))
	v.signIn("assistant")
	v.size(390, 844)
	v.open("/classes/3/cards/1")
	v.sees("main", "Kit: to cut")
	v.sees("main", "The right hoop told to the machine")
	v.sees("main", "outline meets fill")
	v.sees("main", "of Deep harbour")
	v.enter(`button[value="cut"]`)
	v.open("/classes/3/cards/1")
	v.sees("main", "Kit: cut")
	v.enter(`button[value="packed"]`)
	v.sees("form .problem", "kit is not complete")
	v.open("/classes/3/cards/1")
	v.sees("main", "Kit: cut")
	v.sees("main", "Stop the machine before reaching in")
}

// The class that does not fit is made to fit by what its page says would help.
func TestTheTotesAreMadeToFit(t *testing.T) {
	v := visit(t, start(t))
	v.signIn("instructor")
	v.open("/classes/4")
	v.sees("h1", "too late")
	v.sees("#levers-answer", "Another instructor.")
	v.sees("#levers-answer", "in time")
	v.sees("#levers-answer", "held it up, and then")
	version := v.value(`form[action="/classes/4/levers"] input[name="version"]`)

	// Two of them are tried together, and nothing is kept of that.
	for _, key := range []string{"instructor:1", "hooped:1"} {
		v.focus(`input[value="` + key + `"]`)
		v.press(input.Space)
	}
	v.focus(`#levers-answer button[formmethod="get"]`)
	v.press(input.Enter)
	v.sees("#levers-answer", "All that is ticked, together:")
	v.open("/classes/4")
	v.sees("h1", "too late")

	// In four presses it fits: two that are ticked are tried, and adopted together.
	for _, key := range []string{"instructor:1", "hooped:1"} {
		v.sees("#levers-answer", "Another instructor.")
		v.focus(`input[value="` + key + `"]`)
		v.press(input.Space)
	}
	v.focus(`#levers-answer button[formmethod="get"]`)
	v.press(input.Enter)
	v.sees("#levers-answer", "Adopt them together")
	v.enter(`button[value="ticked"]`)
	v.sees("h1", "Everyone finishes by")
	v.sees(".answer", "of days everyone is done in time")
	v.sees(".answer", "Adopted:")
	v.sees(".answer", "the first round hooped before class")
	v.sees(".answer", "another instructor")
	v.open("/classes/4/edit")
	assert.Equal(t, "2", v.value("#instructors"))
	v.open("/classes/4/prep")
	v.sees("main", "Hoop the blanks of")

	// What was changed meanwhile is not changed again by an old page.
	c := signedIn(t, v.base)
	old := url.Values{"_csrf": {c.token(t, "/classes/4/levers")}, "version": {version}, "adopt": {"ticked"},
		"lever": {"instructor:1"}}
	status, page := c.post(t, "/classes/4/levers", old)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, page, "The class has been changed meanwhile")
	v.open("/classes/4/edit")
	assert.Equal(t, "2", v.value("#instructors"))
}

// The form of a class answers while it is filled in, and keeps nothing of that.
func TestAClassIsPlannedWhileItIsTicked(t *testing.T) {
	v := visit(t, start(t))
	v.signIn("instructor")
	v.open("/classes")
	before := v.words("h1")
	v.open("/classes/new?project=Lighthouse%20tote")
	v.sees("#class-preview", "Tick machines and students")
	v.sees("#class-preview", "Lantern too tall by 5 mm")
	v.tick("Heron")
	v.tick("Ana Thorne")
	v.sees("#class-preview", "Everyone is done after")
	v.day("#date", "2026-12-22")
	v.press(input.Tab)
	v.sees("#class-preview", "Everyone is done by")
	v.sees("#class-preview", "1 machine")
	v.sees("#class-preview", "2 instructors")
	// The end is dragged, by keys as by the mouse: the answer follows.
	to := v.value("#to")
	v.focus("#ends")
	v.press(input.ArrowLeft)
	v.waitFor("#to", "12:55")
	v.sees(".ends output", "12:55")
	v.press(input.ArrowRight)
	v.waitFor("#to", to)
	v.sees("#class-preview", "then")
	v.sees("#class-preview", "holds it up")
	v.write("#opening", "170")
	v.press(input.Tab)
	v.sees("#class-preview", "too late")
	v.write("#opening", "0")
	for _, name := range []string{"Bo Lindqvist", "Cy Okafor", "Sol Whitaker", "Tam Nguyen", "Vic Brennan"} {
		v.tick(name)
	}
	v.sees("#class-preview", "6 sittings")
	v.day("#date", "2026-12-05")
	v.clock("#from", "13:00")
	v.clock("#to", "15:00")
	v.press(input.Tab)
	v.sees("#class-preview", "Heron is booked 13:00")
	v.write("#project", "Nothing of the sort")
	v.press(input.Tab)
	v.sees("#class-preview", "No project is called so yet.")
	v.open("/classes")
	assert.Equal(t, before, v.words("h1"))
}
