package e2e

import (
	"bytes"
	"image"
	"image/color"
	"image/png"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// picturesWanted tells that the pictures of the documents are written anew:
// make pictures.
var picturesWanted = os.Getenv("CHALKSTEP_PICTURES") != ""

// mostChanged is the share of a picture that may look otherwise than the one
// in the documents: letters differ a little from one browser to the next.
const mostChanged = 0.03

// keepOrCompare writes a picture of the documents, or compares what is on the
// page with the one that is there.
func keepOrCompare(t testing.TB, name string, data []byte) {
	t.Helper()
	path := filepath.Join("..", "docs", "screenshots", name+".png")
	if picturesWanted {
		require.NoError(t, os.WriteFile(path, data, 0o644))
		return
	}
	kept, err := os.ReadFile(path)
	require.NoError(t, err, "there is no such picture yet: make pictures")
	is, err := png.Decode(bytes.NewReader(data))
	require.NoError(t, err)
	was, err := png.Decode(bytes.NewReader(kept))
	require.NoError(t, err)
	require.Equal(t, was.Bounds(), is.Bounds(), name)
	assert.LessOrEqual(t, changed(was, is), mostChanged,
		"%s looks otherwise than in the documents: look at it, then make pictures", name)
}

// changed is the share of the pixels that look otherwise.
func changed(a, b image.Image) float64 {
	bounds := a.Bounds()
	n := 0
	for y := bounds.Min.Y; y < bounds.Max.Y; y++ {
		for x := bounds.Min.X; x < bounds.Max.X; x++ {
			if unlike(a.At(x, y), b.At(x, y)) {
				n++
			}
		}
	}
	return float64(n) / float64(bounds.Dx()*bounds.Dy())
}

func unlike(a, b color.Color) bool {
	const step = 40 << 8
	r1, g1, b1, _ := a.RGBA()
	r2, g2, b2, _ := b.RGBA()
	far := func(x, y uint32) bool { return max(x, y)-min(x, y) > step }
	return far(r1, r2) || far(g1, g2) || far(b1, b2)
}

func TestChangedPicturesAreSeen(t *testing.T) {
	white, half := image.NewGray(image.Rect(0, 0, 10, 10)), image.NewGray(image.Rect(0, 0, 10, 10))
	for i := range white.Pix {
		white.Pix[i], half.Pix[i] = 0xff, 0xff
	}
	assert.Zero(t, changed(white, half))
	for i := range 50 {
		half.Pix[i] = 0
	}
	assert.InDelta(t, 0.5, changed(white, half), 1e-9)
}
