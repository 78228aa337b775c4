package pattern

import (
	"bufio"
	"bytes"
	"math"
	"slices"
	"strconv"
	"strings"

	"chalkstep/core/say"
)

// A pair is a code and its value: all that a DXF file is made of.
type pair struct {
	code  int
	value string
}

// An entity of a DXF file with its pairs.
type entity struct {
	name  string
	pairs []pair
}

// number is the first value of a code.
func (e entity) number(code int) float64 {
	for _, p := range e.pairs {
		if p.code == code {
			v, _ := strconv.ParseFloat(strings.TrimSpace(p.value), 64)
			return v
		}
	}
	return 0
}

// chainMM is how far the ends of lines may lie apart that meet.
const chainMM = 0.1

// FromDXF reads the largest closed outline of a text DXF drawing: of polylines,
// circles, and lines and arcs that meet. Its units are millimetres, or what
// $INSUNITS says.
func FromDXF(data []byte) (Piece, error) {
	pairs, err := pairsOf(data)
	if err != nil {
		return Piece{}, err
	}
	perUnit, err := unitOf(pairs)
	if err != nil {
		return Piece{}, err
	}
	var loops, open [][][2]float64
	for _, e := range entitiesOf(pairs) {
		line, closed := e.line()
		switch {
		case len(line) < 2:
		case closed || len(line) > 2 && distance(line[0], line[len(line)-1]) < chainMM:
			loops = append(loops, line)
		default:
			open = append(open, line)
		}
		if len(open) > mostRead {
			return Piece{}, say.Errorf("the drawing has more than %s lines: draw only the piece", say.Count(mostRead))
		}
	}
	loops = append(loops, chained(open)...)
	if len(loops) == 0 {
		return Piece{}, say.Errorf("the drawing has no closed outline: join its lines end to end")
	}
	loop := slices.Clone(largest(loops))
	for i, p := range loop { // y of a DXF drawing points up
		loop[i] = [2]float64{p[0] * perUnit, -p[1] * perUnit}
	}
	return newPiece(loop)
}

// pairsOf reads a file as pairs of lines.
func pairsOf(data []byte) ([]pair, error) {
	if bytes.HasPrefix(data, []byte("AutoCAD Binary DXF")) {
		return nil, say.Errorf("the drawing is a binary DXF: save it as text")
	}
	scanner := bufio.NewScanner(bytes.NewReader(data))
	var pairs []pair
	for n := 1; scanner.Scan(); n += 2 {
		code, err := strconv.Atoi(strings.TrimSpace(scanner.Text()))
		if err != nil {
			return nil, say.Errorf("the drawing is no DXF that can be read: line %s is no code", say.Count(n))
		}
		if !scanner.Scan() {
			return nil, say.Errorf("the drawing ends in the middle of line %s", say.Count(n))
		}
		pairs = append(pairs, pair{code, strings.TrimRight(scanner.Text(), "\r")})
	}
	if err := scanner.Err(); err != nil {
		return nil, say.Errorf("the drawing is no DXF that can be read: %s", err.Error())
	}
	if !slices.ContainsFunc(pairs, func(p pair) bool { return p.code == 0 && strings.TrimSpace(p.value) == "SECTION" }) {
		return nil, say.Errorf("the file is no DXF drawing")
	}
	return pairs, nil
}

// unitOf is millimetres to the unit of a drawing.
func unitOf(pairs []pair) (float64, error) {
	for i, p := range pairs {
		if p.code != 9 || strings.TrimSpace(p.value) != "$INSUNITS" || i+1 >= len(pairs) {
			continue
		}
		switch unit := strings.TrimSpace(pairs[i+1].value); unit {
		case "0", "4":
			return 1, nil
		case "1":
			return 25.4, nil
		case "5":
			return 10, nil
		default:
			return 0, say.Errorf("the drawing is in units of number %s: save it in millimetres", unit)
		}
	}
	return 1, nil
}

// entitiesOf are the entities of the drawing's own section; the vertices of an
// old polyline are among its pairs.
func entitiesOf(pairs []pair) []entity {
	var all []entity
	inside := false
	for i, p := range pairs {
		value := strings.TrimSpace(p.value)
		switch {
		case p.code == 2 && i > 0 && strings.TrimSpace(pairs[i-1].value) == "SECTION":
			inside = value == "ENTITIES"
		case p.code == 0 && value == "ENDSEC":
			inside = false
		case p.code == 0 && inside && (value == "VERTEX" || value == "SEQEND") && len(all) > 0:
			all[len(all)-1].pairs = append(all[len(all)-1].pairs, pair{0, value})
		case p.code == 0 && inside:
			all = append(all, entity{name: value})
		case inside && len(all) > 0:
			all[len(all)-1].pairs = append(all[len(all)-1].pairs, p)
		}
	}
	return all
}

