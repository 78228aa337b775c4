package e2e

import (
	"bytes"
	"fmt"
	"image/png"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/proto"
	"github.com/makiuchi-d/gozxing"
	"github.com/makiuchi-d/gozxing/qrcode"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/demo"
)

// offline takes a browser's connection away, or gives it back.
func (v *visitor) offline(off bool) {
	v.t.Helper()
	require.NoError(v.t, proto.NetworkEnable{}.Call(v.page))
	require.NoError(v.t, proto.NetworkEmulateNetworkConditions{Offline: off, Latency: 0, DownloadThroughput: -1,
		UploadThroughput: -1}.Call(v.page))
}

// tap touches the middle of an element.
func (v *visitor) tap(selector string) {
	v.t.Helper()
	v.onItsPlace(func() error {
		el := v.find(selector).Timeout(2 * time.Second)
		if err := el.ScrollIntoView(); err != nil {
			return err
		}
		return el.Click(proto.InputMouseButtonLeft, 1)
	})
}

// onItsPlace does something with an element, and again where news put another in its place
// meanwhile.
func (v *visitor) onItsPlace(do func() error) {
	v.t.Helper()
	deadline := time.Now().Add(patience)
	err := do()
	for err != nil && time.Now().Before(deadline) {
		err = do()
	}
	require.NoError(v.t, err)
}

// touch presses the button with these words in a part of the page that is shown.
func (v *visitor) touch(part, words string) {
	v.t.Helper()
	v.onItsPlace(func() error {
		el, err := v.page.Timeout(2*time.Second).ElementR(part+" button", words)
		if err != nil {
			return fmt.Errorf("%s in %s: %w", words, part, err)
		}
		if err := el.WaitVisible(); err != nil { // what is not there any more is not seen again
			return fmt.Errorf("%s in %s: %w", words, part, err)
		}
		return el.Click(proto.InputMouseButtonLeft, 1) // for what news took away it would wait for ever
	})
}

// The phone beside Heron is opened by its code, without an account. A thread breaks: the
// order of checks, and the stitch to go back to. What is pressed without a connection is
// kept, and sent once when it is back; the board shows it by itself.
func TestAPhoneBesideAMachine(t *testing.T) {
	base := start(t)
	staff := signedIn(t, base)
	link := staff.address(t, heron)
	board := visit(t, base)
	board.signIn(demo.Logins[1].Role)
	board.open("/classes/2/run")
	board.sees("#board h1", "Go to Heron: Noor Haddad, thread broke")

	phone := visit(t, base)
	phone.size(390, 844)
	phone.open(link)
	phone.sees("#station", "Noor Haddad")
	phone.sees("[data-up]", "Rethread with the foot up.")
	phone.sees("[data-screen]:not([hidden]) .caution", "Stop the machine before reaching in.")
	phone.tap("[data-screen]:not([hidden]) [data-drawing]")
	phone.sees("[data-place]", "Step back by stitch to")
	phone.touch("[data-up]", "It sews again")
	board.sees("#board h1", "finish")
	phone.find("[data-down]:not([hidden])")

	// Without a connection the page goes on to its next stop, and keeps what was pressed.
	before := phone.words("#station h1")
	phone.offline(true)
	phone.touch("[data-screen]:not([hidden])", "Stop is done")
	phone.sees(".kept", "1 kept")
	phone.sees("[data-screen]:not([hidden]) h1", "Stop 3 of 3")
	assert.NotEqual(t, before, phone.words("[data-screen]:not([hidden]) h1"))
	phone.touch("[data-down]", "Bobbin is out")
	phone.sees(".kept", "2 kept")
	phone.sees("[data-up]", "Take the hoop off without unhooping.")
	phone.offline(false)
	phone.sees("[data-what]", "bobbin out")
	board.sees("#board h1", "Go to Heron: Noor Haddad, bobbin out")
	board.sees("#board .tile.up", "stop 3 of 3")
	assert.Empty(t, strings.TrimSpace(phone.words("[data-kept]")))

	// Somebody settles it at the board, and the phone shows it; the last stop ends it.
	board.hit(`.hands button[id^="settled"]`)
	phone.find("[data-down]:not([hidden])")
	phone.touch("[data-screen]:not([hidden])", "Finished")
	phone.sees("#station h1", "Heron is free")

	// A code that was renewed opens nothing, and says so.
	board.open("/classes/2/stations")
	board.enter("main form button")
	board.sees("h1", "A phone at each machine")
	phone.open(link)
	phone.sees("h1", "There is no such page.")
}

