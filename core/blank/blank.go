// Package blank knows the things that are embroidered: their outline, and
// where on them a design goes (handbook, Where on a blank). Its figures are
// starting points; sizes vary, so the mark follows the garment and not the
// table. Millimetres, x to the right and y down from the middle of the top
// edge, as the blank is seen.
package blank

import (
	"math"
	"slices"

	"chalkstep/core/pattern"
	"chalkstep/core/say"
)

// A Shape is a kind of blank.
type Shape string

// The shapes there are.
const (
	Crew       Shape = "crew-neck T-shirt"
	VNeck      Shape = "V-neck T-shirt"
	Sweatshirt Shape = "sweatshirt"
	Towel      Shape = "towel"
	Tote       Shape = "tote"
	Napkin     Shape = "napkin"
	Square     Shape = "square"
	Felt       Shape = "felt shape"
	// PatternPiece has an outline of its own: see [pattern.Piece].
	PatternPiece Shape = "pattern piece"
)

// Shapes in the order a page offers them.
var Shapes = []Shape{Square, Felt, Tote, Towel, Napkin, Crew, VNeck, Sweatshirt, PatternPiece}

// Garment tells whether a shape is worn and comes in sizes.
func (s Shape) Garment() bool { return s == Crew || s == VNeck || s == Sweatshirt }

// Usual is the spot and the size that a shape begins with.
func (s Shape) Usual() (Spot, string) {
	size := ""
	if s.Garment() {
		size = usualSize
	}
	return s.Spots()[0], size
}

const usualSize = "M"

// Sizes of garments, children's first by age.
var Sizes = []string{"4 years", "8 years", "12 years", "S", "M", "L", "XL"}

// grown is each size as a share of an adult M; children's scale down.
var grown = map[string]float64{"4 years": 0.62, "8 years": 0.72, "12 years": 0.84, "S": 0.95, "M": 1, "L": 1.06,
	"XL": 1.12}

// A Spot is where on a shape a design goes.
type Spot string

// The spots there are.
const (
	Centre     Spot = "centre"
	Chest      Spot = "chest centre"
	LeftChest  Spot = "left chest"
	AboveHem   Spot = "above the border"
	CornerSpot Spot = "corner"
)

// Spots of a shape, its usual one first.
func (s Shape) Spots() []Spot {
	switch s {
	case Crew, VNeck, Sweatshirt:
		return []Spot{Chest, LeftChest}
	case Towel:
		return []Spot{AboveHem, Centre}
	case Napkin:
		return []Spot{CornerSpot, Centre}
	}
	return []Spot{Centre}
}

// A Request asks where a design goes.
type Request struct {
	Shape Shape
	// Size of a garment; WidthMM and HeightMM of everything else.
	Size              string
	WidthMM, HeightMM float64
	Spot              Spot
	// DesignWidthMM and DesignHeightMM as the design lies on the blank.
	DesignWidthMM, DesignHeightMM float64
	// MoveXMM and MoveYMM are what was adjusted by hand, right and down.
	MoveXMM, MoveYMM float64
	// Piece is the outline of a pattern piece, nil for every other shape.
	Piece *pattern.Piece
}

// A Distance is one measure of a mark.
type Distance struct {
	MM       float64
	From, To say.Word
}

// A Mark is the answer: the middle of the design, and how to measure it.
type Mark struct {
	XMM, YMM float64
	// TurnDegrees of the design on the blank, clockwise: corners lie at 45°.
	TurnDegrees       float64
	Measures          []Distance
	Cautions          []say.Text
	WidthMM, HeightMM float64
	// Outline of the blank, closed, and Seams drawn inside it.
	Outline [][2]float64
	Seams   [][][2]float64
	// Guide is the line of a ruler that the mark lies on, none where it needs none.
	Guide [][2]float64
	// Whole is drawn as a whole on its template, however far its edges are.
	Whole bool
}

// Figures of the handbook, in millimetres.
const (
	belowCrew        = 50.0
	belowV           = 25.0
	leftChestLargest = 100.0
	aboveBorder      = 50.0
	borderMM         = 60.0
	seamMM           = 15.0
	cornerGap        = 40.0
)

// Place finds the mark. An error says what of the request is not known.
func Place(r Request) (Mark, error) {
	if !slices.Contains(Shapes, r.Shape) {
		return Mark{}, say.Errorf("no blank is called “%s”", string(r.Shape))
	}
	if !slices.Contains(r.Shape.Spots(), r.Spot) {
		return Mark{}, say.Errorf("a %s has no spot called “%s”", say.Word(r.Shape), string(r.Spot))
	}
	if r.Shape == PatternPiece {
		if r.Piece == nil {
			return Mark{}, say.Errorf("give the piece its outline: draw it from its measures, or add a drawing of it")
		}
		return r.onPiece(*r.Piece), nil
	}
	if r.Shape.Garment() {
		scale, ok := grown[r.Size]
		if !ok {
			return Mark{}, say.Errorf("no size is called “%s”", r.Size)
		}
		return r.onGarment(scale), nil
	}
	if !(r.WidthMM > 0 && r.HeightMM > 0) {
		return Mark{}, say.Errorf("a %s of %s: expected a width and a height", say.Word(r.Shape),
			say.Size{r.WidthMM, r.HeightMM})
	}
	return r.onFlat(), nil
}

