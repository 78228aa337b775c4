// Package kit works out what a class needs on its benches: what is cut and at
// which size, thread by colour, bobbins, needles, blanks and parts, each with
// the sum that led to it, and what of it goes into one student's bag.
package kit

import (
	"maps"
	"slices"
	"strings"

	"chalkstep/core/recipe"
	"chalkstep/core/say"
	"chalkstep/core/stitch"
	"chalkstep/core/supply"
)

// Figures are the kit's defaults (handbook, Estimating thread; Needles, small
// things). A workshop may change each.
type Figures struct {
	// DrawFactor is thread used per length on the face: it also goes down and
	// round each stitch.
	DrawFactor float64 `json:"draw_factor"`
	// TailMM is lost at each trim and each colour start.
	TailMM float64 `json:"tail_mm"`
	// BobbinShare is bobbin thread per top thread.
	BobbinShare float64 `json:"bobbin_share"`
	// StudentsPerSpare is how many students one spare set serves.
	StudentsPerSpare int `json:"students_per_spare"`
	// StudentsPerNeedle is how many students one spare needle serves.
	StudentsPerNeedle int `json:"students_per_needle"`
	// StudentsPerPen and StudentsPerTape are how many students share one.
	StudentsPerPen  int `json:"students_per_pen"`
	StudentsPerTape int `json:"students_per_tape"`
	// Tests is how many test stitch-outs are sewn before the class.
	Tests int `json:"tests"`
}

// Defaults are the handbook's figures.
func Defaults() Figures {
	return Figures{DrawFactor: 1.35, TailMM: 40, BobbinShare: 0.35, StudentsPerSpare: 6, StudentsPerNeedle: 4,
		StudentsPerPen: 3, StudentsPerTape: 4, Tests: 1}
}

// TopThreadMM estimates the top thread of one stop.
func (f Figures) TopThreadMM(s stitch.Stop) float64 {
	return s.ThreadMM*f.DrawFactor + f.TailMM*float64(s.Trims+1)
}

// BobbinMM estimates the bobbin thread of one piece.
func (f Figures) BobbinMM(stops []stitch.Stop) float64 {
	top := 0.0
	for _, s := range stops {
		top += f.TopThreadMM(s)
	}
	return top * f.BobbinShare
}

// ThreadWorking says how thread is estimated.
func (f Figures) ThreadWorking() say.Text {
	return say.T("top thread of a stop = its path × %s + %s for each trim and its start; bobbin = %s × top",
		say.Decimal{Value: f.DrawFactor, Places: 2}, say.MM(f.TailMM), say.Decimal{Value: f.BobbinShare, Places: 2})
}

// Spares is how many sets more than students and tests are made.
func (f Figures) Spares(students int) int { return ceilDiv(students, f.StudentsPerSpare) }

// A Hooping is one design of a set as a machine sews it.
type Hooping struct {
	// Hoop is what the hoop is called.
	Hoop   string
	Recipe recipe.Recipe
	// Stops with the thread of each.
	Stops   []stitch.Stop
	Threads []supply.Key
}

// A Seat is the students of a class who sew at one machine.
type Seat struct {
	Machine string
	// Bobbin is the style that fits it, BobbinMetres what one holds.
	Bobbin       supply.Key
	BobbinMetres float64
	Students     int
	Hoopings     []Hooping
}

// A Request is what some students of a class make, all the same.
type Request struct {
	Seats []Seat
	// Layers are the pieces of one set that are laid in the hoop, Things what else
	// is cut for it.
	Layers, Things []Piece
	// Serves is how many sets one hooped sheet serves, 0 or 1 for one.
	Serves int
	// Shared is what students share beside pens and tape.
	Shared []Shared
	// Blank is what one student embroiders, without a key where it comes to be in
	// the hoop; Parts are what else is in a bag.
	Blank Item
	Parts []Item
	// Sizes are how many students have a blank of each size, nil where it comes in
	// one.
	Sizes map[string]int
	// Marked tells that each draws on the blank where the design goes.
	Marked bool
}

// A Shared thing is brought for so many students, or for each machine where that
// is 0.
type Shared struct {
	Key      supply.Key
	Students int
}

// A Unit is what a line is counted in.
type Unit int

// The units of a kit; the zero value counts pieces.
const (
	Each Unit = iota
	SheetUnit
	ThreadMM
)

// A Line is one thing to bring, how much of it, and why so much.
type Line struct {
	Key supply.Key
	// As is what a cut piece is laid as, SizeMM what it is cut to.
	As     LayerKind
	SizeMM [2]float64
	// Turn allows a piece to lie on its side.
	Turn bool
	// Name is how a person wrote it, where a person named it.
	Name string
	// Count is how many of the unit.
	Count   float64
	Unit    Unit
	Working []say.Text
}

