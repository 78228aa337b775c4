package recipe

import (
	"slices"

	"chalkstep/core/say"
	"chalkstep/core/stitch"
	"chalkstep/core/supply"
)

// coverMarginMM is how much larger than the embroidery a soft cover is on the
// back (handbook, Finishing).
const coverMarginMM = 10

// A row of the table of blanks (handbook, Stabilizer and topper).
type row struct {
	fabrics      []Fabric
	what, weight string
	needle       Needle
	because      string
}

var table = []row{
	{[]Fabric{WovenCotton, Linen}, TearAway, "light", Needle{"embroidery", "75/11"},
		"a stable woven needs support only while it is sewn"},
	{[]Fabric{Jersey, Rib}, CutAway, "medium", Needle{"ballpoint", "80/12"},
		"a knit stretches for as long as it lives, so its backing has to stay; a ballpoint parts the loops instead of " +
			"cutting them"},
	{[]Fabric{Sweatshirt}, CutAway, "medium", Needle{"ballpoint", "80/12"},
		"a bulky knit moves under its own weight; a ballpoint parts the loops instead of cutting them"},
	{[]Fabric{Terry, Velvet}, TearAway, "medium", Needle{"embroidery", "75/11"},
		"the ground of a pile cloth is stable, its loops are not"},
	{[]Fabric{Denim, Canvas}, TearAway, "medium", Needle{"embroidery", "90/14"},
		"heavy cloth is stable but breaks thin needles and thread"},
	{[]Fabric{Felt}, TearAway, "medium", Needle{"embroidery", "75/11"},
		"felt is stable, but too thick to hold itself in a hoop"},
	{[]Fabric{Vinyl}, TearAway, "medium", Needle{"embroidery", "75/11"},
		"each hole is permanent, so the needle is kept small"},
	{[]Fabric{Sheer}, WashAway, "medium", Needle{"embroidery", "75/11"}, "anything that stays would show through a sheer"},
}

func (m *maker) fromTable() {
	for _, r := range table {
		if slices.Contains(r.fabrics, m.Fabric) {
			m.under(r.what, r.weight)
			m.out.Needle = r.needle
			m.because("%s: %s %s, needle %s %s", r.because, say.Word(m.Fabric), say.Word(r.weight), say.Word(r.what),
				r.needle.Size, say.Word(r.needle.Point))
			return
		}
	}
}

// forUses lets what the thing is for override what it is made of. The later
// rule is the stronger one.
func (m *maker) forUses() {
	if m.isWoven() && m.house.Wovens == "cut-away" {
		m.under(CutAway, "medium")
		m.houseReason("wovens")
	}
	stable := !m.Fabric.Knit() && m.Fabric != Vinyl && m.Fabric != Sheer
	if m.uses(Worn) && stable && m.house.Worn == "cut-away" {
		m.under(CutAway, "medium")
		m.houseReason("worn")
	}
	if m.uses(NextToSkin, Child) {
		m.under(MeshCutAway, "light")
		m.because("worn on the skin or by a child: mesh cut-away", "it stays, and is soft and sheer enough to be worn")
	}
	if m.uses(BothSides) {
		m.under(WashAway, "medium")
		m.because("both sides are seen: wash-away", "nothing may be left on the back")
	}
	if m.InHoop {
		m.under(MeshCutAway, "light")
		if m.uses(BothSides) {
			m.under(WashAway, "medium")
		}
		m.because("built up in the hoop on stabilizer alone: %s",
			"the sheet carries everything until the layers hold themselves; the fabric is laid on the placement line",
			say.Word(m.out.Under[0].What))
	}
	if m.uses(FilmOverlay) && !m.InHoop && !m.Fabric.Knit() && !m.uses(NextToSkin, Child, BothSides) {
		m.under(TearAway, "medium")
		m.because("film under open fill: tear-away",
			"the film gives the front its body; the back is only held while it is sewn")
	}
}

func (m *maker) isWoven() bool { return m.Fabric == WovenCotton || m.Fabric == Linen }

func (m *maker) houseReason(key string) {
	school := m.house.school(key)
	m.because("house rule, %s", school.Because, say.Word(school.Says))
}

// forDensity adds support under heavy stitching.
func (m *maker) forDensity() {
	base := &m.out.Under[0]
	switch {
	case base.What == TearAway && m.isWoven() && m.house.Wovens == "two":
		base.Sheets = 2
		m.houseReason("wovens")
	case base.What == TearAway && m.dense():
		base.Sheets = 2
		m.because("%s: two sheets", "dense stitching draws the fabric in", m.howDense())
	case base.What == MeshCutAway && m.dense():
		m.out.Under = append(m.out.Under, Layer{What: TearAway, Weight: "light", Sheets: 1, How: Floated})
		m.because("%s, over mesh: a floated sheet of tear-away", "mesh alone is too soft for dense stitching", m.howDense())
	}
}

