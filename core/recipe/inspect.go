package recipe

import (
	"slices"

	"chalkstep/core/say"
)

// A CheckKey names something that is looked at.
type CheckKey string

// What is looked at when the hoop is off (handbook, Inspecting).
const (
	CheckGap      CheckKey = "gap"
	CheckLoops    CheckKey = "loops"
	CheckPuckers  CheckKey = "puckers"
	CheckEdges    CheckKey = "edges"
	CheckBack     CheckKey = "back"
	CheckJumps    CheckKey = "jumps"
	CheckTrimmed  CheckKey = "trimmed"
	CheckTopper   CheckKey = "topper"
	CheckMarks    CheckKey = "marks"
	CheckStanding CheckKey = "place"
)

// CheckKeys are all that can be looked at.
var CheckKeys = []CheckKey{CheckStanding, CheckGap, CheckLoops, CheckPuckers, CheckEdges, CheckBack, CheckJumps,
	CheckTrimmed, CheckTopper, CheckMarks}

// A Side is where one looks.
type Side string

// The sides, in the order in which one looks.
const (
	Front  Side = "front"
	Back   Side = "back"
	Finish Side = "finish"
)

// sides are where one looks, as a card says it.
var sides = map[Side]say.Word{Front: "Front", Back: "Back", Finish: "Finish"}

// Sides in the order in which one looks.
var Sides = []Side{Front, Back, Finish}

// A Check is something that is good, or is put right.
type Check struct {
	Key  CheckKey
	Side Side
	// Good is what it is like when it is good; Try what to do otherwise, in this order.
	Good say.Text
	Try  []say.Text
	// Caution is what can hurt while it is put right, silent where nothing can.
	Caution say.Text
}

// mostGapMM is the widest gap between an outline and its fill (handbook,
// Inspecting).
const mostGapMM = 1

// Checks are what is looked at of a piece that is made so, front, back and finish, with what
// to try where something is not good (handbook, Inspecting; Fixing).
func (r Recipe) Checks() []Check {
	power := say.T("Power off before you change the needle.")
	checks := []Check{
		{CheckStanding, Front, say.T("it lies on its mark, the right way up"),
			[]say.Text{say.T("the hoop's offset for this machine"), say.T("the hoop that was told to the machine"),
				say.T("the template's up-arrow")}, say.Text{}},
		{CheckGap, Front, say.T("outline meets fill, no gap over %s", say.Fine(mostGapMM)),
			[]say.Text{say.T("was the hoop knocked, or did it slip?"), say.T("stabilizer caught on all sides"),
				say.T("a knit that was stretched"), say.T("pull-in of dense stitching: sew the outline before")}, say.Text{}},
		{CheckLoops, Front, say.T("no loops"),
			[]say.Text{say.T("rethread the top with the foot up, thread in the discs"), say.T("bobbin seated and wound evenly"),
				say.T("clean the bobbin area"), say.T("a new needle")}, power},
		{CheckPuckers, Front, say.T("no puckers"),
			[]say.Text{say.T("hoop firmer next time, and do not stretch"), say.T("more stabilizer for so dense a design")},
			say.Text{}},
	}
	if r.Applique != "" {
		checks = append(checks,
			Check{CheckEdges, Front, say.T("raw edges hidden"),
				[]say.Text{say.T("trim 1 to 2 mm outside the tack-down, the hoop flat on the table"),
					say.T("snip what shows, with curved scissors")}, say.T("Trim off the machine: fingers away from the needle.")})
	}
	checks = append(checks,
		Check{CheckBack, Back, say.T("bobbin thread is the middle third of satin"),
			[]say.Text{say.T("bobbin on the front: rethread first, then lower the top tension by a tenth of the dial"),
				say.T("top loops on the back: rethread with the foot up")}, say.Text{}},
		Check{CheckJumps, Finish, say.T("jumps snipped"),
			[]say.Text{say.T("snip close on both sides, without nicking the cloth")}, say.Text{}},
	)
	if slices.ContainsFunc(r.Under, func(l Layer) bool { return l.What == CutAway || l.What == MeshCutAway }) {
		checks = append(checks,
			Check{CheckTrimmed, Finish, say.T("stabilizer trimmed to the house's margin"),
				[]say.Text{say.T("lift it away from the cloth, and cut round")}, say.Text{}})
	}
	if r.Over != nil {
		checks = append(checks,
			Check{CheckTopper, Finish, say.T("topper gone"),
				[]say.Text{say.T("tear the large parts off"), say.T("dab or spray water on the rest")}, say.Text{}})
	}
	return append(checks,
		Check{CheckMarks, Finish, say.T("marks gone"),
			[]say.Text{say.T("by the pen's own remedy: water, air or heat"),
				say.T("before you iron, see that the iron does not set a water-erase mark")},
			say.T("Iron: hot, on a pad, never on a machine.")})
}

// Inspection is what is looked at, a line for each side.
func (r Recipe) Inspection() []say.Text {
	var lines []say.Text
	for _, side := range Sides {
		var good say.List
		for _, c := range r.Checks() {
			if c.Side == side {
				good = append(good, c.Good)
			}
		}
		lines = append(lines, say.T("%s: %s", sides[side], good))
	}
	return lines
}
