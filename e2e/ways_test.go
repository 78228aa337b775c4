package e2e

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/stitch"
	"chalkstep/demo/motif"
)

// way chooses a technique on the page of how a project is made.
func (v *visitor) way(key string) {
	v.t.Helper()
	box := `input[value="` + key + `"]`
	open, err := v.find(box).Eval(`() => this.closest("details").open`)
	require.NoError(v.t, err)
	if !open.Value.Bool() {
		v.focus(`details:has(` + box + `) > summary`)
		v.press(input.Enter)
	}
	if has, err := v.find(box).Property("checked"); err == nil && has.Bool() {
		return // the house proposed it
	}
	require.NoError(v.t, v.find(box).Focus())
	v.press(input.Space)
	checked, err := v.find(box).Property("checked")
	require.NoError(v.t, err)
	require.True(v.t, checked.Bool(), key)
}

// upload brings a design to the library and goes on to a new project of it.
func (v *visitor) upload(m motif.Motif) {
	v.t.Helper()
	file := filepath.Join(v.t.TempDir(), m.File)
	data, err := stitch.Encode(file, m.Pattern)
	require.NoError(v.t, err)
	require.NoError(v.t, os.WriteFile(file, data, 0o600))
	v.open("/designs")
	v.follow(func() { require.NoError(v.t, v.find("#file").SetFiles([]string{file})) })
	v.write("#name", m.Name)
	v.enter("form.sheet button")
	v.sees(".context", m.Name)
	v.enter("a.main")
}

// cardOf plans a class of one student who makes a project on a machine, and gives
// the words of their card, and of what is to be brought.
func (v *visitor) cardOf(projectName, machine, date string) (card, bring string) {
	v.t.Helper()
	v.open("/classes/new?project=" + strings.ReplaceAll(projectName, " ", "%20"))
	v.write("#name", "Class of "+projectName)
	v.day("#date", date)
	v.tick(machine)
	v.tick("Ana Thorne")
	v.enter("form.sheet button.main")
	v.sees("h1", "Everyone finishes by")
	v.sees("main", "Nobody has sewn a test of "+projectName)
	class := strings.TrimPrefix(v.path(), "/classes/")
	v.open("/classes/" + class + "/prep")
	bring = v.words("main")
	v.open("/classes/" + class + "/cards")
	card = v.words("article")
	assert.Equal(v.t, "%PDF-", signedIn(v.t, v.base).get(v.t, "/classes/"+class+"/cards.pdf?sheet=A4")[:5])
	return card, bring
}

// words are what an element says, in order.
func (v *visitor) words(selector string) string {
	v.t.Helper()
	text, err := v.find(selector).Text()
	require.NoError(v.t, err)
	return text
}

// inOrder looks for words one after the other.
func inOrder(t *testing.T, text string, words ...string) {
	t.Helper()
	rest := text
	for _, w := range words {
		i := strings.Index(rest, w)
		if !assert.GreaterOrEqual(t, i, 0, "“%s” is not there, or not after what comes before it, in\n%s", w, text) {
			return
		}
		rest = rest[i+len(w):]
	}
}

// A project begins with what is said of it.
type begun struct {
	name, blank, width, height, fabric string
	uses                               []string
	inHoop                             bool
}

func (v *visitor) begin(b begun) {
	v.t.Helper()
	if b.inHoop {
		v.focus(`input[name="kind"]`)
		v.press(input.ArrowDown)
	}
	v.write("#name", b.name)
	v.write("#blank", b.blank)
	v.choose("#fabric", b.fabric)
	v.write("#width", b.width)
	v.write("#height", b.height)
	for _, use := range b.uses {
		v.tick(use)
	}
	v.enter("form.sheet button.main")
	v.sees(".context", b.name)
}

// how opens the page of how the project is made, chooses, and keeps it.
func (v *visitor) how(keys ...string) {
	v.t.Helper()
	v.enter(`#techniques a.button`)
	for _, key := range keys {
		v.way(key)
	}
	v.enter("form.how button.main")
	v.sees("#techniques", "How it is made")
}

