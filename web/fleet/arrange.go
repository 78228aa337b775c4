package fleet

import (
	"fmt"

	"github.com/gofiber/fiber/v3"

	app "chalkstep/app/fleet"
	"chalkstep/core/fleet"
	"chalkstep/web/ui"
)

// A roomView is where the machines stand, as a board of a class shows them.
type roomView struct {
	Answer   string
	Places   []int
	Machines []standing
}

type standing struct {
	ID    int64
	Name  string
	Place string
}

func arrange(c fiber.Ctx, d app.UseCases, problems *ui.Refused) error {
	page, err := d.Machines()
	if err != nil {
		return err
	}
	v := roomView{Answer: "Where do the machines stand?"}
	placed := 0
	for _, m := range page.Machines {
		s := standing{ID: m.ID, Name: m.Name}
		if m.Place > 0 {
			placed++
			s.Place = fmt.Sprint(m.Place)
		}
		if typed := c.FormValue(fmt.Sprintf("place-%d", m.ID)); problems != nil {
			s.Place = typed
		}
		v.Machines = append(v.Machines, s)
	}
	if placed > 0 {
		v.Answer = fmt.Sprintf("%d of %d machines have their place in the room.", placed, len(page.Machines))
	}
	for n := range fleet.Places {
		v.Places = append(v.Places, n+1)
	}
	return ui.Render(c, "fleet/room", area, "The room", fiber.Map{"View": v, "Problems": problems})
}

func saveRoom(c fiber.Ctx, d app.UseCases) error {
	typed := map[int64]string{}
	for _, id := range ui.Numbers(c, "machine") {
		typed[id] = c.FormValue(fmt.Sprintf("place-%d", id))
	}
	if err := d.Arrange(typed); err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error { return arrange(c, d, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/machines/room")
}
