// Package pattern knows pattern pieces: the parts that a garment or another
// sewn thing is put together from, as outlines in millimetres, with the
// allowance outside the seam line. They are read from drawings (SVG, DXF) or
// drawn from a few measures.
package pattern

import (
	"math"

	"github.com/peterstace/simplefeatures/geom"

	"chalkstep/core/say"
)

// A Piece is one pattern piece, as it lies with its grain upright. Millimetres,
// x to the right and y down from the middle of its top edge.
type Piece struct {
	// Outline is where it is cut, closed, without its first point again.
	Outline [][2]float64 `json:"outline"`
	// SeamMM lies between the cut line and the seam line: no stitch of a design
	// may lie in it.
	SeamMM float64 `json:"seam_mm"`
	// Count is how many of it are cut for one set.
	Count int `json:"count"`
	// Seams are the seam line, as [Piece.SeamLines] found it when the piece was
	// kept.
	Seams [][][2]float64 `json:"seams,omitempty"`
}

// Limits of a piece.
const (
	MostPoints = 400 // once simplified
	mostRead   = 5000
	mostMM     = 2000
	farthestMM = 1e6 // from the drawing's origin
	leastMM    = 20
	mostSeamMM = 60
	mostCount  = 20
)

// UsualSeamMM is the seam allowance where nobody said: a figure of ours.
const UsualSeamMM = 10

// newPiece lays a loop down so that the middle of its top edge is the origin; y
// of the loop points down.
func newPiece(loop [][2]float64) (Piece, error) {
	for _, at := range loop {
		for _, v := range at {
			if math.IsNaN(v) || math.Abs(v) > farthestMM {
				return Piece{}, say.Errorf(
					"the outline has a point more than a kilometre away: draw the piece at its size, in millimetres, near the origin")
			}
		}
	}
	loop = opened(loop)
	if len(loop) < 3 {
		return Piece{}, say.Errorf("the outline has %s: a closed outline of at least three is wanted",
			say.N{N: len(loop), Noun: "corner"})
	}
	if len(loop) > mostRead {
		return Piece{}, say.Errorf("the outline has more than %s points: draw it simpler", say.Count(mostRead))
	}
	loop = simplified(loop)
	left, top, right, _ := boundsOf(loop)
	p := Piece{SeamMM: UsualSeamMM, Count: 1}
	for _, at := range loop {
		p.Outline = append(p.Outline, [2]float64{at[0] - (left+right)/2, at[1] - top})
	}
	return p, p.Check()
}

// simplifiedMM is how far an outline may come to lie from where it was drawn:
// less than scissors do.
const simplifiedMM = 0.2

// simplified leaves out points that lie on the line between their neighbours.
func simplified(loop [][2]float64) [][2]float64 {
	far := 0
	for i, p := range loop {
		if distance(p, loop[0]) > distance(loop[far], loop[0]) {
			far = i
		}
	}
	keep := make([]bool, len(loop)+1)
	closed := append(append([][2]float64{}, loop...), loop[0])
	keep[0], keep[far] = true, true
	for stretches := [][2]int{{0, far}, {far, len(loop)}}; len(stretches) > 0; {
		s := stretches[len(stretches)-1]
		stretches = stretches[:len(stretches)-1]
		worst, at := simplifiedMM, -1
		for i := s[0] + 1; i < s[1]; i++ {
			if off := toSegment(closed[i], closed[s[0]], closed[s[1]]); off > worst {
				worst, at = off, i
			}
		}
		if at >= 0 {
			keep[at] = true
			stretches = append(stretches, [2]int{s[0], at}, [2]int{at, s[1]})
		}
	}
	var kept [][2]float64
	for i, p := range loop {
		if keep[i] {
			kept = append(kept, p)
		}
	}
	return kept
}

// opened is a loop without its first point again, and without points twice.
func opened(loop [][2]float64) [][2]float64 {
	var points [][2]float64
	for _, p := range loop {
		if n := len(points); n == 0 || distance(points[n-1], p) > 1e-6 {
			points = append(points, p)
		}
	}
	for len(points) > 1 && distance(points[0], points[len(points)-1]) < 1e-6 {
		points = points[:len(points)-1]
	}
	return points
}

