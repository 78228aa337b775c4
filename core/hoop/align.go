package hoop

import (
	"math"

	"chalkstep/core/say"
)

// An Alignment turns and shifts a design so that two of its points meet two
// marks on the cloth, as nearly as a turn and a shift can.
type Alignment struct {
	// TurnDegrees is counter-clockwise about the design's middle, from −180
	// to 180. ShiftMM is then applied to the middle.
	TurnDegrees float64
	ShiftMM     Point
	// ResidualMM is by how much each point misses its mark: half of what the
	// two distances differ by.
	ResidualMM float64
}

// Align finds the turn and shift. clothA and clothB are the marks as measured
// from the hoop's middle, designA and designB the points of the design, from
// its own middle, that have to meet them. Points nearer than 5 mm to each
// other do not give a direction.
func Align(clothA, clothB, designA, designB Point) (Alignment, error) {
	const nearest = 5
	cloth, design := clothB.minus(clothA), designB.minus(designA)
	if cloth.length() < nearest {
		return Alignment{}, say.Errorf("the marks are %s apart: put them at least %s apart", say.Fine(cloth.length()),
			say.MM(nearest))
	}
	if design.length() < nearest {
		return Alignment{}, say.Errorf("the design's points are %s apart: choose two at least %s apart",
			say.Fine(design.length()), say.MM(nearest))
	}
	turn := math.Atan2(cloth.Y, cloth.X) - math.Atan2(design.Y, design.X)
	turn = math.Remainder(turn, 2*math.Pi)
	middle := Point{(designA.X + designB.X) / 2, (designA.Y + designB.Y) / 2}.turned(turn)
	return Alignment{
		TurnDegrees: turn * 180 / math.Pi,
		ShiftMM:     Point{(clothA.X+clothB.X)/2 - middle.X, (clothA.Y+clothB.Y)/2 - middle.Y},
		ResidualMM:  math.Abs(cloth.length()-design.length()) / 2,
	}, nil
}

// Apply moves a point of the design as the alignment says.
func (a Alignment) Apply(p Point) Point {
	q := p.turned(a.TurnDegrees * math.Pi / 180)
	return Point{q.X + a.ShiftMM.X, q.Y + a.ShiftMM.Y}
}

func (p Point) minus(q Point) Point { return Point{p.X - q.X, p.Y - q.Y} }

func (p Point) length() float64 { return math.Hypot(p.X, p.Y) }

func (p Point) turned(radians float64) Point {
	sin, cos := math.Sincos(radians)
	return Point{p.X*cos - p.Y*sin, p.X*sin + p.Y*cos}
}
