package designs

import (
	"errors"
	"fmt"
	"strings"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/fleet"
	"chalkstep/core/project"
	"chalkstep/store"
)

// A DesignFilter narrows the library down, as it was typed. Its zero value
// keeps everything.
type DesignFilter struct {
	// Words have to be found in the name, the file's name or what a stop sews.
	Words string
	// HoopID keeps what fits this hoop.
	HoopID int64
	// MostStops keeps what has no more stops, MostMM what is no longer on
	// either side.
	MostStops, MostMM string
	// Level and Tag keep what was filed under them.
	Level int
	Tag   string
}

// A Library is the designs that pass a filter, each as its own page would
// open, and what there is to filter by.
type Library struct {
	Designs []fleet.Estimate
	Tags    []string
	Hoops   []fleet.Hoop
	Pages   form.Pages
}

// Designs opens a page of the library.
func (d UseCases) Designs(filter DesignFilter, page int) (Library, error) {
	if err := d.Need(actor.See); err != nil {
		return Library{}, err
	}
	const onPage = 24
	library := Library{Pages: form.NewPages(filter.Words, page, onPage)}
	var err error
	if library.Hoops, err = d.Workshop.Hoops(); err != nil {
		return library, err
	}
	if library.Tags, err = d.Workshop.DesignTags(); err != nil {
		return library, err
	}
	problems := form.Problems{}
	wanted := store.DesignFilter{Words: strings.Fields(library.Pages.Words), Level: filter.Level,
		Tag: form.Text(problems, "tag", filter.Tag, form.LongestName)}
	if filter.HoopID != 0 {
		h, err := d.Workshop.Hoop(filter.HoopID)
		if err != nil {
			return library, err
		}
		wanted.RoomMM = [2]float64{h.WidthMM, h.HeightMM}
	}
	if filter.MostStops != "" {
		wanted.MostStops = form.Whole(problems, "stops", filter.MostStops, 1, 100_000,
			"Write the most stops as a whole number.")
	}
	if filter.MostMM != "" {
		wanted.MostMM = form.Length(d.Printer(), problems, "size", filter.MostMM, 1, 5000)
	}
	const mostWords = 8
	wanted.Words = wanted.Words[:min(mostWords, len(wanted.Words))]
	if err := problems.OrNil(); err != nil {
		return library, err
	}
	designs, total, err := d.Workshop.Designs(wanted, library.Pages.Rows())
	if err != nil {
		return library, err
	}
	library.Pages.Total = total
	rules, machines, err := d.Floorplan()
	for _, found := range designs {
		library.Designs = append(library.Designs, fleet.EstimateOf(found, machines, false, rules))
	}
	return library, err
}

// DesignNames suggests names of designs.
func (d UseCases) DesignNames(words string) ([]string, error) {
	if err := d.Need(actor.See); err != nil {
		return nil, err
	}
	return d.Workshop.DesignNames(form.Cleaned(words), form.MostSuggested)
}

// DeleteDesign removes a design that no project uses. What something of the
// past refers to is taken off the list instead, and stays readable; retired
// tells so.
func (d UseCases) DeleteDesign(id int64) (retired bool, err error) {
	if err := d.Need(actor.ChangeDesigns); err != nil {
		return false, err
	}
	made, err := actor.Once(d, func(d UseCases) (int64, error) {
		projects, total, err := d.Workshop.ProjectsOf(id)
		if err != nil {
			return 0, err
		}
		if total > 0 {
			return 0, form.Problems{
				"": fmt.Sprintf("The design is used by %s. Give %s another design first, then delete this one.",
					projectNames(projects, total), those(total))}
		}
		err = d.Workshop.DeleteDesign(id)
		if !errors.Is(err, store.ErrInUse) {
			return 0, err
		}
		now := d.Now
		return 1, d.Workshop.RetireDesign(id, &now)
	})
	return made == 1, err
}

func those(n int) string {
	if n == 1 {
		return "the project"
	}
	return "these projects"
}

// projectNames lists some projects, and how many more there are.
func projectNames(projects []project.Project, total int) string {
	const most = 4
	var names []string
	for _, p := range projects[:min(most, len(projects))] {
		names = append(names, "“"+p.Name+"”")
	}
	if more := total - len(names); more > 0 {
		names = append(names, fmt.Sprintf("%d more", more))
	}
	return form.Listed(names)
}

// ListDesign puts a design that was taken off the list back.
func (d UseCases) ListDesign(id int64) error {
	if err := d.Need(actor.ChangeDesigns); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error { return d.relist(id) })
}

// relist puts a design back on the list, under a name that is free.
func (d UseCases) relist(id int64) error {
	design, err := d.Workshop.Design(id)
	if err != nil || design.RetiredAt == nil {
		return err
	}
	name := design.Name
	for n := 2; ; n++ {
		err := d.Workshop.InTx(func(tx store.Workshop) error {
			if err := tx.RetireDesign(id, nil); err != nil {
				return err
			}
			if design.Name == name {
				return nil
			}
			now, err := tx.Design(id)
			if err != nil {
				return err
			}
			now.Name = design.Name
			return tx.SaveDesign(now, nil)
		})
		if !errors.Is(err, store.ErrTaken) || n > mostNumbered {
			return form.Saved(err, design.Name)
		}
		design.Name = numbered(name, n)
	}
}
