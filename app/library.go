package app

import (
	"errors"
	"fmt"
	"slices"
	"strings"

	"chalkstep/core/hoop"
	"chalkstep/store"
)

// A DesignFilter narrows the library down. Its zero value keeps everything.
type DesignFilter struct {
	// Words have to be found in the name, the file's name or what a stop sews.
	Words string
	// HoopID keeps what fits this hoop.
	HoopID int64
	// MostStops keeps what has no more stops, MostMM what is no longer on
	// either side.
	MostStops int
	MostMM    float64
	// Level and Tag keep what was filed under them.
	Level int
	Tag   string
}

// A Library is the designs that pass a filter, each as its own page would
// open, and what there is to filter by.
type Library struct {
	Designs []DesignPage
	Tags    []string
	Hoops   []store.Hoop
}

// Designs opens the library.
func (d Desk) Designs(filter DesignFilter) (Library, error) {
	var library Library
	designs, err := d.shop.Designs()
	if err != nil {
		return library, err
	}
	settings, machines, err := d.floorplan()
	if err != nil {
		return library, err
	}
	if library.Hoops, err = d.shop.Hoops(); err != nil {
		return library, err
	}
	var room *store.Hoop
	if filter.HoopID != 0 {
		h, err := d.shop.Hoop(filter.HoopID)
		if err != nil {
			return library, err
		}
		room = &h
	}
	for _, design := range designs {
		library.Tags = append(library.Tags, design.Tags...)
		if filter.keeps(design, room) {
			library.Designs = append(library.Designs, newDesignPage(design, settings, machines))
		}
	}
	slices.Sort(library.Tags)
	library.Tags = slices.Compact(library.Tags)
	return library, nil
}

func (f DesignFilter) keeps(design store.Design, room *store.Hoop) bool {
	if f.MostStops > 0 && len(design.Stops) > f.MostStops {
		return false
	}
	if f.MostMM > 0 && max(design.WidthMM, design.HeightMM) > f.MostMM || f.Level > 0 && design.Level != f.Level || f.Tag != "" && !slices.Contains(design.Tags, f.Tag) {
		return false
	}
	if room != nil {
		if _, err := hoop.Into(field(*room), design.WidthMM, design.HeightMM, 0); err != nil {
			return false
		}
	}
	text := strings.ToLower(design.Name + " " + design.FileName)
	for _, s := range design.Stops {
		text += " " + strings.ToLower(s.Sews)
	}
	for _, word := range strings.Fields(strings.ToLower(f.Words)) {
		if !strings.Contains(text, word) {
			return false
		}
	}
	return true
}

// DeleteDesign removes a design that no project uses.
func (d Desk) DeleteDesign(id int64) error {
	if err := d.mayChange(); err != nil {
		return err
	}
	err := d.shop.DeleteDesign(id)
	if !errors.Is(err, store.ErrInUse) {
		return err
	}
	projects, listing := d.shop.ProjectsOf(id)
	if listing != nil {
		return listing
	}
	var names []string
	for _, p := range projects {
		names = append(names, "“"+p.Name+"”")
	}
	return Problems{"": fmt.Sprintf("The design is used by %s. Give the project another design first, then delete this one.", strings.Join(names, " and "))}
}
