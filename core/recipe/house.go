package recipe

import (
	"fmt"
	"slices"
)

// House holds a workshop's choices where the schools differ (handbook, House
// rules). The zero value is the default house.
type House struct {
	// Wovens: "one" light sheet of tear-away and two when dense, always "two", or "cut-away".
	Wovens string `json:"wovens,omitempty"`
	// Worn: "cut-away" always, or "tear-away" where the fabric is stable.
	Worn string `json:"worn,omitempty"`
	// Garments: "hoop" so that it cannot slip, or "float" on hooped stabilizer.
	Garments string `json:"garments,omitempty"`
	// Tightness: "by-fabric", or "drum" or "firm" for everything.
	Tightness string `json:"tightness,omitempty"`
	// Topper: on "pile", texture and sweatshirt, or on "every-knit" too.
	Topper string `json:"topper,omitempty"`
	// Bobbin: "light-dark" to go with the top thread, always "white", or "match"ed to it.
	Bobbin string `json:"bobbin,omitempty"`
	// Press: "first" sets the stitches before stabilizer is removed; "after" does not.
	Press string `json:"press,omitempty"`
	// Applique: "trim" pieces in the hoop, or "pre-cut" them to the line and fuse.
	Applique string `json:"applique,omitempty"`
	// AppliqueOrder: "piece-by-piece", or all "placements-first".
	AppliqueOrder string `json:"applique_order,omitempty"`
	// Jumps: snipped "after-each" colour, or "at-end".
	Jumps string `json:"jumps,omitempty"`
	// Resizing: "unlocked" up to 20 % unless locked, or "never".
	Resizing string `json:"resizing,omitempty"`
	// Watch: "stay" at the machine, or set an "alert".
	Watch string `json:"watch,omitempty"`
	// StartLine: the "template" cross under the needle, or the hoop's "marks".
	StartLine string `json:"start_line,omitempty"`
	// HoopSize: "by-blank", always "snug" or always "roomy".
	HoopSize string `json:"hoop_size,omitempty"`
	// Plan: a class's plan is good for "people" first, or the "shortest".
	Plan string `json:"plan,omitempty"`
	// Assistants: "help" with hooping and loading, or "sign-off" too.
	Assistants string `json:"assistants,omitempty"`
	// Trimming: the machine is "kept" while pieces are trimmed, or "released".
	Trimming string `json:"trimming,omitempty"`
	// TrimMM is left of cut-away around the stitching.
	TrimMM float64 `json:"trim_mm,omitempty"`
	// SheetMarginMM is what a sheet is larger than the hoop on every side.
	SheetMarginMM float64 `json:"sheet_margin_mm,omitempty"`
}

// Schools that other rules ask for.
const (
	snipEach      = "after-each"
	watchStay     = "stay"
	startTemplate = "template"
	startMarks    = "marks"
	cutPieces     = "pre-cut"

	planShortest      = "shortest"
	trimmingReleased  = "released"
	assistantsSignOff = "sign-off"
)

// A Question is a house rule with its schools, the default first.
type Question struct {
	Key, Title string
	Schools    []School
	value      func(*House) *string
}

// A School is one way to answer a Question, and why people hold to it.
type School struct{ Value, Says, Because string }

// CutsBefore tells that the house cuts pieces to their line before they are
// laid.
func (h House) CutsBefore() bool { return h.Applique == cutPieces }

// Questions lists the rules in which practitioners differ.
var Questions = slices.Concat(ProjectQuestions, ClassQuestions)

// ClassQuestions are those that a class answers as the house does.
var ClassQuestions = []Question{
	{"plan", "A class's plan", []School{
		{"people", "good for people first", "a finish a few minutes later costs less than an hour of waiting"},
		{"shortest", "the earliest finish", "the room is wanted for the next class"},
	}, func(h *House) *string { return &h.Plan }},
	{"assistants", "What assistants do in a class", []School{
		{"help", "help with hooping and loading", "what is signed off or shown is the instructor's word"},
		{"sign-off", "whatever the instructor does", "an assistant who can teach a step can judge it"},
	}, func(h *House) *string { return &h.Assistants }},
	{"trimming", "The machine while a piece is trimmed", []School{
		{"kept", "kept for whoever trims", "the hoop goes back where it came from, and nothing is knocked"},
		{"released", "free for others until they are back", "a machine that waits for scissors sews nothing"},
	}, func(h *House) *string { return &h.Trimming }},
}

