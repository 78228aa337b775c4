package photo_test

import (
	"bytes"
	"context"
	"image"
	"image/color"
	"image/jpeg"
	"runtime"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/photo"
	"chalkstep/core/photo/phototest"
)

// peak is how many bytes more than before are held while something is done.
func peak(do func()) uint64 {
	held := func() uint64 {
		var m runtime.MemStats
		runtime.ReadMemStats(&m)
		return m.HeapAlloc
	}
	runtime.GC()
	before, most := held(), uint64(0)
	done := make(chan bool)
	go func() {
		do()
		close(done)
	}()
	for {
		most = max(most, held())
		select {
		case <-done:
			return max(most, before) - before
		case <-time.After(2 * time.Millisecond):
		}
	}
}

// Pictures of the most pixels that their kind may have are made in 300 MB, one after the
// other too.
func TestTheLargestTakeLessThan300MB(t *testing.T) {
	for name, data := range map[string][]byte{
		"JPEG in one pass":                  bare(t, 8100, 6100),
		"JPEG in passes":                    phototest.JPEG(3000, 3050, 2, false),
		"JPEG in passes, colour halved":     phototest.JPEG(3700, 3750, 2, true),
		"PNG":                               phototest.PNG(5900, 5900, 6, 8, false),
		"PNG of few colours":                phototest.PNG(8000, 6200, 3, 8, false),
		"PNG, fine":                         phototest.PNG(4100, 4200, 6, 16, false),
		"PNG, interlaced":                   phototest.PNG(4100, 4200, 2, 8, true),
		"PNG, fine and interlaced":          phototest.PNG(2900, 3000, 6, 16, true),
		"WebP without loss":                 phototest.WebP(3400, 3400),
		"a strip ten times as long as wide": phototest.PNG(16_000, 1_600, 2, 8, false),
	} {
		t.Run(name, func(t *testing.T) {
			var made [2]photo.Photo
			took := peak(func() {
				for i := range made {
					var err error
					made[i], err = photo.Make(t.Context(), data)
					assert.NoError(t, err)
				}
			})
			t.Logf("%d MB", took>>20)
			assert.Less(t, took, uint64(300<<20))
			assert.Equal(t, 1600, max(made[1].Width, made[1].Height))
		})
	}
}

// bare is a JPEG as cameras write it.
func bare(t *testing.T, w, h int) []byte {
	t.Helper()
	var out bytes.Buffer
	require.NoError(t, jpeg.Encode(&out, image.NewYCbCr(image.Rect(0, 0, w, h), image.YCbCrSubsampleRatio420), nil))
	return out.Bytes()
}

// What is larger is refused before a pixel is decoded: next to nothing is held.
func TestMonstersAreRefused(t *testing.T) {
	for name, c := range map[string]struct {
		data []byte
		want error
	}{
		"a line of twenty million":  {phototest.PNG(20_000_000, 1, 0, 8, false), photo.ErrLarge},
		"a line of fifty million":   {phototest.PNG(50_000_000, 1, 0, 8, false), photo.ErrLarge},
		"a column of fifty million": {phototest.PNG(1, 50_000_000, 0, 1, false), photo.ErrLarge},
		"a long line":               {phototest.PNG(16_000, 1_500, 2, 8, false), photo.ErrNarrow},
		"sixteen bits of too many":  {phototest.PNG(5_000, 5_000, 6, 16, false), photo.ErrLarge},
		"interlaced, of too many":   {phototest.PNG(5_000, 5_000, 6, 8, true), photo.ErrLarge},
		"passes of too many":        {phototest.JPEG(6_000, 6_000, 2, true), photo.ErrLarge},
		"WebP of the longest sides": {phototest.WebP(16_383, 16_383), photo.ErrLarge},
	} {
		var err error
		took := peak(func() { _, err = photo.Make(t.Context(), c.data) })
		assert.ErrorIs(t, err, c.want, name)
		assert.Less(t, took, uint64(1<<20), name)
	}
}

// A file of a hundred thousand passes is worked on no longer than it is wanted.
func TestAPhotoIsNotWorkedOnForEver(t *testing.T) {
	data := phototest.JPEG(3700, 3750, 100_000, true)
	require.LessOrEqual(t, len(data), photo.MostBytes)
	ctx, cancel := context.WithTimeout(t.Context(), 200*time.Millisecond)
	defer cancel()
	_, err := photo.Make(ctx, data)
	assert.ErrorIs(t, err, context.DeadlineExceeded)
}

// The mean of a block is a pixel: fine stripes become grey, and nothing is shifted.
func TestShrinkingTakesMeans(t *testing.T) {
	img := image.NewGray(image.Rect(0, 0, 3200, 3200))
	for i := range img.Pix {
		img.Pix[i] = byte(255 * (i % 2))
	}
	for x := 1600; x < 1602; x++ { // a line that is one pixel wide when shrunk
		for y := range 3200 {
			img.SetGray(x, y, color.Gray{0})
		}
	}
	var out bytes.Buffer
	require.NoError(t, asPNG(&out, img))
	p, err := photo.Make(t.Context(), out.Bytes())
	require.NoError(t, err)
	small := decoded(t, p)
	at := func(x int) float64 {
		r, _, _, _ := small.At(x, 700).RGBA()
		return float64(r >> 8)
	}
	assert.InDelta(t, 128, at(100), 6)
	assert.InDelta(t, 128, at(1500), 6)
	assert.Less(t, at(800), 60.0)
}