// Check says what of a piece cannot be.
func (p Piece) Check() error {
	w, h := p.SizeMM()
	switch {
	case len(p.Outline) < 3 || len(p.Outline) > MostPoints:
		return say.Errorf("a pattern piece has from three to %s points", say.Count(MostPoints))
	case !(w >= leastMM && h >= leastMM && w <= mostMM && h <= mostMM):
		return say.Errorf("the piece is %s: a piece of %s to %s each way is wanted, in millimetres", say.Size{w, h},
			say.MM(leastMM), say.MM(mostMM))
	case !(p.SeamMM >= 0 && p.SeamMM <= mostSeamMM):
		return say.Errorf("the seam allowance is %s: from none to %s is wanted", say.MM(p.SeamMM), say.MM(mostSeamMM))
	case p.Count < 1 || p.Count > mostCount:
		return say.Errorf("%s are cut of it: from 1 to %s is wanted", say.Count(p.Count), say.Count(mostCount))
	}
	if p.polygon().Validate() != nil {
		return say.Errorf("the outline crosses itself: draw it as one closed line")
	}
	return nil
}

// SizeMM is the width and the height of its box.
func (p Piece) SizeMM() (width, height float64) {
	if len(p.Outline) == 0 {
		return 0, 0
	}
	left, top, right, bottom := boundsOf(p.Outline)
	return right - left, bottom - top
}

// A Box is a design as it lies on a piece: its middle, its size, and how it is
// turned, clockwise.
type Box struct {
	XMM, YMM          float64
	WidthMM, HeightMM float64
	TurnDegrees       float64
}

// Corners of the box, in order.
func (b Box) Corners() [4][2]float64 {
	sin, cos := math.Sincos(b.TurnDegrees * math.Pi / 180)
	w, h := b.WidthMM/2, b.HeightMM/2
	var corners [4][2]float64
	for i, c := range [4][2]float64{{-w, -h}, {w, -h}, {w, h}, {-w, h}} {
		corners[i] = [2]float64{b.XMM + c[0]*cos - c[1]*sin, b.YMM + c[0]*sin + c[1]*cos}
	}
	return corners
}

// Room is how far a box stays from the cut line at its nearest; below 0 it runs
// over it, by how much.
func (p Piece) Room(b Box) float64 {
	corners := b.Corners()
	outside := 0.0
	for _, c := range corners {
		if !p.inside(c) {
			outside = max(outside, p.toEdge(c))
		}
	}
	if outside > 0 {
		return -outside
	}
	nearest := math.Inf(1)
	for i := range corners {
		a, b := corners[i], corners[(i+1)%4]
		for j := range p.Outline {
			c, d := p.Outline[j], p.Outline[(j+1)%len(p.Outline)]
			if crosses(a, b, c, d) {
				return -1
			}
			nearest = min(nearest, toSegment(c, a, b), toSegment(a, c, d), toSegment(b, c, d))
		}
	}
	return nearest
}

// Refuses says why a design cannot lie where it does; it is silent where it can.
func (p Piece) Refuses(b Box) say.Text {
	switch room := p.Room(b); {
	case room < 0:
		return say.T("The design runs over the cut line of the piece: move it, or take a smaller one.")
	case room < p.SeamMM-0.05:
		return say.T("The design comes within %s of the cut line, into the seam allowance of %s: move it by %s, or take a "+
			"smaller one.", say.Fine(room), say.MM(p.SeamMM), say.Fine(math.Ceil((p.SeamMM-room)*10)/10))
	}
	return say.Text{}
}

// Spot is where a box lies best: in the middle of the piece's own box, or where
// it keeps the most room from the cut line if it does not keep the allowance
// there.
func (p Piece) Spot(b Box) Box {
	w, h := p.SizeMM()
	b.XMM, b.YMM = 0, h/2
	if p.Refuses(b).Silent() {
		return b
	}
	const steps = 32
	best, most := b, p.Room(b)
	for i := range steps + 1 {
		for j := range steps + 1 {
			b.XMM, b.YMM = math.Round(w*(float64(i)/steps-0.5)), math.Round(h*float64(j)/steps)
			if room := p.Room(b); room > most {
				best, most = b, room
			}
		}
	}
	return best
}

// SeamLines are the seam line inside the cut line, closed; none where the
// allowance leaves nothing.
func (p Piece) SeamLines() [][][2]float64 {
	if p.SeamMM == 0 || p.Check() != nil {
		return nil
	}
	inner, err := geom.Difference(p.polygon().AsGeometry(), p.band())
	if err != nil {
		return nil
	}
	var lines [][][2]float64
	for _, part := range inner.Dump() {
		polygon, ok := part.AsPolygon()
		if !ok || part.Area() < 1 {
			continue
		}
		ring := polygon.ExteriorRing().Coordinates()
		var line [][2]float64
		for i := range ring.Length() {
			xy := ring.GetXY(i)
			line = append(line, [2]float64{xy.X, xy.Y})
		}
		lines = append(lines, line)
	}
	return lines
}

