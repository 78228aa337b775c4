package projects

import (
	"fmt"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/projects"
	"chalkstep/core/say"
	"chalkstep/web/ui"
)

// testSays is how far a project was tested, in a sentence.
func testSays(p ui.P, page projects.ProjectPage) string {
	switch t := page.Tested; {
	case page.Gone():
		return ""
	case t.Now != nil && t.Now.WentWrong != "":
		return p.Say(say.T("Tested as it is now, on %s, %s: %s in %s.", t.Now.Machine, say.Date(t.Now.SewnOn),
			t.Now.WentWrong, say.Minutes(t.Now.Minutes)))
	case t.Now != nil:
		return p.Say(say.T("Tested as it is now, on %s, %s: nothing went wrong in %s.", t.Now.Machine, say.Date(t.Now.SewnOn),
			say.Minutes(t.Now.Minutes)))
	case t.Before != nil:
		return p.Say(say.T("Tested on %s, but %s changed since: sew another before a class makes it.",
			say.Date(t.Before.SewnOn), say.Listed(t.Differs)))
	}
	return p.Say(say.T("Not tested yet: sew one on the same fabric, with this recipe, before a class makes it."))
}

func logTest(c fiber.Ctx, d projects.UseCases, id int64) error {
	_, picture, err := ui.Upload(c, "photo")
	if err != nil {
		return err
	}
	in := projects.TestInput{Photo: picture}
	if err := ui.Bind(c, &in); err != nil {
		return err
	}
	if err := d.LogTest(id, in); err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error { return renderWith(c, d, id, nil, in, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/projects/%d#tests", id))
}

func removeTest(c fiber.Ctx, d projects.UseCases, id int64) error {
	run, err := ui.ID(c, "run")
	if err != nil {
		return err
	}
	if err := d.RemoveTest(id, run); err != nil {
		return err
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/projects/%d#tests", id))
}

func testPhoto(c fiber.Ctx, d projects.UseCases, id int64) error {
	run, err := ui.ID(c, "run")
	if err != nil {
		return err
	}
	kind, data, err := d.TestPhoto(id, run)
	if err != nil {
		return err
	}
	c.Set(fiber.HeaderContentType, kind)
	c.Set(fiber.HeaderCacheControl, "private, max-age=86400")
	return c.Send(data)
}
