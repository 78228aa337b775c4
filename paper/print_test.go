package paper_test

import (
	"fmt"
	"image/color"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/cutplan"
	"chalkstep/paper"
)

// A printed word with its box, in millimetres from the top left of its page.
type printed struct {
	page                     int
	left, top, right, bottom float64
	text                     string
}

var wordTag = regexp.MustCompile(`<word xMin="([\d.]+)" yMin="([\d.]+)" xMax="([\d.]+)" yMax="([\d.]+)">(.*)</word>`)

// words reads a PDF's words with their boxes.
func words(t *testing.T, pdf []byte) []printed {
	t.Helper()
	file := filepath.Join(t.TempDir(), "in.pdf")
	require.NoError(t, os.WriteFile(file, pdf, 0o600))
	out, err := exec.Command("pdftotext", "-bbox", file, "-").Output()
	require.NoError(t, err)
	var all []printed
	page := 0
	for line := range strings.Lines(string(out)) {
		if strings.Contains(line, "<page ") {
			page++
		}
		found := wordTag.FindStringSubmatch(line)
		if found == nil {
			continue
		}
		mm := func(i int) float64 {
			points, err := strconv.ParseFloat(found[i], 64)
			require.NoError(t, err)
			return points * 25.4 / 72
		}
		all = append(all, printed{page, mm(1), mm(2), mm(3), mm(4), found[5]})
	}
	require.NotEmpty(t, all)
	return all
}

// clear checks that no word leaves the sheet and no two lie on each other. The
// boxes are of whole lines, so a little of their height is forgiven.
func clear(t *testing.T, all []printed, sheet paper.Sheet, margin float64) {
	t.Helper()
	for i, a := range all {
		assert.True(t, a.left >= margin-0.5 && a.right <= sheet.WidthMM-margin+0.5 && a.top >= margin-2 &&
			a.bottom <= sheet.HeightMM-margin+2, "%q at %.1f, %.1f on page %d leaves the sheet", a.text, a.left, a.top, a.page)
		for _, b := range all[:i] {
			if a.page != b.page {
				continue
			}
			wide := min(a.right, b.right) - max(a.left, b.left)
			high := min(a.bottom, b.bottom) - max(a.top, b.top)
			overlaps := wide > 0.2 && high > 0.4*min(a.bottom-a.top, b.bottom-b.top)
			assert.False(t, overlaps, "%q and %q lie on each other on page %d", a.text, b.text, a.page)
		}
	}
}

const longName = "Wren Achterberg-Holloway of the Former Ferry Terminal"

func label(lines int) paper.Label {
	l := paper.Label{Name: longName, Class: "Layered in-the-hoop compass mats with binding, second evening",
		Project: "Compass mat built up in the hoop", Sitting: "Sits down as number 12, at Wharf",
		Link: "http://127.0.0.1:8080/classes/1234/cards/5678"}
	for i := range lines {
		l.Lines = append(l.Lines, fmt.Sprintf("%d × appliqué piece of sea linen number %d, 144 × 144 mm", i+1, i))
	}
	return l
}

// Labels land on their stickers and nothing on them is cut off or overlaps.
func TestLabelsLandOnTheirStickers(t *testing.T) {
	for _, sheet := range paper.LabelSheets {
		t.Run(sheet.Name, func(t *testing.T) {
			n := sheet.Columns*sheet.Rows + 3
			var labels []paper.Label
			for i := range n {
				l := label(2 + i%8)
				l.Name = fmt.Sprintf("No%d", i)
				if i%3 == 0 {
					l.Name += " " + longName
				}
				labels = append(labels, l)
			}
			pdf, err := paper.Labels(t.Context(), labels, sheet)
			require.NoError(t, err)
			all := words(t, pdf)
			clear(t, all, sheet.Sheet, 0)
			for i := range n {
				at := i % (sheet.Columns * sheet.Rows)
				x := sheet.LeftMM + float64(at%sheet.Columns)*sheet.PitchXMM
				y := sheet.TopMM + float64(at/sheet.Columns)*sheet.PitchYMM
				found := false
				for _, w := range all {
					if w.text != fmt.Sprintf("No%d", i) {
						continue
					}
					found = true
					assert.InDelta(t, x+3.5, w.left, 0.5, "label %d", i)
					assert.True(t, w.top >= y-0.5 && w.bottom <= y+sheet.HeightMM+0.5,
						"label %d lies at %.1f to %.1f, its sticker at %.1f", i, w.top, w.bottom, y)
				}
				assert.True(t, found, "label %d", i)
			}
			// Nothing lies between the stickers.
			for _, w := range all {
				column, row := int((w.left-sheet.LeftMM)/sheet.PitchXMM), int((w.top-sheet.TopMM+0.6)/sheet.PitchYMM)
				assert.LessOrEqual(t, w.right, sheet.LeftMM+float64(column)*sheet.PitchXMM+sheet.WidthMM+0.5, w.text)
				assert.LessOrEqual(t, w.bottom, sheet.TopMM+float64(row)*sheet.PitchYMM+sheet.HeightMM+0.5, w.text)
			}
		})
	}
	_, err := paper.Labels(t.Context(), nil, paper.LabelSheets[0])
	assert.ErrorContains(t, err, "it has no page")
	_, err = paper.LabelSheetNamed("A5, 2 labels")
	assert.ErrorContains(t, err, "no label sheet")
}

