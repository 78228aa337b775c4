package settings

import (
	"github.com/gofiber/fiber/v3"

	"chalkstep/app/form"
	"chalkstep/app/people"
	"chalkstep/web/guard"
	"chalkstep/web/ui"
)

// peopleRoutes are who may sign in, and one's own page.
func peopleRoutes(f *fiber.App) {
	f.Get("/settings/people", ui.With(func(c fiber.Ctx, d people.UseCases) error {
		return showPeople(c, d, people.PersonInput{}, nil)
	}))
	f.Post("/settings/people", ui.With(addPerson))
	f.Post("/settings/people/:id/remove",
		ui.WithID(func(c fiber.Ctx, d people.UseCases, id int64) error { return backToPeople(c, d, d.RemovePerson(id)) }))
	f.Post("/settings/people/:id/sign-out",
		ui.WithID(func(c fiber.Ctx, d people.UseCases, id int64) error { return backToPeople(c, d, d.EndSessionsOf(id)) }))
	f.Post("/settings/people/:id/password", ui.WithID(func(c fiber.Ctx, d people.UseCases, id int64) error {
		return backToPeople(c, d, d.SetPasswordOf(c.Context(), id, c.FormValue("password")))
	}))
	f.Post("/settings/people/:id/invite", ui.WithID(invite))
	f.Get("/settings/own", ui.With(func(c fiber.Ctx, d people.UseCases) error { return own(c, d, nil) }))
	f.Post("/settings/own/password", ui.With(func(c fiber.Ctx, d people.UseCases) error {
		return backToOwn(c, d, d.ChangePassword(c.Context(), c.FormValue("old"), c.FormValue("new")))
	}))
	f.Post("/settings/own/units", ui.With(func(c fiber.Ctx, d people.UseCases) error {
		return backToOwn(c, d, d.SaveUnits(c.FormValue("units"), c.FormValue("clock")))
	}))
	f.Post("/settings/own/sign-out",
		ui.With(func(c fiber.Ctx, d people.UseCases) error { return backToOwn(c, d, d.EndOtherSessions()) }))
}

func showPeople(c fiber.Ctx, d people.UseCases, typed people.PersonInput, problems *ui.Refused) error {
	ui.Fresh(c) // it counts sessions
	page, err := d.People()
	if err != nil {
		return err
	}
	return ui.Render(c, "settings/people", area, "People",
		fiber.Map{"Page": page, "Typed": typed, "Part": "people", "Problems": problems})
}

func addPerson(c fiber.Ctx, d people.UseCases) error {
	var in people.PersonInput
	if err := ui.Bind(c, &in); err != nil {
		return err
	}
	token, err := d.AddPerson(c.Context(), in)
	if err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error { return showPeople(c, d, in, p) })
	}
	if token != "" {
		return showInvite(c, in.Name, token)
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/settings/people")
}

func backToPeople(c fiber.Ctx, d people.UseCases, err error) error {
	if err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error { return showPeople(c, d, people.PersonInput{}, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/settings/people")
}

func own(c fiber.Ctx, d people.UseCases, problems *ui.Refused) error {
	ui.Fresh(c) // it lists sessions
	page, err := d.Own()
	if err != nil {
		return err
	}
	return ui.Render(c, "settings/own", area, page.Name,
		fiber.Map{"Page": page, "Part": "own", "Units": form.UnitChoices, "Clocks": form.ClockChoices, "UnitNames": unitNames,
			"ClockNames": clockNames, "Changed": c.Query("changed") != "", "Problems": problems})
}

func backToOwn(c fiber.Ctx, d people.UseCases, err error) error {
	if err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error { return own(c, d, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/settings/own?changed=yes")
}

// invite makes a link for somebody who has forgotten their password.
func invite(c fiber.Ctx, d people.UseCases, id int64) error {
	token, err := d.InvitePerson(id)
	if err != nil {
		return backToPeople(c, d, err)
	}
	return showInvite(c, "", token)
}

// showInvite shows a link, which is known now and never again.
func showInvite(c fiber.Ctx, name, token string) error {
	c.Set(fiber.HeaderCacheControl, "no-store")
	return ui.Render(c, "settings/invite", area, "A link",
		fiber.Map{"Name": name, "Address": guard.Base(c) + "/welcome/" + token, "Part": "people"})
}