// line is an entity as points, and whether it closes by itself.
func (e entity) line() (points [][2]float64, closed bool) {
	switch e.name {
	case "LINE":
		return [][2]float64{{e.number(10), e.number(20)}, {e.number(11), e.number(21)}}, false
	case "CIRCLE":
		return swung(e.number(10), e.number(20), e.number(40), 0, 2*math.Pi), true
	case "ARC":
		from, to := e.number(50)*math.Pi/180, e.number(51)*math.Pi/180
		if to <= from {
			to += 2 * math.Pi
		}
		return swung(e.number(10), e.number(20), e.number(40), from, to), false
	case "LWPOLYLINE", "POLYLINE":
		return e.polyline()
	}
	return nil, false
}

// swung goes along a circle from an angle to another.
func swung(x, y, radius, from, to float64) [][2]float64 {
	var points [][2]float64
	for i := range 2*curveSteps + 1 {
		sin, cos := math.Sincos(from + (to-from)*float64(i)/(2*curveSteps))
		points = append(points, [2]float64{x + radius*cos, y + radius*sin})
	}
	return points
}

// polyline reads corners with their bulges, which make arcs of the edges.
func (e entity) polyline() ([][2]float64, bool) {
	type corner struct {
		at    [2]float64
		bulge float64
	}
	var corners []corner
	vertex := e.name == "LWPOLYLINE"
	closed, flagged := false, false
	for _, p := range e.pairs {
		v, _ := strconv.ParseFloat(strings.TrimSpace(p.value), 64)
		switch {
		case p.code == 0:
			vertex = strings.TrimSpace(p.value) == "VERTEX"
		case p.code == 70 && !flagged:
			closed, flagged = int(v)&1 == 1, true
		case !vertex:
		case p.code == 10:
			corners = append(corners, corner{at: [2]float64{v, 0}})
		case p.code == 20 && len(corners) > 0:
			corners[len(corners)-1].at[1] = v
		case p.code == 42 && len(corners) > 0:
			corners[len(corners)-1].bulge = v
		}
	}
	var points [][2]float64
	for i, c := range corners {
		points = append(points, c.at)
		if next := corners[(i+1)%len(corners)]; c.bulge != 0 && (closed || i+1 < len(corners)) {
			points = append(points, bulged(c.at, next.at, c.bulge)...)
		}
	}
	return points, closed
}

// bulged are points along the arc of an edge: a bulge is the tangent of a quarter
// of its angle, counter-clockwise above 0.
func bulged(a, b [2]float64, bulge float64) [][2]float64 {
	angle := 4 * math.Atan(bulge)
	chord := distance(a, b)
	if chord < 1e-9 {
		return nil
	}
	radius := chord / (2 * math.Sin(angle/2))
	middle := [2]float64{(a[0] + b[0]) / 2, (a[1] + b[1]) / 2}
	off := radius * math.Cos(angle/2)
	cx, cy := middle[0]-off*(b[1]-a[1])/chord, middle[1]+off*(b[0]-a[0])/chord
	begin := math.Atan2(a[1]-cy, a[0]-cx)
	var points [][2]float64
	for i := 1; i < curveSteps; i++ {
		sin, cos := math.Sincos(begin + angle*float64(i)/curveSteps)
		points = append(points, [2]float64{cx + math.Abs(radius)*cos, cy + math.Abs(radius)*sin})
	}
	return points
}

// chained joins lines end to end into closed outlines.
func chained(open [][][2]float64) [][][2]float64 {
	var loops [][][2]float64
	used := make([]bool, len(open))
	for i := range open {
		if used[i] {
			continue
		}
		used[i] = true
		chain := slices.Clone(open[i])
		for grew := true; grew && distance(chain[0], chain[len(chain)-1]) >= chainMM; {
			grew = false
			for k, line := range open {
				if used[k] {
					continue
				}
				end := chain[len(chain)-1]
				if distance(end, line[len(line)-1]) < chainMM {
					line = slices.Clone(line)
					slices.Reverse(line)
				}
				if distance(end, line[0]) < chainMM {
					chain, used[k], grew = append(chain, line[1:]...), true, true
				}
			}
		}
		if len(chain) > 3 && distance(chain[0], chain[len(chain)-1]) < chainMM {
			loops = append(loops, chain)
		}
	}
	return loops
}
