package photo

import (
	"bytes"
	"encoding/binary"
	"image"
	"image/color"
)

const (
	// mostPixels is more than phones take.
	mostPixels = 50_000_000
	// longestSide is the longest that the formats people have can hold.
	longestSide = 16_383
	// narrowest is how many times as long as wide a picture may be.
	narrowest = 10
	// mostDecoded bytes a picture takes while it is decoded: as much again may
	// be taken by the one before, which has not been cleared away yet.
	mostDecoded = 140_000_000
)

// checked looks at what a file says it holds, and gives the kind that it is.
func checked(data []byte) (kind string, err error) {
	claimed, kind, err := image.DecodeConfig(bytes.NewReader(data))
	if err != nil || claimed.Width <= 0 || claimed.Height <= 0 {
		return "", ErrOfNone
	}
	perPixel := 0
	switch kind {
	case "jpeg":
		perPixel = bytesOfJPEG(data)
	case "png":
		perPixel = bytesOfPNG(data, claimed.ColorModel)
	case "webp":
		perPixel = bytesOfWebP(data)
	}
	w, h := claimed.Width, claimed.Height
	switch {
	case perPixel == 0:
		return "", ErrOfNone
	case max(w, h) > longestSide, w*h > mostPixels, w*h*perPixel > mostDecoded:
		return "", ErrLarge
	case max(w, h) > narrowest*min(w, h):
		return "", ErrNarrow
	}
	return kind, nil
}

// Markers of a JPEG that say how it is decoded.
const (
	sofBaseline, sofProgressive = 0xc0, 0xc2
	app14                       = 0xee
)

// bytesOfJPEG is what a pixel takes while a JPEG is decoded; 0 for what is none.
func bytesOfJPEG(data []byte) int {
	mixed := false // colours are to be put together from their parts
	for at := 2; at+4 <= len(data); {
		if data[at] != 0xff {
			return 0
		}
		marker := data[at+1]
		switch {
		case marker == 0xff: // filling
			at++
			continue
		case marker >= 0xd0 && marker <= 0xd8 || marker == 0x01: // without a length
			at += 2
			continue
		}
		length := int(binary.BigEndian.Uint16(data[at+2:]))
		segment := data[at+4:]
		if length < 2 || len(segment) < length-2 {
			return 0
		}
		segment = segment[:length-2]
		switch {
		case marker == app14 && bytes.HasPrefix(segment, []byte("Adobe")) && len(segment) > 11:
			mixed = segment[11] == 0
		case marker >= sofBaseline && marker <= sofProgressive:
			return bytesOfFrame(segment, marker == sofProgressive, mixed)
		}
		at += 2 + length
	}
	return 0
}

// bytesOfFrame reads what a frame's header says of its components: each takes
// a byte, unless it is coarser than the first. A frame that comes in several
// passes keeps the four bytes of every coefficient until the last.
func bytesOfFrame(header []byte, progressive, mixed bool) int {
	const fixed, each = 6, 3 // bytes before the components, and of each of them
	if len(header) < fixed {
		return 0
	}
	components := int(header[5])
	if components < 1 || components > 4 || len(header) < fixed+each*components {
		return 0
	}
	perPixel := components
	if components == 3 && header[fixed+1] == 0x22 {
		perPixel = 2 // 1½: colour at half the size both ways
	}
	if progressive {
		perPixel *= 5
	}
	if components == 4 || mixed || components == 3 && header[fixed] == 'R' {
		perPixel += 4 // a picture of its own
	}
	return perPixel
}

// bytesOfPNG is what a pixel takes while a PNG is decoded: by its colours, and
// twice where rows come interlaced.
func bytesOfPNG(data []byte, model color.Model) int {
	const interlace = 28 // where the header says so
	bytes := 4
	switch model {
	case color.RGBA64Model, color.NRGBA64Model:
		bytes = 8
	case color.Gray16Model:
		bytes = 2
	case color.GrayModel:
		bytes = 1
	default:
		if _, few := model.(color.Palette); few {
			bytes = 1
		}
	}
	if len(data) > interlace && data[interlace] != 0 {
		bytes *= 2
	}
	return bytes
}

// bytesOfWebP is what a pixel takes while a WebP is decoded. One without loss
// undoes each of up to four changes to all of it in a place of its own.
func bytesOfWebP(data []byte) int {
	if bytes.Contains(data[:min(len(data), 64)], []byte("VP8L")) || bytes.Contains(data, []byte("ALPH")) {
		return 12
	}
	return 2
}
