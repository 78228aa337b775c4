package recipe

import (
	"fmt"

	"chalkstep/core/policy/rule"
)

// Rules hold a workshop's choices where the schools differ (handbook, House
// rules). The zero value is the default house.
type Rules struct {
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
)

// CutsBefore tells that the house cuts pieces to their line before they are
// laid.
func (h Rules) CutsBefore() bool { return h.Applique == cutPieces }

// Questions lists the rules in which practitioners differ; a project may answer each otherwise than
// the house.
var Questions = []rule.Question[Rules]{
	{Key: "wovens", Title: "Tear-away on wovens", Schools: []rule.School{
		rule.Answer("one", "one light sheet, two when dense", "one sheet tears cleanly and is enough under light stitching"),
		rule.Answer("two", "always two sheets", "two sheets never pucker"),
		rule.Answer("cut-away", "cut-away", "it gives the flattest result and stays"),
	}, At: func(h *Rules) *string { return &h.Wovens }},
	{Key: "worn", Title: "Anything worn and washed", Schools: []rule.School{
		rule.Answer("cut-away", "always cut-away", "it holds the stitches for as long as the garment lives"),
		rule.Answer("tear-away", "tear-away where the fabric is stable",
			"a woven holds its own stitches and is softer without"),
	}, At: func(h *Rules) *string { return &h.Worn }},
	{Key: "garments", Title: "Hoop or float garments", Schools: []rule.School{
		rule.Answer("hoop", "hoop it, unless it cannot be hooped flat", "what is hooped cannot slip"),
		rule.Answer("float", "float it on hooped stabilizer", "no hoop marks, and easier to keep straight"),
	}, At: func(h *Rules) *string { return &h.Garments }},
	{Key: "tightness", Title: "Tightness", Schools: []rule.School{
		rule.Answer("by-fabric", "wovens drum-tight, knits firm", "a stretched knit springs back into puckers"),
		rule.Answer("drum", "drum-tight", "nothing moves under the needle"),
		rule.Answer("firm", "firm, a slack drum", "nothing is stretched out of its weave"),
	}, At: func(h *Rules) *string { return &h.Tightness }},
	{Key: "topper", Title: "Topper", Schools: []rule.School{
		rule.Answer("pile", "pile, texture and sweatshirt", "smooth cloth does not swallow stitches"),
		rule.Answer("every-knit", "every knit too", "edges come out crisper"),
	}, At: func(h *Rules) *string { return &h.Topper }},
	{Key: "bobbin", Title: "Bobbin colour", Schools: []rule.School{
		rule.Answer("light-dark", "light under light, dark under dark", "what shows at an edge does not catch the eye"),
		rule.Answer("white", "always white", "one colour to wind and to read the back by"),
		rule.Answer("match", "same as the top thread", "the back looks like the front"),
	}, At: func(h *Rules) *string { return &h.Bobbin }},
	{Key: "press", Title: "Press before removing stabilizer", Schools: []rule.School{
		rule.Answer("first", "yes", "it sets the stitches"),
		rule.Answer("after", "no", "heat may fix marks or shrink film"),
	}, At: func(h *Rules) *string { return &h.Press }},
	{Key: "applique", Title: "Appliqué pieces", Schools: []rule.School{
		rule.Answer("trim", "trim them in the hoop", "beginners see where the edge is, and nothing has to be cut exactly"),
		rule.Answer("pre-cut", "cut them to the placement line before and fuse",
			"no scissors near the hoop, and every piece alike"),
	}, At: func(h *Rules) *string { return &h.Applique }},
	{Key: "applique_order", Title: "Order of appliqué", Schools: []rule.School{
		rule.Answer("piece-by-piece", "piece by piece", "each piece is finished before the next can shift it"),
		rule.Answer("placements-first", "all placements first, then the pieces", "the hoop comes off the machine less often"),
	}, At: func(h *Rules) *string { return &h.AppliqueOrder }},
	{Key: "jumps", Title: "Jumps", Schools: []rule.School{
		rule.Answer("after-each", "snip after each colour", "later stitching traps what is left"),
		rule.Answer("at-end", "snip at the end", "the machine waits less"),
	}, At: func(h *Rules) *string { return &h.Jumps }},
	{Key: "resizing", Title: "Resizing on the machine", Schools: []rule.School{
		rule.Answer("unlocked", "up to 20 %, unless the design is locked", "small changes leave the density within bounds"),
		rule.Answer("never", "never", "nothing is recomputed, so every change is a change of density"),
	}, At: func(h *Rules) *string { return &h.Resizing }},
	{Key: "watch", Title: "Watching the machine", Schools: []rule.School{
		rule.Answer("stay", "stay at the machine", "beginners hear trouble only when they are beside it"),
		rule.Answer("alert", "set an alert and walk off", "an hour at a machine is an hour of nothing else"),
	}, At: func(h *Rules) *string { return &h.Watch }},
	{Key: "start_line", Title: "Start line", Schools: []rule.School{
		rule.Answer("template", "the template's cross under the needle", "the marks on frames often miss the needle"),
		rule.Answer("marks", "the marks on the hoop", "quicker, where the hoop's offset is known"),
	}, At: func(h *Rules) *string { return &h.StartLine }},
	{Key: "hoop_size", Title: "Hoop size", Schools: []rule.School{
		rule.Answer("by-blank", "snug for flat goods, roomy for garments short of room",
			"flat goods want to be held, garments want to be placed"),
		rule.Answer("snug", "always the smallest that fits", "the fabric is held tightest"),
		rule.Answer("roomy", "always the next size up", "slack for placement"),
	}, At: func(h *Rules) *string { return &h.HoopSize }},
}

