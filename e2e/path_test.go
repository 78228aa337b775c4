package e2e

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/stitch"
	_ "chalkstep/core/stitch/dst" // the file format the visitor brings
	"chalkstep/demo/motif"
)

// An instructor goes from signing in to a student's step card by keyboard
// alone, and makes the usual mistakes on the way.
func TestFromAStitchFileToTheStepCard(t *testing.T) {
	v := visit(t, start(t))
	folder := t.TempDir()
	good, bad, cut := filepath.Join(folder, "harbour_light.dst"), filepath.Join(folder, "photo.dst"),
		filepath.Join(folder, "empty.exp")
	pattern := motif.Lighthouse().Pattern
	last := pattern.Moves[len(pattern.Moves)-1]
	pattern.Moves = append(pattern.Moves, stitch.Move{X: last.X + 20, Y: last.Y})
	data, err := stitch.Encode(good, pattern)
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(good, data, 0o600))
	require.NoError(t, os.WriteFile(bad, []byte("\x89PNG\r\n\x1a\n0000"), 0o600))
	require.NoError(t, os.WriteFile(cut, []byte{0x80}, 0o600))

	// Signing in, first with the wrong password.
	v.open("/")
	v.write("#email", "instructor@ferry.example")
	v.write("#password", "guess")
	v.enter("form button.main")
	v.sees(".problems", "do not belong together")
	assert.Equal(t, "instructor@ferry.example", v.value("#email"), "what was typed stays")
	v.write("#password", "slack-tide-2")
	v.enter("form button.main")
	v.sees("h1", "Towels that last")

	// The design: wrong files say what is wrong, and nothing is kept of them.
	v.follow(func() { v.press('4') })
	v.sees("h1", "7 designs to choose from")
	for file, says := range map[string]string{
		bad: "Reading photo.dst: not a .dst file: at byte 0 expected stitches, found the start of a .png file.",
		cut: "expected at least one stitch"} {
		v.follow(func() { require.NoError(t, v.find("#file").SetFiles([]string{file})) })
		v.sees("#file-problem", says)
		v.sees("h1", "7 designs to choose from")
	}
	v.follow(func() { require.NoError(t, v.find("#file").SetFiles([]string{good})) })
	v.sees("h1", "stitches in 5 stops, about 14 minutes; fits 4 of 5 machines.")
	v.sees("aside", "too tall by 5 mm")
	v.sees("aside", "convert to .exp")

	// What it sews is the person's to say.
	v.write(`tr:nth-child(1) input[name="sews"]`, "The sea at low tide")
	v.write("#name", "Harbour light at dusk")
	v.enter("form.sheet button")
	v.sees(".context", "Harbour light at dusk")
	assert.Equal(t, "The sea at low tide", v.value(`tr:nth-child(1) input[name="sews"]`))

	// The project, first with mistakes that are named and kept.
	v.enter("a.main")
	v.write("#name", "Dusk tote")
	v.write("#blank", "canvas tote")
	v.choose("#fabric", "canv")
	v.write("#width", "wide")
	v.write("#height", "16 in")
	v.enter("form.sheet button.main")
	v.sees("#width-problem", "Write a length such as")
	assert.Equal(t, "wide", v.value("#width"))
	assert.Equal(t, "canvas", v.value("#fabric"))
	v.write("#width", "15 in")
	v.enter("form.sheet button.main")
	v.sees("h1", "Medium tear-away under it")
	v.sees(".context", "381 × 406 mm")
	v.focus(`button[popovertarget="recipe-working"]`)
	v.press(input.Enter)
	v.sees("#recipe-working", "heavy cloth is stable but breaks thin needles")
	v.press(input.Escape)
	v.write(`input[name="minutes-hoop"]`, "soon")
	v.enter(`form.sheet button:not([name])`)
	v.sees("form.sheet .problem", "write minutes from 0 to 600")
	v.write(`input[name="minutes-hoop"]`, "7")
	v.enter(`form.sheet button:not([name])`)
	assert.Equal(t, "7", v.value(`input[name="minutes-hoop"]`))

	// The class: on a day when a machine is taken, then on a free one.
	v.enter("aside a.main")
	v.write("#name", "Dusk totes")
	v.day("#date", "2026-11-28")
	for _, label := range []string{"Heron", "Pigeon", "Ana Thorne", "Sol Whitaker"} {
		v.tick(label)
	}
	v.enter("form.sheet button.main")
	v.sees("form.sheet", "Ana Thorne is in the class Buoy badges, first felt 10:00–13:00. Leave them out")
	v.sees("form.sheet", "Heron is booked 10:00–13:00 for the class Buoy badges, first felt.")
	assert.Equal(t, "Dusk totes", v.value("#name"))
	v.day("#date", "2026-12-12")
	v.enter("form.sheet button.main")
	v.sees("h1", "Everyone finishes by")
	v.sees(".answer", "Sol is not ready alone")
	v.focus(`button[popovertarget="plan-working"]`)
	v.press(input.Enter)
	v.sees("#plan-working", "No plan can be shorter than")
	v.press(input.Escape)

	// What to pack, each with its working.
	v.follow(func() { v.press('k') })
	v.sees("h1", "Pack 4 sets and cut 4 pieces")
	v.focus("tbody tr:first-child summary")
	v.press(input.Enter)
	v.sees("tbody tr:first-child", "1 student at Heron + 1 test + 1 spare = 3 sets")

	// The card.
	v.follow(func() { v.press('p') })
	v.enter("section.sheet tbody tr:nth-child(2) a")
	v.sees("h1", "Sol Whitaker: Dusk tote on")
	v.sees("main", "Stop 1: The sea at low tide")
	v.sees("main", "Ask the instructor first for")
	v.sees("main", "Stop the machine before reaching in")
}

