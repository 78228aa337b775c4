package planning

import (
	"fmt"
	"math"
	"slices"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/actor"
	app "chalkstep/app/planning"
	"chalkstep/core/classday"
	"chalkstep/core/say"
	"chalkstep/web/classhead"
	"chalkstep/web/ui"
)

// A leverView is what would help, as a page shows it.
type leverView struct {
	Key, Name, Cost, Because, Finish, Odds string
	// Sooner is how much sooner than now, empty where it is not.
	Sooner string
	// Surely tells that it fits even where a day goes badly.
	Surely, Fits, Adopts, Picked, Impossible bool
}

// A leversView is what would help a class.
type leversView struct {
	ID, Version int64
	Each        []leverView
	Together    *leverView
	// Answer is the best of them, Best why that one is.
	Answer, Best     string
	MayChange        bool
	Fits, Over, None bool
}

func newLeversView(d app.UseCases, page app.LeversPage) leversView {
	p := ui.P{Printer: d.Printer()}
	v := leversView{ID: page.Plan.Class.ID, Version: int64(page.Plan.Class.Version),
		MayChange: d.Who.May(actor.ChangeClasses), Fits: page.Plan.Planned() && page.Plan.Result.Fits}
	view := func(l classday.Lever) leverView {
		out := leverView{
			Key: string(l.Key), Name: p.Sentence(l.Name), Cost: p.Say(l.Cost), Because: p.Sentence(l.Because),
			Surely: l.Surely(), Fits: l.Fits, Adopts: l.Adopts, Picked: slices.Contains(page.Picked, l.Key),
			Impossible: math.IsInf(l.FinishMinutes, 1),
		}
		if !out.Impossible {
			out.Finish = p.Clock(page.Plan.FinishOf(l))
			if l.SoonerMinutes >= 1 {
				out.Sooner = "−" + p.Minutes(math.Floor(l.SoonerMinutes))
			}
			out.Odds = p.Say(say.Percent(math.Floor(100 * l.FitsShare)))
		}
		return out
	}
	for _, l := range page.Each {
		v.Each = append(v.Each, view(l))
	}
	if page.Together != nil {
		all := view(*page.Together)
		v.Together = &all
	}
	v.None = len(v.Each) == 0
	answer, best := leversAnswer(page)
	v.Answer, v.Best = p.Say(answer), p.Say(best)
	return v
}

// leversAnswer is what would help most of what a press can do, or of all, and which of both.
func leversAnswer(page app.LeversPage) (answer, best say.Text) {
	help := say.T("That helps most of what one press does.")
	at := slices.IndexFunc(page.Each, func(l classday.Lever) bool { return l.Adopts && l.Fits })
	if at < 0 && len(page.Each) > 0 {
		at, help = 0, say.T("That would help most.")
	}
	if at < 0 || math.IsInf(page.Each[at].FinishMinutes, 1) {
		return say.T("Nothing of the room would end %s sooner.", page.Plan.Class.Name), say.Text{}
	}
	l := page.Each[at]
	return say.T("%s: everyone of %s done by %s.", l.Name, page.Plan.Class.Name, say.Clock(page.Plan.FinishOf(l))), help
}

// levers answers with what would help a class: a part of its page, or a page of
// its own where there are no scripts.
func levers(c fiber.Ctx, d app.UseCases, id int64) error {
	page, err := d.Levers(id, ticked(c))
	if err != nil {
		return err
	}
	data := fiber.Map{"Levers": newLeversView(d, page), "P": ui.P{Printer: d.Printer()}, "Problems": (*ui.Refused)(nil)}
	if c.Get("HX-Request") != "" {
		c.Set(fiber.HeaderCacheControl, "no-store")
		return c.Render("planning/levers", data)
	}
	return ui.Render(c, "planning/levers-page", classhead.Area, page.Plan.Class.Name, data)
}

// adopted are the levers a form asks for: one by its button, or those that are ticked.
func adopted(c fiber.Ctx) []classday.LeverKey {
	if one := c.FormValue("adopt"); one != "" && one != "ticked" {
		return []classday.LeverKey{classday.LeverKey(one)}
	}
	return ticked(c)
}

// ticked are the levers that are ticked.
func ticked(c fiber.Ctx) []classday.LeverKey {
	var keys []classday.LeverKey
	for _, key := range ui.All(c, "lever") {
		keys = append(keys, classday.LeverKey(key))
	}
	return keys
}

// adopt changes a class by levers.
func adopt(c fiber.Ctx, d app.UseCases, id int64) error {
	if err := d.Adopt(id, ui.Small(c.FormValue("version")), adopted(c)); err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error {
			page, err := d.Levers(id, ticked(c))
			if err != nil {
				return err
			}
			return ui.Render(c, "planning/levers-page", classhead.Area, page.Plan.Class.Name,
				fiber.Map{"Levers": newLeversView(d, page), "Problems": p})
		})
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/classes/%d", id))
}
