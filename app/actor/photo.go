package actor

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"time"

	"chalkstep/app/form"
	"chalkstep/core/photo"
)

// Making photos.
const (
	// photosAtOnce are made at a time: each takes memory by its pixels, not by
	// its bytes.
	photosAtOnce = 1
	// photoPatience is how long one may take, before it is refused.
	photoPatience = 6 * time.Second
)

// Photo makes a photo that a person handed in fit to keep.
func (d Actor) Photo(problems form.Problems, data []byte) photo.Photo {
	if len(data) == 0 {
		return photo.Photo{}
	}
	made, err := d.app.makePhoto(d.ctx, data)
	switch {
	case errors.Is(err, photo.ErrHeavy):
		problems["photo"] = "The photo is larger than 8 MB: take a smaller one."
	case errors.Is(err, photo.ErrLarge):
		problems["photo"] = "The photo has too many pixels to open here: save it as a plain JPEG of at most 7,300 × 5,400."
	case errors.Is(err, photo.ErrNarrow):
		problems["photo"] = "The photo is more than ten times as long as it is wide: cut it to the part that matters."
	case errors.Is(err, photo.ErrOfNone):
		problems["photo"] = "That is no picture a browser shows: choose a JPEG, PNG or WebP photo."
	case err != nil:
		problems["photo"] = "The photo takes too long to open: save it smaller, then choose it again."
	}
	return made
}

func (a *App) makePhoto(ctx context.Context, data []byte) (photo.Photo, error) {
	if err := a.photos.Acquire(ctx, 1); err != nil {
		return photo.Photo{}, fmt.Errorf("waiting for other photos: %w", err)
	}
	defer a.photos.Release(1)
	ctx, cancel := context.WithTimeout(ctx, photoPatience)
	defer cancel()
	return photo.Make(ctx, data)
}

// RemakePhotos makes photos anew that were handed in before that was done.
func (a *App) RemakePhotos(ctx context.Context) error {
	made, kept, err := a.store.RemakePhotos(ctx, func(old []byte) (photo.Photo, error) { return a.makePhoto(ctx, old) })
	if made+kept > 0 {
		slog.Info("photos made anew", "made", made, "not shown any more", kept)
	}
	return err
}
