// Package kit works out what a class needs on its benches: stabilizer and its
// cut sizes, thread by colour, bobbins, needles and blanks, each with the sum
// that led to it.
package kit

import (
	"fmt"
	"math"
	"slices"

	"chalkstep/core/measure"
	"chalkstep/core/recipe"
	"chalkstep/core/stitch"
)

// Figures are the kit's defaults (handbook, Estimating thread; Needles, small
// things). A workshop may change each.
type Figures struct {
	// DrawFactor is thread used per length on the face: it also goes down and
	// round each stitch.
	DrawFactor float64
	// TailMM is lost at each trim and each colour start.
	TailMM float64
	// BobbinShare is bobbin thread per top thread.
	BobbinShare float64
	// StudentsPerSpare is how many students one spare set serves.
	StudentsPerSpare int
	// StudentsPerNeedle is how many students one spare needle serves.
	StudentsPerNeedle int
	// Tests is how many test stitch-outs are sewn before the class.
	Tests int
}

// Defaults are the handbook's figures.
func Defaults() Figures {
	return Figures{DrawFactor: 1.35, TailMM: 40, BobbinShare: 0.35, StudentsPerSpare: 6, StudentsPerNeedle: 4, Tests: 1}
}

// TopThreadMM estimates the top thread of one stop.
func (f Figures) TopThreadMM(s stitch.Stop) float64 {
	return s.ThreadMM*f.DrawFactor + f.TailMM*float64(s.Trims+1)
}

// A Share is how many pieces of the class one machine sews, on its bobbins.
type Share struct {
	Machine     string
	BobbinStyle string
	// BobbinMetres is what one bobbin of the style holds.
	BobbinMetres float64
	Pieces       int
}

// A Cut is how many students sew in one kind of hoop: the sheets under and
// over their work are cut for it.
type Cut struct {
	Hoop     string
	Recipe   recipe.Recipe
	Students int
}

// A Request is the class to pack for.
type Request struct {
	Students int
	// Cuts says which hoops the students sew in, and the recipe for each.
	Cuts   []Cut
	Needle recipe.Needle
	// Blank is what one student embroiders: "canvas tote, 380 × 420 mm".
	Blank string
	Stops []stitch.Stop
	// Threads names the thread of each stop, as colour.
	Threads  []string
	Machines []Share
}

// A Line is one thing to bring, how much of it, and why so much.
type Line struct {
	What string
	// Color is set for thread.
	Color string
	// Count is how many of the unit.
	Count   float64
	Unit    Unit
	Working []string
}

// A Unit is what a line is counted in.
type Unit int

// The units of a kit; the zero value counts pieces.
const (
	Each Unit = iota
	Sheet
	Millimetre
)

// Quantity prints how much of it: "22 sheets", "12.0 m", "5".
func (l Line) Quantity() string {
	switch l.Unit {
	case Sheet:
		return measure.Plural(int(l.Count), "sheet")
	case Millimetre:
		return measure.Metres(l.Count)
	}
	return measure.Whole(l.Count)
}

// A Kit is everything for a class.
type Kit struct {
	// Sets is how many pieces can be made: students, tests and spares.
	Sets        int
	SetsWorking string
	Stabilizer  []Line
	Thread      []Line
	Bobbins     []Line
	Needles     []Line
	Blanks      []Line
}

// Merge packs two kits for one class, as when not all make the same: like
// lines are added up.
func Merge(a, b Kit) Kit {
	return Kit{
		Sets: a.Sets + b.Sets, SetsWorking: a.SetsWorking + "; " + b.SetsWorking,
		Stabilizer: merged(a.Stabilizer, b.Stabilizer), Thread: merged(a.Thread, b.Thread), Bobbins: merged(a.Bobbins, b.Bobbins),
		Needles: merged(a.Needles, b.Needles), Blanks: merged(a.Blanks, b.Blanks),
	}
}

func merged(a, b []Line) []Line {
	all := slices.Clone(a)
	for _, line := range b {
		i := slices.IndexFunc(all, func(l Line) bool { return l.What == line.What && l.Color == line.Color })
		if i < 0 {
			all = append(all, line)
			continue
		}
		all[i].Count += line.Count
		all[i].Working = slices.Concat(all[i].Working, line.Working)
	}
	return all
}

// Sheets counts all sheets to cut.
func (k Kit) Sheets() int { return total(k.Stabilizer) }

// BobbinCount counts all bobbins to wind.
func (k Kit) BobbinCount() int { return total(k.Bobbins) }

func total(lines []Line) int {
	n := 0.0
	for _, line := range lines {
		n += line.Count
	}
	return int(n)
}

// Spares is how many sets more than students and tests are made.
func (f Figures) Spares(students int) int { return ceilDiv(students, f.StudentsPerSpare) }

// For works out the kit of a class.
func (f Figures) For(r Request) Kit {
	spares := f.Spares(r.Students)
	k := Kit{Sets: r.Students + f.Tests + spares}
	k.SetsWorking = fmt.Sprintf("%s + %s + %s (1 for every %d) = %d sets",
		measure.Plural(r.Students, "student"), measure.Plural(f.Tests, "test"), measure.Plural(spares, "spare"), f.StudentsPerSpare, k.Sets)
	k.Stabilizer = stabilizer(r.Cuts, f.Tests, spares)
	k.Thread = f.thread(r, k)
	k.Bobbins = f.bobbins(r)
	k.Needles = []Line{f.needles(r)}
	k.Blanks = []Line{{What: r.Blank, Count: float64(k.Sets),
		Working: []string{k.SetsWorking, "the test may be sewn on scrap of the same fabric instead"}}}
	return k
}