// onPiece puts the design in the middle of a piece's box, and moves it from there.
func (r Request) onPiece(p pattern.Piece) Mark {
	w, h := p.SizeMM()
	m := Mark{WidthMM: w, HeightMM: h, Outline: p.Outline, Seams: p.Seams, XMM: r.MoveXMM, YMM: h/2 + r.MoveYMM,
		Whole: true}
	m.Measures = []Distance{{w/2 + r.MoveXMM, "the left of the piece's box", "the middle of the design"},
		{m.YMM, "the top of the piece's box", "the middle of the design"}}
	return m
}

// garment is an adult M, laid flat: half widths and heights.
type garment struct{ chest, length, neckHalf, neckDepth, shoulderDrop, shoulderHalf, sleeveOut, sleeveDown float64 }

func (r Request) onGarment(scale float64) Mark {
	g := garment{chest: 265, length: 720, neckHalf: 95, neckDepth: 85, shoulderDrop: 45, shoulderHalf: 225, sleeveOut: 400,
		sleeveDown: 230}
	switch r.Shape {
	case VNeck:
		g.neckDepth = 160
	case Sweatshirt:
		g.neckHalf, g.neckDepth, g.sleeveOut, g.sleeveDown, g.chest = 100, 75, 520, 560, 290
	}
	for _, f := range []*float64{&g.chest, &g.length, &g.neckHalf, &g.neckDepth, &g.shoulderDrop, &g.shoulderHalf,
		&g.sleeveOut, &g.sleeveDown} {
		*f *= scale
	}
	m := Mark{WidthMM: 2 * g.sleeveOut, HeightMM: g.length, Outline: g.outline(r.Shape == VNeck)}
	if r.Spot == LeftChest {
		// 180 to 200 mm down from the shoulder seam and 90 to 115 mm from the
		// centre front, by size; the wearer's left is on the right here.
		down, side := 190*scale, 102*scale
		m.XMM, m.YMM = side+r.MoveXMM, g.shoulderDrop/2+down+r.MoveYMM
		m.Measures = []Distance{{down + r.MoveYMM, "the shoulder seam at the neck", "the middle of the design"},
			{side + r.MoveXMM, "the centre front", "the middle of the design"}}
		if most := leftChestLargest * scale; max(r.DesignWidthMM, r.DesignHeightMM) > most+1e-9 {
			m.caution("A left chest design stays within about %s each way: this one is %s.", say.MM(most),
				say.Size{r.DesignWidthMM, r.DesignHeightMM})
		}
		return m
	}
	below := belowCrew
	if r.Shape == VNeck {
		below = belowV
	}
	below *= scale
	m.XMM, m.YMM = r.MoveXMM, g.neckDepth+below+r.DesignHeightMM/2+r.MoveYMM
	m.Measures = []Distance{{below + r.MoveYMM, "the neck edge", "the top of the design"},
		{math.Abs(r.MoveXMM), "the centre front", "the middle of the design"}}
	if r.DesignWidthMM > 1.3*g.chest {
		m.caution("The design is wider than the flat of the chest: it will bend round the sides.")
	}
	return m
}

func (m *Mark) caution(text string, args ...any) {
	m.Cautions = append(m.Cautions, say.T(text, args...))
}

// outline draws the garment from the neck round to the neck.
func (g garment) outline(v bool) [][2]float64 {
	right := [][2]float64{
		{g.neckHalf, 0}, {g.shoulderHalf, g.shoulderDrop}, {g.sleeveOut, g.sleeveDown},
		{g.sleeveOut - 0.3*g.shoulderHalf, g.sleeveDown + 0.22*g.shoulderHalf},
		{g.chest, g.shoulderDrop + 0.95*g.shoulderHalf}, {g.chest, g.length},
	}
	var line [][2]float64
	line = append(line, right...)
	for i := len(right) - 1; i >= 0; i-- {
		line = append(line, [2]float64{-right[i][0], right[i][1]})
	}
	if v {
		return append(line, [2]float64{0, g.neckDepth})
	}
	for i := 1; i < 12; i++ {
		angle := math.Pi * float64(i) / 12
		line = append(line, [2]float64{-g.neckHalf * math.Cos(angle), g.neckDepth * math.Sin(angle)})
	}
	return line
}