// Quantity is how much of it: "22 sheets", "12.0 m", "5".
func (l Line) Quantity() say.Text {
	switch l.Unit {
	case SheetUnit:
		return say.T("%s", say.N{N: int(l.Count), Noun: "sheet"})
	case ThreadMM:
		return say.T("%s", say.Thread(l.Count))
	}
	return say.T("%s", say.Count(l.Count))
}

// Say names the line with its size.
func (l Line) Say() say.Text {
	switch {
	case l.Name != "":
		return say.Name(l.Name)
	case l.Key.Kind == supply.Thread:
		return say.T("top thread, %s", say.Word(l.Key.Fibre))
	case l.As != "" && l.Key.Kind == supply.Fabric:
		return say.T("%s of %s, cut %s", say.Word(l.As), l.Key, say.Size(l.SizeMM))
	case l.SizeMM != [2]float64{} && l.Key.Kind.ByLength():
		return say.T("%s, cut %s", l.Key, say.Size(l.SizeMM))
	}
	return l.Key.Say()
}

// A Kit is everything for a class.
type Kit struct {
	// Sets is how many pieces can be made: students, tests and spares.
	Sets        int
	SetsWorking []say.Text
	// Cuts are sheets and pieces, by size.
	Cuts    []Line
	Thread  []Line
	Bobbins []Line
	Needles []Line
	// Tools are shared by the class.
	Tools  []Line
	Blanks []Line
	Parts  []Line
}

// Merge packs two kits for one class, as when not all make the same: like
// lines are added up.
func Merge(a, b Kit) Kit {
	return Kit{
		Sets: a.Sets + b.Sets, SetsWorking: slices.Concat(a.SetsWorking, b.SetsWorking),
		Cuts: merged(a.Cuts, b.Cuts), Thread: merged(a.Thread, b.Thread), Bobbins: merged(a.Bobbins, b.Bobbins),
		Needles: merged(a.Needles, b.Needles), Tools: merged(a.Tools, b.Tools), Blanks: merged(a.Blanks, b.Blanks),
		Parts: merged(a.Parts, b.Parts),
	}
}

// larger puts a line at the end, or in the place of its like where it is more: what is shared serves for both.
func larger(lines []Line, line Line) []Line {
	i := slices.IndexFunc(lines, func(l Line) bool { return l.Key == line.Key })
	if i < 0 {
		return append(lines, line)
	}
	if line.Count > lines[i].Count {
		lines[i] = line
	}
	return lines
}

// add puts a line to its like, or at the end.
func add(lines []Line, line Line) []Line {
	i := slices.IndexFunc(lines, func(l Line) bool {
		return l.Key == line.Key && l.As == line.As && l.SizeMM == line.SizeMM
	})
	if i < 0 {
		return append(lines, line)
	}
	lines[i].Count += line.Count
	lines[i].Working = slices.Concat(lines[i].Working, line.Working)
	return lines
}

func merged(a, b []Line) []Line {
	all := slices.Clone(a)
	for _, line := range b {
		all = add(all, line)
	}
	return all
}

// All lists everything, in the order in which it is packed.
func (k Kit) All() []Line {
	return slices.Concat(k.Cuts, k.Thread, k.Bobbins, k.Needles, k.Tools, k.Blanks, k.Parts)
}

// Sheets counts all pieces to cut.
func (k Kit) Sheets() int { return total(k.Cuts) }

// BobbinCount counts all bobbins to wind.
func (k Kit) BobbinCount() int { return total(k.Bobbins) }

func total(lines []Line) int {
	n := 0.0
	for _, line := range lines {
		n += line.Count
	}
	return int(n)
}

// For works out the kit of a class, whose students make one thing or several.
// Tests and spares of each are made ready for the machine at which most of its
// students sit, the first of several. Bobbins, needles and what is shared are counted
// for the class: a machine takes one new needle however much is made at it, and goes on with a bobbin
// whoever sits there.
func (f Figures) For(requests ...Request) Kit {
	var k Kit
	for i, r := range requests {
		made := f.one(r)
		if i == 0 {
			k = made
		} else {
			k = Merge(k, made)
		}
	}
	k.Bobbins, k.Needles = f.bobbins(requests), f.needles(requests)
	k.Tools = f.tools(requests)
	for _, line := range f.shared(requests) {
		k.Tools = larger(k.Tools, line)
	}
	return k
}