// AssistantMay tells whether an assistant may stand in for the instructor at a step;
// toSee is one at which the instructor shows or judges.
func (h House) AssistantMay(toSee bool) bool { return !toSee || h.Assistants == assistantsSignOff }

// PlansShortest tells that a class's plan is the one that ends first.
func (h House) PlansShortest() bool { return h.Plan == planShortest }

// ReleasesMachine tells that others may have the machine while somebody trims a piece.
func (h House) ReleasesMachine() bool { return h.Trimming == trimmingReleased }

// ProjectQuestions are those that a project may answer otherwise than the house.
var ProjectQuestions = []Question{
	{"wovens", "Tear-away on wovens", []School{
		{"one", "one light sheet, two when dense", "one sheet tears cleanly and is enough under light stitching"},
		{"two", "always two sheets", "two sheets never pucker"},
		{"cut-away", "cut-away", "it gives the flattest result and stays"},
	}, func(h *House) *string { return &h.Wovens }},
	{"worn", "Anything worn and washed", []School{
		{"cut-away", "always cut-away", "it holds the stitches for as long as the garment lives"},
		{"tear-away", "tear-away where the fabric is stable", "a woven holds its own stitches and is softer without"},
	}, func(h *House) *string { return &h.Worn }},
	{"garments", "Hoop or float garments", []School{
		{"hoop", "hoop it, unless it cannot be hooped flat", "what is hooped cannot slip"},
		{"float", "float it on hooped stabilizer", "no hoop marks, and easier to keep straight"},
	}, func(h *House) *string { return &h.Garments }},
	{"tightness", "Tightness", []School{
		{"by-fabric", "wovens drum-tight, knits firm", "a stretched knit springs back into puckers"},
		{"drum", "drum-tight", "nothing moves under the needle"},
		{"firm", "firm, a slack drum", "nothing is stretched out of its weave"},
	}, func(h *House) *string { return &h.Tightness }},
	{"topper", "Topper", []School{
		{"pile", "pile, texture and sweatshirt", "smooth cloth does not swallow stitches"},
		{"every-knit", "every knit too", "edges come out crisper"},
	}, func(h *House) *string { return &h.Topper }},
	{"bobbin", "Bobbin colour", []School{
		{"light-dark", "light under light, dark under dark", "what shows at an edge does not catch the eye"},
		{"white", "always white", "one colour to wind and to read the back by"},
		{"match", "same as the top thread", "the back looks like the front"},
	}, func(h *House) *string { return &h.Bobbin }},
	{"press", "Press before removing stabilizer", []School{
		{"first", "yes", "it sets the stitches"},
		{"after", "no", "heat may fix marks or shrink film"},
	}, func(h *House) *string { return &h.Press }},
	{"applique", "Appliqué pieces", []School{
		{"trim", "trim them in the hoop", "beginners see where the edge is, and nothing has to be cut exactly"},
		{"pre-cut", "cut them to the placement line before and fuse", "no scissors near the hoop, and every piece alike"},
	}, func(h *House) *string { return &h.Applique }},
	{"applique_order", "Order of appliqué", []School{
		{"piece-by-piece", "piece by piece", "each piece is finished before the next can shift it"},
		{"placements-first", "all placements first, then the pieces", "the hoop comes off the machine less often"},
	}, func(h *House) *string { return &h.AppliqueOrder }},
	{"jumps", "Jumps", []School{
		{"after-each", "snip after each colour", "later stitching traps what is left"},
		{"at-end", "snip at the end", "the machine waits less"},
	}, func(h *House) *string { return &h.Jumps }},
	{"resizing", "Resizing on the machine", []School{
		{"unlocked", "up to 20 %, unless the design is locked", "small changes leave the density within bounds"},
		{"never", "never", "nothing is recomputed, so every change is a change of density"},
	}, func(h *House) *string { return &h.Resizing }},
	{"watch", "Watching the machine", []School{
		{"stay", "stay at the machine", "beginners hear trouble only when they are beside it"},
		{"alert", "set an alert and walk off", "an hour at a machine is an hour of nothing else"},
	}, func(h *House) *string { return &h.Watch }},
	{"start_line", "Start line", []School{
		{"template", "the template's cross under the needle", "the marks on frames often miss the needle"},
		{"marks", "the marks on the hoop", "quicker, where the hoop's offset is known"},
	}, func(h *House) *string { return &h.StartLine }},
	{"hoop_size", "Hoop size", []School{
		{"by-blank", "snug for flat goods, roomy for garments short of room", "flat goods want to be held, garments want to be placed"},
		{"snug", "always the smallest that fits", "the fabric is held tightest"},
		{"roomy", "always the next size up", "slack for placement"},
	}, func(h *House) *string { return &h.HoopSize }},
}

