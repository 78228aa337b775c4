package pattern

import (
	"math"
	"strconv"
	"strings"

	"chalkstep/core/say"
)

// A pathReader reads the d of an SVG path into its closed outlines.
type pathReader struct {
	rest        string
	at, start   [2]float64
	control     [2]float64
	lastCurve   byte
	line        [][2]float64
	loops       [][][2]float64
	pointsSoFar int
}

// arguments is how many numbers each command takes.
var arguments = map[byte]int{'M': 2, 'L': 2, 'H': 1, 'V': 1, 'C': 6, 'S': 4, 'Q': 4, 'T': 2, 'A': 7, 'Z': 0}

// readPath reads a path; a line that is not closed is no outline, but for one
// that ends where it began.
func readPath(d string) ([][][2]float64, error) {
	r := &pathReader{rest: d}
	var command byte
	for {
		r.skip()
		if r.rest == "" {
			break
		}
		if c := r.rest[0]; c >= 'A' && c <= 'Z' || c >= 'a' && c <= 'z' {
			command, r.rest = c, r.rest[1:]
		} else if command == 0 || command == 'z' || command == 'Z' {
			return nil, say.Errorf("the path begins with “%s”: a command is wanted", first(r.rest))
		}
		upper := command &^ 0x20
		n, known := arguments[upper]
		if !known {
			return nil, say.Errorf("the path has a command “%s” that is none", string(command))
		}
		v := make([]float64, n)
		for i := range v {
			var err error
			if v[i], err = r.number(upper == 'A' && (i == 3 || i == 4)); err != nil {
				return nil, err
			}
		}
		r.do(upper, command != upper, v)
		if r.pointsSoFar > 20*mostRead {
			return nil, say.Errorf("the path has more than %s points: draw it simpler", say.Count(20*mostRead))
		}
		if command == 'M' {
			command = 'L' // what follows a move without a command is a line
		} else if command == 'm' {
			command = 'l'
		}
	}
	r.end()
	return r.loops, nil
}

func first(text string) string { return text[:min(len(text), 12)] }

func (r *pathReader) skip() { r.rest = strings.TrimLeft(r.rest, " ,\n\t\r") }

// number reads one; a flag is a single digit.
func (r *pathReader) number(flag bool) (float64, error) {
	r.skip()
	end := 0
	if flag && r.rest != "" && (r.rest[0] == '0' || r.rest[0] == '1') {
		end = 1
	} else {
		dot, exponent := false, false
		for end < len(r.rest) {
			c := r.rest[end]
			switch {
			case c >= '0' && c <= '9':
			case (c == '-' || c == '+') && (end == 0 || r.rest[end-1] == 'e' || r.rest[end-1] == 'E'):
			case c == '.' && !dot && !exponent:
				dot = true
			case (c == 'e' || c == 'E') && !exponent && end > 0:
				exponent = true
			default:
				goto read
			}
			end++
		}
	}
read:
	v, err := strconv.ParseFloat(r.rest[:end], 64)
	if err != nil || math.IsNaN(v) || math.IsInf(v, 0) {
		return 0, say.Errorf("the path has “%s” where a number is wanted", first(r.rest))
	}
	r.rest = r.rest[end:]
	return v, nil
}

func (r *pathReader) add(p [2]float64) {
	r.line, r.at = append(r.line, p), p
	r.pointsSoFar++
}

// end closes an outline that ends where it began.
func (r *pathReader) end() {
	if n := len(r.line); n > 3 && distance(r.line[0], r.line[n-1]) < 0.01 {
		r.loops = append(r.loops, r.line)
	}
	r.line = nil
}

