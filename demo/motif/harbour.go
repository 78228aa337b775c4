package motif

import (
	"math"

	"chalkstep/core/stitch"
)

// A Motif is a design with what its maker would say of it.
type Motif struct {
	Name string
	// File is the name of the stitch file, which tells the format.
	File string
	// Level is how far along the course it comes, Tags how it is filed.
	Level int
	Tags  string
	// Stops has the thread and the meaning of each stop.
	Stops   []Stop
	Pattern *stitch.Pattern
}

// A Stop names a thread colour and what it sews.
type Stop struct{ Color, Sews string }

// Harbour makes all motifs of the beginner course.
func Harbour() []Motif {
	all := []Motif{RopeKnot(), Lighthouse(), Crab(), Sail(), Buoy(), BuoySheet(), Compass()}
	for i, filed := range []struct {
		level int
		tags  string
	}{{1, "practice, rope"}, {2, "tote, building"}, {3, "towel, animal"}, {4, "garment, open"}, {2, "badge, felt"},
		{5, "badge, felt, many"}, {5, "appliqué, mat"}} {
		all[i].Level, all[i].Tags = filed.level, filed.tags
	}
	return all
}

func motif(name, file string, s *sewer, stops ...Stop) Motif {
	s.tie()
	s.p.Name = name
	return Motif{Name: name, File: file, Stops: stops, Pattern: &s.p}
}

// RopeKnot is the first thing sewn: a braid of three ropes in a running frame.
func RopeKnot() Motif {
	s := &sewer{}
	s.run(closed(box(-34, -34, 34, 34)), runLength)
	s.run(closed(box(-31, -31, 31, 31)), runLength)
	for strand := range 3 {
		s.change()
		s.satin(strandOf(strand), 3.4)
	}
	return motif("Rope-knot sampler", "rope-knot.dst", s, Stop{"#2f4858", "Frame"}, Stop{"#c9a25d", "First rope"},
		Stop{"#a5762f", "Second rope"}, Stop{"#7c5a3a", "Third rope"})
}

// strandOf is one rope of a braid: a wave a third of a turn behind the last.
func strandOf(n int) []point {
	var points []point
	for x := -26.0; x <= 26; x++ {
		points = append(points, point{x, 15 * math.Sin(x*math.Pi/26+float64(n)*2*math.Pi/3)})
	}
	return points
}

// Lighthouse goes on a canvas tote.
func Lighthouse() Motif {
	s := &sewer{}
	s.fill([]point{{-42, -48}, {42, -48}, {42, -39}, {28, -43}, {18, -36}, {2, -41}, {-14, -35}, {-26, -41}, {-42, -37}},
		rowSpacing)
	s.change()
	s.fill([]point{{-12, -34}, {12, -34}, {7, 24}, {-7, 24}}, rowSpacing)
	s.change()
	s.fill([]point{{-11.2, -24}, {11.2, -24}, {10.2, -13}, {-10.2, -13}}, rowSpacing)
	s.fill([]point{{-9.4, -3}, {9.4, -3}, {8.4, 8}, {-8.4, 8}}, rowSpacing)
	s.change()
	s.fill(box(-5, 26, 5, 36), rowSpacing)
	s.satin([]point{{8, 33}, {38, 40}}, 3)
	s.satin([]point{{-8, 33}, {-38, 40}}, 3)
	s.change()
	s.satin([]point{{-9, 25}, {9, 25}}, 2)
	s.satin([]point{{-7, 37}, {0, 47}, {7, 37}}, 2)
	s.run(closed([]point{{-12.6, -34}, {12.6, -34}, {7.6, 24}, {-7.6, 24}}), 2)
	return motif("Lighthouse", "lighthouse.dst", s, Stop{"#4a86ad", "Sea"}, Stop{"#d9d2bf", "Tower"},
		Stop{"#b8402f", "Bands"}, Stop{"#d99a1f", "Lamp"}, Stop{"#1f2d36", "Outline"})
}

// Crab goes on a towel.
func Crab() Motif {
	s := &sewer{}
	s.fill(arc(point{0, -4}, 22, 15, 0, 354), rowSpacing)
	s.change()
	for _, side := range []float64{-1, 1} {
		s.satin([]point{{side * 20, 2}, {side * 29, 9}, {side * 27, 17}}, 3.5)
		s.satin(arc(point{side * 24, 21}, 5, 6, 100-side*60, 100+side*200), 3)
		for _, leg := range []float64{-2, -8, -14} {
			s.satin([]point{{side * 20, leg}, {side * 29, leg - 3}, {side * 31, leg - 8}}, 1.8)
		}
	}
	s.change()
	s.satin(arc(point{-7, 6}, 1.6, 1.6, 0, 350), 1.6)
	s.satin(arc(point{7, 6}, 1.6, 1.6, 0, 350), 1.6)
	s.run(arc(point{0, -5}, 9, 6, 200, 340), 1.8)
	return motif("Crab", "crab.exp", s, Stop{"#c4552d", "Shell"}, Stop{"#9c3a1c", "Claws and legs"},
		Stop{"#26201c", "Eyes and mouth"})
}