// NeverResizes tells whether nothing is resized on a machine.
func (h Rules) NeverResizes() bool { return h.Resizing == "never" }

// Set chooses a school of one of the rules; an error says which there are.
func (h *Rules) Set(key, value string) error { return rule.Set(Questions, h, key, value) }

// Differences lists the questions that own answers otherwise than the house.
func (h Rules) Differences(own Rules) []rule.Question[Rules] {
	var all []rule.Question[Rules]
	for _, q := range Questions {
		if v := q.Of(own); v != "" && v != q.Choice(h) {
			all = append(all, q)
		}
	}
	return all
}

// With is the house with what a project does otherwise.
func (h Rules) With(own Rules) Rules {
	for _, q := range Questions {
		if v := q.Of(own); v != "" {
			q.Set(&h, v)
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

const (
	defaultTrimMM   = 10
	defaultMarginMM = 25
)

// LengthsMM are what is left of cut-away round the stitching, and what a
// sheet is larger than the hoop on every side.
func (h Rules) LengthsMM() (trimMM, marginMM float64) {
	h = h.withDefaults()
	return h.TrimMM, h.SheetMarginMM
}

// withDefaults fills what the workshop has not chosen.
func (h Rules) withDefaults() Rules {
	for _, q := range Questions {
		q.Set(&h, q.Choice(h))
	}
	if h.TrimMM == 0 {
		h.TrimMM = defaultTrimMM
	}
	if h.SheetMarginMM == 0 {
		h.SheetMarginMM = defaultMarginMM
	}
	return h
}

func (h Rules) check() error {
	for _, q := range Questions {
		if err := q.Check(q.Of(h)); err != nil {
			return err
		}
	}
	if h.TrimMM < 0 || h.SheetMarginMM < 0 {
		return fmt.Errorf("house rules trim_mm and sheet_margin_mm are lengths: expected 0 or more")
	}
	return nil
}

// school gives the chosen answer of a question with its reason.
func (h Rules) school(key string) rule.School {
	for _, q := range Questions {
		if q.Key == key {
			return q.School(h)
		}
	}
	return rule.School{}
}
