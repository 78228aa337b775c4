package projects

import (
	"encoding/json"
	"fmt"
	"strings"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/projects"
	"chalkstep/core/kit"
	"chalkstep/core/project"
	"chalkstep/core/recipe"
	"chalkstep/core/say"
	"chalkstep/web/ui"
)

// The layers of a project are drawn as a cross-section over the line of its
// stops. Positions are in the drawing's own units, y down.
const (
	stopsLeft, stopsRight = 70.0, 760.0
	layersLeft            = 96.0 // of the widest layer
	layersRight           = 734.0
	layerPitch            = 34.0
	leastStop             = 12.0
)

// A layersView is the drawing, and the form under it.
type layersView struct {
	Rows []layerRow
	// Bars above the hoop come first, the highest first.
	Bars                  []layerBar
	Stops                 []stopBar
	Height, HoopY, StopsY float64
	// Places are where a ring may stand, as JSON: the left of each stop.
	Places string
	Hands  string
	Under  string
}

// A layerRow is a row of the form, with what is worked out of it.
type layerRow struct {
	row[projects.LayerInput]
	// Number counts the layers from 1; Known tells that it is one already.
	Number             string
	Known, Trimmed     bool
	Size               string
	Kinds              []kit.LayerKind
	Fabrics            []recipe.Fabric
	Binding, OffSewing bool
}

// A layerBar is a layer in the cross-section, with the ring it is moved by.
type layerBar struct {
	Index               int
	Name, Class, Says   string
	X, Y, Width, Height float64
	// Ends of a binding, which lies at both edges.
	Ends         []float64
	LabelX       float64
	RingX        float64
	Stop, Most   int
	Before, Drop float64
}

// A stopBar is a stop of the line.
type stopBar struct {
	N               int
	X, Width, Label float64
	Color           string
}

func newLayersView(p ui.P, page projects.ProjectPage) layersView {
	v := layersView{Hands: p.Say(say.T("%s something is laid, taped or trimmed", say.N{N: page.Hands, Noun: "time"})),
		Under: "stabilizer, in the hoop"}
	for _, r := range rowsOf("layer", page.Typed.Layers, projects.LayerInput{}) {
		v.Rows = append(v.Rows, layerRow{row: r, Kinds: kit.LayerKinds, Fabrics: recipe.Fabrics})
	}
	if len(page.Recipe.Under) > 0 {
		v.Under = p.Say(page.Recipe.Under[0].Key().Say()) + ", in the hoop"
	}
	v.line(page)
	v.stack(p, page.Lying)
	return v
}

// line lays the stops out, each as long as it takes.
func (v *layersView) line(page projects.ProjectPage) {
	if len(page.Sewing) == 0 || len(page.Sewing[0].Stops) == 0 {
		return
	}
	stops := page.Sewing[0].Stops
	total := 0.0
	for _, s := range stops {
		total += s.Minutes
	}
	const gap = 5.0
	free := max(0, stopsRight-stopsLeft-float64(len(stops))*(leastStop+gap))
	x := stopsLeft
	places := []float64{}
	for _, s := range stops {
		width := leastStop + free*s.Minutes/max(total, 1e-9)
		v.Stops = append(v.Stops, stopBar{N: s.N, X: x, Width: width, Label: x + width/2, Color: s.Color.String()})
		places = append(places, x-gap/2)
		x += width + gap
	}
	text, err := json.Marshal(places)
	if err == nil {
		v.Places = string(text)
	}
}

// filled are the places of the rows that say a layer, in order: as many as
// layers are read.
func (v *layersView) filled() []int {
	var rows []int
	for i, r := range v.Rows {
		if !r.In.Empty() {
			rows = append(rows, i)
		}
	}
	return rows
}

// stack lays the layers above and below the hoop, the first nearest to it.
func (v *layersView) stack(p ui.P, lying []project.Lying) {
	widest, above, below := 1.0, 0, 0
	for _, l := range lying {
		if l.As != kit.Binding {
			widest = max(widest, l.Piece.SizeMM[0])
		}
		if l.Under {
			below++
		} else {
			above++
		}
	}
	const top = 18.0
	v.HoopY = top + float64(above)*layerPitch + 10
	v.StopsY = v.HoopY + 26 + float64(below)*layerPitch + 22
	v.Height = v.StopsY + 40
	up, down := 0, 0
	rows := v.filled()
	for _, l := range lying[:min(len(lying), len(rows))] {
		index := rows[l.N-1]
		row := &v.Rows[index]
		row.Number, row.Label, row.Known, row.Trimmed = p.Count(l.N), fmt.Sprintf("layer %d", l.N), true, l.Trimmed
		row.Size = p.Say(say.Size(l.Piece.SizeMM))
		if l.Piece.Count > 1 {
			row.Size = fmt.Sprintf("%d × %s", l.Piece.Count, row.Size)
		}
		row.Binding, row.OffSewing = l.As == kit.Binding, l.Before == 0
		if l.As == "" {
			continue // nobody has said yet what it is
		}
		laid := say.T("before stop %s", say.Count(l.Before))
		if l.Before == 0 {
			laid = say.T("off the machine")
		}
		b := layerBar{Index: index, Name: strings.ToUpper(string(l.As[:1])) + string(l.As[1:]), Class: string(l.As),
			Says: p.Say(say.T("%s, %s", laid, l.Held)), Stop: l.Before, Most: len(v.Stops), Height: 14}
		if l.As == kit.Batting {
			b.Height = 22
		}
		if l.Under {
			b.Y = v.HoopY + 24 + float64(down)*layerPitch
			down++
		} else {
			up++
			b.Y = v.HoopY - 10 - float64(up)*layerPitch + (layerPitch-b.Height)/2
		}
		b.across(l, widest)
		if l.Before > 0 && l.Before <= len(v.Stops) {
			b.RingX = v.Stops[l.Before-1].X - 2.5
			b.Before = b.Y + b.Height/2
			b.Drop = v.StopsY - 4 - b.Before
		}
		v.Bars = append(v.Bars, b)
	}
}

// across is how wide a layer is drawn, beside the widest; a binding is drawn at both ends.
func (b *layerBar) across(l project.Lying, widest float64) {
	b.Width = (layersRight - layersLeft) * min(1, l.Piece.SizeMM[0]/widest)
	b.X = (layersLeft + layersRight - b.Width) / 2
	b.LabelX = b.X + b.Width + 10
	if l.As == kit.Binding {
		const strip = 40
		b.X, b.Width, b.LabelX = layersLeft+20, strip, layersRight+10
		b.Ends = []float64{layersLeft + 20, layersRight - 20 - strip}
	}
}

// previewLayers answers with the layers as they would lie, and keeps nothing.
func previewLayers(c fiber.Ctx, d projects.UseCases, id int64) error {
	var typed projects.ProjectParts
	readParts["layers"](c, &typed)
	page, problems, err := d.Layers(id, typed.Layers)
	if err != nil {
		return err
	}
	c.Set(fiber.HeaderCacheControl, "no-store")
	p := ui.P{Printer: d.Printer()}
	return c.Render("projects/lying",
		fiber.Map{"Page": page, "Layers": newLayersView(p, page), "Problems": ui.RefusedFor(problems), "P": p})
}
