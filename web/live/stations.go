package live

import (
	"fmt"

	"github.com/gofiber/fiber/v3"

	app "chalkstep/app/live"
	"chalkstep/web/classhead"
	"chalkstep/web/guard"
	"chalkstep/web/ui"
)

// A stationsView is the codes of the phones beside the machines.
type stationsView struct {
	ID    int64
	Name  string
	Links []stationLink
}

type stationLink struct {
	MachineID  int64
	Name, Link string
	// Code is a part of the address of the picture that changes with the link.
	Code string
}

func showStations(c fiber.Ctx, d app.UseCases, id int64) error {
	class, links, err := d.Stations(id)
	if err != nil {
		return err
	}
	v := stationsView{ID: id, Name: class.Name}
	for _, l := range links {
		v.Links = append(v.Links, stationLink{l.MachineID, l.Name, app.StationPath + l.Token, l.Token[len(l.Token)-6:]})
	}
	ui.Fresh(c)
	c.Set(fiber.HeaderCacheControl, "no-store")
	return ui.Render(c, "live/stations", classhead.Area, class.Name, fiber.Map{"View": v, "Base": guard.Base(c)})
}

func stationCode(c fiber.Ctx, d app.UseCases, id int64) error {
	code, err := d.StationCode(id, ui.Number(c.Params("machine")), guard.Base(c))
	if err != nil {
		return err
	}
	c.Set(fiber.HeaderContentType, "image/png")
	c.Set(fiber.HeaderCacheControl, "no-store")
	return c.Send(code)
}

func renewStations(c fiber.Ctx, d app.UseCases, id int64) error {
	if err := d.RenewStations(id); err != nil {
		return err
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/classes/%d/stations", id))
}
