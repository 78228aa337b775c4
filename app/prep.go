package app

import (
	"slices"

	"chalkstep/core/kit"
)

// packInto works out the kit from the roster and from who sews where.
func packInto(page *ClassPage) error {
	p := page.Project.Project
	request := kit.Request{
		Students: len(page.Class.Students), Blank: p.Blank, Stops: coreStops(p.Design),
		Needle: page.Project.Recipe.Needle,
	}
	for _, s := range p.Design.Stops {
		request.Threads = append(request.Threads, s.Color)
	}
	pieces := map[string]int{}
	for _, s := range page.Class.Students {
		pieces[page.stationOf(id(s.StudentID))]++
	}
	for _, seat := range page.Seats {
		n := pieces[id(seat.Machine.ID)]
		if !seat.Fits() || n == 0 && page.PlanProblem == "" {
			continue
		}
		request.Machines = append(request.Machines, kit.Share{Machine: seat.Machine.Name, BobbinStyle: seat.Machine.BobbinStyle, BobbinMetres: seat.Machine.BobbinMetres, Pieces: n})
		r, err := recipeFor(p, seat.Hoop.Hoop, page.settings.House)
		if err != nil {
			return err
		}
		i := slices.IndexFunc(request.Cuts, func(c kit.Cut) bool { return c.Hoop == seat.Hoop.Hoop.Name })
		if i < 0 {
			i = len(request.Cuts)
			request.Cuts = append(request.Cuts, kit.Cut{Hoop: seat.Hoop.Hoop.Name, Recipe: r})
		}
		request.Cuts[i].Students += n
	}
	if len(request.Cuts) == 0 {
		request.Cuts = []kit.Cut{{Hoop: page.Project.Hoop.Name, Recipe: page.Project.Recipe, Students: request.Students}}
	}
	page.Kit = page.settings.Figures.Kit.For(request)
	return nil
}
