// Package supply names every thing that can lie on a shelf or in a kit, by
// keys that recipe, kit, shelf, labels and stock agree on, and says what may
// stand in for what.
package supply

import (
	"fmt"
	"net/url"
	"slices"
	"strings"

	"chalkstep/core/say"
	"chalkstep/core/stitch"
	"chalkstep/core/thread"
)

// A Kind is what sort of thing it is.
type Kind string

// The kinds there are.
const (
	// Stabilizer backs the fabric, by material and weight.
	Stabilizer Kind = "stabilizer"
	// Topper is the thin film over the fabric that water takes away.
	Topper Kind = "topper"
	// Fabric is by material; see the fabrics of recipes.
	Fabric Kind = "fabric"
	// Batting, Film and Fusible are laid in the hoop.
	Batting Kind = "batting"
	Film    Kind = "film"
	Fusible Kind = "fusible"
	// SoftCover is fused over the back of what is worn on the skin.
	SoftCover Kind = "soft-cover"
	// Thread is by fibre and colour.
	Thread Kind = "thread"
	// Bobbin is by the style that fits a machine.
	Bobbin Kind = "bobbin"
	// Needle is by point (its style) and size.
	Needle Kind = "needle"
	// Blank is what is embroidered, Part whatever else a kit holds: by name.
	Blank Kind = "blank"
	Part  Kind = "part"
	// Pen marks the blank and comes out again; Tape, or adhesive, holds what is
	// floated. A class shares them.
	Pen  Kind = "pen"
	Tape Kind = "tape"
	// Interfacing stays on the back for body; Spray holds what is hooped or
	// floated; Tool is whatever else a class shares, by name.
	Interfacing Kind = "interfacing"
	Spray       Kind = "spray"
	Tool        Kind = "tool"
	// StepCard is the student's sheet; it is printed, not bought.
	StepCard Kind = "step-card"
)

// Kinds in the order a page asks for them.
var Kinds = []Kind{Stabilizer, Topper, Fabric, Batting, Film, Fusible, SoftCover, Interfacing, Thread, Bobbin, Needle,
	Pen, Tape, Spray, Tool, Blank, Part, StepCard}

// Materials of stabilizer.
const (
	CutAway     = "cut-away"
	MeshCutAway = "mesh cut-away"
	TearAway    = "tear-away"
	WashAway    = "wash-away"
	// StickyTearAway holds by itself what is floated on it.
	StickyTearAway = "sticky tear-away"
)

// StabilizerMaterials in the order a page asks for them.
var StabilizerMaterials = []string{TearAway, CutAway, MeshCutAway, WashAway, StickyTearAway}

// Weights of stabilizer, lightest first.
const (
	Light  = "light"
	Medium = "medium"
	Heavy  = "heavy"
)

// Weights in order.
var Weights = []string{Light, Medium, Heavy}

// Fibres of top thread, with their thickness.
const (
	Polyester = "polyester 40"
	Cotton    = "cotton 40"
	Metallic  = "metallic 40"
)

// Fibres in the order a page asks for them.
var Fibres = []string{Polyester, Cotton, Metallic}

// Points of needles.
const (
	EmbroideryPoint = "embroidery"
	Ballpoint       = "ballpoint"
	MetallicPoint   = "metallic"
)

// Points in the order a page asks for them; NeedleSizes too, thinnest first.
var (
	Points      = []string{EmbroideryPoint, Ballpoint, MetallicPoint}
	NeedleSizes = []string{"70/10", "75/11", "80/12", "90/14", "100/16"}
)

// A Key names a thing. Two keys that are equal name the same; which of the
// fields are set depends on the kind. The zero Key names nothing.
type Key struct {
	Kind Kind
	// Material of stabilizer and fabric.
	Material string
	// Weight of stabilizer.
	Weight string
	// Style of a bobbin, point of a needle.
	Style string
	// Size of a needle.
	Size string
	// Fibre and Color of thread.
	Fibre string
	Color stitch.RGB
	// Name of a blank, a part or a tool, as [Fold] has it.
	Name string
}

// Sheet is the key of a stabilizer.
func Sheet(material, weight string) Key {
	return Key{Kind: Stabilizer, Material: material, Weight: weight}
}

// Cloth is the key of a fabric.
func Cloth(material string) Key { return Key{Kind: Fabric, Material: material} }

// Spool is the key of a thread.
func Spool(fibre string, color stitch.RGB) Key {
	return Key{Kind: Thread, Fibre: fibre, Color: color}
}

// Snips are small scissors for threads: jumps are snipped in every class.
var Snips = Named(Tool, "snips")

// StudentsPerSnips share a pair, a figure of ours.
const StudentsPerSnips = 2

// Bobbins is the key of bobbins of a style.
func Bobbins(style string) Key { return Key{Kind: Bobbin, Style: Fold(style)} }

// Needles is the key of needles.
func Needles(point, size string) Key { return Key{Kind: Needle, Style: point, Size: size} }

// Named is the key of a blank, a part or a tool.
func Named(kind Kind, name string) Key { return Key{Kind: kind, Name: Fold(name)} }

// Fold is a name as it is compared: names that differ only in capitals or in
// spaces are the same.
func Fold(name string) string { return strings.ToLower(strings.Join(strings.Fields(name), " ")) }

