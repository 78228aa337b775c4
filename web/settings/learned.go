package settings

import (
	"fmt"
	"math"
	"strings"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/actor"
	"chalkstep/app/people"
	"chalkstep/core/pace"
	"chalkstep/web/ui"
)

// learnedRoutes are what classes taught.
func learnedRoutes(f *fiber.App) {
	f.Get("/settings/learned",
		ui.With(func(c fiber.Ctx, d people.UseCases) error { return learned(c, d, nil) }))
	f.Post("/settings/learned", ui.With(setAside))
}

func learned(c fiber.Ctx, d people.UseCases, problems *ui.Refused) error {
	page, err := d.Learned()
	if err != nil {
		return err
	}
	return ui.Render(c, "settings/learned", area, "What was learned",
		fiber.Map{"View": newLearnedView(ui.P{Printer: d.Printer()}, d, page), "Part": "learned", "Problems": problems})
}

// setAside sets a factor aside or uses it again; without one it learns now.
func setAside(c fiber.Ctx, d people.UseCases) error {
	err := d.LearnNow
	if of := c.FormValue("of"); of != "" {
		err = func() error {
			return d.SetAside(people.Of(of), c.FormValue("key"), c.FormValue("reason"), c.FormValue("again") != "")
		}
	}
	if err := err(); err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error { return learned(c, d, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/settings/learned")
}

// A learnedView is what classes taught, and how much closer estimates have come.
type learnedView struct {
	Answer, Note string
	May          bool
	Lines        []learnedLine
	Chart        *chart
}

type learnedLine struct {
	Of, Key, Name, Said, Real, By, Aside string
	N                                    int
	Slower                               bool
}

// A chart draws how far off estimates were, class by class: with nothing learned, and as
// planned.
type chart struct {
	Width, Height float64
	Said, Planned string
	Grid          []gridLine
	Points        []point
}

type gridLine struct {
	Y    float64
	Text string
}

type point struct {
	X, Said, Planned float64
	Title            string
}

// stepNames are the steps as the list says them.
var stepNames = map[pace.StepKey]string{
	pace.StepMark: "marking", pace.StepStabilise: "cutting the stabilizer", pace.StepHoop: "hooping",
	pace.StepLoad: "loading", pace.StepSew: "sewing", pace.StepUnhoop: "taking it out",
	pace.StepCleanUp: "cleaning up", pace.StepPress: "pressing", pace.StepSignOff: "signing off",
}

const slower = 1.1

func newLearnedView(p ui.P, d people.UseCases, page people.LearnedPage) learnedView {
	v := learnedView{May: d.Who.May(actor.SetHouse), Answer: "Nothing was learned yet.",
		Note: "What takes how long is learned from the classes that are run here, a little with each."}
	for _, l := range page.Lines {
		line := learnedLine{Of: string(l.Of), Key: l.Key, Name: l.Name, N: l.N, Aside: l.Aside,
			Slower: l.Factor.Factor >= slower, By: fmt.Sprintf("× %s", p.Say(fmt.Sprintf("%.2f", l.Factor.Factor)))}
		if l.Of == people.OfStep {
			name, known := stepNames[pace.StepKey(l.Key)]
			if !known {
				continue // a step of one project
			}
			line.Name = name
			if l.Said > 0 {
				line.Said, line.Real = p.Tenth(l.Said)+" min", p.Tenth(l.Said*l.Used())+" min"
			}
		}
		if l.Of == people.OfThread {
			line.Name = "what a length on the face draws"
			line.Said, line.Real = fmt.Sprintf("× %.2f", l.Said), fmt.Sprintf("× %.2f", l.Said*l.Used())
		}
		v.Lines = append(v.Lines, line)
	}
	if n := len(page.Classes); n > 0 {
		last := page.Classes[n-1]
		v.Answer = fmt.Sprintf("Estimates of the last class were off by %s.", percent(last.Planned))
		v.Note = "Nothing was learned before it: what it taught is planned with from the next class on."
		if last.Said != last.Planned {
			v.Note = fmt.Sprintf(
				"With nothing learned they would have been off by %s. It is the mean over all steps that were timed.",
				percent(last.Said))
		}
		v.Chart = newChart(p, page.Classes)
	}
	return v
}

func percent(share float64) string { return fmt.Sprintf("%.0f %%", math.Round(100*share)) }

// Measures of the chart, in pixels.
const (
	chartWidth  = 640.0
	chartHeight = 176.0
	chartLeft   = 48.0
	chartFoot   = 24.0
)

func newChart(p ui.P, classes []pace.Off) *chart {
	c := &chart{Width: chartWidth, Height: chartHeight}
	most := 0.2
	for _, o := range classes {
		most = math.Max(most, math.Max(o.Said, o.Planned))
	}
	most = math.Ceil(10*most) / 10
	y := func(share float64) float64 { return 8 + (chartHeight-chartFoot-8)*(1-share/most) }
	for _, share := range []float64{0, most / 2, most} {
		c.Grid = append(c.Grid, gridLine{y(share), percent(share)})
	}
	var said, planned []string
	for i, o := range classes {
		x := chartLeft + 16
		if len(classes) > 1 {
			x += (chartWidth - chartLeft - 32) * float64(i) / float64(len(classes)-1)
		}
		c.Points = append(c.Points,
			point{x, y(o.Said), y(o.Planned),
				fmt.Sprintf("%s, %s: off by %s as planned, %s with nothing learned", o.Class, p.Day(o.At), percent(o.Planned),
					percent(o.Said))})
		said = append(said, fmt.Sprintf("%.1f,%.1f", x, y(o.Said)))
		planned = append(planned, fmt.Sprintf("%.1f,%.1f", x, y(o.Planned)))
	}
	c.Said, c.Planned = strings.Join(said, " "), strings.Join(planned, " ")
	return c
}
