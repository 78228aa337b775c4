package paper

import (
	"context"
	"fmt"
	"image/color"
	"math"

	"github.com/tdewolff/canvas"
)

// A Template is a design printed at actual size, to lay on a blank: its
// outline, the cross of its centre, an arrow that points up, and a bar that
// shows whether the printer kept the scale (handbook, Marking).
type Template struct {
	Title string
	// Hoop names the hoop it is for; on a template of a blank, Note says instead
	// where the design goes.
	Hoop, Note string
	// Turn is how the design lies in that hoop, 0 or 90 degrees
	// counter-clockwise; the template is drawn as the hoop is seen.
	Turn              int
	WidthMM, HeightMM float64
	// Outline and Stitches are lines from the design's centre, y up, as the
	// design stands upright. Outlines are closed.
	Outline, Stitches [][][2]float64
	// Edges are lines of the blank that lie near, as the neck of a shirt: laid on
	// them, the template is where it belongs.
	Edges [][][2]float64
}

// CheckBarMM is the length of the bar one measures after printing.
const CheckBarMM = 50

// Measures of a template, in millimetres.
const (
	templatePad = 14  // beyond the design, for the arrow and the ends of the cross
	sheetMargin = 10  // what printers cannot print
	footerSpace = 24  // title and check bar
	tileOverlap = 16  // of neighbouring sheets
	matchApart  = 45  // between match marks along an edge
	hairline    = 0.1 //
	fineLine    = 0.25
	boldLine    = 0.5
)

// A stroke is one line of a drawing.
type stroke struct {
	points [][2]float64
	width  float64
	color  color.Color
}

// A drawing is strokes and words in millimetres from its bottom left.
type drawing struct {
	width, height float64
	strokes       []stroke
	words         []word
}

type word struct {
	x, y, size float64
	text       string
}

func (d *drawing) stroke(width float64, c color.Color, points ...[2]float64) {
	d.strokes = append(d.strokes, stroke{points, width, c})
}

// drawing lays the template out on one piece, however large.
func (t Template) drawing() drawing {
	w, h := t.WidthMM, t.HeightMM
	if t.Turn == 90 {
		w, h = h, w
	}
	left, right, bottom, top := -w/2, w/2, -h/2, h/2
	for _, line := range t.Edges {
		for _, p := range line {
			left, right, bottom, top = min(left, p[0]), max(right, p[0]), min(bottom, p[1]), max(top, p[1])
		}
	}
	d := drawing{width: right - left + 2*templatePad, height: top - bottom + 2*templatePad}
	cx, cy := templatePad-left, templatePad-bottom
	at := func(p [2]float64) [2]float64 {
		if t.Turn == 90 {
			p = [2]float64{-p[1], p[0]}
		}
		return [2]float64{cx + p[0], cy + p[1]}
	}
	lines := func(all [][][2]float64, width float64, c color.Color, closed bool) {
		for _, line := range all {
			var points [][2]float64
			for _, p := range line {
				points = append(points, at(p))
			}
			if closed && len(points) > 0 {
				points = append(points, points[0])
			}
			d.stroke(width, c, points...)
		}
	}
	lines(t.Stitches, hairline, pale, false)
	lines(t.Outline, fineLine, ink, true)
	lines(t.Edges, boldLine, brick, false)
	// The cross runs out over the edges, to be laid on the marks of the blank.
	d.stroke(hairline, soft, [2]float64{1, cy}, [2]float64{d.width - 1, cy})
	d.stroke(hairline, soft, [2]float64{cx, 1}, [2]float64{cx, d.height - 1})
	const arm = 6
	d.stroke(boldLine, ink, [2]float64{cx - arm, cy}, [2]float64{cx + arm, cy})
	d.stroke(boldLine, ink, [2]float64{cx, cy - arm}, [2]float64{cx, cy + arm})
	// The arrow stands beyond the design's top edge, beside the cross.
	up := func(across, along float64) [2]float64 { return at([2]float64{across, t.HeightMM/2 + along}) }
	const beside, tip, head = 4, 12, 3
	d.stroke(boldLine, ink, up(beside, 2), up(beside, tip))
	d.stroke(boldLine, ink, up(beside-head*0.7, tip-head), up(beside, tip), up(beside+head*0.7, tip-head))
	label := up(beside+3, 4)
	if t.Turn == 90 {
		label[1] += 1
	}
	d.words = append(d.words, word{label[0], label[1], 3.5, "up"})
	return d
}

// SVG is the whole template in one piece.
func (t Template) SVG() ([]byte, error) {
	d := t.drawing()
	width := max(d.width, t.footerWidth())
	doc, err := newDocument(t.Title)
	if err != nil {
		return nil, err
	}
	p := doc.page(width, d.height+footerSpace)
	p.drawClipped(d, 0, 0, d.width, d.height, 0, footerSpace)
	p.footer(t, "", 0, 0)
	return doc.svg()
}

// footerWidth keeps room for the check bar beside the words.
func (t Template) footerWidth() float64 { return 2*CheckBarMM + 20 }

