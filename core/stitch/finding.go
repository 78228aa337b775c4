package stitch

import (
	"fmt"
	"strings"

	"chalkstep/core/measure"
)

// A Finding is something worth knowing of a design, as a sentence, with how
// it was found.
type Finding struct {
	Text, Working string
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
	say := func(caution bool, working, text string, args ...any) {
		all = append(all, Finding{fmt.Sprintf(text, args...), working, caution})
	}
	f.changes(say)
	f.applique(say)
	f.density(say)
	if w := f.NarrowestSatinMM; w > 0 {
		locked := w <= nearLeastSatinMM
		text := "The narrowest satin is %.1f mm wide."
		if locked {
			text = "The narrowest satin is only %.1f mm wide: the design is not to be resized."
		}
		say(locked, fmt.Sprintf("of all satin stitches, all but the narrowest twentieth are at least this long; under %.1f mm thread piles up", leastSatinMM), text, w)
	}
	if h := f.LetteringMM; h > 0 {
		small := h < leastLetteringMM
		text := "The shortest lettering is %.1f mm high."
		if small {
			text = "The shortest lettering is only %.1f mm high: sew a test, and do not resize it."
		}
		say(small, fmt.Sprintf("three or more satin pieces of like height stand side by side; under %d mm letters close up", leastLetteringMM), text, h)
	}
	if f.Short > 0 {
		say(false, fmt.Sprintf("each is shorter than %.1f mm, so the needle goes into almost the same hole", ShortMM), "%s under %.1f mm may break the thread.", measure.Plural(f.Short, "stitch"), ShortMM)
	}
	if f.Long > 0 {
		say(true, fmt.Sprintf("each is longer than %.0f mm on the face", LongMM), "%s over %.0f mm may snag in use.", measure.Plural(f.Long, "stitch"), LongMM)
	}
	if n := len(f.Stops); n > 0 && f.Stops[n-1].Role == Anchor {
		say(false, fmt.Sprintf("stop %d has %d stitches in small clusters at the design's edge", n, f.Stops[n-1].Stitches), "Stop %d only marks the corners: it stays last, or is skipped.", n)
	}
	return all
}

// changes tells the changes that are needed from those that are not.
func (f Facts) changes(say func(bool, string, string, ...any)) {
	var shared []string
	for i := 1; i < len(f.Stops) && i < len(f.Threads); i++ {
		if f.Threads[i] == f.Threads[i-1] {
			shared = append(shared, fmt.Sprintf("%d and %d", i, i+1))
		}
	}
	if halts := len(f.Stops) - 1; len(shared) > 0 {
		say(false, "neighbours that share a thread: stops "+strings.Join(shared, ", "), "The machine halts %s, but needs another thread only %s.", times(halts), times(halts-len(shared)))
	}
}

func times(n int) string {
	if n == 1 {
		return "once"
	}
	return fmt.Sprintf("%d times", n)
}

// applique names the pieces, by their three stops.
func (f Facts) applique(say func(bool, string, string, ...any)) {
	var pieces []string
	for i, s := range f.Stops {
		if s.Role == Placement {
			last := i
			for last+1 < len(f.Stops) && (f.Stops[last+1].Role == TackDown || f.Stops[last+1].Role == Cover) {
				last++
			}
			pieces = append(pieces, fmt.Sprintf("stops %d to %d", i+1, last+1))
		}
	}
	if len(pieces) > 0 {
		say(false, fmt.Sprintf("outlines that lie within %.1f mm of each other: %s", coincideMM, strings.Join(pieces, "; ")), "%s of appliqué to lay and trim. Placement, tack-down and cover keep their order.", measure.Plural(len(pieces), "piece"))
	}
}

// density names the stop in which thread lies closest.
func (f Facts) density(say func(bool, string, string, ...any)) {
	closest := -1
	for i, c := range f.Coverage {
		if c > 0 && (closest < 0 || c > f.Coverage[closest]) {
			closest = i
		}
	}
	if closest < 0 {
		return
	}
	c := f.Coverage[closest]
	class := Class(c)
	say(class == TooDense, fmt.Sprintf("in 1 mm cells that are sewn, thread %.1f mm wide covers each %.1f times on average", threadMM, c), "Stop %d is the densest: %s.", closest+1, class)
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
