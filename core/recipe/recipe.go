// Package recipe answers what goes under, over and through a blank: the
// stabilizer, topper, needle and thread, how it is hooped, what is done
// afterwards and what to look out for. Every answer carries the rule it came
// from and the reason, because the people it advises disagree about some of
// them and may choose otherwise in the house rules.
package recipe

import (
	"fmt"
	"slices"
	"strings"

	"chalkstep/core/say"
	"chalkstep/core/stitch"
	"chalkstep/core/supply"
)

// A Fabric is what the blank is made of.
type Fabric string

// The fabrics a recipe is known for.
const (
	WovenCotton Fabric = "woven-cotton"
	Linen       Fabric = "linen"
	Jersey      Fabric = "jersey"
	Rib         Fabric = "rib"
	Sweatshirt  Fabric = "sweatshirt"
	Terry       Fabric = "terry"
	Velvet      Fabric = "velvet"
	Denim       Fabric = "denim"
	Canvas      Fabric = "canvas"
	Felt        Fabric = "felt"
	Vinyl       Fabric = "vinyl"
	Sheer       Fabric = "sheer"
)

// Fabrics in the order in which beginners meet them.
var Fabrics = []Fabric{WovenCotton, Linen, Canvas, Denim, Felt, Terry, Velvet, Jersey, Rib, Sweatshirt, Vinyl, Sheer}

// Knit tells whether the fabric stretches.
func (f Fabric) Knit() bool { return slices.Contains([]Fabric{Jersey, Rib, Sweatshirt}, f) }

// A Use is how the finished thing will live.
type Use string

// The uses that change a recipe.
const (
	Worn        Use = "worn"
	NextToSkin  Use = "next-to-skin"
	Child       Use = "child"
	Washed      Use = "washed"
	BothSides   Use = "both-sides"
	Heat        Use = "heat"
	FilmOverlay Use = "film-overlay"
)

// Uses in the order in which a page asks for them.
var Uses = []Use{Worn, NextToSkin, Child, Washed, BothSides, Heat, FilmOverlay}

// A Request is what a recipe is wanted for.
type Request struct {
	Fabric   Fabric  `json:"fabric"`
	Uses     []Use   `json:"uses"`
	WidthMM  float64 `json:"width_mm"`
	HeightMM float64 `json:"height_mm"`
	Stitches int     `json:"stitches"`
	Colors   int     `json:"colors"`
	// HoopMM is the hoop's width and height.
	HoopMM [2]float64 `json:"hoop_mm"`
	House  Rules      `json:"house"`

	// What follows may be left out.

	// Project is what this project does otherwise than the house.
	Project Rules `json:"project"`
	// Density is the class measured from the stitches; empty works it out
	// from the totals.
	Density stitch.DensityClass `json:"density"`
	// Roles are what the design's stops sew.
	Roles []stitch.Role `json:"roles"`
	// InHoop is work built up in the hoop on stabilizer alone: motifs,
	// patches, blocks.
	InHoop bool `json:"in_hoop"`
	// Floats holds the blank on the hooped sheet, whatever the fabric; Sticky
	// takes a sheet that holds by itself for that.
	Floats bool `json:"floats"`
	Sticky bool `json:"sticky"`
	// Window is a sheet whose inside is cut out: none of it is under the stitches.
	Window bool `json:"window"`
	// TopThread that is wished for; empty takes what the rules say.
	TopThread string `json:"top_thread"`
	// ResizedPercent is the size the design is sewn at; 0 is 100.
	ResizedPercent int `json:"resized_percent"`
	// SheetMM is the stabilizer sheet on the shelf; zero is not asked about.
	SheetMM [2]float64 `json:"sheet_mm"`
	// Bobbins and MachineBobbins are the styles at hand and the style that
	// fits; empty is not asked about.
	Bobbins        string `json:"bobbins"`
	MachineBobbins string `json:"machine_bobbins"`
}