// one is the kit of what some students make, but for what the class shares.
func (f Figures) one(r Request) Kit {
	students, most := r.students()
	spares := f.Spares(students)
	extra := f.Tests + spares
	k := Kit{Sets: students + extra}
	k.SetsWorking = []say.Text{say.T("%s + %s + %s (1 for every %s) = %s",
		say.N{N: students, Noun: "student"}, say.N{N: f.Tests, Noun: "test"}, say.N{N: spares, Noun: "spare"},
		say.Count(f.StudentsPerSpare), say.N{N: k.Sets, Noun: "set"})}
	for i, s := range r.Seats {
		sets, working := s.Students, say.T("%s at %s", say.N{N: s.Students, Noun: "student"}, s.Machine)
		if i == most {
			sets += extra
			working = say.T("%s + %s + %s = %s", working, say.N{N: f.Tests, Noun: "test"}, say.N{N: spares, Noun: "spare"},
				say.N{N: sets, Noun: "set"})
		}
		if sets == 0 {
			continue
		}
		k.cut(r, s, sets, working)
		k.Thread = f.thread(k.Thread, s, sets)
	}
	for i := range k.Thread {
		k.Thread[i].Working = append(k.Thread[i].Working, k.SetsWorking...)
	}
	if r.Blank.Key.Kind == "" {
		return f.parts(k, r)
	}
	k.Blanks = []Line{{Key: r.Blank.Key, Name: r.Blank.Name, SizeMM: r.Blank.SizeMM, Count: float64(k.Sets),
		Working: append(slices.Clone(k.SetsWorking), say.T("the test may be sewn on scrap of the same fabric instead"))}}
	if len(r.Sizes) > 0 {
		var sizes say.List
		for _, size := range slices.Sorted(maps.Keys(r.Sizes)) {
			sizes = append(sizes, say.T("%s in %s", say.Count(r.Sizes[size]), size))
		}
		k.Blanks[0].Working = append(k.Blanks[0].Working, say.T("for the students: %s; tests and spares in any size", sizes))
	}
	return f.parts(k, r)
}

// students are how many make it, and the seat at which most of them sit.
func (r Request) students() (n, most int) {
	for i, s := range r.Seats {
		n += s.Students
		if s.Students > r.Seats[most].Students {
			most = i
		}
	}
	return n, most
}

// parts adds what else each set holds.
func (Figures) parts(k Kit, r Request) Kit {
	for _, p := range r.Parts {
		k.Parts = add(k.Parts,
			Line{Key: p.Key, Name: p.Name, Count: float64(p.Count * k.Sets),
				Working: []say.Text{say.T("%s for each of %s", say.Count(p.Count), say.N{N: k.Sets, Noun: "set"})}})
	}
	return k
}

// cut adds what is cut for the sets of a seat.
func (k *Kit) cut(r Request, s Seat, sets int, working say.Text) {
	for _, p := range s.Pieces() {
		if !r.serves(p) {
			continue
		}
		n := ceilDiv(p.Count*sets, r.Serves)
		k.Cuts = add(k.Cuts, Line{
			Key: p.Key, SizeMM: p.SizeMM, Turn: p.Turn, Count: float64(n), Unit: SheetUnit,
			Working: []say.Text{p.Working,
				say.T("%s: %s, and one sheet serves %s = %s instead of %s", working, say.N{N: sets, Noun: "block"},
					say.Count(r.Serves), say.Count(n), say.Count(p.Count*sets))},
		})
	}
	for _, p := range r.ofSet(s) {
		n := p.Count * sets
		k.Cuts = add(k.Cuts, Line{
			Key: p.Key, As: p.As, SizeMM: p.SizeMM, Turn: p.Turn, Count: float64(n), Unit: SheetUnit,
			Working: []say.Text{p.Working,
				say.T("%s: %s × %s = %s", working, say.Count(sets), say.Count(p.Count), say.Count(n))},
		})
	}
}

// serves tells whether a sheet serves several sets: one in the hoop.
func (r Request) serves(p Piece) bool { return r.Serves > 1 && p.Hooped }

// ofSet are the pieces that every set has for itself.
func (r Request) ofSet(s Seat) []Piece {
	own := slices.DeleteFunc(s.Pieces(), r.serves)
	return slices.Concat(own, r.Layers, r.Things)
}

// Pieces are the sheets of one set at a seat, of all its hoopings.
func (s Seat) Pieces() []Piece {
	var pieces []Piece
	for _, h := range s.Hoopings {
		for _, p := range SheetPieces(h.Recipe, h.Hoop) {
			pieces = addPiece(pieces, p)
		}
	}
	return pieces
}

// addPiece adds a piece to its like.
func addPiece(pieces []Piece, p Piece) []Piece {
	for i := range pieces {
		if q := &pieces[i]; q.As == p.As && q.Key == p.Key && q.SizeMM == p.SizeMM {
			q.Count += p.Count
			return pieces
		}
	}
	return append(pieces, p)
}

