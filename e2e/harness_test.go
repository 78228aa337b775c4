// Package e2e drives the real interface in headless Chromium, as a person
// does: by mouse and keyboard, with wrong input too.
package e2e

import (
	"context"
	"net"
	"os"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/launcher"
	"github.com/go-rod/rod/lib/launcher/flags"
	"github.com/go-rod/rod/lib/proto"
	"github.com/gofiber/fiber/v3"
	"github.com/stretchr/testify/require"

	"chalkstep/app/actor"
	"chalkstep/demo"
	"chalkstep/demo/demotest"
	"chalkstep/store"
	"chalkstep/store/storetest"
	"chalkstep/web"
)

func TestMain(m *testing.M) {
	storetest.Then = func() { _ = os.RemoveAll(programs) }
	storetest.Main(m)
}

// now is a Tuesday afternoon, so that pictures and plans stay as they are.
var now = demotest.Now

// patience is how long a state may take to come about before the test fails. It guards
// against what never comes, and not against slowness.
const patience = 3 * time.Minute

// start serves the demo workshop and returns its address.
func start(t testing.TB) string {
	t.Helper()
	base, _ := serve(t, demotest.URL(t), nil)
	return base
}

// serve serves the demo workshop on a database, changed by grow before anybody
// comes.
func serve(t testing.TB, url string, grow func(), options ...store.Option) (string, *fiber.App) {
	t.Helper()
	db, err := store.Open(t.Context(), url, options...)
	require.NoError(t, err)
	if grow != nil {
		grow()
	}
	return listen(t, db, web.Config{App: actor.New(db, nowClock)})
}

func nowClock() time.Time { return now }

// listen puts a face on a store.
func listen(t testing.TB, db *store.Store, cfg web.Config) (string, *fiber.App) {
	t.Helper()
	if cfg.Patience == 0 {
		cfg.Patience = patience
	}
	face, err := web.New(cfg)
	require.NoError(t, err)
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	done := make(chan error, 1)
	following, stop := context.WithCancel(t.Context())
	followed := make(chan struct{})
	go func() {
		defer close(followed)
		cfg.App.Follow(following)
	}()
	go func() { done <- web.Serve(face, listener) }()
	t.Cleanup(func() {
		require.NoError(t, face.ShutdownWithTimeout(patience))
		require.NoError(t, <-done)
		stop()
		<-followed
		require.NoError(t, db.Close())
	})
	return "http://" + listener.Addr().String(), face
}

// A visitor is a person at a browser of their own.
type visitor struct {
	t    testing.TB
	base string
	page *rod.Page
	// heron is the link of the phone beside Heron, once it is known.
	heron string
}

// visit opens a browser window of 1280 × 800; flags are the browser's own.
func visit(t testing.TB, base string, options ...flags.Flag) *visitor {
	t.Helper()
	l := launcher.New().Bin(chromium(t)).NoSandbox(true).Headless(true).Set("disable-gpu").Set("disable-quic").
		Set("disable-background-networking").Set("disable-component-update").Set("disable-sync").Set("no-first-run").Set(
		"disable-dev-shm-usage")
	for _, o := range options {
		l.Set(o)
	}
	// Of its own: what the launcher shares below /tmp belongs to whoever ran tests here first.
	profile, err := os.MkdirTemp("", "chalkstep-browser-")
	require.NoError(t, err)
	control, err := l.UserDataDir(profile).Launch()
	require.NoError(t, err)
	browser := rod.New().ControlURL(control)
	require.NoError(t, browser.Connect())
	t.Cleanup(func() {
		_ = browser.Close()
		l.Cleanup()
	})
	page, err := browser.Page(proto.TargetCreateTarget{URL: "about:blank"})
	require.NoError(t, err)
	v := &visitor{t: t, base: base, page: page.Timeout(10 * patience)}
	v.size(1280, 800)
	return v
}

func chromium(t testing.TB) string {
	t.Helper()
	path, found := launcher.LookPath()
	require.True(t, found, "Chromium is not installed: install Debian's package chromium")
	return path
}

