package students

import (
	"fmt"
	"html/template"
	"net/url"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/people"
	"chalkstep/core/say"
	"chalkstep/core/skill"
	"chalkstep/web/ui"
)

// A matrixView is who can do what: students by steps, in the marks of the ladder.
type matrixView struct {
	Answer, Shown string
	Stuck         []stuckLine
	On            skill.Kind
	// OtherKind is the address of the same on the Other kind of machine.
	OtherKind string
	Other     skill.Kind
	Step      skill.Key
	Title     say.Word
	LookFor   say.Word
	Steps     []matrixStep
	Rows      []matrixRow
	Levels    []levelChoice
	More      template.URL
}

type stuckLine struct {
	ID   int64
	Key  skill.Key
	Text string
}

type matrixStep struct {
	Short, Title string
	Link         string
	Here         bool
}

type matrixRow struct {
	ID    int64
	Name  string
	Cells []matrixCell
}

// A matrixCell is how a student stands at a step.
type matrixCell struct {
	Level skill.Level
	// Says is that in words, Title the last mark, empty for none.
	Says, Title         string
	Here, Ready, Ticked bool
}

type levelChoice struct {
	Value skill.Level
	Text  string
	Digit int
}

func matrix(c fiber.Ctx, d people.UseCases, problems *ui.Refused) error {
	get := func(name string) string { // a form that came back brings where it was pressed
		if c.Method() == fiber.MethodPost {
			return c.FormValue(name)
		}
		return c.Query(name)
	}
	key := get("step")
	if key == "" && c.Method() == fiber.MethodPost {
		key = c.FormValue("skill")
	}
	page, err := d.Matrix(get("words"), ui.Small(get("page")), ui.Number(get("class")), skill.Kind(get("kind")),
		skill.Key(key))
	if err != nil {
		return err
	}
	v := newMatrixView(ui.P{Printer: d.Printer()}, page)
	ticked := ui.Numbers(c, "student")
	for i := range v.Rows {
		for j := range v.Rows[i].Cells {
			v.Rows[i].Cells[j].Ticked = v.Rows[i].Cells[j].Here && slices.Contains(ticked, v.Rows[i].ID)
		}
	}
	return ui.Render(c, "students/matrix", area, "Who can do what",
		fiber.Map{"View": v, "Pages": page.Pages, "Class": page.Class, "ClassID": page.ClassID, "Note": c.FormValue("note"),
			"Problems": problems})
}

// mark writes down how those who are ticked did a step.
func mark(c fiber.Ctx, d people.UseCases) error {
	var in people.MarkInput
	if err := ui.Bind(c, &in); err != nil {
		return err
	}
	var err error
	if _, in.Photo, err = ui.Upload(c, "photo"); err != nil {
		return err
	}
	if err := d.Mark(in); err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error {
			if one := ui.Number(c.FormValue("at")); one != 0 {
				return show(c, d, one, p)
			}
			return matrix(c, d, p)
		})
	}
	if one := ui.Number(c.FormValue("at")); one != 0 {
		return c.Redirect().Status(fiber.StatusSeeOther).To(
			fmt.Sprintf("/students/%d#%s", one, url.PathEscape(string(in.Skill))))
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(matrixAddress(in.On, in.Skill, c.FormValue("words"),
		ui.Small(c.FormValue("page")), ui.Number(c.FormValue("class"))))
}

func matrixAddress(on skill.Kind, step skill.Key, words string, page int, classID int64) string {
	q := url.Values{"kind": {string(on)}, "step": {string(step)}}
	if words != "" {
		q.Set("words", words)
	}
	if page > 1 {
		q.Set("page", fmt.Sprint(page))
	}
	if classID != 0 {
		q.Set("class", fmt.Sprint(classID))
	}
	return "/students/matrix?" + q.Encode()
}

func newMatrixView(p ui.P, page people.MatrixPage) matrixView {
	v := matrixView{On: page.On, Step: page.Step.Key, Title: page.Step.Title, LookFor: page.Step.LookFor,
		Shown: fmt.Sprintf("%s of %s", p.Count(len(page.Group)), p.N(page.Pages.Total, "student"))}
	v.Other = skill.Kinds[(slices.Index(skill.Kinds, page.On)+1)%len(skill.Kinds)]
	v.OtherKind = matrixAddress(v.Other, page.Step.Key, page.Pages.Words, page.Pages.Page, page.ClassID)
	v.More = template.URL("&" + url.Values{"kind": {string(page.On)}, "step": {string(page.Step.Key)}}.Encode())
	v.Answer = matrixAnswer(p, page)
	v.Stuck = stuckLines(page.Stuck)
	for _, step := range page.Ladder.Steps() {
		v.Steps = append(v.Steps,
			matrixStep{string(step.Short), string(step.Title),
				matrixAddress(page.On, step.Key, page.Pages.Words, page.Pages.Page, page.ClassID), step.Key == page.Step.Key})
	}
	for _, r := range page.Group {
		row := matrixRow{ID: r.ID, Name: r.Name}
		for _, step := range page.Ladder.Steps() {
			row.Cells = append(row.Cells, newMatrixCell(p, r, step, page))
		}
		v.Rows = append(v.Rows, row)
	}
	v.Levels = levelChoices(p)
	return v
}

// stuckLines say who is stuck at what.
func stuckLines(all []skill.Stuck) []stuckLine {
	var lines []stuckLine
	for _, s := range all {
		lines = append(lines,
			stuckLine{s.ID, s.Step.Key,
				fmt.Sprintf("%s has tried “%s” %d times and not done it alone.", s.Name, ui.Lowered(s.Step.Title),
					s.Standing.N)})
	}
	return lines
}

// levelChoices are the levels with the keys that say them.
func levelChoices(p ui.P) []levelChoice {
	var all []levelChoice
	for i, l := range skill.Levels {
		all = append(all, levelChoice{l, p.Say(l.Text()), i + 1})
	}
	return all
}

func newMatrixCell(p ui.P, r skill.Record, step skill.Step, page people.MatrixPage) matrixCell {
	s := r.Standings[step.Key]
	cell := matrixCell{Level: s.Best, Says: p.Say(s.Best.Text()), Here: step.Key == page.Step.Key,
		Ready: step.Key == page.Step.Key && r.Ready(page.Ladder, step)}
	if s.N > 0 {
		cell.Title = fmt.Sprintf("last %s, %s, %s", p.Say(s.Last.Level.Text()), p.Date(s.Last.Date), s.Last.Assessor)
	}
	return cell
}

// matrixAnswer says for whom the step that is looked at can come next, and who can show it.
func matrixAnswer(p ui.P, page people.MatrixPage) string {
	title := ui.Lowered(page.Step.Title)
	if len(page.Group) == 0 {
		return "No students to look at yet."
	}
	answer := fmt.Sprintf("Nobody is ready for “%s” next.", title)
	if n := len(page.Ready); n > 0 {
		verb := "are"
		if n == 1 {
			verb = "is"
		}
		answer = fmt.Sprintf("%s %s ready for “%s”.", p.N(n, "student"), verb, title)
	}
	var names say.List
	for _, r := range page.Teachers {
		names = append(names, say.Name(r.Name))
	}
	const few = 3
	switch n := len(names); {
	case n > few:
		answer += fmt.Sprintf(" %d of them can teach it.", n)
		if n != 0 && len(page.Ready) == 0 {
			answer = strings.Replace(answer, "of them", "students", 1)
		}
	case n > 0:
		answer += fmt.Sprintf(" %s can teach it.", p.Say(say.T("%s", names)))
	}
	return answer
}