// thread sums each colour over the stops that sew with it.
func (f Figures) thread(lines []Line, s Seat, sets int) []Line {
	for _, h := range s.Hoopings {
		for i, stop := range h.Stops {
			mm := f.TopThreadMM(stop)
			line := Line{Key: h.Threads[i], Unit: ThreadMM, Count: mm * float64(sets)}
			working := say.T("stop %s: %s of path × %s + %s × %s = %s", say.Count(stop.N), say.MM(stop.ThreadMM),
				say.Decimal{Value: f.DrawFactor, Places: 2},
				say.N{N: stop.Trims + 1, Noun: "end"}, say.MM(f.TailMM), say.Thread(mm))
			at := slices.IndexFunc(lines, func(l Line) bool { return l.Key == line.Key })
			if at < 0 || !slices.ContainsFunc(lines[at].Working, func(t say.Text) bool {
				return t.String() == working.String()
			}) {
				line.Working = []say.Text{working}
			}
			lines = add(lines, line)
		}
	}
	return lines
}

// needles are new ones for the machines, of each kind that is sewn with there,
// and spares for those who sew with it.
func (f Figures) needles(requests []Request) []Line {
	machines, students := map[supply.Key]map[string]bool{}, map[supply.Key]int{}
	for _, r := range requests {
		for _, s := range r.Seats {
			counted := map[supply.Key]bool{}
			for _, h := range s.Hoopings {
				key := h.Recipe.Needle.Key()
				if machines[key] == nil {
					machines[key] = map[string]bool{}
				}
				if s.Students > 0 {
					machines[key][s.Machine] = true
				}
				if !counted[key] {
					students[key] += s.Students
				}
				counted[key] = true
			}
		}
	}
	var lines []Line
	for key, at := range machines {
		spares := ceilDiv(students[key], f.StudentsPerNeedle)
		lines = append(lines,
			Line{Key: key, Count: float64(len(at) + spares),
				Working: []say.Text{say.T("a new one in each of %s + %s (1 for every %s) = %s",
					say.N{N: len(at), Noun: "machine"}, say.N{N: spares, Noun: "spare"},
					say.N{N: f.StudentsPerNeedle, Noun: "student"},
					say.Count(len(at)+spares))}})
	}
	sortByKey(lines)
	return lines
}

func sortByKey(lines []Line) {
	slices.SortFunc(lines, func(a, b Line) int { return strings.Compare(a.Key.String(), b.Key.String()) })
}

// shared are the things of techniques that students or machines share: one for
// so many of them, of all who make something that needs it.
func (f Figures) shared(requests []Request) []Line {
	students, machines := map[Shared]int{}, map[Shared]map[string]bool{}
	for _, r := range requests {
		for _, thing := range r.Shared {
			for _, s := range r.Seats {
				students[thing] += s.Students
				if machines[thing] == nil {
					machines[thing] = map[string]bool{}
				}
				if s.Students > 0 {
					machines[thing][s.Machine] = true
				}
			}
		}
	}
	var lines []Line
	for thing, n := range students {
		line := Line{Key: thing.Key, Count: float64(len(machines[thing])),
			Working: []say.Text{say.T("1 for each of %s", say.N{N: len(machines[thing]), Noun: "machine"})}}
		if thing.Students > 0 {
			line.Count = float64(ceilDiv(n, thing.Students))
			line.Working = []say.Text{say.T("1 for every %s, of %s", say.N{N: thing.Students, Noun: "student"}, say.Count(n))}
		}
		if line.Count > 0 {
			lines = add(lines, line)
		}
	}
	sortByKey(lines)
	return lines
}

// tools are what students share: pens for what is marked, tape or adhesive for
// what is floated, snips for jumps.
func (f Figures) tools(requests []Request) []Line {
	marks, floats, all := 0, 0, 0
	for _, r := range requests {
		floated := false
		for _, s := range r.Seats {
			all += s.Students
			if r.Marked {
				marks += s.Students
			}
			for _, h := range s.Hoopings {
				floated = floated || h.Recipe.Floats()
			}
		}
		if floated || len(r.Layers) > 0 {
			for _, s := range r.Seats {
				floats += s.Students
			}
		}
	}
	var lines []Line
	for _, t := range []struct {
		key         supply.Key
		among, each int
	}{{supply.Key{Kind: supply.Pen}, marks, f.StudentsPerPen}, {supply.Key{Kind: supply.Tape}, floats, f.StudentsPerTape},
		{supply.Snips, all, supply.StudentsPerSnips}} {
		if n := ceilDiv(t.among, t.each); n > 0 {
			lines = append(lines,
				Line{Key: t.key, Count: float64(n), Working: []say.Text{say.T("1 for every %s, of %s",
					say.N{N: t.each, Noun: "student"}, say.Count(t.among))}})
		}
	}
	return lines
}

// ceilDiv rounds up; nothing is shared out when each is 0.
func ceilDiv(n, each int) int {
	if each <= 0 {
		return 0
	}
	return (n + each - 1) / each
}
