package technique

import (
	"math"

	"chalkstep/core/say"
)

// A Picture of a technique is made of strokes, in a field of 160 × 110, y down.
type Picture []Stroke

// PictureWidth and PictureHeight are the field of every picture.
const PictureWidth, PictureHeight = 160, 110

// A Tone is what a stroke is drawn with: the chalks of the house.
type Tone string

// The tones.
const (
	Ink   Tone = "ink"
	Soft  Tone = "soft"
	Blue  Tone = "blue"
	Ochre Tone = "ochre"
	Brick Tone = "brick"
	Moss  Tone = "moss"
)

// A Style is how a stroke runs: solid, running dashes or dots.
type Style string

// The styles.
const (
	Solid Style = "solid"
	Dash  Style = "dash"
	Dot   Style = "dot"
)

// A Stroke is a line through points, or a word.
type Stroke struct {
	Tone   Tone
	Style  Style
	Points [][2]float64
	Closed bool
	// Fill is "cloth" or "sheet", empty for none.
	Fill string
	// Word stands at the first point.
	Word say.Word
}

func points(xy []float64) [][2]float64 {
	var all [][2]float64
	for i := 0; i+1 < len(xy); i += 2 {
		all = append(all, [2]float64{xy[i], xy[i+1]})
	}
	return all
}

func line(t Tone, xy ...float64) Stroke   { return Stroke{Tone: t, Style: Solid, Points: points(xy)} }
func dashed(t Tone, xy ...float64) Stroke { return Stroke{Tone: t, Style: Dash, Points: points(xy)} }
func dotted(t Tone, xy ...float64) Stroke { return Stroke{Tone: t, Style: Dot, Points: points(xy)} }

func box(t Tone, x, y, w, h float64) Stroke {
	return Stroke{Tone: t, Style: Solid, Closed: true,
		Points: [][2]float64{{x, y}, {x + w, y}, {x + w, y + h}, {x, y + h}}}
}

func cloth(x, y, w, h float64) Stroke {
	s := box(Ink, x, y, w, h)
	s.Fill = "cloth"
	return s
}

func clothOn(x, y, w, h float64) Stroke { return cloth(x, y, w, h) }

func sheet(x, y, w, h float64) Stroke {
	s := box(Soft, x, y, w, h)
	s.Fill = "sheet"
	return s
}

func ring(t Tone, x, y, rx, ry float64) Stroke {
	s := Stroke{Tone: t, Style: Solid, Closed: true}
	for i := range 40 {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / 40)
		s.Points = append(s.Points, [2]float64{x + rx*cos, y + ry*sin})
	}
	return s
}

func ringDashed(t Tone, x, y, rx, ry float64) Stroke {
	s := ring(t, x, y, rx, ry)
	s.Style = Dash
	return s
}

func disc(t Tone, x, y float64) Stroke { return ring(t, x, y, 3, 3) }

// inHoop is the sheet in its frame.
func inHoop() Stroke {
	s := box(Ink, 22, 12, 116, 86)
	s.Fill = "sheet"
	return s
}

// cross is a centre or a placement.
func cross(x, y, r float64) Stroke {
	return line(Blue, x-r, y, x+r, y, x, y, x, y-r, x, y+r)
}

// arrow is the grain: up.
func arrow(x, foot, head float64) Stroke {
	return line(Ink, x, foot, x, head, x-4, head+7, x, head, x+4, head+7)
}

// wave is a thread, or water.
func wave(t Tone, x, y, length float64) Stroke {
	s := Stroke{Tone: t, Style: Solid}
	for i := range 25 {
		along := length * float64(i) / 24
		s.Points = append(s.Points, [2]float64{x + along, y + 5*math.Sin(along/5)})
	}
	return s
}

// iron stands with its sole on y.
func iron(x, y float64) Stroke {
	return Stroke{Tone: Brick, Style: Solid, Closed: true,
		Points: [][2]float64{{x - 26, y}, {x + 26, y}, {x + 20, y - 12}, {x - 2, y - 20}, {x + 12, y - 20}, {x + 12, y - 26},
			{x - 12, y - 26}, {x - 20, y - 12}}}
}

// pen lies with its tip at the left.
func pen(x, y float64) Stroke {
	return Stroke{Tone: Ink, Style: Solid, Closed: true,
		Points: [][2]float64{{x - 20, y + 36}, {x - 12, y + 22}, {x + 24, y - 12}, {x + 32, y - 4}, {x - 4, y + 30}}}
}

func needle(x, top, foot float64) Stroke {
	return line(Ink, x-3, top, x+3, top, x+3, foot-16, x, foot, x-3, foot-16, x-3, top)
}

// tape is a short strip.
func tape(x, y float64) Stroke {
	s := box(Ochre, x-7, y-3, 14, 6)
	s.Fill = "tape"
	return s
}

// weave is straight threads in a hoop.
func weave() Stroke {
	return line(Soft, 36, 14, 36, 96, 52, 96, 52, 14, 68, 14, 68, 96, 84, 96, 84, 14, 100, 14, 100, 96, 116, 96, 116, 14,
		136, 14, 136, 40, 24, 40, 24, 66, 136, 66)
}

// shirt is a garment laid flat.
func shirt() Stroke {
	s := Stroke{Tone: Ink, Style: Solid, Closed: true, Fill: "cloth", Points: [][2]float64{
		{62, 10}, {70, 20}, {90, 20}, {98, 10}, {122, 20}, {140, 46}, {124, 54}, {116, 44}, {116, 102}, {44, 102}, {44, 44},
		{36, 54}, {20, 46}, {38, 20},
	}}
	return s
}

// heart is a piece to lay on.
func heart(t Tone, x, y, size float64) Stroke {
	s := Stroke{Tone: t, Style: Solid, Closed: true}
	for i := range 36 {
		a := 2 * math.Pi * float64(i) / 36
		sin := math.Sin(a)
		s.Points = append(s.Points,
			[2]float64{x + size*sin*sin*sin, y - size*(13*math.Cos(a)-5*math.Cos(2*a)-2*math.Cos(3*a)-math.Cos(4*a))/16})
	}
	return s
}

func dashedOf(s Stroke) Stroke {
	s.Style = Dash
	return s
}

func label(x, y float64, word say.Word) Stroke {
	return Stroke{Tone: Soft, Points: [][2]float64{{x, y}}, Word: word}
}
