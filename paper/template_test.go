package paper_test

import (
	"fmt"
	"image"
	"image/draw"
	_ "image/png"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/stitch"
	"chalkstep/core/stitch/outline"
	"chalkstep/demo/motif"
	"chalkstep/paper"
)

const dpi = 200

// rasterised prints a PDF to pictures, page by page.
func rasterised(t *testing.T, pdf []byte) []*image.Gray {
	t.Helper()
	folder := t.TempDir()
	require.NoError(t, os.WriteFile(filepath.Join(folder, "in.pdf"), pdf, 0o600))
	out, err := exec.Command("pdftoppm", "-r", strconv.Itoa(dpi), "-png", filepath.Join(folder, "in.pdf"),
		filepath.Join(folder, "page")).CombinedOutput()
	require.NoError(t, err, "%s", out)
	files, err := filepath.Glob(filepath.Join(folder, "page*.png"))
	require.NoError(t, err)
	var pages []*image.Gray
	for _, name := range files {
		f, err := os.Open(name)
		require.NoError(t, err)
		picture, _, err := image.Decode(f)
		require.NoError(t, err)
		require.NoError(t, f.Close())
		page := image.NewGray(picture.Bounds())
		draw.Draw(page, page.Bounds(), picture, image.Point{}, draw.Src)
		pages = append(pages, page)
	}
	return pages
}

func isDark(p *image.Gray, x, y int) bool { return p.Pix[p.PixOffset(x, y)] < 0x60 }

// longestBar is the longest run of dark points on a row of the lower fifth of
// a page that is at least half a millimetre thick, in millimetres.
func longestBar(p *image.Gray) float64 {
	b := p.Bounds()
	longest := 0
	for y := b.Max.Y * 4 / 5; y < b.Max.Y-8; y++ {
		run := 0
		for x := b.Min.X; x < b.Max.X; x++ {
			if isDark(p, x, y) && isDark(p, x, y+6) {
				run++
				longest = max(longest, run)
			} else {
				run = 0
			}
		}
	}
	return float64(longest) * 25.4 / dpi
}

func templateOf(m motif.Motif, turn int) paper.Template {
	a := stitch.Analyse(m.Pattern)
	return paper.Template{Title: m.Name, Hoop: "Medium", Turn: turn, WidthMM: a.WidthMM, HeightMM: a.HeightMM,
		Outline: outline.Silhouette(a)}
}

// The check bar is 50 mm on every sheet, whatever its size and however the
// template is tiled.
func TestTheCheckBarMeasures50MM(t *testing.T) {
	wide := templateOf(motif.Lighthouse(), 0)
	wide.WidthMM, wide.HeightMM = 380, 420
	for name, c := range map[string]struct {
		template paper.Template
		sheet    paper.Sheet
		pages    int
	}{
		"one sheet of A4":           {templateOf(motif.Lighthouse(), 0), paper.A4, 1},
		"one sheet of Letter":       {templateOf(motif.Compass(), 90), paper.Letter, 1},
		"six sheets of A4, 3 rows":  {wide, paper.A4, 6},
		"six sheets of Letter also": {wide, paper.Letter, 6},
	} {
		t.Run(name, func(t *testing.T) {
			pdf, err := c.template.PDF(t.Context(), c.sheet)
			require.NoError(t, err)
			pages := rasterised(t, pdf)
			require.Len(t, pages, c.pages)
			for _, p := range pages {
				assert.InDelta(t, c.sheet.WidthMM, float64(p.Bounds().Dx())*25.4/dpi, 0.2)
				assert.InDelta(t, paper.CheckBarMM, longestBar(p), 0.2)
			}
		})
	}
}

// The design itself is printed at its size: the outline of a plain square.
func TestTheOutlineIsPrintedAtActualSize(t *testing.T) {
	square := [][2]float64{{-40, -30}, {40, -30}, {40, 30}, {-40, 30}}
	tmpl := paper.Template{Title: "Square", Hoop: "Medium", WidthMM: 80, HeightMM: 60, Outline: [][][2]float64{square}}
	pdf, err := tmpl.PDF(t.Context(), paper.A4)
	require.NoError(t, err)
	page := rasterised(t, pdf)[0]
	left, right := math.MaxInt, 0
	y := page.Bounds().Dy() / 4 // through the square, away from the cross's arms
	for x := range page.Bounds().Dx() {
		if isDark(page, x, y) && isDark(page, x, y+40) {
			left, right = min(left, x), max(right, x)
		}
	}
	assert.InDelta(t, 80, float64(right-left)*25.4/dpi, 0.5)
}

// Tiles put back together show the whole: every match mark is on two sheets.
func TestMatchMarksAreOnBothSheets(t *testing.T) {
	wide := paper.Template{Title: "Wide", Hoop: "none", WidthMM: 380, HeightMM: 150}
	pdf, err := wide.PDF(t.Context(), paper.A4)
	require.NoError(t, err)
	file := filepath.Join(t.TempDir(), "wide.pdf")
	require.NoError(t, os.WriteFile(file, pdf, 0o600))
	text, err := exec.Command("pdftotext", "-layout", file, "-").Output()
	require.NoError(t, err)
	for mark := 1; mark <= 4; mark++ {
		assert.Len(t, regexp.MustCompile(fmt.Sprintf(`(?m)(^|\s)M%d(\s|$)`, mark)).FindAllString(string(text), -1), 2,
			"mark %d in %s", mark, text)
	}
	assert.Contains(t, string(text), "sheet 1 of 3")
}

func TestTheSVGSaysItsSizeInMillimetres(t *testing.T) {
	tmpl := templateOf(motif.Lighthouse(), 90)
	tmpl.WidthMM, tmpl.HeightMM = 80, 100 // turned, 14 mm of margin around it, 24 mm below for the words
	svg, err := tmpl.SVG()
	require.NoError(t, err)
	assert.Regexp(t, `^<svg [^>]*width="128mm" height="132mm"`, string(svg[:200]))
	assert.NotContains(t, string(svg), "<text", "words are outlines, so that no font is needed")
	_, err = paper.SheetNamed("B5")
	assert.ErrorContains(t, err, "expected A4 or Letter")
}
