package paper

import (
	"bytes"
	"fmt"
	"image/png"

	"github.com/boombuler/barcode"
	"github.com/boombuler/barcode/qr"
)

// codePixels is how large a code is drawn, on each side.
const codePixels = 264

// Code draws a link as a square of dots that a phone reads, as PNG.
func Code(link string) ([]byte, error) {
	code, err := qr.Encode(link, qr.M, qr.Auto)
	if err != nil {
		return nil, fmt.Errorf("drawing the code of a link: %w", err)
	}
	if code, err = barcode.Scale(code, codePixels, codePixels); err != nil {
		return nil, fmt.Errorf("drawing the code of a link: %w", err)
	}
	var out bytes.Buffer
	if err := png.Encode(&out, code); err != nil {
		return nil, fmt.Errorf("drawing the code of a link: %w", err)
	}
	return out.Bytes(), nil
}