func (v *visitor) size(width, height int) {
	v.t.Helper()
	require.NoError(v.t, v.page.SetViewport(&proto.EmulationSetDeviceMetricsOverride{Width: width, Height: height,
		DeviceScaleFactor: 1}))
}

// dark asks for the dark look, or the light one again.
func (v *visitor) dark(on bool) {
	scheme := "light"
	if on {
		scheme = "dark"
	}
	require.NoError(v.t, proto.EmulationSetEmulatedMedia{
		Features: []*proto.EmulationMediaFeature{{Name: "prefers-color-scheme", Value: scheme}}}.Call(v.page))
}

// open goes to an address and waits until the page is there.
func (v *visitor) open(path string) {
	v.t.Helper()
	if rest, is := strings.CutPrefix(path, heron); is {
		path = v.heronLink() + rest
	}
	require.NoError(v.t, v.page.Navigate(v.base+path))
	require.NoError(v.t, v.page.WaitLoad())
}

// heronLink is the link of the phone beside Heron, on the page that lists them.
func (v *visitor) heronLink() string {
	v.t.Helper()
	if v.heron == "" {
		v.open("/classes/2/stations")
		v.heron = v.attribute(".codes section:first-child a", "href")
	}
	return v.heron
}

// find waits for an element.
func (v *visitor) find(selector string) *rod.Element {
	v.t.Helper()
	el, err := v.page.Timeout(patience).Element(selector)
	require.NoError(v.t, err, "%s on %s", selector, v.path())
	return el.CancelTimeout()
}

// sees waits for words in the part of the page that a selector names.
func (v *visitor) sees(selector, words string) {
	v.t.Helper()
	deadline := time.Now().Add(patience)
	text := ""
	for time.Now().Before(deadline) {
		if el, err := v.page.Timeout(time.Second).Element(selector); err == nil {
			if text, err = el.Text(); err == nil && strings.Contains(strings.Join(strings.Fields(text), " "), words) {
				return
			}
		}
	}
	require.Contains(v.t, strings.Join(strings.Fields(text), " "), words, "in %s on %s", selector, v.path())
}

func (v *visitor) path() string {
	info, err := v.page.Info()
	if err != nil {
		return err.Error()
	}
	return strings.TrimPrefix(info.URL, v.base)
}

// value of a form field.
func (v *visitor) value(selector string) string {
	v.t.Helper()
	value, err := v.find(selector).Property("value")
	require.NoError(v.t, err)
	return value.String()
}

// attribute is one of an element.
func (v *visitor) attribute(selector, name string) string {
	v.t.Helper()
	value, err := v.find(selector).Attribute(name)
	require.NoError(v.t, err)
	require.NotNil(v.t, value, "%s has no %s", selector, name)
	return *value
}

// waitForAttribute waits until an element has one.
func (v *visitor) waitForAttribute(selector, name, value string) {
	v.t.Helper()
	err := v.page.Timeout(patience).Wait(
		rod.Eval(`(selector, name, value) => document.querySelector(selector)?.getAttribute(name) === value`, selector, name,
			value))
	require.NoError(v.t, err, "%s of %s is not %q", name, selector, value)
}

// focus goes to a field or button by the Tab key alone.
func (v *visitor) focus(selector string) {
	v.t.Helper()
	v.find(selector)
	const most = 250
	for range most {
		there, err := v.page.Eval(`s => document.activeElement.matches(s)`, selector)
		require.NoError(v.t, err)
		if there.Value.Bool() {
			return
		}
		require.NoError(v.t, v.page.Keyboard.Type(input.Tab))
	}
	require.Fail(v.t, "the Tab key does not reach "+selector, v.path())
}

// write replaces what a field holds, from the keyboard.
func (v *visitor) write(selector, text string) {
	v.t.Helper()
	v.focus(selector)
	require.NoError(v.t, v.page.KeyActions().Press(input.ControlLeft).Type(input.KeyA).Do())
	require.NoError(v.t, v.page.Keyboard.Type(input.Backspace))
	require.NoError(v.t, v.page.InsertText(text))
}

// choose picks an option by typing its first letters.
func (v *visitor) choose(selector, letters string) {
	v.t.Helper()
	v.keys(selector, letters)
	require.NotEmpty(v.t, v.value(selector))
}

