package projects

import (
	"fmt"
	"iter"
	"math"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/projects"
	"chalkstep/core/project"
	"chalkstep/core/say"
	"chalkstep/core/stitch"
	"chalkstep/core/thread"
	"chalkstep/web/ui"
)

// typedThreads are the threads of a form: "thread-0-3" is the third stop of the
// first hooping.
func typedThreads(args iter.Seq2[[]byte, []byte]) map[project.Thread]string {
	typed := map[project.Thread]string{}
	for name, value := range args {
		rest, is := strings.CutPrefix(string(name), "thread-")
		hooping, stop, whole := strings.Cut(rest, "-")
		if !is || !whole || len(typed) > 10*projects.MostThreadRows {
			continue
		}
		typed[project.Thread{Hooping: ui.Small(hooping), Stop: ui.Small(stop)}] = string(value)
	}
	return typed
}

func threads(c fiber.Ctx, d projects.UseCases, id int64, typed map[project.Thread]string,
	problems *ui.Refused) error {
	page, _, err := d.Threads(id, typed)
	if err != nil {
		return err
	}
	p := ui.P{Printer: d.Printer()}
	return ui.Render(c, "projects/threads", area, page.Name,
		fiber.Map{"Page": page, "View": newThreadsView(p, page), "Problems": problems})
}

// tryThreads answers with the threads as they would be, and keeps nothing.
func tryThreads(c fiber.Ctx, d projects.UseCases, id int64) error {
	page, problems, err := d.Threads(id, typedThreads(c.RequestCtx().QueryArgs().All()))
	if err != nil {
		return err
	}
	c.Set(fiber.HeaderCacheControl, "no-store")
	p := ui.P{Printer: d.Printer()}
	return c.Render("projects/threads-tried",
		fiber.Map{"Page": page, "View": newThreadsView(p, page), "Problems": ui.RefusedFor(problems), "P": p})
}

func saveThreads(c fiber.Ctx, d projects.UseCases, id int64) error {
	typed := typedThreads(c.RequestCtx().PostArgs().All())
	if err := d.SaveThreads(id, ui.Small(c.FormValue("version")), typed); err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error { return threads(c, d, id, typed, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/projects/%d", id))
}

// A threadsView is what the threads come to, and the drawings in them.
type threadsView struct {
	Answer, Than string
	Sheets       []threadSheet
	Needs        []threadNeed
	Choices      []threadChoice
}

type threadSheet struct {
	projects.ThreadSheet
	Drawing string
	Rows    []threadRow
}

type threadRow struct {
	projects.ThreadRow
	Field, Color, Library string
	// Value is the colour that is chosen, empty for the library's.
	Value string
	// Other tells that what is chosen is not on the shelf any more.
	Other bool
	First bool
}

type threadChoice struct{ Color, Name string }

type threadNeed struct {
	Color, Name, Much string
	There             bool
}

func newThreadsView(p ui.P, page projects.ThreadsPage) threadsView {
	v := threadsView{Answer: p.Say(say.T("%s, %s of sewing", say.N{N: page.Changes, Noun: "thread change"},
		say.Minutes(page.Minutes)))}
	if fewer, sooner := page.WasChanges-page.Changes, math.Round(page.WasMinutes-page.Minutes); fewer != 0 || sooner != 0 {
		v.Than = p.Say(say.T("before it was %s, %s", say.N{N: page.WasChanges, Noun: "thread change"},
			say.Minutes(page.WasMinutes)))
	}
	for _, key := range page.Shelf {
		v.Choices = append(v.Choices, threadChoice{key.Color.String(), page.Spool(key)})
	}
	for _, s := range page.Sheets {
		sheet := threadSheet{ThreadSheet: s}
		var tried []string
		for i, r := range s.Rows {
			row := threadRow{ThreadRow: r, First: i == 0, Field: fmt.Sprintf("thread-%d-%d", s.Hooping, r.N),
				Color: r.Color.String(), Library: p.Say(say.Word(thread.Name(r.Library)))}
			if r.Chosen {
				row.Value, row.Other = row.Color, true
				for _, choice := range v.Choices {
					row.Other = row.Other && choice.Color != row.Color
				}
			}
			tried = append(tried, strconv.Itoa(r.N)+"-"+strings.TrimPrefix(row.Color, "#"))
			sheet.Rows = append(sheet.Rows, row)
		}
		sheet.Drawing = fmt.Sprintf("/projects/%d/drawing?v=%d&hooping=%d&with=%s", page.ID, page.Version, s.Hooping,
			strings.Join(tried, "."))
		v.Sheets = append(v.Sheets, sheet)
	}
	for _, n := range page.Needs {
		v.Needs = append(v.Needs, threadNeed{n.Key.Color.String(), page.Spool(n.Key), p.Say(say.Thread(n.MM)), n.There})
	}
	return v
}

// drawing sends a hooping of a project in the threads that are taken for it.
func drawing(c fiber.Ctx, d projects.UseCases, id int64) error {
	tried := map[int]stitch.RGB{}
	for _, s := range ui.Seen(c.Query("with")) {
		tried[s.Stop] = s.Color
	}
	made, err := d.Drawing(id, max(0, ui.Small(c.Query("hooping"))), tried)
	if err != nil {
		return err
	}
	return ui.Picture(c, made.MediaType, made.Data)
}