// A card of twelve stops with everything to say still fits its page.
func TestStepCardsAreNotCutOff(t *testing.T) {
	card := paper.Card{
		Title: longName + ": Layered in-the-hoop compass mat on Wharf", Class: "Compass mats, second evening, Sat 5 Dec",
		Setup: "Hoop Large square, needle 75/11 embroidery, cotton 40. Turn the design by 90°.",
		Ask: "Ask the instructor first for: hoop a woven, load, trace, start, change colour and snip jumps, mark and " +
			"align with a template.",
		Restart: "Thread broke? Rethread with the foot up and step back by stitch, 5 to 10 before the last good one.",
		Before: []string{"The right hoop told to the machine", "Needle over the template's cross",
			"Bobbin full, thread in the tension discs, foot down"},
		Inspect: []string{"Outline meets fill, no gap over 1 mm", "No loops, no puckers"},
		After: []string{"Tear off the large parts of the film, dab the rest away with water.",
			"Press from the back before the stabilizer comes off.", "Trim the cut-away to 10 mm from the stitching."},
		Cautions: []string{"The iron is hot: use it on a pad, never on or beside a machine.",
			"The machine's manual, the room's own rules and local regulations come first."},
	}
	for i := range 11 {
		card.Steps = append(card.Steps,
			paper.CardStep{At: fmt.Sprintf("1%d:45", i%10), Title: "Load, check the needle over the mark, trace, then once more",
				Note:    "The frame's marks lie +3 mm across and -2 mm up of the needle. Trace before you start.",
				Caution: "Fingers, hair, lanyards and sleeves away from the needle and the arm."})
	}
	for i := range 12 {
		card.Stops = append(card.Stops,
			paper.CardStop{Title: fmt.Sprintf("Stop %d: the long points of the compass rose and their ring", i+1),
				Note:   "1,184 stitches, about 4 minutes, 12.5 m of Deep harbour (a little different)",
				Before: "Lay the background on top; tape all sides it could flap.",
				After:  "Hoop off the machine, flat on the table: trim to 1–2 mm outside the line.",
				Color:  color.RGBA{0x1d, 0x3a, 0x4d, 0xff}})
	}
	for _, sheet := range paper.Sheets {
		pdf, err := paper.Cards(t.Context(),
			[]paper.Card{card, {Title: "Ana: Sampler on Heron", Steps: card.Steps[:2], Stops: card.Stops[:2]}}, sheet)
		require.NoError(t, err)
		all := words(t, pdf)
		clear(t, all, sheet, 14)
		text := ""
		for _, w := range all {
			text += w.text + " "
		}
		assert.Contains(t, text, "Stop 12: the long points")
		assert.Contains(t, text, "local regulations come first.")
	}
}

func TestCutPlansAndTablesAreNotCutOff(t *testing.T) {
	pieces := []cutplan.Piece{{ID: "0", WMM: 200, HMM: 250, Count: 7, Turn: true},
		{ID: "1", WMM: 63, HMM: 480, Count: 4, Turn: true}}
	layout, err := cutplan.Plan(cutplan.Material{WidthMM: 500}, pieces)
	require.NoError(t, err)
	pdf, err := paper.CutPlans(t.Context(),
		[]paper.CutPlan{{Class: "Compass mats, second evening", Material: "medium tear-away", From: "Tear-away medium, 50 cm",
			WidthMM: 500, Layout: layout, Names: map[string]string{"0": "medium tear-away", "1": "binding of sea linen"}}},
		paper.A4)
	require.NoError(t, err)
	all := words(t, pdf)
	numbers := map[string]bool{}
	for _, w := range all {
		numbers[w.text] = true
		assert.True(t, w.left >= 0 && w.right <= 210 && w.top >= 0 && w.bottom <= 297, w.text)
	}
	for i := range layout.Cuts {
		assert.True(t, numbers[fmt.Sprint(i+1)], "cut %d has its number", i+1)
	}

	table := paper.Table{Title: "To buy", Intro: "What the coming classes lack.",
		Head: []string{"What", "Packs", "In all", "Cost", "For"}, Widths: []float64{0.34, 0.1, 0.14, 0.12, 0.3},
		Foot: "In all 120.00"}
	for range 60 {
		table.Rows = append(table.Rows,
			[]string{"Cut-away medium with a very long name of fifty centimetres, Tidewater Notions", "12", "120.00 m", "19.90",
				"Towels that last, Buoy badges, first felt, Lighthouse totes"})
	}
	pdf, err = table.PDF(t.Context(), paper.Letter)
	require.NoError(t, err)
	all = words(t, pdf)
	clear(t, all, paper.Letter, 10)
	assert.Greater(t, all[len(all)-1].page, 1, "it goes on to further sheets")
}