// tick sets the check box whose label begins with a text.
// focused is whose box has the focus in a matrix.
func (v *visitor) focused() string {
	v.t.Helper()
	return v.page.Timeout(patience).MustEval(`() => document.activeElement?.dataset?.name ?? ""`).Str()
}

func (v *visitor) tick(label string) {
	v.t.Helper()
	box, err := v.page.Timeout(patience).ElementX(`//label[starts-with(normalize-space(.), "` + label + `")]/input`)
	require.NoError(v.t, err)
	name, err := box.Attribute("name")
	require.NoError(v.t, err)
	value, err := box.Attribute("value")
	require.NoError(v.t, err)
	v.focus(`input[name="` + *name + `"][value="` + *value + `"]`)
	v.press(input.Space)
	checked, err := box.Property("checked")
	require.NoError(v.t, err)
	require.True(v.t, checked.Bool())
}

// Booking: a student who may not work alone, then with an instructor, then
// on top of another booking, and free again.
func TestBookingAMachine(t *testing.T) {
	v := visit(t, start(t))
	v.signIn("owner")
	v.open("/machines/bookings")
	v.sees("h1", "10 bookings in the week of Mon 23 Nov.")
	v.choose("#machine", "pig")
	v.write("#student", "tam")
	v.suggests("#student-names", "Tam Nguyen")
	v.write("#student", "Tam Nguyen")
	v.day("#date", "2026-11-27")
	v.clock("#to", "09:00")
	v.enter("#book button.main")
	v.sees("#to-problem", "The end has to be after the start")
	v.clock("#to", "12:00")
	v.enter("#book button.main")
	v.sees("#book", "Tam Nguyen may not work alone on a single-needle machine: safe start and stop")
	v.tick("An instructor stays")
	v.enter("#book button.main")
	v.sees("h1", "11 bookings")

	v.choose("#machine", "pig")
	v.write("#student", "Ana Thorne")
	v.day("#date", "2026-11-27")
	v.clock("#from", "11:30")
	v.clock("#to", "12:30")
	v.enter("#book button.main")
	v.sees("#from-problem", "Pigeon is booked 10:00–12:00 for Tam Nguyen. It is free Fri 27 Nov from 12:10 to 21:00")
	v.clock("#from", "12:00")
	v.clock("#to", "13:00")
	v.enter("#book button.main")
	v.sees("#override-problem", "Between two people lie 10 minutes")
	v.write("#override", "she takes over from Tam")
	v.enter("#book button.main")
	v.sees("tbody", "a rule was set aside: she takes over from Tam")
	v.enter(`button[aria-label="Cancel Pigeon for Tam Nguyen"]`)
	v.sees("h1", "11 bookings")
}

// A machine is found that can sew a design, and taken from the free time in the week; a
// standing time is booked for weeks on end, or for none.
func TestFindingATime(t *testing.T) {
	v := visit(t, start(t))
	v.signIn("owner")
	v.open("/machines/bookings")
	v.write("#design", "Lighthouse")
	v.write("#for", "Kit Aldana")
	v.enter("form[method=get] button")
	v.sees("#slots", "Lantern: ")
	v.sees("#slots li:first-child", "Tue 24 Nov")
	v.enter("#slots li:first-child a")
	require.Equal(t, "Kit Aldana", v.value("#student"))
	v.enter("#book button.main")
	v.sees("h1", "11 bookings")

	v.open("/machines/bookings?week=2026-12-01")
	v.follow(func() { v.page.Timeout(patience).MustElement("a.free").MustClick() })
	require.NotEmpty(t, v.value("#machine"))
	v.write("#student", "Ana Thorne")
	v.write("#weeks", "9")
	v.enter("#book button.main")
	v.sees("#override-problem", "Machines are booked at most 28 days ahead")
	v.sees("#override-problem", "Nothing was booked")
	v.write("#weeks", "2")
	v.write("#override", "")
	v.enter("#book button.main")
	v.sees("tbody", "Ana Thorne")
	v.open("/machines/bookings?week=2026-12-07")
	v.sees("tbody", "Ana Thorne")
}