// Sail is open line work for a T-shirt.
func Sail() Motif {
	s := &sewer{}
	for range 2 {
		s.run([]point{{0, -30}, {0, 52}, {36, -22}, {4, -22}, {0, 52}}, runLength)
	}
	s.run([]point{{-4, -20}, {-4, 40}, {-28, -20}, {-4, -20}}, runLength)
	s.change()
	for _, y := range []float64{-10, 4, 18} {
		s.run([]point{{3, y}, {3 + (52-y)*0.38, y - 4}}, runLength)
	}
	s.change()
	s.run(append(arc(point{0, -34}, 36, 16, 180, 360), point{-36, -34}), runLength)
	s.run(arc(point{0, -36}, 30, 10, 190, 350), runLength)
	return motif("Open sail", "open-sail.pes", s, Stop{"#2c5f7c", "Sails"}, Stop{"#7fa7b8", "Battens"},
		Stop{"#8a4b2a", "Hull"})
}

// Buoy is a single felt badge.
func Buoy() Motif {
	s := &sewer{}
	buoy(s, []point{{0, 0}})
	return motif("Buoy badge", "buoy.dst", s, buoyStops...)
}

// BuoySheet is six badges in one hoop, sewn colour by colour.
func BuoySheet() Motif {
	s := &sewer{}
	var centres []point
	for _, x := range []float64{-27, 27} {
		for _, y := range []float64{-52, 0, 52} {
			centres = append(centres, point{x, y})
		}
	}
	buoy(s, nearestFirst(centres))
	return motif("Buoy badges, six in one hoop", "buoy-six.dst", s, buoyStops...)
}

var buoyStops = []Stop{{"#c23b2a", "Float"}, {"#efe9da", "Band"}, {"#1d3a4d", "Water line"}, {"#1d3a4d", "Edge"}}

func buoy(s *sewer, centres []point) {
	for _, c := range centres {
		s.fill(shift([]point{{-9, -8}, {9, -8}, {5, 8}, {-5, 8}}, c.x, c.y), rowSpacing)
	}
	s.change()
	for _, c := range centres {
		s.fill(shift([]point{{-7.6, -2}, {7.6, -2}, {6.6, 2.4}, {-6.6, 2.4}}, c.x, c.y), rowSpacing)
	}
	s.change()
	for _, c := range centres {
		s.satin(shift([]point{{-14, -11}, {-7, -9}, {0, -11}, {7, -9}, {14, -11}}, c.x, c.y), 2)
	}
	s.change()
	for _, c := range centres {
		s.satin(arc(c, 19, 19, 0, 356), 2.6)
	}
}

// Compass is the centre of a mat built up in the hoop: an appliqué disc with
// its three runs, a rose, and registration marks that close the design.
func Compass() Motif {
	s := &sewer{}
	disc := arc(point{}, 60, 60, 0, 360)
	s.run(disc, runLength)
	s.change()
	s.run(arc(point{}, 59.4, 59.4, 0, 360), 2)
	s.change()
	s.satin(disc, 3.2)
	s.change()
	for _, turn := range []float64{0, 90, 180, 270} {
		s.fill(rotated([]point{{0, 4}, {6, 10}, {0, 48}, {-6, 10}}, turn), rowSpacing)
	}
	s.change()
	for _, turn := range []float64{45, 135, 225, 315} {
		s.satin(rotated([]point{{0, 9}, {0, 32}}, turn), 4)
	}
	s.satin(arc(point{}, 54, 54, 0, 357), 1.8)
	s.change()
	for _, corner := range []point{{-70, -70}, {70, -70}, {70, 70}, {-70, 70}} {
		s.begin(corner)
	}
	return motif("Compass rose", "compass.dst", s, Stop{"#7c8a80", "Placement line"}, Stop{"#7c8a80", "Tack-down"},
		Stop{"#2b4a66", "Cover"}, Stop{"#a8791d", "Long points"}, Stop{"#2b4a66", "Short points and ring"},
		Stop{"#7c8a80", "Corner marks"})
}

func rotated(points []point, degrees float64) []point {
	out := make([]point, len(points))
	for i, p := range points {
		out[i] = turnedBy(p, degrees)
	}
	return out
}
