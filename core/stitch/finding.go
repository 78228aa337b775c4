package stitch

import "chalkstep/core/say"

// A Finding is something worth knowing of a design, with how it was found.
type Finding struct {
	Text, Working say.Text
	// Caution marks what wants looking at before a class meets the design.
	Caution bool
}

// Facts are what is found in a design, with what people chose and corrected.
type Facts struct {
	// Stops with their roles; Threads names the thread of each, Coverage the
	// thread area over sewn area of each.
	Stops    []Stop
	Threads  []string
	Coverage []float64
	Lengths
	LetteringMM float64
}

// Findings says in order of the sewing what the stitches tell.
func Findings(f Facts) []Finding {
	var all []Finding
	for _, found := range [][]Finding{f.changes(), f.applique(), f.density(), f.satin(), f.lettering(), f.lengths(),
		f.anchor()} {
		all = append(all, found...)
	}
	return all
}

// satin tells the narrowest, which may lock resizing.
func (f Facts) satin() []Finding {
	w := f.NarrowestSatinMM
	if w <= 0 {
		return nil
	}
	text, locked := say.T("the narrowest satin is %s wide", say.Fine(w)), w <= nearLeastSatinMM
	if locked {
		text = say.T("the narrowest satin is only %s wide: the design is not to be resized", say.Fine(w))
	}
	working := say.T("of all satin stitches, all but the narrowest twentieth are at least this long; under %s thread "+
		"piles up", say.Fine(leastSatinMM))
	return []Finding{{text, working, locked}}
}

// lettering tells the shortest, which may close up.
func (f Facts) lettering() []Finding {
	h := f.LetteringMM
	if h <= 0 {
		return nil
	}
	text, small := say.T("the shortest lettering is %s high", say.Fine(h)), h < leastLetteringMM
	if small {
		text = say.T("the shortest lettering is only %s high: sew a test, and do not resize it", say.Fine(h))
	}
	working := say.T("satin columns of one width are bent into shapes of like height that stand in a row; under %s "+
		"letters close up", say.MM(leastLetteringMM))
	return []Finding{{text, working, small}}
}

// lengths tells stitches that are very short or long.
func (f Facts) lengths() []Finding {
	var all []Finding
	if f.Short > 0 {
		all = append(all, Finding{
			Text:    say.T("%s under %s may break the thread", say.N{N: f.Short, Noun: "stitch"}, say.Fine(ShortMM)),
			Working: say.T("each is shorter than %s, so the needle goes into almost the same hole", say.Fine(ShortMM)),
		})
	}
	if f.Long > 0 {
		all = append(all, Finding{
			Text:    say.T("%s over %s may snag in use", say.N{N: f.Long, Noun: "stitch"}, say.MM(LongMM)),
			Working: say.T("each is longer than %s on the face", say.MM(LongMM)),
			Caution: true,
		})
	}
	return all
}

// anchor tells of a last stop that only marks corners.
func (f Facts) anchor() []Finding {
	n := len(f.Stops)
	if n == 0 || f.Stops[n-1].Role != Anchor {
		return nil
	}
	return []Finding{{
		Text: say.T("stop %s only marks the corners: it stays last, or is skipped", say.Count(n)),
		Working: say.T("stop %s has %s in small clusters at the design's edge", say.Count(n),
			say.N{N: f.Stops[n-1].Stitches, Noun: "stitch"}),
	}}
}

// changes tells the changes that are needed from those that are not.
func (f Facts) changes() []Finding {
	var shared say.List
	for i := 1; i < len(f.Stops) && i < len(f.Threads); i++ {
		if f.Threads[i] == f.Threads[i-1] {
			shared = append(shared, say.T("%s with %s", say.Count(i), say.Count(i+1)))
		}
	}
	if len(shared) == 0 {
		return nil
	}
	halts := len(f.Stops) - 1
	return []Finding{{
		Text: say.T("the machine halts %s, but needs another thread only %s", say.N{N: halts, Noun: "time"},
			say.N{N: halts - len(shared), Noun: "time"}),
		Working: say.T("neighbours that share a thread: stops %s", shared),
	}}
}

// applique names the pieces by their stops: the first placement goes with the
// first tack-down and the first cover, however the pieces are sewn.
func (f Facts) applique() []Finding {
	var pieces say.List
	at := map[Role][]int{}
	for i, s := range f.Stops {
		at[s.Role] = append(at[s.Role], i+1)
	}
	for k, place := range at[Placement] {
		stops := []int{place}
		for _, role := range []Role{TackDown, Cover} {
			if k < len(at[role]) {
				stops = append(stops, at[role][k])
			}
		}
		if last := stops[len(stops)-1]; last-place == len(stops)-1 && last > place {
			pieces = append(pieces, say.T("stops %s to %s", say.Count(place), say.Count(last)))
			continue
		}
		var named say.List
		for _, n := range stops {
			named = append(named, say.Count(n))
		}
		pieces = append(pieces, say.T("stops %s", named))
	}
	if len(pieces) == 0 {
		return nil
	}
	return []Finding{{
		Text: say.T("%s of appliqué to lay and trim; placement, tack-down and cover keep their order",
			say.N{N: len(pieces), Noun: "piece"}),
		Working: say.T("outlines that lie within %s of each other: %s", say.Fine(coincideMM), pieces),
	}}
}

// fewestDense is how many stitches a stop has at the least whose density says
// something: those of fewer are ties, knots and marks, which lie close.
const fewestDense = 60

// density names the stop in which thread lies closest.
func (f Facts) density() []Finding {
	closest := -1
	for i, c := range f.Coverage {
		if i < len(f.Stops) && f.Stops[i].Stitches < fewestDense {
			continue
		}
		if c > 0 && (closest < 0 || c > f.Coverage[closest]) {
			closest = i
		}
	}
	if closest < 0 {
		return nil
	}
	c := f.Coverage[closest]
	return []Finding{{
		Text: say.T("stop %s is the densest: %s", say.Count(closest+1), say.Word(Class(c))),
		Working: say.T("in 1 mm cells that are sewn, thread %s wide covers each %s times on average, a zigzag counted "+
			"once for there and back", say.Fine(threadMM), say.Decimal{Value: c, Places: 1}),
		Caution: Class(c) == TooDense,
	}}
}

// TraitsOf picks what decides about resizing; film is whether film goes under
// the design.
func (f Facts) TraitsOf(film bool) Traits {
	t := Traits{NarrowestSatinMM: f.NarrowestSatinMM, LetteringMM: f.LetteringMM, Film: film}
	for _, s := range f.Stops {
		t.Applique = t.Applique || s.Role == Placement
	}
	return t
}
