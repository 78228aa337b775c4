// Package paper draws what is printed, at actual size: templates to lay on a
// blank, and in time cards, labels and cut plans. A drawing is made once and
// given out as PDF, for printers, and as SVG, for cutters and screens. All
// measures are millimetres, from the bottom left of a sheet.
package paper

import (
	"bytes"
	"context"
	"fmt"
	"image/color"
	"strings"

	"github.com/tdewolff/canvas"
	"github.com/tdewolff/canvas/renderers/pdf"
	"github.com/tdewolff/canvas/renderers/svg"
)

// A Sheet is a size of paper, upright.
type Sheet struct {
	Name              string
	WidthMM, HeightMM float64
}

// The sheets that printers in a workshop take.
var (
	A4     = Sheet{"A4", 210, 297}
	Letter = Sheet{"Letter", 215.9, 279.4}
)

// Sheets lists them.
var Sheets = []Sheet{A4, Letter}

// SheetNamed finds a sheet.
func SheetNamed(name string) (Sheet, error) {
	for _, s := range Sheets {
		if s.Name == name {
			return s, nil
		}
	}
	return Sheet{}, fmt.Errorf("no paper is called %q: expected A4 or Letter", name)
}

// Ink and the greys of print.
var (
	ink  = color.RGBA{0x18, 0x26, 0x1f, 0xff}
	soft = color.RGBA{0x4d, 0x5c, 0x53, 0xff}
	pale = color.RGBA{0xa9, 0xb4, 0xac, 0xff}
	// paleFill is the ground of what is drawn as an area.
	paleFill = color.RGBA{0xe9, 0xee, 0xe6, 0xff}
)

// A document is pages that are drawn one after the other.
type document struct {
	title string
	face  *faces
	pages []*canvas.Canvas
	// set are the lines that were set so far: what a class is told stands on
	// every card of it, and setting it is the work.
	set map[setLine]*canvas.Text
}

// A setLine is a stretch of text in one font and colour, at a size.
type setLine struct {
	text   string
	font   *canvas.FontFamily
	style  canvas.FontStyle
	sizeMM float64
	color  color.Color
}

func newDocument(title string) (*document, error) {
	face, err := shipped()
	return &document{title: title, face: face, set: map[setLine]*canvas.Text{}}, err
}

// A pen draws on one page.
type pen struct {
	*canvas.Context
	*document
	// dry draws nothing: what is drawn is measured.
	dry bool
}

// page begins a page.
func (d *document) page(widthMM, heightMM float64) *pen {
	page := canvas.New(widthMM, heightMM)
	d.pages = append(d.pages, page)
	return &pen{Context: canvas.NewContext(page), document: d}
}

// measure is a pen that draws nothing.
func (d *document) measure() *pen { return &pen{document: d, dry: true} }

const pointsPerMM = 72 / 25.4

// text writes a line whose capitals are about 0.7 × sizeMM high, from its
// left end on the base line; it returns how wide it came out.
func (p *pen) text(x, y, sizeMM float64, words string, c color.Color, style canvas.FontStyle) float64 {
	if p.dry {
		return p.face.width(words, style) * sizeMM
	}
	at := x
	for _, r := range p.face.runs(words, style) {
		at += p.run(r, at, y, sizeMM, c)
	}
	return at - x
}

// run writes a stretch in one font, or a box for each character that no font
// has, and returns its width.
func (p *pen) run(r run, x, y, sizeMM float64, c color.Color) float64 {
	if r.font == nil {
		for i := range r.boxes() {
			side := sizeMM * boxSide
			p.box(x+(float64(i)*boxPitch+boxPitch/2-boxSide/2)*sizeMM, y, side, side*1.2, sizeMM*0.05, c)
		}
		return r.width() * sizeMM
	}
	key := setLine{r.text, r.font, r.style, sizeMM, c}
	if p.set[key] == nil {
		p.set[key] = canvas.NewTextLine(r.font.Face(sizeMM*pointsPerMM, c, r.style), r.text, canvas.Left)
	}
	p.DrawText(x, y, p.set[key])
	return r.width() * sizeMM
}

// line strokes straight from one point to another.
func (p *pen) line(x0, y0, x1, y1, widthMM float64, c color.Color) {
	path := &canvas.Path{}
	path.MoveTo(x0, y0)
	path.LineTo(x1, y1)
	p.stroke(path, widthMM, c)
}