// day types a date into its field. Headless Chromium asks for the month first.
func (v *visitor) day(selector, date string) {
	v.t.Helper()
	day, err := time.Parse(time.DateOnly, date)
	require.NoError(v.t, err)
	v.keys(selector, day.Format("01022006"))
	require.Equal(v.t, date, v.value(selector))
}

// clock types a time into its field, in the twelve hours it asks for.
func (v *visitor) clock(selector, hour string) {
	v.t.Helper()
	at, err := time.Parse("15:04", hour)
	require.NoError(v.t, err)
	v.keys(selector, at.Format("0304pm")[:5])
	require.Equal(v.t, hour, v.value(selector))
}

// keys types letters and digits one by one.
func (v *visitor) keys(selector, text string) {
	v.t.Helper()
	v.focus(selector)
	for _, r := range text {
		require.NoError(v.t, v.page.Keyboard.Type(input.Key(r)))
	}
}

// press hits a key, on what has the focus.
func (v *visitor) press(key input.Key) {
	v.t.Helper()
	require.NoError(v.t, v.page.Keyboard.Type(key))
}

// enter reaches an element by keyboard, presses Enter and waits for the page
// that follows.
func (v *visitor) enter(selector string) {
	v.t.Helper()
	v.focus(selector)
	v.follow(func() { v.press(input.Enter) })
}

// hit reaches an element by keyboard and presses Enter, where no other page follows.
func (v *visitor) hit(selector string) {
	v.t.Helper()
	v.focus(selector)
	v.press(input.Enter)
}

// confirm opens what a button asks before it does anything, and does it.
func (v *visitor) confirm(popover string) {
	v.t.Helper()
	v.focus(`button[popovertarget="` + popover + `"]`)
	v.press(input.Enter)
	v.enter("#" + popover + " button.main")
}

// follow does something that leads to another page and waits for that.
func (v *visitor) follow(do func()) {
	v.t.Helper()
	wait := v.page.Timeout(patience).WaitNavigation(proto.PageLifecycleEventNameLoad)
	do()
	wait()
}

// signIn signs one of the demo's people in.
func (v *visitor) signIn(role store.Role) {
	v.t.Helper()
	v.open("/sign-in")
	for _, l := range demo.Logins {
		if l.Role == role {
			v.write("#email", l.Email)
			v.write("#password", l.Password)
		}
	}
	v.enter("form button.main")
	v.sees(".who", "Sign out")
}

// picture keeps what the page looks like among the README's pictures.
func (v *visitor) picture(name string) {
	v.t.Helper()
	require.NoError(v.t, v.page.WaitIdle(patience))
	_, err := v.page.Eval(
		`() => document.fonts.ready.then(() => { document.activeElement.blur(); window.scrollTo(0, 0); return true })`)
	require.NoError(v.t, err)
	data, err := v.page.Screenshot(false, &proto.PageCaptureScreenshot{Format: proto.PageCaptureScreenshotFormatPng})
	require.NoError(v.t, err)
	keepOrCompare(v.t, name, data)
}

// suggests waits until a list of suggestions holds a name.
func (v *visitor) suggests(list, name string) {
	v.t.Helper()
	err := v.page.Timeout(patience).Wait(
		rod.Eval(`(s, n) => [...document.querySelectorAll(s + " option")].some(o => o.value === n)`, list, name))
	require.NoError(v.t, err, "%s does not suggest %s", list, name)
}

// waitFor waits until a form field holds a value.
func (v *visitor) waitFor(selector, value string) {
	v.t.Helper()
	err := v.page.Timeout(patience).Wait(rod.Eval(`(s, v) => document.querySelector(s)?.value === v`, selector, value))
	require.NoError(v.t, err, "%s does not become %s but %s", selector, value, v.value(selector))
}

// evalChanged and evalIs wait for what the drawing shows.
func evalChanged(from string) *rod.EvalOptions {
	return rod.Eval(`from => document.querySelector("canvas").toDataURL() !== from`, from)
}

func evalIs(picture string) *rod.EvalOptions {
	return rod.Eval(`picture => document.querySelector("canvas").toDataURL() === picture`, picture)
}
