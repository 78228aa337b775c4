package photo

import (
	"context"
	"fmt"
	"image"
	"image/color"

	"golang.org/x/image/draw"
)

// shrunk brings a picture down to what a page shows, on white: what is clear in
// it would be black otherwise. Whole blocks of pixels become their mean first,
// as scaling in one go takes 32 bytes for each pixel between; what is left is
// less than twice as large, where the pixels around are enough.
func shrunk(ctx context.Context, picture image.Image) (*image.RGBA, error) {
	pixels, ok := picture.(image.RGBA64Image)
	if !ok {
		return nil, fmt.Errorf("a %T has no pixels that can be read", picture)
	}
	from := picture.Bounds()
	block := max(1, max(from.Dx(), from.Dy())/longest)
	means := image.NewRGBA(image.Rect(0, 0, from.Dx()/block, from.Dy()/block))
	for y := range means.Rect.Dy() {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		for x := range means.Rect.Dx() {
			means.SetRGBA(x, y, mean(pixels, from.Min.X+x*block, from.Min.Y+y*block, block))
		}
	}
	w, h := means.Rect.Dx(), means.Rect.Dy()
	if most := max(w, h); most > longest {
		w, h = max(1, (w*longest+most/2)/most), max(1, (h*longest+most/2)/most)
	}
	small := image.NewRGBA(image.Rect(0, 0, w, h))
	draw.ApproxBiLinear.Scale(small, small.Rect, means, means.Rect, draw.Src, nil)
	return small, ctx.Err()
}

// mean is the mean colour of a square block of pixels, laid on white.
func mean(pixels image.RGBA64Image, left, top, block int) color.RGBA {
	const white = 0xffff
	var r, g, b, clear int
	for y := top; y < top+block; y++ {
		for x := left; x < left+block; x++ {
			c := pixels.RGBA64At(x, y)
			r, g, b, clear = r+int(c.R), g+int(c.G), b+int(c.B), clear+white-int(c.A)
		}
	}
	n := block * block
	part := func(sum int) byte { return byte((sum + clear) / n >> 8) }
	return color.RGBA{part(r), part(g), part(b), 0xff}
}