// band is the seam allowance: what lies within it of the cut line. Each edge
// gets a box, each corner a disc.
func (p Piece) band() geom.Geometry {
	var parts []geom.Geometry
	n := len(p.Outline)
	for i := range n {
		a, b := p.Outline[i], p.Outline[(i+1)%n]
		length := distance(a, b)
		nx, ny := -(b[1]-a[1])/length*p.SeamMM, (b[0]-a[0])/length*p.SeamMM
		parts = append(parts,
			polygonOf([][2]float64{{a[0] + nx, a[1] + ny}, {b[0] + nx, b[1] + ny}, {b[0] - nx, b[1] - ny},
				{a[0] - nx, a[1] - ny}}).AsGeometry())
		var disc [][2]float64
		for k := range 16 {
			sin, cos := math.Sincos(2*math.Pi*float64(k)/16 + 0.1)
			disc = append(disc, [2]float64{a[0] + p.SeamMM*cos, a[1] + p.SeamMM*sin})
		}
		parts = append(parts, polygonOf(disc).AsGeometry())
	}
	band, err := geom.UnionMany(parts)
	if err != nil {
		return geom.Geometry{}
	}
	return band
}

func (p Piece) polygon() geom.Polygon { return polygonOf(p.Outline) }

func polygonOf(loop [][2]float64) geom.Polygon {
	coordinates := make([]float64, 0, 2*len(loop)+2)
	for _, at := range loop {
		coordinates = append(coordinates, at[0], at[1])
	}
	if len(loop) > 0 {
		coordinates = append(coordinates, loop[0][0], loop[0][1])
	}
	return geom.NewPolygon([]geom.LineString{geom.NewLineString(geom.NewSequence(coordinates, geom.DimXY))})
}

// inside tells whether a point lies within the cut line.
func (p Piece) inside(at [2]float64) bool {
	in := false
	n := len(p.Outline)
	for i := range n {
		a, b := p.Outline[i], p.Outline[(i+1)%n]
		if (a[1] > at[1]) != (b[1] > at[1]) && at[0] < (b[0]-a[0])*(at[1]-a[1])/(b[1]-a[1])+a[0] {
			in = !in
		}
	}
	return in
}

func (p Piece) toEdge(at [2]float64) float64 {
	nearest := math.Inf(1)
	for i := range p.Outline {
		nearest = min(nearest, toSegment(at, p.Outline[i], p.Outline[(i+1)%len(p.Outline)]))
	}
	return nearest
}

func toSegment(p, a, b [2]float64) float64 {
	dx, dy := b[0]-a[0], b[1]-a[1]
	t := 0.0
	if length := dx*dx + dy*dy; length > 0 {
		t = max(0, min(1, ((p[0]-a[0])*dx+(p[1]-a[1])*dy)/length))
	}
	return math.Hypot(p[0]-a[0]-t*dx, p[1]-a[1]-t*dy)
}

// crosses tells whether two segments cross.
func crosses(a, b, c, d [2]float64) bool {
	side := func(p, q, r [2]float64) float64 { return (q[0]-p[0])*(r[1]-p[1]) - (q[1]-p[1])*(r[0]-p[0]) }
	return side(a, b, c)*side(a, b, d) < 0 && side(c, d, a)*side(c, d, b) < 0
}

func distance(a, b [2]float64) float64 { return math.Hypot(a[0]-b[0], a[1]-b[1]) }

func boundsOf(loop [][2]float64) (left, top, right, bottom float64) {
	left, top, right, bottom = loop[0][0], loop[0][1], loop[0][0], loop[0][1]
	for _, p := range loop {
		left, right, top, bottom = min(left, p[0]), max(right, p[0]), min(top, p[1]), max(bottom, p[1])
	}
	return left, top, right, bottom
}

// largest is the loop that encloses most.
func largest(loops [][][2]float64) [][2]float64 {
	var best [][2]float64
	most := -1.0
	for _, loop := range loops {
		area := 0.0
		for i := range loop {
			a, b := loop[i], loop[(i+1)%len(loop)]
			area += a[0]*b[1] - a[1]*b[0]
		}
		if area = math.Abs(area); !(area <= most) { // one that overflows is refused, not passed over
			best, most = loop, area
		}
	}
	return best
}
