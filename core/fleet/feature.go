package fleet

import (
	"slices"

	"chalkstep/core/say"
)

// A Feature is something that one machine can and another cannot (handbook, Machines in a
// shared room).
type Feature string

// What machines differ in, beside what has a field of its own.
const (
	Traces       Feature = "traces"
	StepsBack    Feature = "steps-back"
	SkipsStops   Feature = "skips-stops"
	Monochrome   Feature = "monochrome"
	Light        Feature = "light"
	Projector    Feature = "projector"
	ThreadSensor Feature = "thread-sensor"
	BobbinSensor Feature = "bobbin-sensor"
	Calibrates   Feature = "calibrates"
)

// Features in the order in which a form asks for them.
var Features = []Feature{Traces, StepsBack, SkipsStops, Monochrome, Light, Projector, ThreadSensor, BobbinSensor,
	Calibrates}

// features have how a form asks, and what whoever sits there is told where the machine has
// one and where it has not.
var features = map[Feature]struct{ asks, with, without say.Word }{
	Traces: {"trace the outline", "Trace the outline before the start.",
		"It does not trace: turn the needle to the four corners by hand."},
	StepsBack: {"step back by stitch",
		"After a break, step back by stitch until 5 to 10 stitches before the last good one.",
		"It does not step back by stitch: after a break, ask before you sew on."},
	SkipsStops: {"skip to a stop", "It can skip to a stop: check the number on the card.",
		"It does not skip to a stop: whoever starts again sews from the first."},
	Monochrome: {"sew all colours without stopping",
		"It can sew all colours without a stop: see that this is switched off.", ""},
	Light:     {"align by a light", "The light shows where the needle comes down.", ""},
	Projector: {"align by a projector", "The projector shows the design on the cloth: look straight down.", ""},
	ThreadSensor: {"stop when the top thread breaks", "It stops when the top thread breaks.",
		"It sews on when the top thread breaks: stay and watch."},
	BobbinSensor: {"say when the bobbin runs out", "It says when the bobbin runs out.",
		"It does not say when the bobbin runs out: look at every stop."},
	Calibrates: {"run its arm through at power-on",
		"At power-on its arm runs through: nothing on the bed, and no hoop on it.", ""},
}

// Is tells whether it is one of those there are.
func (f Feature) Is() bool { return slices.Contains(Features, f) }

// Asks is how a form asks for it.
func (f Feature) Asks() say.Word { return features[f].asks }

// Has tells whether a machine has a feature.
func (m Machine) Has(f Feature) bool { return slices.Contains(m.Features, f) }

// Described tells that somebody has said which features it has.
func (m Machine) Described() bool { return len(m.Features) > 0 }

// A Manner is something to know of a machine; Differs tells that most others of the room
// are not so.
type Manner struct {
	Text    say.Text
	Differs bool
}

// Manners are what somebody who sits at a machine should know of it, what differs from most
// of the others first.
func (m Machine) Manners(others []Machine) []Manner {
	others = slices.DeleteFunc(slices.Clone(others), func(o Machine) bool { return o.ID == m.ID })
	var all []Manner
	add := func(text say.Text, like func(Machine) bool) {
		same := 0
		for _, o := range others {
			if like(o) {
				same++
			}
		}
		all = append(all, Manner{text, 2*same < len(others)})
	}
	add(say.T("Its bobbins: %s. No others fit.", say.Name(m.BobbinStyle)), func(o Machine) bool {
		return o.BobbinStyle == m.BobbinStyle
	})
	if m.Needles > 1 {
		add(say.T("It has %s: look which one is threaded with the next colour.", say.N{N: m.Needles, Noun: "needle"}),
			func(o Machine) bool { return o.Needles > 1 })
	}
	trims := say.T("It trims by itself.")
	if !m.AutoTrim {
		trims = say.T("It does not trim: snip jumps after each colour, with the machine stopped.")
	}
	add(trims, func(o Machine) bool { return o.AutoTrim == m.AutoTrim })
	if m.Sews {
		add(say.T("It sews as well: see that it is set to embroider, with the embroidery foot on."), func(o Machine) bool {
			return o.Sews
		})
	}
	if m.Pedal {
		add(say.T("A pedal runs it: feet off until you start."), func(o Machine) bool { return o.Pedal })
	}
	if m.Described() {
		for _, f := range Features {
			has, words := m.Has(f), features[f]
			text := words.without
			if has {
				text = words.with
			}
			if text != "" {
				add(say.T(string(text)), func(o Machine) bool { return !o.Described() || o.Has(f) == has })
			}
		}
	}
	slices.SortStableFunc(all, func(a, b Manner) int {
		switch {
		case a.Differs == b.Differs:
			return 0
		case a.Differs:
			return -1
		}
		return 1
	})
	return all
}