// A sign-off moves a student up the ladder, and can be taken back. The
// assistant may do it, but may change nothing else.
func TestSigningOff(t *testing.T) {
	v := visit(t, start(t))
	v.signIn("assistant")
	v.follow(func() { v.press('7') })
	v.follow(func() {
		link, err := v.page.Timeout(patience).ElementR("a", "Tam Nguyen")
		require.NoError(t, err)
		require.NoError(t, link.Click("left", 1))
	})
	v.sees("h1", "Next for Tam Nguyen: safe start and stop.")
	v.enter("#mark button.main")
	v.sees("h1", "Next for Tam Nguyen: wind and fit a bobbin.")
	v.sees("#safe-start", "alone, 24 Nov 2026, Pim single-needle")

	v.choose("#skill", "Hoop a k")
	v.write("#note", "on a scrap")
	v.enter("#mark button.main")
	v.sees("#mark", "Tam Nguyen has not reached hoop a woven and clean up and finish")
	v.tick("Tam Nguyen has not reached")
	v.enter("#mark button.main")
	v.sees("#hoop-knit", "on a scrap")

	v.enter("#safe-start button")
	v.sees("h1", "Next for Tam Nguyen: safe start and stop.")

	has, _, err := v.page.Has("#name")
	require.NoError(t, err)
	assert.False(t, has, "an assistant is not shown what they may not do")
}

// A step is marked for several at once by keys alone: down to the students, Space ticks, a
// digit says how they did it, and left or right go to the step beside.
func TestMarkingInRounds(t *testing.T) {
	v := visit(t, start(t))
	v.signIn("assistant")
	v.open("/students/matrix?step=safe-start")
	v.sees("h1", "2 students are ready for “safe start and stop”.")
	for v.focused() != "Tam Nguyen" {
		v.press(input.ArrowDown)
	}
	v.press(input.Space)
	for v.focused() != "Wren Achterberg-Holloway" {
		v.press(input.ArrowDown)
	}
	v.press(input.Space)
	v.sees("[data-for]", "for Tam Nguyen, Wren Achterberg-Holloway")
	v.follow(func() { v.press('3') })
	v.sees("h1", "Nobody is ready for “safe start and stop” next.")
	v.follow(func() { v.press(input.ArrowRight) })
	v.sees("h1", "“wind and fit a bobbin”")
	v.enter(`.rounds button[value="alone"]`)
	v.sees(".rounds", "Choose who did it.")
}

// Machines and hoops are added and corrected; two people who edit one
// machine at once are told.
func TestMachinesAndHoops(t *testing.T) {
	base := start(t)
	v, w := visit(t, base), visit(t, base)
	v.signIn("owner")
	v.open("/hoops/new")
	v.write("#name", "Pocket")
	v.write("#width", "2 1/2 in")
	v.write("#height", "big")
	v.enter("form.sheet button.main")
	v.sees("#height-problem", "Write a length")
	v.write("#height", "90")
	v.enter("form.sheet button.main")
	v.sees("h1", "5 machines and 10 hoops")

	v.follow(func() { v.press('n') })
	v.write("#name", "Gull")
	v.write("#top_speed_spm", "fast")
	v.enter("form.sheet button.main")
	v.sees("form.sheet", "Choose at least one format it reads.")
	v.sees("#top_speed_spm-problem", "100 to 2,000")
	assert.Equal(t, "fast", v.value("#top_speed_spm"), "what was typed stays, even where it is no number")
	v.write("#top_speed_spm", "500")
	v.tick(".dst")
	v.tick("Pocket")
	v.write("#bobbin_style", "low, clear")
	v.enter("form.sheet button.main")
	v.sees("h1", "6 machines")

	w.signIn("instructor")
	w.open("/machines/1")
	v.open("/machines/1")
	v.write("#top_speed_spm", "820")
	v.enter("form.sheet button.main")
	w.write("#top_speed_spm", "780")
	w.enter("form.sheet button.main")
	w.sees(".problems", "Someone else changed this while you were editing")
	assert.Equal(t, "780", w.value("#top_speed_spm"), "what was typed stays")
}

