package projects

import (
	"fmt"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app"
	"chalkstep/core/blank"
	"chalkstep/core/recipe"
	"chalkstep/store"
	"chalkstep/web/ui"
)

// Each part of a project's content is a form of its own; its rows are read in
// order, and a row whose first field is empty is left out.
var contentParts = map[string]func(fiber.Ctx, *store.ProjectContent){
	"place": func(c fiber.Ctx, p *store.ProjectContent) {
		p.Shape, p.Size, p.Spot = blank.Shape(c.FormValue("shape")), c.FormValue("size"), blank.Spot(c.FormValue("spot"))
		p.MoveXMM, p.MoveYMM = ui.Decimal(c.FormValue("right")), ui.Decimal(c.FormValue("down"))
		if spots := p.Shape.Spots(); !slices.Contains(spots, p.Spot) {
			p.Spot = spots[0]
		}
		if p.Shape.Garment() && p.Size == "" {
			p.Size = "M"
		}
	},
	"level": func(c fiber.Ctx, p *store.ProjectContent) {
		p.Level, p.Teaches = int(ui.Number(c.FormValue("level"))), ui.All(c, "teaches")
	},
	"house": func(c fiber.Ctx, p *store.ProjectContent) {
		p.House = recipe.House{}
		for _, q := range recipe.Questions {
			if v := c.FormValue(q.Key); v != "" {
				_ = p.House.Set(q.Key, v)
			}
		}
		p.InHoop = c.FormValue("in-hoop") != ""
	},
	"hoopings": func(c fiber.Ctx, p *store.ProjectContent) {
		p.Hoopings = nil
		designs := ui.All(c, "design")
		for i, title := range ui.All(c, "title") {
			if title = strings.TrimSpace(title); title != "" || ui.Number(at(designs, i)) != 0 {
				p.Hoopings = append(p.Hoopings, store.ProjectHooping{Title: title, DesignID: ui.Number(at(designs, i))})
			}
		}
	},
	"layers": func(c fiber.Ctx, p *store.ProjectContent) {
		p.Layers = nil
		fabrics, sides, tapes, stops, widths, heights := ui.All(c, "fabric"), ui.All(c, "side"), ui.All(c, "tape"), ui.All(c, "stop"), ui.All(c, "width"), ui.All(c, "height")
		for i, what := range ui.All(c, "what") {
			if what == "" {
				continue
			}
			p.Layers = append(p.Layers, store.ProjectLayer{
				What: what, Fabric: at(fabrics, i), Under: at(sides, i) == "under", Tape: strings.TrimSpace(at(tapes, i)), BeforeStop: int(ui.Number(at(stops, i))),
				WidthMM: ui.Decimal(at(widths, i)), HeightMM: ui.Decimal(at(heights, i)),
			})
		}
	},
	"parts": func(c fiber.Ctx, p *store.ProjectContent) {
		p.Parts = nil
		counts := ui.All(c, "count")
		for i, name := range ui.All(c, "name") {
			if name = strings.TrimSpace(name); name != "" {
				p.Parts = append(p.Parts, store.ProjectPart{Name: name, Count: int(ui.Number(at(counts, i)))})
			}
		}
	},
	"work": func(c fiber.Ctx, p *store.ProjectContent) {
		p.Work = nil
		minutes, places, hands := ui.All(c, "minutes"), ui.All(c, "at"), ui.All(c, "hands")
		for i, title := range ui.All(c, "title") {
			if title = strings.TrimSpace(title); title != "" {
				p.Work = append(p.Work, store.ProjectWork{Title: title, Minutes: ui.Decimal(at(minutes, i)), Iron: at(places, i) == "iron", Instructor: at(hands, i) == "instructor"})
			}
		}
	},
}

func at(values []string, i int) string {
	if i < len(values) {
		return values[i]
	}
	return ""
}

func saveContent(c fiber.Ctx, d app.Desk) error {
	page, err := open(c, d)
	if err != nil {
		return err
	}
	part := c.Params("part")
	change, known := contentParts[part]
	if !known {
		return store.ErrNotFound
	}
	typed := page.Project.Content
	change(c, &typed)
	err = d.SaveContent(page.Project.ID, int(ui.Number(c.FormValue("version"))), func(content *store.ProjectContent) { change(c, content) })
	if err != nil {
		return ui.Again(c, err, func(p app.Problems) error {
			page.Project.Content = typed
			return render(c, d, page, nil, p)
		})
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/projects/%d#%s", page.Project.ID, part))
}

func savePhoto(c fiber.Ctx, d app.Desk) error {
	page, err := open(c, d)
	if err != nil {
		return err
	}
	_, data, err := ui.Upload(c, "photo")
	if err != nil {
		return err
	}
	if err := d.SavePhoto(page.Project.ID, data); err != nil {
		return ui.Again(c, err, func(p app.Problems) error { return render(c, d, page, nil, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/projects/%d", page.Project.ID))
}

func photo(c fiber.Ctx, d app.Desk, id int64) error {
	kind, data, err := d.ProjectPhoto(id)
	if err != nil {
		return err
	}
	c.Set(fiber.HeaderContentType, kind)
	c.Set(fiber.HeaderCacheControl, "private, no-cache")
	return c.Send(data)
}

// A markPicture draws the blank with the design on it, in millimetres, y down
// from the middle of its top edge.
type markPicture struct {
	ViewBox, Outline, Seams, Transform string
	X, Y                               float64
	Unit                               float64 // a length that reads well
}

func newMarkPicture(page app.ProjectPage) markPicture {
	m := page.Mark
	if len(m.Outline) == 0 {
		return markPicture{}
	}
	left, top, right, bottom := m.Outline[0][0], m.Outline[0][1], m.Outline[0][0], m.Outline[0][1]
	for _, p := range m.Outline {
		left, right, top, bottom = min(left, p[0]), max(right, p[0]), min(top, p[1]), max(bottom, p[1])
	}
	unit := max(right-left, bottom-top) / 100
	p := markPicture{X: m.XMM, Y: m.YMM, Unit: unit * 0.45}
	p.ViewBox = fmt.Sprintf("%.0f %.0f %.0f %.0f", left-3*unit, top-3*unit, right-left+6*unit, bottom-top+6*unit)
	p.Outline = path(m.Outline) + "Z"
	for _, seam := range m.Seams {
		p.Seams += path(seam)
	}
	p.Transform = fmt.Sprintf("translate(%.1f %.1f) rotate(%.1f) scale(0.1)", m.XMM, m.YMM, m.TurnDegrees)
	return p
}

func path(points [][2]float64) string {
	var s strings.Builder
	for i, p := range points {
		command := "L"
		if i == 0 {
			command = "M"
		}
		fmt.Fprintf(&s, "%s%.1f %.1f", command, p[0], p[1])
	}
	return s.String()
}
