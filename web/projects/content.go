package projects

import (
	"fmt"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/projects"
	"chalkstep/core/recipe"
	"chalkstep/core/technique"
	"chalkstep/web/ui"
)

// readParts read the forms of a project, each its own, as they are typed.
var readParts = map[string]func(fiber.Ctx, *projects.ProjectParts){
	"place": func(c fiber.Ctx, p *projects.ProjectParts) {
		p.Place = projects.PlaceOnBlank{Shape: c.FormValue("shape"), Size: c.FormValue("size"), Spot: c.FormValue("spot"),
			Right: c.FormValue("right"), Down: c.FormValue("down")}
	},
	"level": func(c fiber.Ctx, p *projects.ProjectParts) {
		p.Level, p.Teaches = c.FormValue("level"), ui.All(c, "teaches")
	},
	"house": func(c fiber.Ctx, p *projects.ProjectParts) {
		p.House = map[string]string{}
		for _, q := range recipe.Questions {
			p.House[q.Key] = c.FormValue(q.Key)
		}
	},
	"hoopings": func(c fiber.Ctx, p *projects.ProjectParts) {
		p.Hoopings = nil
		for _, row := range ui.Rows(c, "title", "design") {
			p.Hoopings = append(p.Hoopings, projects.HoopingInput{Title: row[0], Design: row[1]})
		}
	},
	"layers": func(c fiber.Ctx, p *projects.ProjectParts) {
		p.Layers = nil
		for _, row := range ui.Rows(c, "what", "fabric", "side", "tape", "stop", "width", "height") {
			p.Layers = append(p.Layers,
				projects.LayerInput{As: row[0], Fabric: row[1], Under: row[2] == "under", Tape: row[3], Stop: row[4], Width: row[5],
					Height: row[6]})
		}
	},
	"parts": func(c fiber.Ctx, p *projects.ProjectParts) {
		p.Parts = nil
		for _, row := range ui.Rows(c, "name", "count") {
			p.Parts = append(p.Parts, projects.PartInput{Name: row[0], Count: row[1]})
		}
	},
	"techniques": readTechniques,
	"piece": func(c fiber.Ctx, p *projects.ProjectParts) {
		p.Piece = projects.PieceInput{Kind: c.FormValue("kind"), Width: c.FormValue("width"), Height: c.FormValue("height"),
			Third: c.FormValue("third"), Seam: c.FormValue("seam"), Count: c.FormValue("count")}
		if name, data, err := ui.Upload(c, "drawing"); err == nil {
			p.Piece.FileName, p.Piece.Drawing = name, string(data)
		}
	},
	"work": func(c fiber.Ctx, p *projects.ProjectParts) {
		p.Work = nil
		for _, row := range ui.Rows(c, "title", "minutes", "at", "hands") {
			p.Work = append(p.Work,
				projects.WorkInput{Title: row[0], Minutes: row[1], Iron: row[2] == "iron", Instructor: row[3] == "instructor"})
		}
	},
}

func readTechniques(c fiber.Ctx, p *projects.ProjectParts) {
	p.Techniques, p.Blocks = ui.All(c, "technique"), c.FormValue("blocks")
	for _, g := range technique.Groups {
		if key := c.FormValue("technique-" + string(g.Key)); g.One && key != "" {
			p.Techniques = append(p.Techniques, key)
		}
	}
}

// savePart keeps one form of a project.
func savePart(c fiber.Ctx, d projects.UseCases, id int64) error {
	part := c.Params("part")
	var typed projects.ProjectParts
	if read, known := readParts[part]; known {
		read(c, &typed)
	}
	if err := d.SavePart(id, ui.Small(c.FormValue("version")), part, typed); err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error {
			if part == "techniques" {
				return how(c, d, id, &typed, p)
			}
			return render(c, d, id, func(shown *projects.ProjectParts) { readParts[part](c, shown) }, p)
		})
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/projects/%d#%s", id, part))
}

// placeOnBlank answers with where a design would go, and keeps nothing.
func placeOnBlank(c fiber.Ctx, d projects.UseCases, id int64) error {
	placed, problems, err := d.Place(id,
		projects.PlaceOnBlank{Shape: c.Query("shape"), Size: c.Query("size"), Spot: c.Query("spot"), Right: c.Query("right"),
			Down: c.Query("down")})
	if err != nil {
		return err
	}
	c.Set(fiber.HeaderCacheControl, "no-store")
	return c.Render("projects/placed", fiber.Map{
		"Picture": ui.NewMark(placed.Mark), "Mark": placed.Mark, "NoMark": placed.NoMark, "Design": placed.Project.Design(),
		"Shape":    placed.Project.Blank.Shape,
		"Problems": ui.RefusedFor(problems), "P": ui.P{Printer: d.Printer()},
	})
}

func savePhoto(c fiber.Ctx, d projects.UseCases, id int64) error {
	_, data, err := ui.Upload(c, "photo")
	if err != nil {
		return err
	}
	if err := d.SavePhoto(id, data); err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error { return render(c, d, id, nil, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/projects/%d", id))
}

func photo(c fiber.Ctx, d projects.UseCases, id int64) error {
	kind, data, err := d.ProjectPhoto(id)
	if err != nil {
		return err
	}
	c.Set(fiber.HeaderContentType, kind)
	c.Set(fiber.HeaderCacheControl, "private, no-cache")
	return c.Send(data)
}

func printTemplate(c fiber.Ctx, d projects.UseCases, id int64) error {
	name, data, err := d.MarkTemplate(c.Context(), id, c.Query("of"), c.Query("sheet"))
	if err != nil {
		return err
	}
	return ui.Send(c, name, data)
}