func (m *maker) topper() {
	switch {
	case slices.Contains([]Fabric{Terry, Velvet, Sweatshirt, Rib}, m.Fabric):
		m.because("pile or texture: topper", "without film the stitches sink and the pile pokes through")
	case m.Fabric.Knit() && m.house.Topper == "every-knit":
		m.houseReason("topper")
	default:
		return
	}
	m.out.Over = &Topper{What: Film, CutMM: m.cut}
}

func (m *maker) threads() {
	switch {
	case m.TopThread == Metallic:
		m.out.TopThread = Metallic
		m.out.Needle = Needle{"metallic", "90/14"}
		m.because("metallic is wished for: a metallic needle", "its bigger eye shreds the thread less")
		m.caution("Metallic is not for first lessons: sew slower, and put a drop of silicone lubricant on the spool.")
	case m.uses(Heat):
		m.out.TopThread = Cotton
		m.because("meets heat: cotton thread", "polyester shrinks or melts under a hot pot or iron")
	case m.TopThread != "":
		m.out.TopThread = m.TopThread
		m.because("%s is wished for", "nothing in its use speaks against it", say.Word(m.TopThread))
	default:
		m.out.TopThread = Polyester
		m.because("polyester 40 first", "it is even and strong, and what machines are tuned for")
	}
	switch {
	case m.uses(BothSides):
		m.out.Bobbin = "match"
		m.because("both sides are seen: bobbin matches the top thread", "the back is a front")
	case m.house.Bobbin == "light-dark":
		m.out.Bobbin = "light"
		m.because("house rule, light under light, dark under dark",
			"light unless the top thread is dark: what shows at an edge does not catch the eye")
	default:
		m.out.Bobbin = m.house.Bobbin
		m.houseReason("bobbin")
	}
}

func (m *maker) hooping() {
	m.out.Hooping = Hooped
	switch {
	case m.InHoop:
		m.because("nothing is hooped but the stabilizer", "the layers are laid on it, each on its line")
	case m.Floats:
		m.out.Hooping = Floated
		m.because("the project floats it", "only the stabilizer is hooped")
	case m.Fabric == Vinyl:
		m.out.Hooping = Floated
		m.because("vinyl is floated", "hoop marks do not come out")
	case m.Fabric == Felt:
		m.out.Hooping = Floated
		m.because("felt shapes are floated", "a pre-cut shape is too small and too thick to be hooped")
	case m.uses(Worn, NextToSkin, Child):
		if m.house.Garments == "float" {
			m.out.Hooping = Floated
		}
		m.houseReason("garments")
	}
	m.out.Tightness = "drum"
	switch {
	case m.house.Tightness != "by-fabric":
		m.out.Tightness = m.house.Tightness
		m.houseReason("tightness")
	case m.Fabric.Knit() && m.out.Hooping == Hooped:
		m.out.Tightness = "firm"
		m.because("knits are hooped firm, never stretched", "a stretched knit springs back into puckers")
	}
}

// sticky puts a sheet that holds by itself in the hoop: in place of tear-away, or
// over what has to stay, which then goes under the hoop.
func (m *maker) sticky() {
	if !m.Sticky {
		return
	}
	base := &m.out.Under[0]
	m.because("the project floats on a sticky sheet", "it holds all over, without spray in the room")
	if base.What == TearAway {
		base.What, base.Weight = supply.StickyTearAway, supply.Medium
		return
	}
	base.How = Floated
	m.out.Under = append([]Layer{{What: supply.StickyTearAway, Weight: supply.Medium, Sheets: 1, How: Hooped}},
		m.out.Under...)
}

// atTheMachine says what the house holds to while it is sewn.
func (m *maker) atTheMachine() {
	m.out.Jumps, m.out.Watch, m.out.StartLine = m.house.Jumps, m.house.Watch, m.house.StartLine
	if m.out.Jumps != snipEach {
		m.houseReason("jumps")
	}
	if m.out.StartLine != startTemplate {
		m.houseReason("start_line")
	}
	if m.house.Watch == "alert" {
		m.houseReason("watch")
		m.caution("Beginners stay at the machine all the same.")
	}
	if !slices.Contains(m.Roles, stitch.Placement) {
		return
	}
	m.out.Applique = m.house.Applique
	m.houseReason("applique")
	m.houseReason("applique_order")
	if m.house.Applique == cutPieces {
		m.caution("Warm iron on a pad off the machine; wait until the pieces are cool before the hoop goes back on.")
	} else {
		m.caution("Stop the machine and take the hoop off before trimming; keep it flat on the table, scissors away from " +
			"the needle.")
	}
}

// shrinks tells whether the fabric may shrink in the first wash.
func (m *maker) shrinks() bool {
	return !slices.Contains([]Fabric{Felt, Vinyl, Velvet, Sheer}, m.Fabric)
}

