package pattern

import (
	"bytes"
	"encoding/xml"
	"errors"
	"io"
	"math"
	"strconv"
	"strings"

	"chalkstep/core/say"
)

// curveSteps is how many lines a curve of a drawing becomes.
const curveSteps = 24

// FromSVG reads the largest closed outline of a drawing whose width is in
// millimetres, centimetres or inches (or whose user units are millimetres). It
// reads path, polygon, rect, circle and ellipse, moved and scaled by transforms
// of their groups.
func FromSVG(data []byte) (Piece, error) {
	decoder := xml.NewDecoder(bytes.NewReader(data))
	decoder.Strict = true
	scale := [2]float64{1, 1}
	frames := []affine{identity}
	var loops [][][2]float64
	seen, points := false, 0
	for {
		token, err := decoder.Token()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return Piece{}, say.Errorf("the drawing is no SVG that can be read: %s", err.Error())
		}
		switch t := token.(type) {
		case xml.EndElement:
			frames = frames[:len(frames)-1]
		case xml.StartElement:
			attributes := map[string]string{}
			for _, a := range t.Attr {
				attributes[a.Name.Local] = a.Value
			}
			frame, err := transformOf(attributes["transform"])
			if err != nil {
				return Piece{}, err
			}
			frames = append(frames, frames[len(frames)-1].times(frame))
			if t.Name.Local == "svg" && !seen {
				seen = true
				if scale, err = scaleOf(attributes); err != nil {
					return Piece{}, err
				}
			}
			made, err := loopsOf(t.Name.Local, attributes)
			if err != nil {
				return Piece{}, err
			}
			for _, loop := range made {
				for i, p := range loop {
					p = frames[len(frames)-1].at(p)
					loop[i] = [2]float64{p[0] * scale[0], p[1] * scale[1]}
				}
				if points += len(loop); points > 20*mostRead {
					return Piece{}, say.Errorf("the drawing has more than %s points: draw only the piece", say.Count(20*mostRead))
				}
				loops = append(loops, loop)
			}
		}
	}
	if !seen {
		return Piece{}, say.Errorf("the file is no SVG drawing")
	}
	if len(loops) == 0 {
		return Piece{}, say.Errorf("the drawing has no closed outline: draw the piece as one closed path")
	}
	return newPiece(largest(loops))
}

// scaleOf is millimetres to the user unit, across and down.
func scaleOf(attributes map[string]string) ([2]float64, error) {
	box := numbersOf(attributes["viewBox"])
	scale := [2]float64{1, 1}
	for i, name := range []string{"width", "height"} {
		mm, known, err := lengthOf(attributes[name])
		if err != nil {
			return scale, err
		}
		if known && len(box) == 4 && box[2+i] > 0 {
			scale[i] = mm / box[2+i]
		} else if known && len(box) != 4 {
			return scale, say.Errorf("the drawing has no viewBox: its units cannot be told")
		}
	}
	return scale, nil
}

// lengthOf reads a length with its unit; a bare number, or none, tells nothing
// of millimetres.
func lengthOf(text string) (mm float64, known bool, err error) {
	text = strings.TrimSpace(text)
	for unit, perUnit := range map[string]float64{"mm": 1, "cm": 10, "in": 25.4} {
		if number, has := strings.CutSuffix(text, unit); has {
			v, err := strconv.ParseFloat(strings.TrimSpace(number), 64)
			if err != nil || !(v > 0 && v < 1e6) {
				return 0, false, say.Errorf("the drawing is %s wide or high: a length above 0 is wanted", text)
			}
			return v * perUnit, true, nil
		}
	}
	return 0, false, nil
}

// numbersOf reads numbers between spaces and commas.
func numbersOf(text string) []float64 {
	var numbers []float64
	for _, field := range strings.FieldsFunc(text, func(r rune) bool {
		return r == ' ' || r == ',' || r == '\n' || r == '\t' || r == '\r'
	}) {
		v, err := strconv.ParseFloat(field, 64)
		if err != nil || math.IsNaN(v) || math.IsInf(v, 0) {
			return nil
		}
		numbers = append(numbers, v)
	}
	return numbers
}