// A file can be dropped on the page instead of being picked.
func TestDroppingAStitchFile(t *testing.T) {
	v := visit(t, start(t))
	v.signIn("owner")
	v.open("/designs")
	v.find("form.drop")
	v.follow(func() {
		_, err := v.page.Eval(`() => {
			const stitches = new Uint8Array(400).map((_, i) => (i % 2 ? 0 : i % 4 ? 40 : 216));
			const files = new DataTransfer();
			files.items.add(new File([stitches], "dropped.exp"));
			const form = document.querySelector("form.drop");
			form.dispatchEvent(new DragEvent("dragover", { dataTransfer: files, cancelable: true }));
			form.dispatchEvent(new DragEvent("drop", { dataTransfer: files, cancelable: true }));
		}`)
		require.NoError(t, err)
	})
	v.sees(".context", "dropped.exp")
	v.sees("h1", "200 stitches in 1 stop")
}

// Several in one hoop: a quantity that is no number, a hoop too small, then
// a sheet that fits.
func TestLayingOutCopies(t *testing.T) {
	v := visit(t, start(t))
	v.signIn("instructor")
	v.open("/designs/7")
	v.enter(`a[href="/designs/7/copies"]`)
	v.write("#quantity", "many")
	v.enter("aside button.main")
	v.sees("#quantity-problem", "Write a quantity from 1 to 1,000")
	assert.Equal(t, "many", v.value("#quantity"))
	v.write("#quantity", "4")
	v.choose("#hoop", "tiny")
	v.enter("aside button.main")
	v.sees("aside .problem", "too wide by 51 mm and too tall by 50 mm for this hoop")
	v.choose("#hoop", "large,")
	v.enter("aside button.main")
	v.sees("h1", "2 to a hoop: 2 hoopings for 4.")
}

// The thread broke: pointing at the place on the drawing says where to
// restart, and so do the numbers on the machine's screen.
func TestWhereToRestart(t *testing.T) {
	v := visit(t, start(t))
	v.signIn("assistant")
	v.open("/designs/2")
	v.find("[data-player][data-ready]")
	drawing := v.find("canvas")
	box, err := drawing.Shape()
	require.NoError(t, err)
	middle := box.Box()
	require.NoError(t, v.page.Mouse.MoveTo(proto.NewPoint(middle.X+middle.Width/2, middle.Y+middle.Height/2)))
	require.NoError(t, v.page.Mouse.Click(proto.InputMouseButtonLeft, 1))
	v.sees("#place", "stop 3, stitch 4")
	v.sees("#place", "of 541")
	v.sees("#place", "step back to stitch")
	v.sees("[data-status]", "stop 3, stitch 4")

	v.write(`#place input[name="stop"]`, "2")
	v.write(`#place input[name="stitch"]`, "9999")
	v.focus("#place button")
	v.press(input.Enter)
	v.sees("#place", "stop 2 has stitches 1 to 1180")
	assert.Equal(t, "9999", v.value(`#place input[name="stitch"]`))
	v.write(`#place input[name="stop"]`, "2")
	v.write(`#place input[name="stitch"]`, "534")
	v.focus("#place button")
	v.press(input.Enter)
	v.sees("#place", "stop 2, stitch 534 of 1,180")
	v.sees("#place", "1,459 of 3,495 in all")

	v.open("/classes/4")
	v.enter(`a[href="/designs/2#place"]`)
	v.find("[data-player][data-ready]")
	v.write(`#place input[name="stitch"]`, "2000")
	v.focus("#place button")
	v.press(input.Enter)
	v.sees("#place", "stop 2, stitch 1,075 of 1,180")
	v.write(`#place input[name="stop"]`, "two")
	v.focus("#place button")
	v.press(input.Enter)
	v.sees("#place", "Write the stop as a number")
	assert.Equal(t, "two", v.value(`#place input[name="stop"]`))
}

// The library is searched, and a design is deleted unless a project needs it.
func TestTheLibrary(t *testing.T) {
	v := visit(t, start(t))
	v.signIn("owner")
	v.open("/designs")
	v.write(`input[name="words"]`, "buoy")
	v.enter(`form[role="search"] button`)
	v.sees("h1", "2 designs like that.")
	v.open("/designs/2")
	v.confirm("delete")
	v.sees(".problems", "The design is used by “Lighthouse tote”.")
	v.open("/designs/5")
	v.confirm("delete")
	v.sees("h1", "6 designs to choose from.")
}
