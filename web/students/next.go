package students

import (
	"fmt"
	"html/template"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/people"
	"chalkstep/core/project"
	"chalkstep/core/say"
	"chalkstep/core/skill"
	"chalkstep/web/ui"
)

// A nextView says which project suits most of a group, and what each should do next.
type nextView struct {
	Answer, Note string
	Offers       []offerRow
	Students     []nextRow
	Stuck        []stuckLine
	More         string
}

// An offerRow is a project, and whom it suits; Others are those whom it teaches nothing new.
type offerRow struct {
	ID                       int64
	Name, Why                string
	Suits                    int
	Ready, Few, Early, Known string
}

type nextRow struct {
	ID               int64
	Name, Step, Look string
	Project          string
	ProjectID        int64
	Says             string
	Ready            bool
}

func showNext(c fiber.Ctx, d people.UseCases) error {
	page, err := d.Next(c.Query("words"), ui.Page(c), ui.Number(c.Query("class")))
	if err != nil {
		return err
	}
	return ui.Render(c, "students/next", area, "What next",
		fiber.Map{"View": newNextView(ui.P{Printer: d.Printer()}, page), "Page": page, "Pages": page.Pages,
			"More": classQuery(page.ClassID)})
}

// mostOfferRows projects are shown: the best for the group.
const mostOfferRows = 12

func newNextView(p ui.P, page people.NextPage) nextView {
	v := nextView{Answer: "No students to look at yet."}
	names := map[int64]string{}
	for _, s := range page.Students {
		names[s.ID] = s.Name
	}
	for i, o := range page.Offers {
		if i == mostOfferRows {
			break
		}
		v.Offers = append(v.Offers, newOfferRow(p, o, names))
	}
	if len(page.Students) > 0 && len(page.Offers) > 0 {
		best := page.Offers[0]
		suits, ready := best.Counts()
		v.Answer = fmt.Sprintf("%s suits most: %d of %s.", best.Project.Name, suits, p.N(len(page.Students), "student"))
		v.Note = fmt.Sprintf("It teaches each of them one to four new steps. %s ready for it without help.",
			countAre(p, ready))
		if suits == 0 {
			v.Answer, v.Note = "No project suits them just now.",
				"What they can reach, they know; the rest comes too early. See what each should do next."
		}
	}
	for _, s := range page.Students {
		row := nextRow{ID: s.ID, Name: s.Name, Step: "top of the ladder"}
		if !s.Top {
			row.Step, row.Look = string(s.Next.Title), string(s.Next.LookFor)
		}
		if o, suit, ok := project.Best(page.Offers, s.ID); ok {
			row.Project, row.ProjectID, row.Ready = o.Project.Name, o.Project.ID, suit.Ready()
			row.Says = suitSays(p, suit)
		}
		v.Students = append(v.Students, row)
	}
	v.Stuck = stuckLines(page.Stuck)
	if page.More > 0 {
		v.More = fmt.Sprintf("%s more are not looked at.", p.N(page.More, "project"))
	}
	return v
}

// countAre is so many of them, with its verb.
func countAre(p ui.P, n int) string {
	if n == 1 {
		return "1 is"
	}
	return p.Count(n) + " are"
}

// suitSays tells what somebody misses for a project, or learns by it.
func suitSays(p ui.P, s project.Suit) string {
	if s.Ready() {
		return p.Say(say.T("ready; new: %s", skill.Titles(s.New)))
	}
	return p.Say(say.T("with help at: %s", skill.Titles(s.Missing)))
}

func newOfferRow(p ui.P, o project.Offer, names map[int64]string) offerRow {
	row := offerRow{ID: o.Project.ID, Name: o.Project.Name, Why: p.Say(o.Why)}
	row.Suits, _ = o.Counts()
	var ready, few, early, known say.List
	for _, s := range o.Suits {
		name := say.Name(names[s.StudentID])
		switch {
		case s.Early():
			early = append(early, say.T("%s (%s)", name, say.N{N: len(s.Missing), Noun: "step"}))
		case !s.Ready():
			few = append(few, say.T("%s (%s)", name, shorts(s.Missing)))
		case s.Suits():
			ready = append(ready, name)
		default:
			known = append(known, name)
		}
	}
	row.Ready, row.Few, row.Early, row.Known = p.Say(ready), p.Say(few), p.Say(early), p.Say(known)
	return row
}

// shorts are the short names of steps.
func shorts(steps []skill.Step) say.List {
	var names say.List
	for _, s := range steps {
		names = append(names, say.Name(ui.Lowered(s.Short)))
	}
	return names
}

// classQuery keeps the class of a list in the addresses of its pages.
func classQuery(classID int64) template.URL {
	if classID == 0 {
		return ""
	}
	return template.URL(fmt.Sprintf("&class=%d", classID))
}
