package desk

import (
	"context"
	"errors"
	"log/slog"

	"chalkstep/core/photo"
)

// Photo makes a photo that a person handed in fit to keep. One at a time: each
// takes memory by its pixels, not by its bytes.
func (d Desk) Photo(problems Problems, data []byte) photo.Photo {
	if len(data) == 0 {
		return photo.Photo{}
	}
	d.app.memo.photos.Lock()
	defer d.app.memo.photos.Unlock()
	made, err := photo.Make(data)
	switch {
	case errors.Is(err, photo.ErrHeavy):
		problems["photo"] = "The photo is larger than 8 MB: take a smaller one."
	case errors.Is(err, photo.ErrLarge):
		problems["photo"] = "The photo has more than 50 million pixels: take a smaller one."
	case err != nil:
		problems["photo"] = "That is no picture a browser shows: choose a JPEG, PNG or WebP photo."
	default:
		return made
	}
	return photo.Photo{}
}

// RemakePhotos makes photos anew that were handed in before that was done.
func (a *App) RemakePhotos(ctx context.Context) error {
	made, kept, err := a.store.RemakePhotos(ctx, photo.Make)
	if made+kept > 0 {
		slog.Info("photos made anew", "made", made, "not shown any more", kept)
	}
	return err
}
