package actor

import (
	"fmt"
	"path/filepath"
	"slices"
	"strings"

	"chalkstep/app/form"
	"chalkstep/core/design"
	"chalkstep/core/stitch"
	"chalkstep/store"
)

// DesignFile gives back the bytes as they came.
func (d Actor) DesignFile(id int64) (fileName string, data []byte, err error) {
	if err := d.Need(See); err != nil {
		return "", nil, err
	}
	file, err := d.Workshop.DesignFile(id)
	return file.Name, file.Data, err
}

// FileAs gives a design in a format: the file that came in it, or the drawn
// one converted.
func (d Actor) FileAs(id int64, format string) (fileName string, data []byte, err error) {
	if err := d.Need(See); err != nil {
		return "", nil, err
	}
	if !slices.Contains(stitch.Names(), format) {
		return "", nil, fmt.Errorf("finding a file in the format %q: %w", form.Shortened(form.Cleaned(format), 20),
			store.ErrNotFound)
	}
	of, err := d.Workshop.Design(id)
	if err != nil {
		return "", nil, err
	}
	files, err := d.Workshop.Originals(id)
	if err != nil {
		return "", nil, err
	}
	file, err := of.As(files[id], format)
	if err != nil {
		return "", nil, form.Problems{"": form.Sentence(err.Error())}
	}
	return file.Name, file.Data, nil
}

// Pattern reads a design's file again, in the threads chosen for its stops: for pages,
// and for the phones of a station and of a student, which may see what is
// sewn there and no file.
func (d Actor) Pattern(design design.Design) (*stitch.Pattern, error) {
	if d.Who.Place.ClassID == 0 && d.Who.StudentID == 0 {
		if err := d.Need(See); err != nil {
			return nil, err
		}
	}
	file, err := d.Workshop.DesignFile(design.ID)
	if err != nil {
		return nil, err
	}
	pattern, _, err := stitch.Decode(file.Name, file.Data)
	if err != nil {
		return nil, err
	}
	pattern.Colors = design.Colors()
	return pattern, nil
}

// Sewn reads a design and its stitches, in the threads chosen for them.
func (d Actor) Sewn(id int64) (design.Design, *stitch.Pattern, error) {
	found, err := d.Workshop.Design(id)
	if err != nil {
		return design.Design{}, nil, err
	}
	pattern, err := d.Pattern(found)
	return found, pattern, err
}

// Stem is a file's name without its extension.
func Stem(fileName string) string { return strings.TrimSuffix(fileName, filepath.Ext(fileName)) }