// Five very unlike projects are made from files to printed cards.
func TestFiveWaysOfMaking(t *testing.T) {
	base := start(t)
	t.Run("a child's shirt with appliqué placed first", func(t *testing.T) {
		v := visit(t, base)
		v.signIn("instructor")
		v.upload(motif.Signals())
		v.begin(begun{name: "Signal shirt", blank: "child's shirt", width: "300", height: "420", fabric: "jers",
			uses: []string{"worn", "for a child", "washed"}})
		v.choose(`#place select[name="shape"]`, "crew")
		v.enter("#place-form button")
		v.choose(`#place select[name="size"]`, "8")
		v.enter("#place-form button")
		v.how("try-on", "trim-in-hoop", "placements-first", "skip-marks", "line-light")
		card, bring := v.cardOf("Signal shirt", "Heron", "2026-12-14")
		inOrder(t, card, "Sew the machine's stops in this order: 1, 4, 2, 3, 5 and 6.", "Skip stop 7: only marks.",
			"Lay the lining behind each light piece", "Mark the blank", "Put it on before a mirror",
			"Spray the stabilizer lightly", "away from machines and flames", "Hoop the blank", "Load, check the needle",
			"Pins out before the hoop goes on", "Sew stop by stop", "as this machine's manual says")
		inOrder(t, card, "Stop 1", "Stop 4", "Stop 2", "Stop 3", "Stop 5", "Stop 6")
		assert.NotContains(t, card, "Stop 7:")
		inOrder(t, bring, "woven cotton, cut", "adhesive spray", "water-erase pen")
		assert.Contains(t, bring, "Wash, dry and press the blanks")
	})
	t.Run("name blocks on a window", func(t *testing.T) {
		v := visit(t, base)
		v.signIn("instructor")
		v.upload(motif.Pennant())
		v.begin(begun{name: "Name blocks", blank: "cotton block", width: "150", height: "120", fabric: "woven"})
		v.choose(`#place select[name="shape"]`, "squ")
		v.enter("#place-form button")
		v.enter(`#techniques a.button`)
		v.way("window")
		v.sees("#ways-answer", "do not go together: the blank itself is not hooped. Take one of them off.")
		v.focus(`details:has(input[name="technique-hooping"]) > summary`)
		v.press(input.Enter)
		require.NoError(t, v.find(`input[name="technique-hooping"][value=""]`).Focus())
		v.press(input.Space)
		v.sees("#ways-answer", "One sheet serves 4 blocks: 3 sheets for 12 blocks instead of 12")
		v.way("name-last")
		v.enter("form.how button.main")
		v.sees("#techniques", "Stabilizer window")
		card, bring := v.cardOf("Name blocks", "Heron", "2026-12-15")
		inOrder(t, card, "Hoop the sheet, cut its inside out", "Stick the block to the frame", "Tape only where it is shaded",
			"Load", "Take it out of the hoop", "the hoop stays hooped for the next")
		v.find(`svg[aria-label="Where tape may lie, drawn"]`)
		assert.Contains(t, card, "Nothing is torn off")
		assert.Contains(t, card, "Then the name or its plate: last, on top of everything.")
		inOrder(t, bring, "Pack 3 sets and cut 1 piece", "light tear-away, cut 150 × 150 mm", "1 sheet")
	})
	t.Run("perforated hearts", func(t *testing.T) {
		v := visit(t, base)
		v.signIn("instructor")
		v.upload(motif.Hearts())
		v.begin(begun{name: "Heart bunting", blank: "linen flag", width: "200", height: "160", fabric: "lin"})
		v.how("perforated", "cut-dark")
		card, bring := v.cardOf("Heart bunting", "Pigeon", "2026-12-16")
		inOrder(t, card, "Fuse paper-backed web", "The iron is hot", "Perforate the outlines", "mirrored",
			"thread sensor on again", "sharps tin", "Tear and snip the pieces out", "Mark the blank", "Snip, trim and clean up",
			"curved scissors")
		assert.Contains(t, card, "Lay the piece exactly inside its line.")
		assert.NotContains(t, card, "trim to 1", "what has its shape is not trimmed")
		inOrder(t, bring, "fusible, cut", "old needle for perforating")
		assert.Contains(t, card, "pre-cut and fuse", "a rung that Ana has not climbed")
	})
	t.Run("a bound mat", func(t *testing.T) {
		v := visit(t, base)
		v.signIn("instructor")
		v.open("/projects/new?design=Buoy%20badge")
		v.begin(begun{name: "Bound mat", blank: "mat", width: "100", height: "90", fabric: "woven", inHoop: true})
		for i, layer := range [][2]string{{"batt", ""}, {"back", "woven"}, {"bind", "lin"}} {
			v.choose(fmt.Sprintf(`tr:nth-child(%d) select[name="what"]`, i+1), layer[0])
			if layer[1] != "" {
				v.choose(fmt.Sprintf(`tr:nth-child(%d) select[name="fabric"]`, i+1), layer[1])
			}
			v.enter("#layers button.main")
		}
		v.how("bound", "close-by-hand")
		card, bring := v.cardOf("Bound mat", "Heron", "2026-12-17")
		inOrder(t, card, "Cut the binding and join it on the slant", "keep the long side", "middle of a side",
			"Cut the stabilizer, lay the layers ready", "Hoop the stabilizer alone", "finished side is up-right",
			"Trim along the trim line", "Fold the edge over, and sew it down by hand", "Inspect together")
		inOrder(t, bring, "binding of linen, cut", "hand needle")
	})
	t.Run("a yoke with a joined border", func(t *testing.T) {
		v := visit(t, base)
		v.signIn("instructor")
		v.upload(motif.Swell())
		v.begin(begun{name: "Sailor yoke", blank: "yoke", width: "420", height: "160", fabric: "den"})
		v.focus("#piece summary")
		v.press(input.Enter)
		v.choose(`#piece select[name="kind"]`, "yok")
		v.write(`#piece input[name="width"]`, "420")
		v.write(`#piece input[name="height"]`, "160")
		v.enter("#piece button")
		v.sees("#place", "from the top of the piece's box")
		v.write(`#place input[name="down"]`, "65 mm")
		v.enter("#place-form button")
		v.sees("#place .problem", "into the seam allowance of 10 mm")
		assert.Equal(t, "65 mm", v.value(`#place input[name="down"]`))
		v.write(`#place input[name="down"]`, "35 mm")
		v.enter("#place-form button")
		v.focus("#hoopings summary")
		v.press(input.Enter)
		for i, title := range []string{"to the right", "to the left"} {
			if i > 0 {
				v.focus("#hoopings summary")
			}
			v.write(fmt.Sprintf(`#hoopings form > div:nth-of-type(%d) input[name="title"]`, i+1), title)
			v.write(fmt.Sprintf(`#hoopings form > div:nth-of-type(%d) input[name="design"]`, i+1), "Swell border")
			v.enter("#hoopings button")
		}
		v.how("joined", "trims-off")
		card, bring := v.cardOf("Sailor yoke", "Heron", "2026-12-18")
		inOrder(t, card, "This one lies in the middle of the line", "Set: thread cutter off",
			"at most half the bulk under the arm", "Set back: thread cutter on again", "to the right",
			"points 3 and 4 meet those of hooping 1",
			"to the left", "points 1 and 2 meet those of hooping 1")
		assert.Contains(t, bring, "denim, cut 420 × 160 mm")
	})
}