// box outlines a rectangle.
func (p *pen) box(x, y, w, h, widthMM float64, c color.Color) {
	path := canvas.Rectangle(w, h).Translate(x, y)
	p.stroke(path, widthMM, c)
}

func (p *pen) stroke(path *canvas.Path, widthMM float64, c color.Color) {
	if p.dry {
		return
	}
	p.SetFillColor(canvas.Transparent)
	p.SetStrokeColor(c)
	p.SetStrokeWidth(widthMM)
	p.DrawPath(0, 0, path)
}

// fill paints a rectangle.
func (p *pen) fill(x, y, w, h float64, c color.Color) {
	p.paint(canvas.Rectangle(w, h).Translate(x, y), c)
}

// paint fills the inside of a path.
func (p *pen) paint(path *canvas.Path, c color.Color) {
	if p.dry {
		return
	}
	p.SetFillColor(c)
	p.SetStrokeColor(canvas.Transparent)
	p.DrawPath(0, 0, path)
}

// paragraph writes words in lines no wider than widthMM, its first base line
// at y, and returns the y below its last line.
func (p *pen) paragraph(x, y, widthMM, sizeMM float64, words string, c color.Color, style canvas.FontStyle) float64 {
	const leading = 1.3
	for _, line := range p.lines(words, widthMM, sizeMM, style) {
		p.text(x, y, sizeMM, line, c, style)
		y -= sizeMM * leading
	}
	return y
}

// lines breaks words where they do not fit; a word wider than a line is
// broken too, as nothing is cut off.
func (p *pen) lines(words string, widthMM, sizeMM float64, style canvas.FontStyle) []string {
	most := widthMM / sizeMM
	space := p.face.width(" ", style)
	var lines []string
	line, wide := "", 0.0
	for _, word := range strings.Fields(words) {
		for n := p.face.fitting(word, most, style); n < len(word); n = p.face.fitting(word, most, style) {
			if line != "" {
				lines, line, wide = append(lines, line), "", 0
			}
			lines, word = append(lines, word[:n]), word[n:]
		}
		w := p.face.width(word, style)
		switch {
		case line == "":
			line, wide = word, w
		case wide+space+w > most:
			lines, line, wide = append(lines, line), word, w
		default:
			line, wide = line+" "+word, wide+space+w
		}
	}
	return append(lines, line)
}

// fitted is a size at which words fit a width on one line, at the most sizeMM.
func (p *pen) fitted(words string, widthMM, sizeMM float64, style canvas.FontStyle) float64 {
	if w := p.face.width(words, style); w*sizeMM > widthMM {
		return widthMM / w
	}
	return sizeMM
}

// pdf binds the pages.
func (d *document) pdf(ctx context.Context) ([]byte, error) {
	var out bytes.Buffer
	var doc *pdf.PDF
	for i, page := range d.pages {
		if err := ctx.Err(); err != nil {
			return nil, fmt.Errorf("writing the PDF of %s: %w", d.title, err)
		}
		w, h := page.Size()
		if i == 0 {
			doc = pdf.New(&out, w, h, nil)
			doc.SetInfo(d.title, "", "", "", "Chalk Step")
		} else {
			doc.NewPage(w, h)
		}
		page.RenderTo(doc)
	}
	if doc == nil {
		return nil, fmt.Errorf("writing the PDF of %s: it has no page", d.title)
	}
	if err := doc.Close(); err != nil {
		return nil, fmt.Errorf("writing the PDF of %s: %w", d.title, err)
	}
	return out.Bytes(), nil
}

// svg is the first page at actual size, its text as outlines so that it looks
// the same where the font is not installed.
func (d *document) svg() ([]byte, error) {
	page := d.pages[0]
	w, h := page.Size()
	var out bytes.Buffer
	drawing := svg.New(&out, w, h, nil)
	page.RenderTo(outlined{drawing})
	if err := drawing.Close(); err != nil {
		return nil, fmt.Errorf("writing the SVG of %s: %w", d.title, err)
	}
	return out.Bytes(), nil
}

// outlined draws text as paths.
type outlined struct{ canvas.Renderer }

func (o outlined) RenderText(text *canvas.Text, m canvas.Matrix) {
	text.RenderAsPath(o.Renderer, m, canvas.DefaultResolution)
}