// The code that is printed is read back as the link it stands for.
func TestTheCodeOfAStationIsReadBack(t *testing.T) {
	base := start(t)
	c := signedIn(t, base)
	link := c.address(t, heron)
	picture, err := png.Decode(strings.NewReader(c.get(t, "/classes/2/stations/1/code.png")))
	require.NoError(t, err)
	bitmap, err := gozxing.NewBinaryBitmapFromImage(picture)
	require.NoError(t, err)
	read, err := qrcode.NewQRCodeReader().Decode(bitmap, nil)
	require.NoError(t, err)
	assert.Equal(t, base+link, read.GetText())
	status, _ := c.ask(t, "/classes/2/stations/99/code.png")
	assert.Equal(t, http.StatusNotFound, status)
}

// A link that was not signed here opens nothing, whatever is changed of it; a phone says
// what happens at its machine, and nothing else.
func TestAStationLinkOpensOneMachine(t *testing.T) {
	base := start(t)
	link := signedIn(t, base).address(t, heron)
	stranger := newClient(t, base)
	status, _ := stranger.ask(t, link)
	require.Equal(t, http.StatusOK, status)
	token := strings.TrimPrefix(link, "/station/")
	parts := strings.Split(token, ".")
	for name, other := range map[string]string{
		"another machine":  parts[0] + ".2." + parts[2],
		"another class":    "3." + parts[1] + "." + parts[2],
		"no signature":     parts[0] + "." + parts[1] + ".",
		"nothing":          "x",
		"a long one":       strings.Repeat("9", 400),
		"a class of words": "two." + parts[1] + "." + parts[2],
	} {
		status, _ := stranger.ask(t, "/station/"+other)
		assert.Equal(t, http.StatusNotFound, status, name)
	}
	send := func(body string) (int, string) {
		answer, err := stranger.http.Post(base+link+"/press", "application/json", strings.NewReader(body))
		require.NoError(t, err)
		defer answer.Body.Close()
		var text bytes.Buffer
		_, err = text.ReadFrom(answer.Body)
		require.NoError(t, err)
		return answer.StatusCode, text.String()
	}
	for name, c := range map[string]struct {
		body   string
		status int
		says   string
	}{
		"somebody at another place": {`{"presses":[{"id":"a","kind":"done","student":1,"step":"press"}]}`, 200,
			"They are not here any more"},
		"what only staff say": {`{"presses":[{"id":"a","kind":"clocked"}]}`, 200, "cannot say that"},
		"the start":           {`{"presses":[{"id":"a","kind":"started"}]}`, 200, "cannot say that"},
		"no name of its own":  {`{"presses":[{"kind":"going","student":9}]}`, 200, "not how a phone presses"},
		"from the future": {`{"presses":[{"id":"a","kind":"going","student":9,"ago_ms":-5}]}`, 200,
			"not how a phone presses"},
		"no JSON": {`presses`, 400, "not what a phone sends"},
		"too many": {`{"presses":[` + strings.Repeat(`{"id":"a"},`, 100) + `{"id":"a"}]}`, 422,
			"more than one phone"},
		"too much": {`{"presses":[{"id":"` + strings.Repeat("a", 20_000) + `"}]}`, 413, ""},
	} {
		status, text := send(c.body)
		assert.Equal(t, c.status, status, name)
		assert.Contains(t, text, c.says, name)
	}
	status, text := send(`{"presses":[{"id":"b","kind":"going","student":9},{"id":"b","kind":"going","student":9}]}`)
	assert.Equal(t, http.StatusOK, status)
	assert.NotContains(t, text, "refused", "sent twice, it counts once")
}
