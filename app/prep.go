package app

import (
	"slices"

	"chalkstep/core/kit"
	"chalkstep/core/recipe"
	"chalkstep/store"
)

// packInto works out the kits from the roster and from who sews where.
func packInto(page *ClassPage) error {
	packed := false
	for _, w := range page.Works {
		if len(w.Students) == 0 && len(page.Works) > 1 {
			continue
		}
		k, err := page.kitOf(w)
		if err != nil {
			return err
		}
		if packed {
			k = kit.Merge(page.Kit, k)
		}
		page.Kit, packed = k, true
	}
	return nil
}

// kitOf is what all students of a work need together.
func (p *ClassPage) kitOf(w Work) (kit.Kit, error) {
	request := kit.Request{Students: len(w.Students), Blank: w.Project.Blank}
	pieces := map[string]int{}
	for _, s := range w.Students {
		pieces[p.stationOf(id(s.StudentID))]++
	}
	for n, h := range w.Hoopings {
		request.Stops = append(request.Stops, coreStops(h.Design)...)
		for _, s := range h.Design.Stops {
			request.Threads = append(request.Threads, s.Color)
		}
		for _, seat := range h.Seats {
			count := pieces[id(seat.Machine.ID)]
			if !w.Fits(seat.Machine.ID) || count == 0 && p.PlanProblem == "" {
				continue
			}
			if n == 0 {
				request.Machines = append(request.Machines, kit.Share{Machine: seat.Machine.Name, BobbinStyle: seat.Machine.BobbinStyle, BobbinMetres: seat.Machine.BobbinMetres, Pieces: count})
			}
			r, err := hoopingRecipe(w.Project, h.Design, seat.Hoop.Hoop, p.settings.House)
			if err != nil {
				return kit.Kit{}, err
			}
			request.Needle = r.Needle
			addCut(&request, seat.Hoop.Hoop.Name, r, count)
		}
	}
	if len(request.Cuts) == 0 {
		request.Needle = p.Project.Recipe.Needle
		request.Cuts = []kit.Cut{{Hoop: p.Project.Hoop.Name, Recipe: p.Project.Recipe, Students: request.Students}}
	}
	return p.settings.Figures.Kit.For(request), nil
}

// addCut counts students in a hoop, whose sheets are cut alike.
func addCut(request *kit.Request, hoop string, r recipe.Recipe, students int) {
	i := slices.IndexFunc(request.Cuts, func(c kit.Cut) bool { return c.Hoop == hoop && c.Recipe.Under[0] == r.Under[0] })
	if i < 0 {
		i = len(request.Cuts)
		request.Cuts = append(request.Cuts, kit.Cut{Hoop: hoop, Recipe: r})
	}
	request.Cuts[i].Students += students
}

// hoopingRecipe is a project's recipe for one of its hoopings.
func hoopingRecipe(p store.Project, design store.Design, h store.Hoop, house recipe.House) (recipe.Recipe, error) {
	p.Design = design
	return recipeFor(p, h, house)
}
