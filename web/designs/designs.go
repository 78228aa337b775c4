// Package designs is the area of stitch files: what each is, and which
// machine can sew it.
package designs

import (
	"cmp"
	"fmt"
	"html/template"
	"maps"
	"net/url"
	"strings"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/designs"
	"chalkstep/core/design"
	"chalkstep/core/recipe"
	"chalkstep/core/stitch"
	"chalkstep/web/ui"
)

const area = "Designs"

// Routes of the area.
func Routes(f *fiber.App) {
	f.Get("/designs", ui.With(func(c fiber.Ctx, d designs.UseCases) error { return list(c, d, nil) }))
	f.Post("/designs", ui.With(add))
	f.Get("/designs/names", ui.Suggest(designs.UseCases.DesignNames))
	f.Get("/designs/:id", ui.WithID(show))
	f.Post("/designs/:id", ui.WithID(save))
	f.Post("/designs/:id/delete", ui.WithID(remove))
	f.Post("/designs/:id/list", ui.WithID(relist))
	f.Get("/designs/:id/picture/:kind", ui.WithID(picture))
	f.Get("/designs/:id/stops/:n", ui.WithID(stopPicture))
	f.Get("/designs/:id/file", ui.WithID(download))
	f.Get("/designs/:id/charts/:n", ui.WithID(chart))
	f.Get("/designs/:id/restart", ui.WithID(restart))
	f.Get("/designs/:id/copies", ui.WithID(copies))
	f.Post("/designs/:id/copies", ui.WithID(keepCopies))
	f.Get("/designs/:id/copies/file", ui.WithID(downloadCopies))
	f.Get("/designs/:id/stitches", ui.WithID(stitches))
	f.Get("/designs/:id/density.png", ui.WithID(density))
	f.Get("/designs/:id/placing", ui.WithID(placing))
	f.Post("/designs/:id/placing", ui.WithID(savePlacing))
	f.Get("/designs/:id/template", ui.WithID(printTemplate))
	f.Get("/designs/:id/border", ui.WithID(border))
	f.Get("/designs/:id/align", ui.WithID(align))
	f.Get("/designs/:id/pieces", ui.WithID(pieces))
	f.Get("/designs/:id/pieces.svg", ui.WithID(downloadPieces))
	f.Post("/designs/:id/stitch-outs", ui.WithID(logStitchOut))
	f.Post("/designs/:id/stitch-outs/:run/remove", ui.WithID(removeStitchOut))
	f.Get("/designs/:id/stitch-outs/:run/photo", ui.WithID(photo))
}

func list(c fiber.Ctx, d designs.UseCases, problems *ui.Refused) error {
	filter := designs.DesignFilter{
		Words: c.Query("words"), HoopID: ui.Number(c.Query("hoop")), MostStops: c.Query("stops"), MostMM: c.Query("size"),
		Level: max(0, ui.Small(c.Query("level"))), Tag: c.Query("tag"),
	}
	library, err := d.Designs(filter, ui.Page(c))
	mendable, err := ui.Mendable(c, err)
	if err != nil {
		return err
	}
	return ui.Render(c, "designs/list", area, area, fiber.Map{
		"Library": library, "Pages": library.Pages, "More": filterQuery(filter), "Filter": filter,
		"Filtered": filter != designs.DesignFilter{}, "Levels": levels, "Problems": cmp.Or(problems, mendable),
		"Formats": stitch.Names(),
	})
}

// filterQuery is what is asked of the list beside the words, as an address
// goes on with it.
func filterQuery(f designs.DesignFilter) template.URL {
	q := url.Values{}
	set := func(name, value string) {
		if value != "" && value != "0" {
			q.Set(name, value)
		}
	}
	set("hoop", fmt.Sprint(f.HoopID))
	set("stops", f.MostStops)
	set("size", f.MostMM)
	set("level", fmt.Sprint(f.Level))
	set("tag", f.Tag)
	if len(q) == 0 {
		return ""
	}
	return template.URL("&" + q.Encode())
}