func (r Request) onFlat() Mark {
	w, h := r.WidthMM/2, r.HeightMM
	m := Mark{WidthMM: r.WidthMM, HeightMM: h, Outline: [][2]float64{{-w, 0}, {w, 0}, {w, h}, {-w, h}}}
	switch r.Spot {
	case AboveHem:
		border := min(borderMM, h/6)
		m.Seams = [][][2]float64{{{-w, h - border}, {w, h - border}}}
		m.XMM, m.YMM = r.MoveXMM, h-border-aboveBorder-r.DesignHeightMM/2+r.MoveYMM
		m.Measures = []Distance{{aboveBorder - r.MoveYMM, "the border", "the lower edge of the design"},
			{math.Abs(r.MoveXMM), "the middle", "the middle of the design"}}
	case CornerSpot:
		m.TurnDegrees = -45
		m.Seams = [][][2]float64{
			{{-w + seamMM, seamMM}, {w - seamMM, seamMM}, {w - seamMM, h - seamMM}, {-w + seamMM, h - seamMM},
				{-w + seamMM, seamMM}}}
		// On the 45° line, the design's own foot kept clear of the seam.
		along := cornerGap + seamMM*math.Sqrt2 + r.DesignHeightMM/2
		in := along / math.Sqrt2
		m.XMM, m.YMM = w-in+r.MoveXMM, h-in+r.MoveYMM
		reach := 1.6 * (w - m.XMM)
		m.Guide = [][2]float64{{w, h}, {w - reach, h - reach}}
		m.Measures = []Distance{{w - m.XMM, "the right edge", "the middle of the design"},
			{h - m.YMM, "the lower edge", "the middle of the design"}}
	default:
		m.XMM, m.YMM = r.MoveXMM, h/2+r.MoveYMM
		m.Measures = []Distance{{w + r.MoveXMM, "the left edge", "the middle of the design"},
			{h/2 + r.MoveYMM, "the top edge", "the middle of the design"}}
		if r.Shape == Felt {
			m.Outline = ellipse(w, h)
		}
	}
	halfX, halfY := r.DesignWidthMM/2, r.DesignHeightMM/2
	if m.TurnDegrees != 0 {
		halfX = (halfX + halfY) / math.Sqrt2
		halfY = halfX
	}
	if m.XMM-halfX < -w || m.XMM+halfX > w || m.YMM-halfY < 0 || m.YMM+halfY > h {
		m.caution("The design runs over the edge of the blank there: move it, or choose a larger blank.")
	}
	return m
}

func ellipse(halfWidth, height float64) [][2]float64 {
	var line [][2]float64
	for i := range 48 {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / 48)
		line = append(line, [2]float64{halfWidth * cos, height/2 + height/2*sin})
	}
	return line
}

// nearMM is how far round a design the edges of a blank are drawn on its
// template, upMM how far above it: to the neck of a shirt.
const (
	nearMM = 45.0
	upMM   = 130.0
)

// EdgesNear are the parts of the blank's outline and seams that lie near a design
// of a size at the mark, as the design sees them: from its middle, x to the right
// and y up.
func (m Mark) EdgesNear(designWidthMM, designHeightMM float64) [][][2]float64 {
	sin, cos := math.Sincos(-m.TurnDegrees * math.Pi / 180)
	near, up := nearMM, upMM
	if m.Whole {
		near, up = math.Inf(1), math.Inf(1)
	}
	left, right, low, high := -designWidthMM/2-near, designWidthMM/2+near, -designHeightMM/2-near, designHeightMM/2+up
	var edges [][][2]float64
	add := func(line [][2]float64) {
		var run [][2]float64
		for i, p := range line {
			x, y := p[0]-m.XMM, p[1]-m.YMM
			seen := [2]float64{x*cos - y*sin, -(x*sin + y*cos)}
			if seen[0] >= left && seen[0] <= right && seen[1] >= low && seen[1] <= high {
				run = append(run, seen)
				if i < len(line)-1 {
					continue
				}
			}
			if len(run) > 1 {
				edges = append(edges, run)
			}
			run = nil
		}
	}
	if len(m.Outline) > 0 {
		add(finely(append(slices.Clone(m.Outline), m.Outline[0])))
	}
	for _, seam := range m.Seams {
		add(finely(seam))
	}
	if len(m.Guide) > 0 {
		add(finely(m.Guide))
	}
	return edges
}

// finely puts points into a line so that none is far from the next.
func finely(line [][2]float64) [][2]float64 {
	const step = 4.0
	var points [][2]float64
	for i := 1; i < len(line); i++ {
		a, b := line[i-1], line[i]
		n := max(1, int(math.Hypot(b[0]-a[0], b[1]-a[1])/step))
		for k := range n {
			t := float64(k) / float64(n)
			points = append(points, [2]float64{a[0] + t*(b[0]-a[0]), a[1] + t*(b[1]-a[1])})
		}
	}
	return append(points, line[len(line)-1])
}