func (r *pathReader) do(command byte, relative bool, v []float64) {
	point := func(i int) [2]float64 {
		if relative {
			return [2]float64{r.at[0] + v[i], r.at[1] + v[i+1]}
		}
		return [2]float64{v[i], v[i+1]}
	}
	mirrored := func(curves string) [2]float64 {
		if strings.IndexByte(curves, r.lastCurve) >= 0 {
			return [2]float64{2*r.at[0] - r.control[0], 2*r.at[1] - r.control[1]}
		}
		return r.at
	}
	switch command {
	case 'M':
		to := point(0)
		r.end()
		r.start = to
		r.add(to)
	case 'L':
		r.add(point(0))
	case 'H':
		x := v[0]
		if relative {
			x += r.at[0]
		}
		r.add([2]float64{x, r.at[1]})
	case 'V':
		y := v[0]
		if relative {
			y += r.at[1]
		}
		r.add([2]float64{r.at[0], y})
	case 'C':
		r.cubic(point(0), point(2), point(4))
	case 'S':
		r.cubic(mirrored("CS"), point(0), point(2))
	case 'Q':
		r.quadratic(point(0), point(2))
	case 'T':
		r.quadratic(mirrored("QT"), point(0))
	case 'A':
		r.arc(v[0], v[1], v[2], v[3] != 0, v[4] != 0, point(5))
	case 'Z':
		if len(r.line) >= 3 {
			r.loops = append(r.loops, r.line)
		}
		r.line, r.at = [][2]float64{r.start}, r.start
	}
	r.lastCurve = command
}

func (r *pathReader) cubic(b, c, d [2]float64) {
	a := r.at
	for i := 1; i <= curveSteps; i++ {
		t := float64(i) / curveSteps
		u := 1 - t
		var p [2]float64
		for k := range p {
			p[k] = u*u*u*a[k] + 3*u*u*t*b[k] + 3*u*t*t*c[k] + t*t*t*d[k]
		}
		r.add(p)
	}
	r.control = c
}

func (r *pathReader) quadratic(b, c [2]float64) {
	a := r.at
	for i := 1; i <= curveSteps; i++ {
		t := float64(i) / curveSteps
		u := 1 - t
		var p [2]float64
		for k := range p {
			p[k] = u*u*a[k] + 2*u*t*b[k] + t*t*c[k]
		}
		r.add(p)
	}
	r.control = b
}

// arc goes along an ellipse, as SVG says it: radii, turn, the long way round or
// not, clockwise or not.
func (r *pathReader) arc(rx, ry, turnDegrees float64, long, sweep bool, to [2]float64) {
	from := r.at
	rx, ry = math.Abs(rx), math.Abs(ry)
	if rx == 0 || ry == 0 || distance(from, to) < 1e-9 {
		r.add(to)
		return
	}
	sin, cos := math.Sincos(turnDegrees * math.Pi / 180)
	dx, dy := (from[0]-to[0])/2, (from[1]-to[1])/2
	x, y := cos*dx+sin*dy, -sin*dx+cos*dy
	if grow := x*x/(rx*rx) + y*y/(ry*ry); grow > 1 {
		rx, ry = rx*math.Sqrt(grow), ry*math.Sqrt(grow)
	}
	factor := math.Sqrt(max(0, (rx*rx*ry*ry-rx*rx*y*y-ry*ry*x*x)/(rx*rx*y*y+ry*ry*x*x)))
	if long == sweep {
		factor = -factor
	}
	cx, cy := factor*rx*y/ry, -factor*ry*x/rx
	begin := math.Atan2((y-cy)/ry, (x-cx)/rx)
	swing := math.Atan2((-y-cy)/ry, (-x-cx)/rx) - begin
	if sweep && swing < 0 {
		swing += 2 * math.Pi
	} else if !sweep && swing > 0 {
		swing -= 2 * math.Pi
	}
	mx, my := cos*cx-sin*cy+(from[0]+to[0])/2, sin*cx+cos*cy+(from[1]+to[1])/2
	for i := 1; i < curveSteps; i++ {
		s, c := math.Sincos(begin + swing*float64(i)/curveSteps)
		r.add([2]float64{mx + cos*rx*c - sin*ry*s, my + sin*rx*c + cos*ry*s})
	}
	r.add(to)
}