// PDF prints the template on sheets of a size: on one where it fits, else on
// several that overlap and carry match marks.
func (t Template) PDF(ctx context.Context, sheet Sheet) ([]byte, error) {
	d := t.drawing()
	usableW, usableH := sheet.WidthMM-2*sheetMargin, sheet.HeightMM-2*sheetMargin-footerSpace
	columns, rows := tiles(d.width, usableW), tiles(d.height, usableH)
	if columns*rows > 1 {
		d.addMatchMarks(columns, rows, usableW, usableH)
	}
	doc, err := newDocument("Template: " + t.Title)
	if err != nil {
		return nil, err
	}
	for row := range rows {
		for column := range columns {
			p := doc.page(sheet.WidthMM, sheet.HeightMM)
			// The top row is printed first; x0 and y0 are the tile's bottom left in the drawing.
			x0 := float64(column) * (usableW - tileOverlap)
			y0 := d.height - usableH - float64(row)*(usableH-tileOverlap)
			part := ""
			toX, toY := float64(sheetMargin), float64(sheetMargin+footerSpace)
			if columns*rows > 1 {
				part = fmt.Sprintf("sheet %d of %d: row %d, column %d", row*columns+column+1, columns*rows, row+1, column+1)
			} else {
				x0, y0 = -(usableW-d.width)/2, d.height-usableH
			}
			p.drawClipped(d, x0, y0, x0+usableW, y0+usableH, toX, toY)
			p.footer(t, part, sheetMargin, sheetMargin)
		}
	}
	return doc.pdf(ctx)
}

// tiles is how many overlapping sheets a length takes.
func tiles(length, usable float64) int {
	return max(1, int(math.Ceil((length-tileOverlap)/(usable-tileOverlap)-1e-9)))
}

// addMatchMarks puts numbered crosses into the middle of every overlap, so
// that each shows on both of its sheets.
func (d *drawing) addMatchMarks(columns, rows int, usableW, usableH float64) {
	n := 0
	mark := func(x, y float64) {
		if x < 0 || y < 0 || x > d.width || y > d.height {
			return
		}
		n++
		const arm = 2.5
		d.stroke(fineLine, ink, [2]float64{x - arm, y}, [2]float64{x, y + arm}, [2]float64{x + arm, y},
			[2]float64{x, y - arm}, [2]float64{x - arm, y})
		d.stroke(hairline, ink, [2]float64{x - arm, y}, [2]float64{x + arm, y})
		d.stroke(hairline, ink, [2]float64{x, y - arm}, [2]float64{x, y + arm})
		d.words = append(d.words, word{x + arm + 0.5, y + 0.5, 2.6, fmt.Sprintf("M%d", n)})
	}
	for column := 1; column < columns; column++ {
		x := float64(column)*(usableW-tileOverlap) + tileOverlap/2
		for y := matchApart / 2.0; y < d.height; y += matchApart {
			mark(x, y)
		}
	}
	for row := 1; row < rows; row++ {
		y := d.height - float64(row)*(usableH-tileOverlap) - tileOverlap/2
		for x := matchApart / 2.0; x < d.width; x += matchApart {
			mark(x, y)
		}
	}
}

// drawClipped draws what lies in a window of a drawing, its bottom left at
// (toX, toY) of the page.
func (p *pen) drawClipped(d drawing, x0, y0, x1, y1, toX, toY float64) {
	for _, s := range d.strokes {
		path := &canvas.Path{}
		var last [2]float64
		for i := 1; i < len(s.points); i++ {
			from, to, ok := clipped(s.points[i-1], s.points[i], x0, y0, x1, y1)
			if !ok {
				continue
			}
			if path.Empty() || from != last {
				path.MoveTo(from[0]-x0+toX, from[1]-y0+toY)
			}
			path.LineTo(to[0]-x0+toX, to[1]-y0+toY)
			last = to
		}
		if path.Empty() {
			continue
		}
		p.SetStrokeJoiner(canvas.RoundJoin)
		p.stroke(path, s.width, s.color)
	}
	for _, w := range d.words {
		if w.x >= x0 && w.x < x1-4 && w.y >= y0 && w.y < y1-2 {
			p.text(w.x-x0+toX, w.y-y0+toY, w.size, w.text, ink, canvas.FontBold)
		}
	}
}

// clipped is the part of a straight line inside a window (Liang and Barsky).
func clipped(a, b [2]float64, x0, y0, x1, y1 float64) (from, to [2]float64, ok bool) {
	enter, leave := 0.0, 1.0
	d := [2]float64{b[0] - a[0], b[1] - a[1]}
	for _, edge := range [4][2]float64{{-d[0], a[0] - x0}, {d[0], x1 - a[0]}, {-d[1], a[1] - y0}, {d[1], y1 - a[1]}} {
		switch step, room := edge[0], edge[1]; {
		case step == 0:
			if room < 0 {
				return a, b, false
			}
		case step < 0:
			enter = max(enter, room/step)
		default:
			leave = min(leave, room/step)
		}
	}
	if enter > leave {
		return a, b, false
	}
	point := func(t float64) [2]float64 {
		switch t {
		case 0:
			return a
		case 1:
			return b
		}
		return [2]float64{a[0] + t*d[0], a[1] + t*d[1]}
	}
	return point(enter), point(leave), true
}

// footer says what the template is, and carries the check bar.
func (p *pen) footer(t Template, part string, x, y float64) {
	p.text(x, y+15, 5, t.Title, ink, canvas.FontBold)
	turn := "upright"
	if t.Turn == 90 {
		turn = "turned by 90°"
	}
	says := fmt.Sprintf("%.0f × %.0f mm, %s in the hoop %s", t.WidthMM, t.HeightMM, turn, t.Hoop)
	if t.Note != "" {
		says = fmt.Sprintf("%.0f × %.0f mm. %s", t.WidthMM, t.HeightMM, t.Note)
	}
	p.text(x, y+9.5, 3.4, says, soft, canvas.FontRegular)
	if part != "" {
		p.text(x+CheckBarMM+6, y+0.5, 3, part+": lay equal marks on each other", soft, canvas.FontRegular)
	}
	p.fill(x, y+1, CheckBarMM, 1, ink)
	p.text(x, y+3.5, 3, fmt.Sprintf("This bar is %d mm long: if it measures otherwise, print again at 100 %%.",
		CheckBarMM), soft, canvas.FontRegular)
}
