package photo_test

import (
	"bytes"
	"encoding/binary"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/photo"
)

// taken is a photo of a red left and a blue right half.
func taken(t *testing.T, w, h int, write func(*bytes.Buffer, image.Image) error) []byte {
	t.Helper()
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			c := color.RGBA{200, 0, 0, 255}
			if x >= w/2 {
				c = color.RGBA{0, 0, 200, 255}
			}
			img.Set(x, y, c)
		}
	}
	var out bytes.Buffer
	require.NoError(t, write(&out, img))
	return out.Bytes()
}

func asJPEG(out *bytes.Buffer, img image.Image) error { return jpeg.Encode(out, img, nil) }
func asPNG(out *bytes.Buffer, img image.Image) error  { return png.Encode(out, img) }

// withEXIF puts a camera's notes in front: how it was held, and a secret.
func withEXIF(plain []byte, orientation uint16, secret string) []byte {
	tiff := []byte("MM\x00\x2a\x00\x00\x00\x08\x00\x01\x01\x12\x00\x03\x00\x00\x00\x01")
	tiff = binary.BigEndian.AppendUint16(tiff, orientation)
	tiff = append(tiff, 0, 0, 0, 0, 0, 0)
	body := append([]byte("Exif\x00\x00"), append(tiff, secret...)...)
	out := append([]byte{}, plain[:2]...)
	out = append(out, 0xff, 0xe1)
	out = binary.BigEndian.AppendUint16(out, uint16(len(body)+2))
	out = append(out, body...)
	return append(out, plain[2:]...)
}

func decoded(t *testing.T, p photo.Photo) image.Image {
	t.Helper()
	img, err := jpeg.Decode(bytes.NewReader(p.Data))
	require.NoError(t, err)
	assert.Equal(t, [2]int{p.Width, p.Height}, [2]int{img.Bounds().Dx(), img.Bounds().Dy()})
	return img
}

func reddish(c color.Color) bool {
	r, _, b, _ := c.RGBA()
	return r > 2*b
}

// A photo is kept upright and without what the camera wrote.
func TestAPhotoIsKeptUprightAndBare(t *testing.T) {
	const secret = "taken at 53.3498 N, 6.2603 W"
	plain := taken(t, 80, 40, asJPEG)
	held := withEXIF(plain, 6, secret) // turned by a quarter to the right
	require.Contains(t, string(held), secret)
	p, err := photo.Make(t.Context(), held)
	require.NoError(t, err)
	assert.NotContains(t, string(p.Data), secret)
	assert.NotContains(t, string(p.Data), "Exif")
	img := decoded(t, p)
	assert.Equal(t, [2]int{40, 80}, [2]int{p.Width, p.Height})
	assert.True(t, reddish(img.At(20, 10)), "what was left is on top")
	assert.False(t, reddish(img.At(20, 70)))
	p, err = photo.Make(t.Context(), plain)
	require.NoError(t, err)
	assert.True(t, reddish(decoded(t, p).At(10, 20)))
}

// Large photos come down to what a page shows; what is clear becomes white.
func TestPhotosComeDownInSize(t *testing.T) {
	p, err := photo.Make(t.Context(), taken(t, 4000, 1000, asPNG))
	require.NoError(t, err)
	assert.Equal(t, [2]int{1600, 400}, [2]int{p.Width, p.Height})
	clear := image.NewNRGBA(image.Rect(0, 0, 10, 10))
	var out bytes.Buffer
	require.NoError(t, png.Encode(&out, clear))
	p, err = photo.Make(t.Context(), out.Bytes())
	require.NoError(t, err)
	r, g, b, _ := decoded(t, p).At(5, 5).RGBA()
	assert.Equal(t, [3]uint32{0xffff, 0xffff, 0xffff}, [3]uint32{r, g, b})
}

// What claims to be larger than a photo can be is refused before it is
// decoded; what is no picture is refused.
func TestWhatIsNoPhotoIsRefused(t *testing.T) {
	bomb := taken(t, 8, 8, asPNG)
	binary.BigEndian.PutUint32(bomb[16:], 60_000)
	binary.BigEndian.PutUint32(bomb[20:], 60_000)
	for name, c := range map[string]struct {
		data []byte
		want error
	}{
		"nothing": {nil, photo.ErrOfNone}, "text": {[]byte("<svg onload=alert(1)>"), photo.ErrOfNone},
		"a GIF":                              {[]byte("GIF89a\x01\x00\x01\x00\x00\x00\x00;"), photo.ErrOfNone},
		"too heavy":                          {make([]byte, photo.MostBytes+1), photo.ErrHeavy},
		"cut off":                            {taken(t, 90, 90, asJPEG)[:300], photo.ErrOfNone},
		"a JPEG's beginning before a script": {[]byte("\xff\xd8\xff<script>"), photo.ErrOfNone},
	} {
		_, err := photo.Make(t.Context(), c.data)
		assert.ErrorIs(t, err, c.want, name)
	}
	_, err := photo.Make(t.Context(), bomb)
	assert.Error(t, err, "its check sum is wrong beside")
	rng := rand.New(rand.NewPCG(8, 8))
	good := taken(t, 30, 30, asJPEG)
	for range 300 {
		bad := bytes.Clone(good)
		for range 1 + rng.IntN(8) {
			bad[rng.IntN(len(bad))] = byte(rng.Uint32())
		}
		if p, err := photo.Make(t.Context(), bad); err == nil {
			decoded(t, p)
		}
	}
}
