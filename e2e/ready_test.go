package e2e

import (
	"image"
	_ "image/jpeg" // what photos are kept as
	"net/http"
	"path/filepath"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The player sews, halts, and goes by stop and by stitch from the keyboard.
func TestThePlayer(t *testing.T) {
	v := visit(t, start(t))
	v.signIn("instructor")
	v.open("/designs/2")
	v.find("[data-player][data-ready]")
	v.sees("[data-status]", "stop 5, stitch 343")
	v.press('[')
	v.sees("[data-status]", "stop 5, stitch")
	v.press('[')
	v.sees("[data-status]", "stop 4, stitch")
	v.press('[')
	v.sees("[data-status]", "stop 3, stitch 0")
	v.press(input.ArrowRight)
	v.sees("[data-status]", "stop 3, stitch 1")
	v.press(input.ArrowRight)
	v.sees("[data-status]", "stop 3, stitch 2")
	v.press(input.ArrowLeft)
	v.sees("[data-status]", "stop 3, stitch 1")
	v.press(input.Space)
	v.sees("[data-do=play]", "Pause")
	v.sees("[data-status]", "stop 4, stitch")
	v.press(input.Space)
	v.sees("[data-do=play]", "Sew")
	v.press(']')
	v.sees("[data-status]", "stop 4, stitch 506")

	v.focus("[data-scrub]")
	v.press(input.Home)
	v.sees("[data-status]", "stop 1, stitch")
	v.press(input.End)
	v.sees("[data-status]", "stop 5, stitch 343")
	v.choose("[data-cloth]", "dark")
	assert.Equal(t, "dark", v.value("[data-cloth]"))
}

// A wheel and a drag change what is seen, and "Whole" brings it back: the
// middle of the drawing is then the middle of the design again.
func TestTheDrawingIsZoomedAndDragged(t *testing.T) {
	v := visit(t, start(t))
	v.signIn("instructor")
	v.open("/designs/2")
	v.find("[data-player][data-ready]")
	box, err := v.find("canvas").Shape()
	require.NoError(t, err)
	middle := proto.NewPoint(box.Box().X+box.Box().Width/2, box.Box().Y+box.Box().Height/2)
	look := func() string {
		picture, err := v.page.Eval(`() => document.querySelector("canvas").toDataURL()`)
		require.NoError(t, err)
		return picture.Value.String()
	}
	settled := func(from string) {
		t.Helper()
		require.NoError(t, v.page.Timeout(patience).Wait(evalChanged(from)))
	}
	whole := look()
	require.NoError(t, v.page.Mouse.MoveTo(middle))
	require.NoError(t, v.page.Mouse.Scroll(0, -400, 1))
	settled(whole)
	near := look()
	require.NoError(t, v.page.Mouse.Down(proto.InputMouseButtonLeft, 1))
	require.NoError(t, v.page.Mouse.MoveTo(proto.NewPoint(middle.X+60, middle.Y+30)))
	require.NoError(t, v.page.Mouse.Up(proto.InputMouseButtonLeft, 1))
	settled(near)
	v.sees("#place", "Point at the drawing")
	v.focus("[data-do=whole]")
	v.press(input.Enter)
	require.NoError(t, v.page.Timeout(patience).Wait(evalIs(whole)))
}

// A design is moved in its hoop by keys and snaps, resized against a lock,
// and kept; its template is there to print.
func TestPlacingADesignInItsHoop(t *testing.T) {
	base := start(t)
	v := visit(t, base)
	v.signIn("instructor")
	v.open("/designs/2")
	v.enter(`a[aria-label="Place it on Wharf"]`)
	v.sees("h1", "It fits the large square hoop upright, with ±32 × ±27 mm to nudge.")
	v.focus("[data-mover]")
	v.press(input.ArrowRight)
	v.press(input.ArrowRight)
	v.press(input.ArrowUp)
	v.waitFor("#x", "2 mm")
	v.waitFor("#y", "1 mm")
	v.sees("aside table", "44.4 mm, −46.6 mm")
	v.focus(`button[aria-label="Snap to top left"]`)
	v.press(input.Enter)
	v.waitFor("#x", "-32.7 mm")
	v.sees("aside table", "−75 mm, 75 mm")
	v.enter("aside button.main")
	v.sees(".context", "saved")
	v.open("/designs/2/placing?machine=5")
	assert.Equal(t, "-32.7 mm", v.value("#x"), "it opens where it was kept")

	v.open("/designs/7/placing?machine=5")
	v.choose("#percent", "95")
	v.sees(".answer", "Resizing is locked, appliqué pieces")
	v.enter("aside button.main")
	v.sees("aside .problem", "Only the owner may set the lock aside")

	o := visit(t, base)
	o.signIn("owner")
	o.open("/designs/7/placing?machine=5&percent=95")
	o.enter("aside button.main")
	o.sees("#reason-problem", "write why")
	o.write("#reason", "pieces are not cut yet")
	o.enter("aside button.main")
	o.sees(".context", "lock set aside by Marit: pieces are not cut yet")

	c := signedIn(t, base)
	v.open("/designs/2/placing?machine=5&turn=90&percent=110")
	link, err := v.find(`aside a[href*="/template?"]:last-of-type`).Attribute("href")
	require.NoError(t, err)
	assert.Contains(t, c.get(t, *link)[:200], `width="132.8mm"`,
		"the template is of what is shown: turned, and a tenth larger")
	for address, magic := range map[string]string{"/designs/2/template?machine=1&sheet=A4": "%PDF-",
		"/designs/2/template?machine=1&sheet=Letter": "%PDF-", "/designs/2/template?machine=1": "<svg"} {
		assert.Contains(t, c.get(t, address)[:100], magic, address)
	}
}

// Dragging with the mouse moves it too, and no farther than the field.
func TestDraggingADesignInItsHoop(t *testing.T) {
	v := visit(t, start(t))
	v.signIn("owner")
	v.open("/designs/2/placing?machine=5")
	box, err := v.find("[data-mover] svg").Shape()
	require.NoError(t, err)
	x, y := box.Box().X+box.Box().Width/2, box.Box().Y+box.Box().Height/2
	require.NoError(t, v.page.Mouse.MoveTo(proto.NewPoint(x, y)))
	require.NoError(t, v.page.Mouse.Down(proto.InputMouseButtonLeft, 1))
	require.NoError(t, v.page.Mouse.MoveTo(proto.NewPoint(x+20, y)))
	require.NoError(t, v.page.Mouse.MoveTo(proto.NewPoint(x+600, y)))
	require.NoError(t, v.page.Mouse.Up(proto.InputMouseButtonLeft, 1))
	v.waitFor("#x", "32.7 mm")
	v.sees("aside table", "75 mm")
}

// Lines, marks and pieces: each with wrong input first.
func TestLinesMarksAndPieces(t *testing.T) {
	base := start(t)
	v := visit(t, base)
	v.signIn("instructor")
	v.open("/designs/5")
	v.enter(`a[href="/designs/5/border"]`)
	v.write("#length", "as long as it takes")
	v.enter("aside button.main")
	v.sees("#length-problem", "Write a length")
	assert.Equal(t, "as long as it takes", v.value("#length"))
	v.write("#length", "48 in")
	v.write("#pitch", "45 mm")
	v.enter("aside button.main")
	v.sees("h1", "28 repeats in 5 hoopings, 43.54 mm from one to the next.")
	v.sees(".answer", "pushed together by 1.46 mm")

	v.enter(`a[href="/designs/5/align"]`)
	v.write("#cloth-a-x", "left")
	v.enter("aside button.main")
	v.sees("aside .problem", "Write a length")
	assert.Equal(t, "left", v.value("#cloth-a-x"))
	for field, typed := range map[string]string{"#cloth-a-x": "-20", "#cloth-a-y": "0", "#cloth-b-x": "0",
		"#cloth-b-y": "20"} {
		v.write(field, typed)
	}
	v.enter("aside button.main")
	v.sees("h1", "Turn it 45.0° counter-clockwise, then move it 10 mm left and 10 mm up.")
	v.sees(".answer", "misses its mark by 6.5 mm")

	v.open("/designs/7")
	v.enter(`a[href="/designs/7/pieces"]`)
	v.sees("h1", "1 path to cut from a piece of 122 × 122 mm")
	v.write("#offset", "12")
	v.enter("aside form button")
	v.sees("#offset-problem", "0 mm to 2.5 mm")
	v.write("#offset", "2.5")
	v.tick("Mirror")
	v.enter("aside form button")
	v.sees("h1", "125 × 125 mm, 2.5 mm outside the line.")
	v.sees(".context", "mirrored")
	href, err := v.find("aside a.main").Attribute("href")
	require.NoError(t, err)
	assert.Contains(t, signedIn(t, base).get(t, *href), `width="124.9`)
}

// A stitch-out is logged with a photo, first with mistakes, and teaches.
func TestLoggingAStitchOut(t *testing.T) {
	base := start(t)
	v := visit(t, base)
	v.signIn("instructor")
	v.open("/designs/3")
	v.focus("#stitch-outs summary")
	v.press(input.Enter)
	v.write("#minutes", "ages")
	v.enter("#stitch-outs form[enctype] button.button")
	v.sees("#minutes-problem", "Write the minutes")
	assert.Equal(t, "ages", v.value("#minutes"))
	v.choose("#machine", "pig")
	v.choose("#fabric", "ter")
	v.day("#date", "2026-11-23")
	v.write("#minutes", "11")
	v.write("#went-wrong", "A jump was sewn over")
	picture := filepath.Join("..", "docs", "screenshots", "today.png")
	require.NoError(t, v.find("#photo").SetFiles([]string{picture}))
	v.enter("#stitch-outs form[enctype] button.button")
	v.sees("#stitch-outs table", "A jump was sewn over")
	v.sees("#stitch-outs table", "11 min")
	src, err := v.find("#stitch-outs img").Attribute("src")
	require.NoError(t, err)
	kept, kind, err := image.DecodeConfig(strings.NewReader(signedIn(t, base).get(t, *src)))
	require.NoError(t, err)
	assert.Equal(t, "jpeg", kind, "the photo is kept as it was made here")
	assert.Equal(t, [2]int{1280, 800}, [2]int{kept.Width, kept.Height})
	v.enter(`button[aria-label^="Remove the entry of 23 Nov 2026 on Pigeon"]`)
	text, err := v.find("#stitch-outs").Text()
	require.NoError(t, err)
	assert.NotContains(t, text, "A jump was sewn over")
	answer, err := http.Get(base + *src)
	require.NoError(t, err)
	answer.Body.Close()
	assert.Equal(t, "/sign-in", answer.Request.URL.Path, "photos are for those who are signed in")
}