// A workshop writes a technique of its own; a project is made by it, and keeps it
// as it was when it is changed.
func TestATechniqueOfTheWorkshop(t *testing.T) {
	v := visit(t, start(t))
	v.signIn("instructor")
	v.open("/recipes")
	v.sees("main", "Woven cotton and linen")
	v.enter(`#own a.button`)
	v.write("#name", "Wax paper below")
	v.enter("form.sheet button.main")
	v.sees("#what-problem", "Say in a sentence")
	assert.Equal(t, "Wax paper below", v.value("#name"))
	v.write("#what", "Wax paper lies under the hoop.")
	v.write("#because", "The foot glides.")
	v.write(`input[aria-label="What is done in new step"]`, "Cut the wax paper")
	v.choose(`select[aria-label="The step by which new step stands"]`, "cutting")
	v.write(`input[aria-label="Minutes of new step"]`, "2")
	v.write(`input[aria-label="Words of new line"]`, "Tear the wax paper away")
	v.choose(`select[aria-label="The step at which new line stands"]`, "at cleaning")
	v.write(`input[aria-label="Name of new thing"]`, "wax paper")
	v.enter("form.sheet button.main")
	v.sees("#own", "Wax paper below")
	v.open("/projects/1")
	v.how("own:2")
	v.sees("form.sheet", "Cut the wax paper")
	v.open("/recipes/techniques/2")
	v.write(`input[aria-label="What is done in step 1"]`, "Tear the wax paper to size")
	v.enter("form.sheet button.main")
	v.open("/projects/1")
	v.sees("form.sheet", "Cut the wax paper")
	v.enter("#techniques a.button")
	v.enter("form.how button.main")
	v.sees("form.sheet", "Tear the wax paper to size")
}

// Threads of the shelf are tried on the drawing: changes, minutes and metres
// follow before anything is kept.
func TestThreadsAreTriedOnTheDrawing(t *testing.T) {
	v := visit(t, start(t))
	v.signIn("instructor")
	v.open("/projects/2")
	v.enter(`a[href="/projects/2/threads"]`)
	v.sees("h1", "4 thread changes")
	for stop := 1; stop <= 2; stop++ {
		v.choose(fmt.Sprintf(`select[name="thread-0-%d"]`, stop), "Wet")
	}
	v.press(input.Tab)
	v.sees("h1", "3 thread changes")
	v.sees(".answer", "Tried, not kept")
	v.sees("tbody tr:nth-child(2)", "no change")
	v.enter("form button.main")
	v.sees("main", "chosen")
	v.open("/projects/2/threads")
	v.sees("h1", "3 thread changes")
}

// A test of a project is logged; it counts until the project is made otherwise.
func TestATestOfAProject(t *testing.T) {
	v := visit(t, start(t))
	v.signIn("instructor")
	v.open("/projects/4")
	v.sees("#tests", "Not tested yet")
	v.focus("#tests summary")
	v.press(input.Enter)
	v.choose("#machine", "her")
	v.write("#minutes", "soon")
	v.enter("#tests form button:not(.small)")
	v.sees("#minutes-problem", "Write the minutes")
	v.write("#minutes", "12")
	v.write("#changed", "A slower start.")
	v.enter("#tests form button:not(.small)")
	v.sees("#tests", "Tested as it is now, on Heron")
	v.sees("#tests", "A slower start.")
	v.how("interfacing")
	v.sees("#tests", "but how it is made changed since")
}
