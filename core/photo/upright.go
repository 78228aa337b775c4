package photo

import (
	"bytes"
	"image"

	"github.com/bep/imagemeta"
)

// formats of the reader of what cameras write, by kind.
var formats = map[string]imagemeta.ImageFormat{"jpeg": imagemeta.JPEG, "png": imagemeta.PNG, "webp": imagemeta.WebP}

// orientation says how a camera was held, by the numbers of EXIF: 1 upright, to
// 8. A file that does not say, or cannot be read, was held upright.
func orientation(data []byte, kind string) int {
	const tag = "Orientation"
	held := 1
	_, _ = imagemeta.Decode(imagemeta.Options{
		R: bytes.NewReader(data), ImageFormat: formats[kind], Sources: imagemeta.EXIF,
		ShouldHandleTag: func(t imagemeta.TagInfo) bool { return t.Namespace == "IFD0" && t.Tag == tag },
		HandleTag: func(t imagemeta.TagInfo) error {
			if said, is := t.Value.(uint16); is {
				held = int(said)
			}
			return imagemeta.ErrStopWalking
		},
	})
	return held
}

// upright turns a picture by how the camera was held.
func upright(p *image.RGBA, held int) *image.RGBA {
	w, h := p.Rect.Dx(), p.Rect.Dy()
	// Where a pixel of the upright picture comes from.
	var from func(x, y int) (int, int)
	switch held {
	case 2:
		from = func(x, y int) (int, int) { return w - 1 - x, y }
	case 3:
		from = func(x, y int) (int, int) { return w - 1 - x, h - 1 - y }
	case 4:
		from = func(x, y int) (int, int) { return x, h - 1 - y }
	case 5:
		from = func(x, y int) (int, int) { return y, x }
	case 6:
		from = func(x, y int) (int, int) { return y, h - 1 - x }
	case 7:
		from = func(x, y int) (int, int) { return w - 1 - y, h - 1 - x }
	case 8:
		from = func(x, y int) (int, int) { return w - 1 - y, x }
	default:
		return p
	}
	size := image.Rect(0, 0, w, h)
	if held >= 5 {
		size = image.Rect(0, 0, h, w)
	}
	turned := image.NewRGBA(size)
	for y := range size.Dy() {
		for x := range size.Dx() {
			fx, fy := from(x, y)
			turned.SetRGBA(x, y, p.RGBAAt(fx, fy))
		}
	}
	return turned
}