// fields of a key by the names they are written with.
func (k *Key) fields() []struct {
	name  string
	value *string
} {
	return []struct {
		name  string
		value *string
	}{{"material", &k.Material}, {"weight", &k.Weight}, {"style", &k.Style}, {"size", &k.Size}, {"fibre", &k.Fibre},
		{"name", &k.Name}}
}

// String writes a key as it is kept: "stabilizer;material=tear-away;weight=light".
// [Parse] reads it back.
func (k Key) String() string {
	var b strings.Builder
	b.WriteString(string(k.Kind))
	for _, f := range k.fields() {
		if *f.value != "" {
			b.WriteString(";" + f.name + "=" + url.QueryEscape(*f.value))
		}
	}
	if k.Kind == Thread {
		b.WriteString(";color=" + url.QueryEscape(k.Color.String()))
	}
	return b.String()
}

// Parse reads a key that String wrote. An error says what of it is no key.
func Parse(text string) (Key, error) {
	kind, rest, _ := strings.Cut(text, ";")
	k := Key{Kind: Kind(kind)}
	for rest != "" {
		var part string
		part, rest, _ = strings.Cut(rest, ";")
		name, escaped, ok := strings.Cut(part, "=")
		value, err := url.QueryUnescape(escaped)
		if !ok || err != nil {
			return Key{}, fmt.Errorf("reading the key %q: %q is no field", text, part)
		}
		if err := k.set(name, value); err != nil {
			return Key{}, fmt.Errorf("reading the key %q: %w", text, err)
		}
	}
	if err := k.Check(); err != nil {
		return Key{}, fmt.Errorf("reading the key %q: %w", text, err)
	}
	return k, nil
}

func (k *Key) set(name, value string) error {
	if name == "color" {
		var err error
		k.Color, err = stitch.ParseRGB(value)
		return err
	}
	for _, f := range k.fields() {
		if f.name == name {
			*f.value = value
			return nil
		}
	}
	return fmt.Errorf("%q is no field", name)
}

// needed are the fields that a key of a kind has, and no other.
var needed = map[Kind][]string{
	Stabilizer: {"material", "weight"}, Topper: {}, Fabric: {"material"}, Batting: {}, Film: {}, Fusible: {},
	SoftCover: {}, Interfacing: {}, Spray: {}, Tool: {"name"}, Pen: {}, Tape: {},
	Thread: {"fibre"}, Bobbin: {"style"}, Needle: {"style", "size"}, Blank: {"name"}, Part: {"name"}, StepCard: {},
}

// Check says what of a key cannot be: each kind has its fields, and no other.
func (k Key) Check() error {
	want, known := needed[k.Kind]
	if !known {
		return fmt.Errorf("%q is no kind of thing", k.Kind)
	}
	for _, f := range k.fields() {
		switch has := *f.value != ""; {
		case has && !slices.Contains(want, f.name):
			return fmt.Errorf("a %s has no %s", k.Kind, f.name)
		case !has && slices.Contains(want, f.name):
			return fmt.Errorf("a %s needs its %s", k.Kind, f.name)
		}
	}
	if k.Kind != Thread && k.Color != (stitch.RGB{}) {
		return fmt.Errorf("a %s has no colour", k.Kind)
	}
	if k.Name != Fold(k.Name) {
		return fmt.Errorf("the name %q is not folded", k.Name)
	}
	return nil
}

// MarshalText implements [encoding.TextMarshaler].
func (k Key) MarshalText() ([]byte, error) { return []byte(k.String()), nil }

// UnmarshalText implements [encoding.TextUnmarshaler].
func (k *Key) UnmarshalText(text []byte) error {
	got, err := Parse(string(text))
	if err == nil {
		*k = got
	}
	return err
}

// ByLength tells whether it comes by the length, off a roll, and is cut.
func (k Kind) ByLength() bool {
	return slices.Contains([]Kind{Stabilizer, Topper, Fabric, Batting, Film, Fusible, SoftCover, Interfacing}, k)
}

// Say names a thing in words.
func (k Key) Say() say.Text {
	switch k.Kind {
	case Stabilizer:
		return say.T("%s %s", say.Word(k.Weight), say.Word(k.Material))
	case Topper:
		return say.T("water-soluble topper")
	case Fabric:
		return say.T("%s", say.Word(strings.ReplaceAll(k.Material, "-", " ")))
	case Thread:
		return say.T("%s thread, %s", say.Word(thread.Name(k.Color)), say.Word(k.Fibre))
	case Bobbin:
		return say.T("bobbins, %s", k.Style)
	case Needle:
		return say.T("needles %s %s", k.Size, say.Word(k.Style))
	case Blank, Part:
		return say.Name(k.Name)
	case StepCard:
		return say.T("step card")
	case Tool:
		return say.T("%s", say.Word(k.Name))
	case Spray:
		return say.T("adhesive spray for embroidery")
	case SoftCover:
		return say.T("soft fusible cover")
	case Pen:
		return say.T("marking pen that comes out again")
	case Tape:
		return say.T("tape or adhesive for embroidery")
	}
	return say.T("%s", say.Word(k.Kind))
}