func add(c fiber.Ctx, d designs.UseCases) error {
	name, data, err := ui.Upload(c, "file")
	if err != nil {
		return err
	}
	id, err := d.AddDesign(name, data)
	if err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error { return list(c, d, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/designs/%d", id))
}

func show(c fiber.Ctx, d designs.UseCases, id int64) error {
	page, err := d.Design(id)
	if err != nil {
		return err
	}
	return render(c, page, stitch.Place{}, nil)
}

// A chartLink is a colour chart that came with a design.
type chartLink struct {
	N    int
	Name string
}

// stopsOnPage are in the table of a design's stops at a time.
const stopsOnPage = 60

// render shows a design; more adds to what its page shows or replaces it.
func render(c fiber.Ctx, page designs.DesignPage, place stitch.Place, problems *ui.Refused, more ...fiber.Map) error {
	density, working := page.Design.Density()
	var charts []chartLink
	for i, name := range page.Design.Charts {
		charts = append(charts, chartLink{i + 1, name})
	}
	data := fiber.Map{
		"Page": page, "Place": place, "Density": density, "DensityWorking": working, "Charts": charts,
		"Drawing": newDrawing(page), "Strip": newStrip(page), "Roles": stitch.Roles, "Levels": levels,
		"Tags": strings.Join(page.Design.Tags, ", "), "Fabrics": recipe.Fabrics, "Run": designs.StitchOutInput{},
		"Problems": problems,
	}
	from := min(max(1, ui.Small(c.FormValue("stops-from", c.Query("stops-from")))), max(1, len(page.Stops)))
	from -= (from - 1) % stopsOnPage
	data["Stops"] = page.Stops[from-1 : min(len(page.Stops), from-1+stopsOnPage)]
	data["StopsFrom"], data["StopsBefore"], data["StopsAfter"] = from, from-stopsOnPage, 0
	if after := from + stopsOnPage; after <= len(page.Stops) {
		data["StopsAfter"] = after
	}
	for _, m := range more {
		maps.Copy(data, m)
	}
	return ui.Render(c, "designs/show", area, page.Design.Name, data)
}

func save(c fiber.Ctx, d designs.UseCases, id int64) error {
	numbers, colors, roles, sews := ui.All(c, "n"), ui.All(c, "color"), ui.All(c, "role"), ui.All(c, "sews")
	choices := make([]designs.StopChoice, min(len(numbers), len(colors), len(roles), len(sews)))
	for i := range choices {
		choices[i] = designs.StopChoice{N: ui.Small(numbers[i]), Color: colors[i], Role: roles[i], Sews: sews[i]}
	}
	in := designs.DesignInput{Stops: choices}
	if err := ui.Bind(c, &in); err != nil {
		return err
	}
	err := d.SaveDesign(id, in)
	if err == nil {
		to := fmt.Sprintf("/designs/%d", id)
		if from := ui.Small(c.FormValue("stops-from")); from > 1 {
			to += fmt.Sprintf("?stops-from=%d", from)
		}
		return c.Redirect().Status(fiber.StatusSeeOther).To(to)
	}
	return ui.Again(c, err, func(p *ui.Refused) error {
		page, err := d.Design(id)
		if err != nil {
			return err
		}
		page.Design.Name, page.Design.Level = in.Name, in.Level
		for _, choice := range choices {
			if choice.N >= 1 && choice.N <= len(page.Stops) {
				s := &page.Stops[choice.N-1]
				s.Role, s.Sews = stitch.Role(choice.Role), choice.Sews
				if color, err := stitch.ParseRGB(choice.Color); err == nil {
					s.Color = color
				}
			}
		}
		return render(c, page, stitch.Place{}, p, fiber.Map{"Tags": in.Tags})
	})
}

func download(c fiber.Ctx, d designs.UseCases, id int64) error {
	open := d.DesignFile
	if format := c.Query("as"); format != "" {
		open = func(id int64) (string, []byte, error) { return d.FileAs(id, format) }
	}
	name, data, err := open(id)
	if err != nil {
		return err
	}
	return ui.Send(c, name, data)
}

func chart(c fiber.Ctx, d designs.UseCases, id int64) error {
	name, data, err := d.Chart(id, ui.Small(c.Params("n")))
	if err != nil {
		return err
	}
	return ui.Send(c, name, data)
}

func remove(c fiber.Ctx, d designs.UseCases, id int64) error {
	retired, err := d.DeleteDesign(id)
	if err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error {
			page, err := d.Design(id)
			if err != nil {
				return err
			}
			return render(c, page, stitch.Place{}, p)
		})
	}
	if retired {
		return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/designs/%d", id))
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/designs")
}

// relist puts a design that was taken off the list back.
func relist(c fiber.Ctx, d designs.UseCases, id int64) error {
	if err := d.ListDesign(id); err != nil {
		return err
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/designs/%d", id))
}

func picture(c fiber.Ctx, d designs.UseCases, id int64) error {
	mediaType, data, err := d.DesignPicture(id, design.PictureKind(c.Params("kind")))
	if err != nil {
		return err
	}
	return ui.Picture(c, mediaType, data)
}

func stopPicture(c fiber.Ctx, d designs.UseCases, id int64) error {
	mediaType, data, err := d.StopPicture(id, ui.Small(c.Params("n")), ui.Seen(c.Query("seen")))
	if err != nil {
		return err
	}
	return ui.Picture(c, mediaType, data)
}
