package students

import (
	"fmt"
	"math"
	"slices"

	"chalkstep/app/people"
	"chalkstep/core/skill"
	"chalkstep/web/ui"
)

// A ladderView draws the ladder of a student: what comes first to the left, a line from
// each step to those that need it.
type ladderView struct {
	Width, Height float64
	Edges         []ladderEdge
	Nodes         []ladderNode
	// Marked tells that it is somebody's, with their marks.
	Marked bool
}

// An edge is solid where what it comes from is reached.
type ladderEdge struct {
	D       string
	Reached bool
}

type ladderNode struct {
	X, Y, TextY, MarkY float64
	Key                skill.Key
	Link               string
	Short, Title       string
	Level              skill.Level
	// Next tells that it can come next, Waits that something has to come before.
	Next, Waits bool
}

// Measures of the drawing, in pixels.
const (
	nodeWidth  = 112.0
	nodeHeight = 40.0
	acrossStep = 140.0
	downStep   = 52.0
	inset      = 4.0
)

// newLadderView draws a ladder; at gives where a press of a step leads.
func newLadderView(ladder skill.Ladder, rungs []people.Rung, at func(skill.Key) string) ladderView {
	depths, direct, rows := ladder.Depths(), ladder.Direct(), map[int]int{}
	places, reached := map[skill.Key]ladderNode{}, map[skill.Key]bool{}
	var v ladderView
	for _, rung := range rungs {
		depth := depths[rung.Key]
		n := ladderNode{X: inset + acrossStep*float64(depth), Y: inset + downStep*float64(rows[depth]), Key: rung.Key,
			Link: at(rung.Key), Short: string(rung.Short), Title: string(rung.Title)}
		rows[depth]++
		n.TextY, n.MarkY = n.Y+17, n.Y+30
		for _, on := range rung.Kinds {
			if n.Level.Less(on.Best) {
				n.Level = on.Best
			}
		}
		n.Next, n.Waits = !rung.Reached && len(rung.Waits) == 0, len(rung.Waits) > 0
		places[rung.Key], reached[rung.Key] = n, rung.Reached
		v.Nodes = append(v.Nodes, n)
		v.Width, v.Height = math.Max(v.Width, n.X+nodeWidth+inset), math.Max(v.Height, n.Y+nodeHeight+inset)
		for _, before := range direct[rung.Key] {
			from, bend := places[before], (acrossStep-nodeWidth)/2
			x1, y1, x2, y2 := from.X+nodeWidth, from.Y+nodeHeight/2, n.X, n.Y+nodeHeight/2
			v.Edges = append(v.Edges,
				ladderEdge{fmt.Sprintf("M%.0f %.0fC%.0f %.0f %.0f %.0f %.0f %.0f", x1, y1, x1+bend, y1, x2-bend, y2, x2, y2),
					reached[before]})
		}
	}
	return v
}

// A rungView is a step with what a student was marked at it.
type rungView struct {
	people.Rung
	Marks []markLine
}

// A markLine is a mark as the student's page says it: the same on several kinds of machine is one.
type markLine struct {
	Level skill.Level
	Text  string
	Note  string
	On    []markOn
}

// A markOn is a mark on a kind of machine.
type markOn struct {
	ID      int64
	Kind    skill.Kind
	Slipped bool
	// Photo tells that there is one.
	Photo bool
}

func rungsOf(p ui.P, page people.StudentPage) []rungView {
	var all []rungView
	for _, rung := range page.Rungs {
		v := rungView{Rung: rung}
		for _, on := range rung.Kinds {
			for i, m := range on.Marks {
				one := markOn{m.ID, m.On, i == 0 && on.Slipped(), m.HasPhoto}
				text := fmt.Sprintf("%s, %s, %s", p.Say(m.Level.Text()), p.Date(m.Date), m.Assessor)
				same := slices.IndexFunc(v.Marks, func(l markLine) bool {
					return l.Text == text && l.Note == m.Note &&
						!slices.ContainsFunc(l.On, func(o markOn) bool { return o.Kind == m.On })
				})
				if same >= 0 {
					v.Marks[same].On = append(v.Marks[same].On, one)
					continue
				}
				v.Marks = append(v.Marks, markLine{m.Level, text, m.Note, []markOn{one}})
			}
		}
		all = append(all, v)
	}
	return all
}