// Choice of a question in this house, the default where nothing was chosen.
func (h House) Choice(q Question) string {
	if v := *q.value(&h); v != "" {
		return v
	}
	return q.Schools[0].Value
}

// NeverResizes tells whether nothing is resized on a machine.
func (h House) NeverResizes() bool { return h.Resizing == "never" }

// Set chooses a school; an error says which there are, and leaves the house as
// it is.
func (h *House) Set(key, value string) error {
	for _, q := range Questions {
		if q.Key == key {
			changed := *h
			*q.value(&changed) = value
			if err := changed.check(); err != nil {
				return err
			}
			*h = changed
			return nil
		}
	}
	return fmt.Errorf("there is no house rule %q", key)
}

// With is the house with what a project does otherwise.
func (h House) With(own House) House {
	for _, q := range Questions {
		if v := *q.value(&own); v != "" {
			*q.value(&h) = v
		}
	}
	if own.TrimMM != 0 {
		h.TrimMM = own.TrimMM
	}
	if own.SheetMarginMM != 0 {
		h.SheetMarginMM = own.SheetMarginMM
	}
	return h
}

// Differences lists the questions that own answers otherwise than the house.
func (h House) Differences(own House) []Question {
	var all []Question
	for _, q := range Questions {
		if v := *q.value(&own); v != "" && v != h.Choice(q) {
			all = append(all, q)
		}
	}
	return all
}

// Own is what a project's own choices answer, empty for the house's answer.
func (q Question) Own(own House) string { return *q.value(&own) }

// School is the chosen answer of a question.
func (q Question) School(h House) School {
	v := h.Choice(q)
	return q.Schools[slices.IndexFunc(q.Schools, func(s School) bool { return s.Value == v })]
}

const (
	defaultTrimMM   = 10
	defaultMarginMM = 25
)

// LengthsMM are what is left of cut-away round the stitching, and what a
// sheet is larger than the hoop on every side.
func (h House) LengthsMM() (trimMM, marginMM float64) {
	h = h.withDefaults()
	return h.TrimMM, h.SheetMarginMM
}

// withDefaults fills what the workshop has not chosen.
func (h House) withDefaults() House {
	for _, q := range Questions {
		*q.value(&h) = h.Choice(q)
	}
	if h.TrimMM == 0 {
		h.TrimMM = defaultTrimMM
	}
	if h.SheetMarginMM == 0 {
		h.SheetMarginMM = defaultMarginMM
	}
	return h
}

func (h House) check() error {
	for _, q := range Questions {
		v := *q.value(&h)
		if v != "" && !slices.ContainsFunc(q.Schools, func(s School) bool { return s.Value == v }) {
			var known []string
			for _, s := range q.Schools {
				known = append(known, s.Value)
			}
			return fmt.Errorf("house rule %s is %q: expected one of %s", q.Key, v, list(known))
		}
	}
	if h.TrimMM < 0 || h.SheetMarginMM < 0 {
		return fmt.Errorf("house rules trim_mm and sheet_margin_mm are lengths: expected 0 or more")
	}
	return nil
}

// school gives the chosen answer of a question with its reason.
func (h House) school(key string) School {
	for _, q := range Questions {
		if q.Key == key {
			return q.School(h)
		}
	}
	return School{}
}
