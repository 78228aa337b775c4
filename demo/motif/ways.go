package motif

import "math"

// Signals are two flags laid as appliqué side by side, for a child's shirt, and
// marks at the corners that close the design.
func Signals() Motif {
	s := &sewer{}
	for i, x := range []float64{-24, 24} {
		if i > 0 {
			s.change()
		}
		flag := closed(box(x-18, -16, x+18, 16))
		s.run(flag, runLength)
		s.change()
		s.run(closed(box(x-17.4, -15.4, x+17.4, 15.4)), 2)
		s.change()
		s.satin(flag, 3)
	}
	s.change()
	for _, corner := range []point{{-46, -22}, {46, -22}, {46, 22}, {-46, 22}} {
		s.begin(corner)
	}
	return motif("Two signals", "signals.dst", s, Stop{"#7c8a80", "Placement line, left"},
		Stop{"#7c8a80", "Tack-down, left"}, Stop{"#c23b2a", "Cover, left"},
		Stop{"#7c8a80", "Placement line, right"}, Stop{"#7c8a80", "Tack-down, right"}, Stop{"#1d3a4d", "Cover, right"},
		Stop{"#7c8a80", "Corner marks"})
}

// Pennant is a block for a name: a frame with a rope under it, light enough for a
// stabilizer that is cut out beneath.
func Pennant() Motif {
	s := &sewer{}
	s.run(closed(box(-35, -20, 35, 20)), runLength)
	s.change()
	var rope []point
	for x := -28.0; x <= 28; x++ {
		rope = append(rope, point{x, -10 + 2*math.Sin(x*math.Pi/7)})
	}
	s.satin(rope, 2.4)
	return motif("Pennant block", "pennant.dst", s, Stop{"#2f4858", "Frame"}, Stop{"#a5762f", "Rope"})
}

// Hearts are two appliqué hearts, one inside the other's arm.
func Hearts() Motif {
	s := &sewer{}
	for i, at := range []point{{-20, 0}, {20, 0}} {
		if i > 0 {
			s.change()
		}
		s.run(heart(at, 17), runLength)
		s.change()
		s.run(heart(at, 16.4), 2)
		s.change()
		s.satin(heart(at, 17), 2.8)
	}
	return motif("Two hearts", "hearts.dst", s, Stop{"#7c8a80", "Placement line, left"},
		Stop{"#7c8a80", "Tack-down, left"}, Stop{"#c23b2a", "Cover, left"},
		Stop{"#7c8a80", "Placement line, right"}, Stop{"#7c8a80", "Tack-down, right"}, Stop{"#c23b2a", "Cover, right"})
}

func heart(at point, size float64) []point {
	var points []point
	for i := range 73 {
		a := 2 * math.Pi * float64(i) / 72
		sin := math.Sin(a)
		points = append(points,
			point{at.x + size*sin*sin*sin, at.y + size*(13*math.Cos(a)-5*math.Cos(2*a)-2*math.Cos(3*a)-math.Cos(4*a))/16})
	}
	return points
}

// Swell is one repeat of a border of waves, which meets the next at both ends.
func Swell() Motif {
	s := &sewer{}
	for row, y := range []float64{6, -6} {
		if row > 0 {
			s.change()
		}
		var wave []point
		for x := -40.0; x <= 40; x++ {
			wave = append(wave, point{x, y + 4*math.Sin(x*math.Pi/20)})
		}
		s.satin(wave, 2.6)
	}
	return motif("Swell border", "swell.dst", s, Stop{"#4a82a6", "Upper wave"}, Stop{"#1d3a4d", "Lower wave"})
}