// stabilizer counts sheets by their cut size. Tests and spares are cut for
// the hoop that most students use.
func stabilizer(cuts []Cut, tests, spares int) []Line {
	most := 0
	for i, c := range cuts {
		if c.Students > cuts[most].Students {
			most = i
		}
	}
	var lines []Line
	size := func(mm [2]float64) string { return measure.Size(mm[0], mm[1]) }
	for i, c := range cuts {
		sets := c.Students
		working := fmt.Sprintf("%s in the hoop %s", measure.Plural(c.Students, "student"), c.Hoop)
		if i == most {
			sets += tests + spares
			working += fmt.Sprintf(" + %s + %s = %d sets", measure.Plural(tests, "test"), measure.Plural(spares, "spare"), sets)
		}
		for _, layer := range c.Recipe.Under {
			n := layer.Sheets * sets
			lines = append(lines, Line{
				What:  fmt.Sprintf("%s %s, cut %s", layer.Weight, layer.What, size(layer.CutMM)),
				Count: float64(n), Unit: Sheet,
				Working: []string{working, fmt.Sprintf("%s a set, %s: %d × %d = %d", measure.Plural(layer.Sheets, "sheet"), layer.How, sets, layer.Sheets, n)},
			})
		}
		if c.Recipe.Over != nil {
			lines = append(lines, Line{
				What:  c.Recipe.Over.What + ", cut " + size(c.Recipe.Over.CutMM),
				Count: float64(sets), Unit: Sheet, Working: []string{working},
			})
		}
	}
	return lines
}

// thread sums each colour over the stops that sew with it.
func (f Figures) thread(r Request, k Kit) []Line {
	var lines []Line
	at := map[string]int{}
	for i, s := range r.Stops {
		color := ""
		if i < len(r.Threads) {
			color = r.Threads[i]
		}
		j, seen := at[color]
		if !seen {
			j, at[color] = len(lines), len(lines)
			lines = append(lines, Line{What: "top thread", Color: color, Unit: Millimetre})
		}
		mm := f.TopThreadMM(s)
		lines[j].Count += mm * float64(k.Sets)
		lines[j].Working = append(lines[j].Working, fmt.Sprintf("stop %d: %.0f mm of path × %.2f + %d ends × %.0f mm = %s",
			s.N, s.ThreadMM, f.DrawFactor, s.Trims+1, f.TailMM, measure.Metres(mm)))
	}
	for i := range lines {
		lines[i].Working = append(lines[i].Working, k.SetsWorking)
	}
	return lines
}

// BobbinMM estimates the bobbin thread of one piece.
func (f Figures) BobbinMM(stops []stitch.Stop) float64 {
	top := 0.0
	for _, s := range stops {
		top += f.TopThreadMM(s)
	}
	return top * f.BobbinShare
}

// bobbins counts full bobbins by style. A bobbin is not run out inside a
// piece when it holds at least one: what is left of it then does not count.
func (f Figures) bobbins(r Request) []Line {
	piece := f.BobbinMM(r.Stops) / 1000
	var lines []Line
	at := map[string]int{}
	for _, m := range r.Machines {
		if m.Pieces == 0 || m.BobbinMetres <= 0 {
			continue
		}
		n := 0
		working := ""
		if each := int(m.BobbinMetres / piece); each >= 1 {
			n = ceilDiv(m.Pieces, each)
			working = fmt.Sprintf("%s sews %s of %.1f m; a bobbin of %.0f m holds %d whole ones: %d", m.Machine, measure.Plural(m.Pieces, "piece"), piece, m.BobbinMetres, each, n)
		} else {
			per := int(math.Ceil(piece / m.BobbinMetres))
			n = m.Pieces * per
			working = fmt.Sprintf("%s sews %s of %.1f m; each takes %d bobbins of %.0f m, swapped between stops: %d", m.Machine, measure.Plural(m.Pieces, "piece"), piece, per, m.BobbinMetres, n)
		}
		j, seen := at[m.BobbinStyle]
		if !seen {
			j, at[m.BobbinStyle] = len(lines), len(lines)
			lines = append(lines, Line{What: "bobbins, " + m.BobbinStyle})
		}
		lines[j].Count += float64(n)
		lines[j].Working = append(lines[j].Working, working)
	}
	return lines
}

func (f Figures) needles(r Request) Line {
	spares := ceilDiv(r.Students, f.StudentsPerNeedle)
	n := len(r.Machines) + spares
	return Line{
		What:    fmt.Sprintf("needles %s %s", r.Needle.Size, r.Needle.Point),
		Count:   float64(n),
		Working: []string{fmt.Sprintf("a new one in each of %s + %s (1 for every %d students) = %d", measure.Plural(len(r.Machines), "machine"), measure.Plural(spares, "spare"), f.StudentsPerNeedle, n)},
	}
}

// ceilDiv rounds up; nothing is shared out when each is 0.
func ceilDiv(n, each int) int {
	if each <= 0 {
		return 0
	}
	return (n + each - 1) / each
}
