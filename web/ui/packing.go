package ui

import (
	"bytes"
	"io"
	"sync"

	"github.com/klauspost/compress/flate"
)

// gzipHead begins a gzip file: its magic bytes, the method, and that nothing
// is said about name, time and system (RFC 1952).
var gzipHead = []byte{0x1f, 0x8b, 8, 0, 0, 0, 0, 0, 0, 0xff}

const (
	// window is how far back the format lets a text repeat itself.
	window = 32 << 10
	// shortText is stored as it is: looking for what it repeats is not worth it.
	shortText = 64
	// packLevel is the fastest that finds what repeats a whole page back.
	packLevel = 4
)

// packers are shared by all streams. A compressor takes 800 kB, which is too
// much for each of a thousand pages that are told something now and then.
var packers = sync.Pool{New: func() any {
	w, _ := flate.NewWriter(io.Discard, packLevel) // fails for levels that there are not // fails for other levels only
	return w
}}

// A packed writer is a gzip file without an end. Between two texts it keeps no
// compressor, but what it wrote last, so that what repeats costs next to nothing.
type packed struct {
	out    io.Writer
	begun  bool
	behind []byte
}

// Write implements [io.Writer]; what it is given can be unpacked at once.
func (p *packed) Write(text []byte) (int, error) {
	if len(text) == 0 {
		return 0, nil
	}
	var out bytes.Buffer
	if !p.begun {
		_, _ = out.Write(gzipHead)
		p.begun = true
	}
	if err := p.pack(&out, text); err != nil {
		return 0, err
	}
	p.behind = append(p.behind, text...)
	if over := len(p.behind) - window; over > 0 {
		p.behind = append(p.behind[:0], p.behind[over:]...)
	}
	if _, err := p.out.Write(out.Bytes()); err != nil {
		return 0, err
	}
	return len(text), nil
}

func (p *packed) pack(out io.Writer, text []byte) error {
	if len(text) < shortText {
		return flate.StatelessDeflate(out, text, false, nil)
	}
	w := packers.Get().(*flate.Writer)
	defer func() {
		w.Reset(io.Discard) // or it holds on to what this stream is sent over
		packers.Put(w)
	}()
	w.ResetDict(out, p.behind)
	if _, err := w.Write(text); err != nil {
		return err
	}
	return w.Flush()
}
