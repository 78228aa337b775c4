package designs

import (
	"errors"

	"chalkstep/app/desk"
	"chalkstep/core/design"
	"chalkstep/core/stitch"
	"chalkstep/core/stitch/picture"
	"chalkstep/store"
)

// picturesOf draws a design in the threads of its stops, for the sizes it is
// seen at.
func picturesOf(pattern *stitch.Pattern, design design.Design) ([]store.DesignPicture, error) {
	colors := design.Colors()
	var pictures []store.DesignPicture
	for _, kind := range []struct {
		name string
		view picture.View
	}{{store.Thumb, picture.Thumb}, {store.Drawing, picture.Drawing}} {
		p, err := picture.Of(pattern, colors, kind.view)
		if err != nil {
			return nil, err
		}
		pictures = append(pictures, store.DesignPicture{DesignID: design.ID, Kind: kind.name, MediaType: p.MediaType, Picture: p.Data})
	}
	return pictures, nil
}

// keepPictures draws a design anew.
func (d Desk) keepPictures(design design.Design) error {
	pattern, err := d.Pattern(design)
	if err != nil {
		return err
	}
	pictures, err := picturesOf(pattern, design)
	if err != nil {
		return err
	}
	return d.Shop.KeepPictures(pictures...)
}

// DesignPicture gives a design's thumb or drawing; one that is not kept yet is
// drawn and kept.
func (d Desk) DesignPicture(id int64, kind string) (mediaType string, data []byte, err error) {
	if err := d.Need(desk.See); err != nil {
		return "", nil, err
	}
	p, err := d.Shop.DesignPicture(id, kind)
	if errors.Is(err, store.ErrNotFound) && (kind == store.Thumb || kind == store.Drawing) {
		row, finding := d.Shop.Design(id)
		if finding != nil {
			return "", nil, finding
		}
		if err := d.keepPictures(row.Value()); err != nil {
			return "", nil, err
		}
		p, err = d.Shop.DesignPicture(id, kind)
	}
	return p.MediaType, p.Picture, err
}
