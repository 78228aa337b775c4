// Package photo makes the photos that people hand in fit to keep: decoded, so
// that they are pictures and nothing else; upright; no larger than a page
// shows; and without what a camera writes into them, such as where it stood.
package photo

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"image"
	"image/jpeg"
	_ "image/png" // kinds of photos that people have
	"io"

	_ "golang.org/x/image/webp"
)

// Limits of what is taken in, and of what is kept.
const (
	MostBytes = 8 << 20
	longest   = 1600
	quality   = 85
)

// MediaType of every photo that is made.
const MediaType = "image/jpeg"

// Why a photo is not taken.
var (
	ErrHeavy  = errors.New("heavier than 8 MB")
	ErrLarge  = errors.New("of more pixels than are opened")
	ErrNarrow = errors.New("more than ten times as long as wide")
	ErrOfNone = errors.New("no JPEG, PNG or WebP picture")
)

// A Photo is a JPEG of a size in pixels.
type Photo struct {
	Data          []byte
	Width, Height int
}

// Make decodes a photo and makes it anew. What the file says of its size is
// looked at before a pixel is decoded, so that no photo takes more than 300 MB.
// When the context ends, so does the work, with the context's error.
func Make(ctx context.Context, data []byte) (Photo, error) {
	if len(data) > MostBytes {
		return Photo{}, ErrHeavy
	}
	kind, err := checked(data)
	if err != nil {
		return Photo{}, err
	}
	picture, _, err := image.Decode(whileWanted{ctx, bytes.NewReader(data)})
	switch {
	case ctx.Err() != nil:
		return Photo{}, fmt.Errorf("decoding the photo: %w", ctx.Err())
	case err != nil:
		return Photo{}, ErrOfNone
	}
	small, err := shrunk(ctx, picture)
	if err != nil {
		return Photo{}, fmt.Errorf("shrinking the photo: %w", err)
	}
	small = upright(small, orientation(data, kind))
	var out bytes.Buffer
	if err := jpeg.Encode(&out, small, &jpeg.Options{Quality: quality}); err != nil {
		return Photo{}, fmt.Errorf("writing the photo: %w", err)
	}
	return Photo{out.Bytes(), small.Bounds().Dx(), small.Bounds().Dy()}, nil
}

// whileWanted reads until a context ends: a small file can be long to decode.
type whileWanted struct {
	ctx context.Context
	r   io.Reader
}

// Read implements [io.Reader].
func (w whileWanted) Read(p []byte) (int, error) {
	if err := w.ctx.Err(); err != nil {
		return 0, err
	}
	return w.r.Read(p)
}
