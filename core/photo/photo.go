// Package photo makes the photos that people hand in fit to keep: decoded, so
// that they are pictures and nothing else; upright; no larger than a page
// shows; and without what a camera writes into them, such as where it stood.
package photo

import (
	"bytes"
	"errors"
	"fmt"
	"image"
	_ "image/jpeg" // kinds of photos that people have
	_ "image/png"
	"strings"

	"github.com/disintegration/imaging"
	_ "golang.org/x/image/webp"
)

// Limits of what is taken in, and of what is kept.
const (
	MostBytes  = 8 << 20
	mostPixels = 50_000_000
	longest    = 1600
	quality    = 85
)

// MediaType of every photo that is made.
const MediaType = "image/jpeg"

// Why a photo is not taken.
var (
	ErrHeavy  = errors.New("heavier than 8 MB")
	ErrLarge  = errors.New("of more than 50 million pixels")
	ErrOfNone = errors.New("no JPEG, PNG or WebP picture")
)

// A Photo is a JPEG of a size in pixels.
type Photo struct {
	Data          []byte
	Width, Height int
}

// Make decodes a photo and makes it anew. The size that the file claims is
// looked at before anything is decoded.
func Make(data []byte) (Photo, error) {
	if len(data) > MostBytes {
		return Photo{}, ErrHeavy
	}
	claimed, kind, err := image.DecodeConfig(bytes.NewReader(data))
	if err != nil || !strings.Contains("jpeg png webp", kind) {
		return Photo{}, ErrOfNone
	}
	if claimed.Width <= 0 || claimed.Height <= 0 {
		return Photo{}, ErrOfNone
	}
	if claimed.Width > mostPixels/claimed.Height {
		return Photo{}, ErrLarge
	}
	picture, err := imaging.Decode(bytes.NewReader(data), imaging.AutoOrientation(true))
	if err != nil {
		return Photo{}, ErrOfNone
	}
	// What is clear in a PNG becomes white, not black.
	picture = imaging.Fit(picture, longest, longest, imaging.Lanczos)
	ground := imaging.New(picture.Bounds().Dx(), picture.Bounds().Dy(), image.White)
	var out bytes.Buffer
	if err := imaging.Encode(&out, imaging.Overlay(ground, picture, image.Point{}, 1), imaging.JPEG, imaging.JPEGQuality(quality)); err != nil {
		return Photo{}, fmt.Errorf("writing the photo: %w", err)
	}
	return Photo{out.Bytes(), picture.Bounds().Dx(), picture.Bounds().Dy()}, nil
}