// A Recipe is the answer.
type Recipe struct {
	Under     []Layer `json:"under"`
	Over      *Topper `json:"over"`
	Needle    Needle  `json:"needle"`
	TopThread string  `json:"top_thread"`
	Bobbin    string  `json:"bobbin"`
	Hooping   string  `json:"hooping"`
	Tightness string  `json:"tightness"`
	// Applique, Jumps, Watch and StartLine are the house's choices that a step
	// card follows; Applique is empty without pieces.
	Applique  string `json:"applique,omitempty"`
	Jumps     string `json:"jumps"`
	Watch     string `json:"watch"`
	StartLine string `json:"start_line"`
	// Prepare is done with the blank before it is marked, Before at the machine
	// before it sews, After when the last stitch is made.
	Prepare []say.Text `json:"prepare"`
	Before  []say.Text `json:"before"`
	After   []say.Text `json:"after"`
	// Press says how it is pressed; NoPress that it must not be.
	Press   say.Text `json:"press"`
	NoPress bool     `json:"no_press,omitempty"`
	// SoftCoverMM is the size of the cover that is fused over the back, zero for
	// none.
	SoftCoverMM [2]float64 `json:"soft_cover_mm"`
	Cautions    []say.Text `json:"cautions"`
	Reasons     []Reason   `json:"reasons"`
}

// SnipsEach tells that jumps are snipped after each colour.
func (r Recipe) SnipsEach() bool { return r.Jumps == snipEach }

// CutsBefore tells that pieces have their shape before they are laid.
func (r Recipe) CutsBefore() bool { return r.Applique == cutPieces }

// Floats tells that something is held on the hooped sheet, or under it, by tape
// or adhesive.
func (r Recipe) Floats() bool {
	return r.Hooping == Floated || slices.ContainsFunc(r.Under, func(l Layer) bool { return l.How == Floated })
}

// Stays tells that somebody stays at the machine.
func (r Recipe) Stays() bool { return r.Watch == watchStay }

// A Layer of stabilizer.
type Layer struct {
	What   string     `json:"what"`
	Weight string     `json:"weight"`
	Sheets int        `json:"sheets"`
	How    string     `json:"how"`
	CutMM  [2]float64 `json:"cut_mm"`
}

// Key of the stabilizer.
func (l Layer) Key() supply.Key { return supply.Sheet(l.What, l.Weight) }

// A Topper lies over the fabric so that stitches do not sink.
type Topper struct {
	What  string     `json:"what"`
	CutMM [2]float64 `json:"cut_mm"`
}

// Key of the topper.
func (t Topper) Key() supply.Key { return supply.Key{Kind: supply.Topper} }

// A Needle by its point and size.
type Needle struct {
	Point string `json:"point"`
	Size  string `json:"size"`
}

// Key of the needle.
func (n Needle) Key() supply.Key { return supply.Needles(n.Point, n.Size) }

// A Reason says which rule gave a part of the recipe, and why it holds.
type Reason struct {
	Rule    say.Text `json:"rule"`
	Because say.Text `json:"because"`
}

// Words of the recipe that more than one rule uses.
const (
	CutAway     = supply.CutAway
	MeshCutAway = supply.MeshCutAway
	TearAway    = supply.TearAway
	WashAway    = supply.WashAway
	Film        = "water-soluble topper"

	Polyester = supply.Polyester
	Cotton    = supply.Cotton
	Metallic  = supply.Metallic

	Hooped  = "hooped"
	Floated = "floated"
)

// For works out the recipe. An error names the part of the request that
// cannot be meant.
func For(r Request) (Recipe, error) {
	if err := r.check(); err != nil {
		return Recipe{}, err
	}
	m := maker{Request: r, house: r.House.With(r.Project).withDefaults()}
	m.density, m.perCM2 = stitch.DensityOf(r.Stitches, r.WidthMM, r.HeightMM)
	if r.Density != "" {
		m.density = r.Density
	}
	for _, q := range r.House.Differences(r.Project) {
		school := q.School(m.house)
		m.because("this project differs from the house in %s: %s", school.Because, say.Word(strings.ToLower(q.Title)),
			say.Word(school.Says))
	}
	m.cut = [2]float64{r.HoopMM[0] + 2*m.house.SheetMarginMM, r.HoopMM[1] + 2*m.house.SheetMarginMM}
	m.fromTable()
	m.forUses()
	m.forDensity()
	m.topper()
	m.threads()
	m.hooping()
	m.atTheMachine()
	m.preparing()
	m.finishing()
	m.contradictions()
	m.sticky()
	for i := range m.out.Under {
		m.out.Under[i].CutMM = m.cut
	}
	m.because("sheets are cut %s larger than the hoop on every side",
		"a sheet that misses an edge of the hoop holds nothing", say.MM(m.house.SheetMarginMM))
	return m.out, nil
}

