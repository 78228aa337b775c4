package live

import (
	"fmt"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/classload"
	app "chalkstep/app/live"
	"chalkstep/core/classday"
	"chalkstep/core/live"
	"chalkstep/web/classhead"
	"chalkstep/web/ui"
)

func showBig(c fiber.Ctx, d app.UseCases, id int64) error {
	page, err := d.Run(id)
	if err != nil {
		return err
	}
	return ui.Render(c, "live/big", classhead.Area, page.Plan.Class.Name, fiber.Map{"View": newBigView(d, page)})
}

// A bigView is what students read from across the room: who is where, who is next and
// when. What is said of anybody is not on it.
type bigView struct {
	ID        int64
	Name, Now string
	Answer    string
	Machines  []bigMachine
	Benches   []string
}

type bigMachine struct {
	Name, Who string
	Next      []string
}

// mostNext are named at each machine.
const mostNext = 2

func newBigView(d app.UseCases, page classload.RunPage) bigView {
	p, plan := ui.P{Printer: d.Printer()}, page.Plan
	v := bigView{ID: plan.Class.ID, Name: plan.Class.Name, Now: p.Clock(page.Now)}
	if !page.Running() {
		v.Answer = fmt.Sprintf("We begin at %s.", p.Clock(plan.Class.StartsAt))
		return v
	}
	v.Answer = fmt.Sprintf("We end at %s.", p.Clock(plan.Class.EndsAt))
	if at, ended := page.Ended(); ended {
		v.Answer = fmt.Sprintf("We ended at %s.", p.Clock(at))
		return v
	} else if page.Left && len(page.Forecast.Stuck)+len(page.Forecast.Late(page.State)) == 0 {
		v.Answer = fmt.Sprintf("Everyone is done by %s. We end at %s.", p.Clock(page.Forecast.Finish),
			p.Clock(plan.Class.EndsAt))
	}
	seated := map[int64]bool{}
	for _, m := range plan.Class.Machines {
		big := bigMachine{Name: m.Name}
		if at, taken := page.At(classday.StationID(m.ID)); taken {
			big.Who, seated[at.StudentID] = at.Name, true
		}
		if !page.Out[classday.StationID(m.ID)].IsZero() {
			big.Who = "out of order"
		}
		sittings := page.Forecast.Sittings(page.State, classday.StationID(m.ID))
		for _, next := range sittings[:min(len(sittings), mostNext)] {
			big.Next = append(big.Next, fmt.Sprintf("%s %s", p.Clock(next.At), next.Name))
		}
		v.Machines = append(v.Machines, big)
	}
	for _, at := range page.Standings {
		if at.Presence == live.Present && !seated[at.StudentID] && !at.Finished() {
			v.Benches = append(v.Benches, at.Name)
		}
	}
	return v
}
