package designs

import (
	"errors"
	"slices"

	"chalkstep/app/actor"
	"chalkstep/core/design"
	"chalkstep/core/stitch"
	"chalkstep/core/stitch/picture"
	"chalkstep/store"
)

// picturesOf draws a design in the threads of its stops, for the sizes it is
// seen at.
func picturesOf(pattern *stitch.Pattern, of design.Design) ([]design.Picture, error) {
	colors := of.Colors()
	var pictures []design.Picture
	for _, kind := range []struct {
		design.PictureKind
		picture.View
	}{{design.Thumb, picture.Thumb}, {design.Drawing, picture.Drawing}} {
		p, err := picture.Of(pattern, colors, kind.View)
		if err != nil {
			return nil, err
		}
		pictures = append(pictures, design.Picture{Kind: kind.PictureKind, MediaType: p.MediaType, Data: p.Data})
	}
	return pictures, nil
}

// keepPictures draws a design anew.
func (d UseCases) keepPictures(design design.Design) error {
	pattern, err := d.Pattern(design)
	if err != nil {
		return err
	}
	pictures, err := picturesOf(pattern, design)
	if err != nil {
		return err
	}
	return d.Workshop.KeepPictures(design.ID, pictures...)
}

// stopPixels is how large a picture of a stop is, on its longer side.
const stopPixels = 240

// StopPicture draws a design as it lies there when a stop has been sewn; seen is
// what was sewn by then where that is not what the file has, nil for that.
func (d UseCases) StopPicture(id int64, stop int, seen []picture.Seen) (mediaType string, data []byte, err error) {
	if err := d.Need(actor.See); err != nil {
		return "", nil, err
	}
	found, err := d.Workshop.Design(id)
	if err != nil {
		return "", nil, err
	}
	if stop < 1 || stop > len(found.Stops) ||
		slices.ContainsFunc(seen, func(s picture.Seen) bool { return s.Stop < 1 || s.Stop > len(found.Stops) }) {
		return "", nil, actor.NotFound("stop %d of design %d", stop, id)
	}
	pattern, err := d.Pattern(found)
	if err != nil {
		return "", nil, err
	}
	if len(seen) == 0 {
		seen = picture.InOrder(found.Colors(), stop)
	}
	p, err := picture.UpTo(pattern, seen, stopPixels)
	return p.MediaType, p.Data, err
}

// DesignPicture gives a design's thumb or drawing; one that is not kept yet is
// drawn and kept.
func (d UseCases) DesignPicture(id int64, kind design.PictureKind) (mediaType string, data []byte, err error) {
	if err := d.Need(actor.See); err != nil {
		return "", nil, err
	}
	p, err := d.Workshop.DesignPicture(id, kind)
	if errors.Is(err, store.ErrNotFound) && (kind == design.Thumb || kind == design.Drawing) {
		found, finding := d.Workshop.Design(id)
		if finding != nil {
			return "", nil, finding
		}
		if err := d.keepPictures(found); err != nil {
			return "", nil, err
		}
		p, err = d.Workshop.DesignPicture(id, kind)
	}
	return p.MediaType, p.Data, err
}
