package students

import (
	"fmt"

	"chalkstep/app/people"
	"chalkstep/core/say"
	"chalkstep/web/ui"
)

// A recordView is what somebody made, how fast they are, and what machines they have.
type recordView struct {
	Made           []madeLine
	Pace, PaceNote string
	Times          []timeLine
}

type madeLine struct {
	ClassID              int64
	Project, Class, When string
	// State is what became of it, Good that it is finished and nothing is to be put right.
	State string
	Good  bool
	Note  string
	// Photo is where one is, empty for none.
	Photo string
}

type timeLine struct {
	Text, Link string
	Waits      bool
}

func newRecordView(p ui.P, page people.StudentPage) recordView {
	v := recordView{Pace: "as planned", PaceNote: "nothing of theirs was timed yet"}
	for _, m := range page.Made {
		line := madeLine{ClassID: m.ClassID, Project: m.Project, Class: m.Class, When: p.Date(m.At), State: "begun",
			Note: m.Note}
		switch {
		case m.ToPutRight > 0:
			line.State = p.N(m.ToPutRight, "thing") + " to put right"
		case m.Finished && m.Inspected:
			line.State, line.Good = "finished, inspected", true
		case m.Finished:
			line.State, line.Good = "finished", true
		case m.Missed:
			line.State = "did not come"
		}
		if m.HasPhoto {
			line.Photo = fmt.Sprintf("/classes/%d/wrap/%d/photo?v=%d", m.ClassID, page.ID, m.Version)
		}
		v.Made = append(v.Made, line)
	}
	if f := page.Pace; f.N > 0 {
		v.Pace = p.Say(say.T("%s × what is planned", say.Decimal{Value: f.Factor, Places: 2}))
		v.PaceNote = "learned from " + p.N(f.N, "step")
		if f.Aside != "" {
			v.PaceNote += ", set aside: " + f.Aside
		}
	}
	for _, b := range page.Bookings {
		line := timeLine{Text: p.When(b.StartsAt, b.EndsAt) + ", " + b.Machine.Name,
			Link: "/machines/bookings?week=" + b.StartsAt.In(p.Zone).Format("2006-01-02")}
		if b.Class != nil {
			line.Text = p.When(b.StartsAt, b.EndsAt) + ", " + b.Class.Name
			line.Link = fmt.Sprintf("/classes/%d", b.Class.ID)
		}
		v.Times = append(v.Times, line)
	}
	for _, x := range page.Waits {
		v.Times = append(v.Times,
			timeLine{p.When(x.StartsAt, x.EndsAt) + ", " + x.Machine.Name,
				"/machines/bookings?week=" + x.StartsAt.In(p.Zone).Format("2006-01-02"), true})
	}
	return v
}