func (r Request) check() error {
	if !slices.Contains(Fabrics, r.Fabric) {
		return fmt.Errorf("fabric %q is not known: expected one of %s", r.Fabric, list(Fabrics))
	}
	for _, use := range r.Uses {
		if !slices.Contains(Uses, use) {
			return fmt.Errorf("use %q is not known: expected some of %s", use, list(Uses))
		}
	}
	for _, n := range []struct {
		name  string
		value float64
	}{{"width_mm", r.WidthMM}, {"height_mm", r.HeightMM}, {"stitches", float64(r.Stitches)},
		{"hoop_mm width", r.HoopMM[0]}, {"hoop_mm height", r.HoopMM[1]}} {
		if !(n.value > 0 && n.value < 1e7) {
			return fmt.Errorf("%s is %v: expected a number above 0", n.name, n.value)
		}
	}
	if r.Colors < 0 {
		return fmt.Errorf("colors is %d: expected 0 or more", r.Colors)
	}
	if r.Density != "" && !slices.Contains(densities, r.Density) {
		return fmt.Errorf("density %q is not known: expected one of %s", r.Density, list(densities))
	}
	for _, role := range r.Roles {
		if !slices.Contains(stitch.Roles, role) {
			return fmt.Errorf("role %q is not known: expected some of %s", role, list(stitch.Roles))
		}
	}
	if r.TopThread != "" && !slices.Contains(topThreads, r.TopThread) {
		return fmt.Errorf("top_thread %q is not known: expected one of %s", r.TopThread, list(topThreads))
	}
	if r.ResizedPercent != 0 {
		if err := stitch.CheckPercent(r.ResizedPercent); err != nil {
			return fmt.Errorf("resized_percent: %w", err)
		}
	}
	if r.SheetMM[0] < 0 || r.SheetMM[1] < 0 {
		return fmt.Errorf("sheet_mm is %v: expected a width and a height", r.SheetMM)
	}
	if err := r.Project.check(); err != nil {
		return fmt.Errorf("project: %w", err)
	}
	return r.House.check()
}

var (
	densities  = []stitch.DensityClass{stitch.Open, stitch.Medium, stitch.Dense, stitch.TooDense}
	topThreads = supply.Fibres
)

func list[T ~string](words []T) string {
	var text []string
	for _, w := range words {
		text = append(text, string(w))
	}
	return strings.Join(text, ", ")
}

// A maker carries a recipe through its rules, in the order For calls them.
type maker struct {
	Request
	house   Rules
	density stitch.DensityClass
	perCM2  float64
	cut     [2]float64
	out     Recipe
}

func (m *maker) uses(any ...Use) bool {
	return slices.ContainsFunc(any, func(u Use) bool { return slices.Contains(m.Uses, u) })
}

func (m *maker) dense() bool { return m.density == stitch.Dense || m.density == stitch.TooDense }

func (m *maker) because(rule, because string, args ...any) {
	m.out.Reasons = append(m.out.Reasons, Reason{say.T(rule, args...), say.T(because)})
}

func (m *maker) caution(text string, args ...any) {
	m.out.Cautions = append(m.out.Cautions, say.T(text, args...))
}

func (m *maker) after(text string, args ...any) {
	m.out.After = append(m.out.After, say.T(text, args...))
}

func (m *maker) under(what, weight string) {
	m.out.Under = []Layer{{What: what, Weight: weight, Sheets: 1, How: Hooped}}
}