// preparing is what is done before the first stitch, with the blank and at the
// machine.
func (m *maker) preparing() {
	if m.uses(Washed) && m.shrinks() {
		m.out.Prepare = append(m.out.Prepare,
			say.T("Wash, dry and press the blank once: what shrinks later puckers round the stitches."))
		m.because("it will be washed: wash the %s first", "cloth shrinks in its first wash, and the stitches do not",
			say.Word(m.Fabric))
	} else if m.uses(Washed) {
		m.caution("Will it stand washing? Look at the label of the %s before it is promised.", say.Word(m.Fabric))
	}
	if m.uses(BothSides) {
		m.out.Before = append(m.out.Before,
			say.T("Turn the machine's thread cutter off, and snip by hand: it leaves tails on the back"))
	}
}

// pressing says how it is pressed, if it may be.
func (m *maker) pressing() {
	melts := m.Fabric == Vinyl || m.uses(FilmOverlay)
	switch {
	case m.Fabric == Vinyl:
		m.out.NoPress = true
		m.caution("Vinyl melts under an iron: it is not pressed.")
	case m.uses(FilmOverlay):
		m.out.Press = say.T("Press from the back only, with a cool iron through a cloth: the film melts.")
	case m.Fabric == Velvet:
		m.out.Press = say.T("Press face down on a thick towel, without weight: an iron flattens the pile.")
	case m.Fabric == Sheer:
		m.out.Press = say.T("Press from the back through a cloth, with a cool iron.")
	case m.house.Press == "first":
		m.out.Press = say.T("Press from the back before the stabilizer comes off.")
	default:
		m.out.Press = say.T("Press from the back through a cloth once the stabilizer is off.")
	}
	if !m.out.NoPress {
		m.caution("The iron is hot: use it on a pad, never on or beside a machine. Marks of a water pen come out first, " +
			"as heat sets them.")
	}
	if melts && m.house.Applique == cutPieces && slices.Contains(m.Roles, stitch.Placement) {
		m.caution("Fusing needs heat that melts this: hold the pieces with tape or a stitched line instead.")
	}
}

// finishing lists what is done after the last stitch, and the cautions that
// come with it.
func (m *maker) finishing() {
	if m.out.Over != nil {
		m.after("Tear off the large parts of the film, dab the rest away with water.")
	}
	m.pressing()
	pressesFirst := m.house.Press == "first"
	if pressesFirst && !m.out.NoPress {
		m.out.After = append(m.out.After, m.out.Press)
	}
	for _, l := range m.out.Under[1:] {
		if l.What == TearAway && l.How == Floated {
			m.after("Tear the floated sheet off first, also from inside letters, where it stiffens.")
		}
	}
	switch base := m.out.Under[0].What; {
	case m.Window:
		m.after("Nothing is torn off: the sheet's inside is cut out, and none of it is under the stitches.")
	case base == TearAway:
		m.after("Hold the stitches with a thumb and tear the stabilizer away.")
	case base == CutAway, base == MeshCutAway:
		m.because("trim the cut-away to %s", "closer risks the stitches, wider shows through", say.MM(m.house.TrimMM))
		m.after("Trim the cut-away to %s from the stitching.", say.MM(m.house.TrimMM))
	case base == WashAway:
		m.after("Soak out the wash-away; snip tails on both sides.")
	}
	if !pressesFirst && !m.out.NoPress {
		m.out.After = append(m.out.After, m.out.Press)
	}
	m.cover()
	m.finishCautions()
}

// cover lays a soft cover over the back of what lies on skin.
func (m *maker) cover() {
	switch cover := m.uses(NextToSkin, Child); {
	case cover && m.uses(BothSides):
		m.because("both sides are seen: no soft cover over the back", "it would hide the side that is meant to be seen")
	case cover && (m.Fabric == Vinyl || m.uses(FilmOverlay)):
		m.because("what melts gets no fused cover", "fusing takes a hot iron")
	case cover:
		m.out.SoftCoverMM = [2]float64{m.WidthMM + 2*coverMarginMM, m.HeightMM + 2*coverMarginMM}
		m.after("Fuse a soft cover over the back, %s larger than the embroidery.", say.MM(coverMarginMM))
	}
}

// finishCautions are said of the cloth, whatever is done to it.
func (m *maker) finishCautions() {
	if m.out.Hooping == Floated && !m.Floats { // who says how says it at that step
		m.caution("Spray adhesive stays away from machines and flames, with the window open; read its label.")
	}
	if m.Fabric == Denim || m.Fabric == Canvas {
		m.caution("Needles break on heavy cloth: stop at a knock, eye protection within reach.")
	}
	if m.Fabric == Sweatshirt || m.Fabric == Jersey || m.Fabric == Rib {
		m.caution("Check that only one layer is in the hoop; roll and clip the rest away from the arm.")
	}
}
