package app

import (
	"errors"
	"fmt"
	"strings"

	"chalkstep/core/room"
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
	Designs []room.Estimate
	Tags    []string
	Hoops   []room.Hoop
	Pages   Pages
}

// Designs opens a page of the library.
func (d Desk) Designs(filter DesignFilter, page int) (Library, error) {
	if err := d.may(See); err != nil {
		return Library{}, err
	}
	const onPage = 24
	library := Library{Pages: newPages(filter.Words, page, onPage)}
	hoops, err := d.shop.Hoops()
	if err != nil {
		return library, err
	}
	for _, h := range hoops {
		library.Hoops = append(library.Hoops, h.Value())
	}
	if library.Tags, err = d.shop.DesignTags(); err != nil {
		return library, err
	}
	problems := Problems{}
	wanted := store.DesignFilter{Words: strings.Fields(library.Pages.Words), Level: filter.Level, Tag: text(problems, "tag", filter.Tag, LongestName)}
	if filter.HoopID != 0 {
		h, err := d.shop.Hoop(filter.HoopID)
		if err != nil {
			return library, err
		}
		wanted.RoomMM = [2]float64{h.WidthMM, h.HeightMM}
	}
	if filter.MostStops != "" {
		wanted.MostStops = whole(problems, "stops", filter.MostStops, 1, 100_000, "Write the most stops as a whole number.")
	}
	if filter.MostMM != "" {
		wanted.MostMM = d.length(problems, "size", filter.MostMM, 1, 5000)
	}
	const mostWords = 8
	wanted.Words = wanted.Words[:min(mostWords, len(wanted.Words))]
	if err := problems.orNil(); err != nil {
		return library, err
	}
	designs, total, err := d.shop.Designs(wanted, library.Pages.stretch())
	if err != nil {
		return library, err
	}
	library.Pages.Total = total
	rules, machines, err := d.floorplan()
	for _, row := range designs {
		library.Designs = append(library.Designs, room.EstimateOf(row.Value(), machines, false, rules))
	}
	return library, err
}

// DesignNames suggests names of designs.
func (d Desk) DesignNames(words string) ([]string, error) {
	if err := d.may(See); err != nil {
		return nil, err
	}
	return d.shop.DesignNames(cleaned(words), mostSuggested)
}

// DeleteDesign removes a design that no project uses. What something of the
// past refers to is taken off the list instead, and stays readable; retired
// tells so.
func (d Desk) DeleteDesign(id int64) (retired bool, err error) {
	if err := d.may(ChangeDesigns); err != nil {
		return false, err
	}
	made, err := d.once(func(d Desk) (int64, error) {
		projects, total, err := d.shop.ProjectsOf(id)
		if err != nil {
			return 0, err
		}
		if total > 0 {
			return 0, Problems{"": fmt.Sprintf("The design is used by %s. Give %s another design first, then delete this one.", projectNames(projects, total), those(total))}
		}
		err = d.shop.DeleteDesign(id)
		if !errors.Is(err, store.ErrInUse) {
			return 0, err
		}
		now := d.now
		return 1, d.shop.RetireDesign(id, &now)
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
func projectNames(projects []store.Project, total int) string {
	const most = 4
	var names []string
	for _, p := range projects[:min(most, len(projects))] {
		names = append(names, "“"+p.Name+"”")
	}
	if more := total - len(names); more > 0 {
		names = append(names, fmt.Sprintf("%d more", more))
	}
	return listed(names)
}

// listed puts things in a row as a sentence does.
func listed(words []string) string {
	if len(words) < 2 {
		return strings.Join(words, "")
	}
	last := len(words) - 1
	return strings.Join(words[:last], ", ") + " and " + words[last]
}

// ListDesign puts a design that was taken off the list back.
func (d Desk) ListDesign(id int64) error {
	if err := d.may(ChangeDesigns); err != nil {
		return err
	}
	return d.onceOnly(func(d Desk) error { return d.relist(id) })
}

// relist puts a design back on the list, under a name that is free.
func (d Desk) relist(id int64) error {
	design, err := d.shop.Design(id)
	if err != nil || design.RetiredAt == nil {
		return err
	}
	name := design.Name
	for n := 2; ; n++ {
		err := d.shop.InTx(func(tx store.Workshop) error {
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
			return saved(err, design.Name)
		}
		design.Name = numbered(name, n)
	}
}

// DesignIDNamed finds the number of the design of a name, −1 where none on the
// list has it.
func (d Desk) DesignIDNamed(name string) (int64, error) {
	if err := d.may(See); err != nil {
		return 0, err
	}
	if cleaned(name) != name {
		return -1, nil
	}
	design, err := d.shop.DesignNamed(name)
	if errors.Is(err, store.ErrNotFound) {
		return -1, nil
	}
	return design.ID, err
}