// loopsOf are the closed outlines of an element.
func loopsOf(element string, attributes map[string]string) ([][][2]float64, error) {
	number := func(name string) float64 {
		v, _ := strconv.ParseFloat(strings.TrimSpace(attributes[name]), 64)
		return v
	}
	switch element {
	case "path":
		return readPath(attributes["d"])
	case "polygon":
		xy := numbersOf(attributes["points"])
		var loop [][2]float64
		for i := 0; i+1 < len(xy); i += 2 {
			loop = append(loop, [2]float64{xy[i], xy[i+1]})
		}
		if len(loop) >= 3 {
			return [][][2]float64{loop}, nil
		}
	case "rect":
		x, y, w, h := number("x"), number("y"), number("width"), number("height")
		if w > 0 && h > 0 {
			return [][][2]float64{{{x, y}, {x + w, y}, {x + w, y + h}, {x, y + h}}}, nil
		}
	case "circle", "ellipse":
		rx, ry := number("rx"), number("ry")
		if element == "circle" {
			rx, ry = number("r"), number("r")
		}
		if rx > 0 && ry > 0 {
			var loop [][2]float64
			for i := range 4 * curveSteps {
				sin, cos := math.Sincos(2 * math.Pi * float64(i) / (4 * curveSteps))
				loop = append(loop, [2]float64{number("cx") + rx*cos, number("cy") + ry*sin})
			}
			return [][][2]float64{loop}, nil
		}
	}
	return nil, nil
}

// affine is a transform: x' = a x + c y + e, y' = b x + d y + f.
type affine struct{ a, b, c, d, e, f float64 }

var identity = affine{a: 1, d: 1}

func (m affine) at(p [2]float64) [2]float64 {
	return [2]float64{m.a*p[0] + m.c*p[1] + m.e, m.b*p[0] + m.d*p[1] + m.f}
}

// times is first n, then m.
func (m affine) times(n affine) affine {
	return affine{
		m.a*n.a + m.c*n.b, m.b*n.a + m.d*n.b, m.a*n.c + m.c*n.d, m.b*n.c + m.d*n.d,
		m.a*n.e + m.c*n.f + m.e, m.b*n.e + m.d*n.f + m.f,
	}
}

// transformOf reads the transforms of an element.
func transformOf(text string) (affine, error) {
	m := identity
	rest := strings.TrimSpace(text)
	for rest != "" {
		name, after, opens := strings.Cut(rest, "(")
		inside, tail, closes := strings.Cut(after, ")")
		v := numbersOf(inside)
		n, ok := transformNamed(strings.TrimSpace(name), v)
		if !opens || !closes || !ok {
			return m, say.Errorf("the drawing has a transform “%s” that cannot be read: draw it without", text)
		}
		m, rest = m.times(n), strings.Trim(tail, " ,\n\t\r")
	}
	return m, nil
}

func transformNamed(name string, v []float64) (affine, bool) {
	second := func(otherwise float64) float64 {
		if len(v) > 1 {
			return v[1]
		}
		return otherwise
	}
	switch {
	case name == "translate" && len(v) > 0:
		return affine{a: 1, d: 1, e: v[0], f: second(0)}, true
	case name == "scale" && len(v) > 0:
		return affine{a: v[0], d: second(v[0])}, true
	case name == "matrix" && len(v) == 6:
		return affine{v[0], v[1], v[2], v[3], v[4], v[5]}, true
	case name == "rotate" && (len(v) == 1 || len(v) == 3):
		sin, cos := math.Sincos(v[0] * math.Pi / 180)
		turn := affine{a: cos, b: sin, c: -sin, d: cos}
		if len(v) == 3 {
			to, back := affine{a: 1, d: 1, e: v[1], f: v[2]}, affine{a: 1, d: 1, e: -v[1], f: -v[2]}
			return to.times(turn).times(back), true
		}
		return turn, true
	}
	return identity, false
}
