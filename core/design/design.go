// Package design is a design as a workshop knows it: what was found in its
// file, with the threads, roles and words that people chose for its stops.
package design

import (
	"slices"
	"time"

	"chalkstep/core/pace"
	"chalkstep/core/recipe"
	"chalkstep/core/say"
	"chalkstep/core/stitch"
	"chalkstep/core/supply"
)

// A Design of the library. ID and Version name the row it was read from.
type Design struct {
	ID      int64
	Version int
	Name    string
	// FileName and Format are of the file that is drawn; Files and Charts are
	// what else came with it.
	FileName string
	Format   string
	Files    []File
	Charts   []string

	WidthMM, HeightMM                     float64
	Stitches, Jumps, Trims, ColourChanges int
	// Coverage is thread area over sewn area, 0 where it was not measured.
	Coverage float64
	Lengths  stitch.Lengths
	// LetteringMM is the height of the shortest letter found, 0 for none.
	LetteringMM float64
	Warnings    []string
	// Level is 1 for the first lesson to 5, 0 while nobody has said.
	Level int
	Tags  []string
	Stops []Stop
	// Altered tells that its stops are not in the order, or the threads, that the
	// library has.
	Altered bool

	AddedAt time.Time
	// RetiredAt is when it was taken off the list, nil while it is on it.
	RetiredAt *time.Time
}

// A File is the design in another format than the one drawn.
type File struct{ Format, Name string }

// A Stop with what a person chose for it: its thread's colour, and what it
// sews.
type Stop struct {
	stitch.Stop
	Color    stitch.RGB
	Sews     string
	Coverage float64
}

// Gone tells that there is no such design any more: one from before what
// refers to a design kept it.
func (d Design) Gone() bool { return d.ID == 0 }

// Formats lists the formats a design has a file in, the drawn one first.
func (d Design) Formats() []string {
	formats := []string{d.Format}
	for _, f := range d.Files {
		formats = append(formats, f.Format)
	}
	return formats
}

// Sewn are the stops as the stitches have them, with the roles people chose.
func (d Design) Sewn() []stitch.Stop {
	stops := make([]stitch.Stop, len(d.Stops))
	for i, s := range d.Stops {
		stops[i] = s.Stop
	}
	return stops
}

// Colors are the colours of the stops' threads.
func (d Design) Colors() []stitch.RGB {
	colors := make([]stitch.RGB, len(d.Stops))
	for i, s := range d.Stops {
		colors[i] = s.Color
	}
	return colors
}

// Threads are the threads of the stops, of a fibre.
func (d Design) Threads(fibre string) []supply.Key {
	keys := make([]supply.Key, len(d.Stops))
	for i, s := range d.Stops {
		keys[i] = supply.Spool(fibre, s.Color)
	}
	return keys
}

// Pacing is what the minutes of the stops depend on.
func (d Design) Pacing() []pace.Stop { return pace.StopsOf(d.Sewn(), d.Colors()) }

// Roles are what the stops sew.
func (d Design) Roles() []stitch.Role {
	roles := make([]stitch.Role, len(d.Stops))
	for i, s := range d.Stops {
		roles[i] = s.Role
	}
	return roles
}

// Boxes of the stops that have an extent, by their numbers.
func (d Design) Boxes() map[int]stitch.Bounds {
	boxes := map[int]stitch.Bounds{}
	for _, s := range d.Stops {
		if s.Bounds.Width() > 0 {
			boxes[s.N] = s.Bounds
		}
	}
	return boxes
}

// Facts gathers what the stitches tell of a design, with what people
// corrected.
func (d Design) Facts() stitch.Facts {
	f := stitch.Facts{Stops: d.Sewn(), LetteringMM: d.LetteringMM, Lengths: d.Lengths}
	for _, s := range d.Stops {
		f.Threads, f.Coverage = append(f.Threads, s.Color.String()), append(f.Coverage, s.Coverage)
	}
	return f
}

// Density classes a design by the thread on its face, or by its totals where
// that was not measured.
func (d Design) Density() (stitch.DensityClass, say.Text) {
	if d.Coverage > 0 {
		return stitch.Class(d.Coverage),
			say.T("thread covers the sewn area %s times", say.Decimal{Value: d.Coverage, Places: 1})
	}
	class, perCM2 := stitch.DensityOf(d.Stitches, d.WidthMM, d.HeightMM)
	return class, say.T("%s stitches per cm²", say.Decimal{Value: perCM2})
}

// Density classes a stop by the thread on its face; it is empty where that
// was not measured.
func (s Stop) Density() stitch.DensityClass {
	if s.Coverage == 0 {
		return ""
	}
	return stitch.Class(s.Coverage)
}

// Request is what a recipe for the design is asked with: all that follows from
// the design itself.
func (d Design) Request() recipe.Request {
	r := recipe.Request{WidthMM: max(1, d.WidthMM), HeightMM: max(1, d.HeightMM), Stitches: d.Stitches,
		Colors: len(d.Stops), Roles: d.Roles()}
	if d.Coverage > 0 {
		r.Density = stitch.Class(d.Coverage)
	}
	return r
}

// starters stand in where a file has no colours, until someone chooses.
var starters = []stitch.RGB{
	{R: 0x3f, G: 0x76, B: 0x95}, {R: 0xb5, G: 0x53, B: 0x3c}, {R: 0xc0, G: 0x8a, B: 0x2e}, {R: 0x4f, G: 0x7d, B: 0x4a},
	{R: 0x6d, G: 0x5a, B: 0x8c}, {R: 0x2f, G: 0x3f, B: 0x48}, {R: 0xa8, G: 0xa0, B: 0x8c}, {R: 0x8c, G: 0x4a, B: 0x63},
}

// From is what is found in a pattern, by its analysis; the names are still to
// be given.
func From(p *stitch.Pattern, a stitch.Analysis) Design {
	d := Design{
		WidthMM: a.WidthMM, HeightMM: a.HeightMM, Stitches: a.Stitches, Jumps: a.Jumps, Trims: a.Trims,
		ColourChanges: a.ColorChanges,
		Warnings:      slices.Clone(a.Warnings), Lengths: stitch.LengthsOf(a), LetteringMM: stitch.LetteringMM(a),
	}
	whole, byStop := stitch.Coverages(p, a.Stops)
	d.Coverage = whole
	for i, s := range a.Stops {
		stop := Stop{Stop: s, Color: starters[i%len(starters)], Coverage: byStop[i]}
		if s.Color != nil {
			stop.Color = *s.Color
		}
		stop.Moves, stop.Stop.Color = nil, nil // the file has them
		d.Stops = append(d.Stops, stop)
	}
	return d
}
