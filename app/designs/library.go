package designs

import (
	"errors"
	"fmt"
	"strings"

	"chalkstep/app/desk"
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
	Pages   desk.Pages
}

// Designs opens a page of the library.
func (d Desk) Designs(filter DesignFilter, page int) (Library, error) {
	if err := d.Need(desk.See); err != nil {
		return Library{}, err
	}
	const onPage = 24
	library := Library{Pages: desk.NewPages(filter.Words, page, onPage)}
	var err error
	if library.Hoops, err = d.Shop.Hoops(); err != nil {
		return library, err
	}
	if library.Tags, err = d.Shop.DesignTags(); err != nil {
		return library, err
	}
	problems := desk.Problems{}
	wanted := store.DesignFilter{Words: strings.Fields(library.Pages.Words), Level: filter.Level, Tag: desk.Text(problems, "tag", filter.Tag, desk.LongestName)}
	if filter.HoopID != 0 {
		h, err := d.Shop.Hoop(filter.HoopID)
		if err != nil {
			return library, err
		}
		wanted.RoomMM = [2]float64{h.WidthMM, h.HeightMM}
	}
	if filter.MostStops != "" {
		wanted.MostStops = desk.Whole(problems, "stops", filter.MostStops, 1, 100_000, "Write the most stops as a whole number.")
	}
	if filter.MostMM != "" {
		wanted.MostMM = d.Length(problems, "size", filter.MostMM, 1, 5000)
	}
	const mostWords = 8
	wanted.Words = wanted.Words[:min(mostWords, len(wanted.Words))]
	if err := problems.OrNil(); err != nil {
		return library, err
	}
	designs, total, err := d.Shop.Designs(wanted, library.Pages.Stretch())
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
func (d Desk) DesignNames(words string) ([]string, error) {
	if err := d.Need(desk.See); err != nil {
		return nil, err
	}
	return d.Shop.DesignNames(desk.Cleaned(words), desk.MostSuggested)
}

// DeleteDesign removes a design that no project uses. What something of the
// past refers to is taken off the list instead, and stays readable; retired
// tells so.
func (d Desk) DeleteDesign(id int64) (retired bool, err error) {
	if err := d.Need(desk.ChangeDesigns); err != nil {
		return false, err
	}
	made, err := desk.Once(d, func(d Desk) (int64, error) {
		projects, total, err := d.Shop.ProjectsOf(id)
		if err != nil {
			return 0, err
		}
		if total > 0 {
			return 0, desk.Problems{"": fmt.Sprintf("The design is used by %s. Give %s another design first, then delete this one.", projectNames(projects, total), those(total))}
		}
		err = d.Shop.DeleteDesign(id)
		if !errors.Is(err, store.ErrInUse) {
			return 0, err
		}
		now := d.Now
		return 1, d.Shop.RetireDesign(id, &now)
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
	return desk.Listed(names)
}

// ListDesign puts a design that was taken off the list back.
func (d Desk) ListDesign(id int64) error {
	if err := d.Need(desk.ChangeDesigns); err != nil {
		return err
	}
	return desk.OnceOnly(d, func(d Desk) error { return d.relist(id) })
}

// relist puts a design back on the list, under a name that is free.
func (d Desk) relist(id int64) error {
	design, err := d.Shop.Design(id)
	if err != nil || design.RetiredAt == nil {
		return err
	}
	name := design.Name
	for n := 2; ; n++ {
		err := d.Shop.InTx(func(tx store.Workshop) error {
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
			return desk.Saved(err, design.Name)
		}
		design.Name = numbered(name, n)
	}
}
