package pattern_test

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/pattern"
)

// dxf writes the entities of a text drawing, in the units of a number.
func dxf(unit int, entities ...string) []byte {
	return []byte(fmt.Sprintf(
		"0\nSECTION\n2\nHEADER\n9\n$INSUNITS\n70\n%d\n0\nENDSEC\n0\nSECTION\n2\nENTITIES\n%s0\nENDSEC\n0\nEOF\n", unit,
		strings.Join(entities, "")))
}

// Drawings of one rectangle of 120 × 80 mm, drawn in every way there is, are one
// piece.
func TestOnePieceHoweverItIsDrawn(t *testing.T) {
	line := func(x0, y0, x1, y1 float64) string {
		return fmt.Sprintf("0\nLINE\n8\n0\n10\n%g\n20\n%g\n11\n%g\n21\n%g\n", x0, y0, x1, y1)
	}
	svg := func(head, body string) func() (pattern.Piece, error) {
		return func() (pattern.Piece, error) {
			return pattern.FromSVG([]byte(`<svg xmlns="http://www.w3.org/2000/svg" ` + head + `>` + body + `</svg>`))
		}
	}
	inMM := `width="200mm" height="200mm" viewBox="0 0 200 200"`
	for name, read := range map[string]func() (pattern.Piece, error){
		"a rectangle":          svg(inMM, `<rect x="10" y="20" width="120" height="80"/>`),
		"a polygon":            svg(inMM, `<polygon points="10,20 130,20 130,100 10,100"/>`),
		"a path":               svg(inMM, `<path d="M10 20 L130 20 L130 100 L10 100 Z"/>`),
		"a relative path":      svg(inMM, `<path d="m10,20 h120 v80 h-120z"/>`),
		"lines after a move":   svg(inMM, `<path d="M10 20 130 20 130 100 10 100 10 20"/>`),
		"numbers run together": svg(inMM, `<path d="M10,20l120-0 0,80-120,0z"/>`),
		"in centimetres": svg(`width="20cm" height="20cm" viewBox="0 0 20 20"`,
			`<rect x="1" y="2" width="12" height="8"/>`),
		"in inches":          svg(`width="10in" height="10in" viewBox="0 0 254 254"`, `<rect width="120" height="80"/>`),
		"in user units":      svg(`viewBox="0 0 200 200"`, `<rect width="120" height="80"/>`),
		"moved and scaled":   svg(inMM, `<g transform="translate(30 5) scale(2)"><rect width="60" height="40"/></g>`),
		"turned":             svg(inMM, `<rect width="80" height="120" transform="rotate(90)"/>`),
		"the largest of two": svg(inMM, `<circle cx="5" cy="5" r="4"/><rect width="120" height="80"/>`),
		"a light polyline": func() (pattern.Piece, error) {
			return pattern.FromDXF(
				dxf(4, "0\nLWPOLYLINE\n90\n4\n70\n1\n10\n0\n20\n0\n10\n120\n20\n0\n10\n120\n20\n80\n10\n0\n20\n80\n"))
		},
		"an old polyline": func() (pattern.Piece, error) {
			return pattern.FromDXF(
				dxf(4, "0\nPOLYLINE\n66\n1\n70\n1\n0\nVERTEX\n10\n0\n20\n0\n0\nVERTEX\n10\n120\n20\n0\n"+
					"0\nVERTEX\n10\n120\n20\n80\n0\nVERTEX\n10\n0\n20\n80\n0\nSEQEND\n"))
		},
		"lines in any order": func() (pattern.Piece, error) {
			return pattern.FromDXF(dxf(0, line(0, 0, 120, 0), line(0, 80, 0, 0), line(120, 80, 120, 0), line(120, 80, 0, 80)))
		},
		"lines in inches": func() (pattern.Piece, error) {
			return pattern.FromDXF(dxf(1, line(0, 0, 120/25.4, 0), line(120/25.4, 0, 120/25.4, 80/25.4),
				line(120/25.4, 80/25.4, 0, 80/25.4), line(0, 80/25.4, 0, 0)))
		},
		"a pocket with no point": func() (pattern.Piece, error) {
			return pattern.Drawn(pattern.Pocket, pattern.Measures{WidthMM: 120, HeightMM: 80})
		},
	} {
		t.Run(name, func(t *testing.T) {
			p, err := read()
			require.NoError(t, err)
			w, h := p.SizeMM()
			assert.InDelta(t, 120, w, 0.01)
			assert.InDelta(t, 80, h, 0.01)
			left, top := math.Inf(1), math.Inf(1)
			for _, at := range p.Outline {
				left, top = min(left, at[0]), min(top, at[1])
			}
			assert.InDelta(t, -60, left, 0.01, "its middle is in the middle")
			assert.InDelta(t, 0, top, 0.01)
		})
	}
}

// Curves come out as round as they were drawn: half circles at both ends of a bar
// of 100 mm, 60 high.
func TestCurves(t *testing.T) {
	for name, read := range map[string]func() (pattern.Piece, error){
		"arcs of a path": func() (pattern.Piece, error) {
			return pattern.FromSVG(
				[]byte(`<svg viewBox="0 0 300 300"><path d="M50 0 h100 a30 30 0 0 1 0 60 h-100 a30 30 0 0 1 0 -60z"/></svg>`))
		},
		"bulges": func() (pattern.Piece, error) {
			return pattern.FromDXF(
				dxf(4, "0\nLWPOLYLINE\n90\n4\n70\n1\n10\n0\n20\n0\n42\n0\n10\n100\n20\n0\n42\n1\n"+
					"10\n100\n20\n60\n42\n0\n10\n0\n20\n60\n42\n1\n"))
		},
		"arcs that meet": func() (pattern.Piece, error) {
			return pattern.FromDXF(dxf(4, "0\nLINE\n10\n0\n20\n0\n11\n100\n21\n0\n",
				"0\nARC\n10\n100\n20\n30\n40\n30\n50\n270\n51\n90\n", "0\nLINE\n10\n100\n20\n60\n11\n0\n21\n60\n",
				"0\nARC\n10\n0\n20\n30\n40\n30\n50\n90\n51\n270\n"))
		},
	} {
		t.Run(name, func(t *testing.T) {
			p, err := read()
			require.NoError(t, err)
			w, h := p.SizeMM()
			assert.InDelta(t, 160, w, 0.3)
			assert.InDelta(t, 60, h, 0.3)
			area := 0.0
			for i, a := range p.Outline {
				b := p.Outline[(i+1)%len(p.Outline)]
				area += a[0]*b[1] - a[1]*b[0]
			}
			assert.InEpsilon(t, 100*60+math.Pi*900, math.Abs(area)/2, 0.005)
		})
	}
}

// A circle of 100 mm with an allowance of 10 takes a square that stays 10 mm
// inside it, by geometry, and no larger one.
func TestADesignKeepsTheSeamAllowance(t *testing.T) {
	p, err := pattern.FromSVG([]byte(`<svg viewBox="0 0 200 200"><circle cx="100" cy="100" r="100"/></svg>`))
	require.NoError(t, err)
	p.SeamMM = 10
	side := 2 * 90 / math.Sqrt2
	box := func(side, x, y, turn float64) pattern.Box {
		return pattern.Box{XMM: x, YMM: 100 + y, WidthMM: side, HeightMM: side, TurnDegrees: turn}
	}
	for _, turn := range []float64{0, 30, 45} {
		assert.True(t, p.Refuses(box(side-1, 0, 0, turn)).Silent())
		assert.InDelta(t, 10, p.Room(box(side, 0, 0, turn)), 0.3)
		assert.Contains(t, p.Refuses(box(side+4, 0, 0, turn)).String(), "into the seam allowance of 10 mm")
	}
	assert.Contains(t, p.Refuses(box(side, 30, 0, 0)).String(), "runs over the cut line")
	assert.Contains(t, p.Refuses(box(40, 400, 0, 0)).String(), "runs over the cut line")
	require.Len(t, p.SeamLines(), 1)
	for _, at := range p.SeamLines()[0] {
		assert.InDelta(t, 90, math.Hypot(at[0], at[1]-100), 0.5, "the seam line lies 10 mm inside")
	}
	// A notch that a box straddles is outside too, though all its corners are in.
	notched, err := pattern.FromSVG([]byte(`<svg viewBox="0 0 200 200"><path d="M0 0H90V90H110V0H200V150H0Z"/></svg>`))
	require.NoError(t, err)
	assert.Negative(t, notched.Room(pattern.Box{XMM: 0, YMM: 50, WidthMM: 80, HeightMM: 40}))
}

// Every kind that is drawn from measures is a piece of those measures, with a seam
// line, at its usual measures and at others.
func TestPiecesFromMeasures(t *testing.T) {
	for _, kind := range pattern.Kinds {
		for _, m := range []pattern.Measures{kind.Usual(), {WidthMM: 200, HeightMM: 300, ThirdMM: 40}} {
			p, err := pattern.Drawn(kind, m)
			require.NoError(t, err, kind)
			w, h := p.SizeMM()
			assert.InDelta(t, m.WidthMM, w, 0.5, kind)
			assert.InDelta(t, m.HeightMM, h, 0.5, kind)
			assert.NotEmpty(t, p.SeamLines(), kind)
			assert.NotEmpty(t, kind.Third())
		}
		_, err := pattern.Drawn(kind, pattern.Measures{WidthMM: 100, HeightMM: 60, ThirdMM: 70})
		assert.ErrorContains(t, err, "too much", kind)
	}
}

func TestWhatIsNoPieceIsRefused(t *testing.T) {
	for says, read := range map[string]func() (pattern.Piece, error){
		"no SVG":            func() (pattern.Piece, error) { return pattern.FromSVG([]byte("<svg><rect")) },
		"is no SVG drawing": func() (pattern.Piece, error) { return pattern.FromSVG([]byte("<html></html>")) },
		"no closed outline": func() (pattern.Piece, error) {
			return pattern.FromSVG([]byte(`<svg><path d="M0 0L90 0L90 90"/></svg>`))
		},
		"crosses itself": func() (pattern.Piece, error) {
			return pattern.FromSVG([]byte(`<svg><path d="M0 0L90 90L90 0L0 90Z"/></svg>`))
		},
		"of 20 mm to 2,000 mm": func() (pattern.Piece, error) {
			return pattern.FromSVG([]byte(`<svg><rect width="5" height="90"/></svg>`))
		},
		"where a number": func() (pattern.Piece, error) {
			return pattern.FromSVG([]byte(`<svg><path d="M0 0L1e999 0Z"/></svg>`))
		},
		"that is none": func() (pattern.Piece, error) { return pattern.FromSVG([]byte(`<svg><path d="M0 0 K 3"/></svg>`)) },
		"cannot be read": func() (pattern.Piece, error) {
			return pattern.FromSVG([]byte(`<svg><g transform="skewX(3)"/></svg>`))
		},
		"its units cannot": func() (pattern.Piece, error) {
			return pattern.FromSVG([]byte(`<svg width="90mm"><rect width="90" height="90"/></svg>`))
		},
		"is no code":        func() (pattern.Piece, error) { return pattern.FromDXF([]byte("hello\nworld\n")) },
		"in the middle":     func() (pattern.Piece, error) { return pattern.FromDXF([]byte("0\n")) },
		"is no DXF drawing": func() (pattern.Piece, error) { return pattern.FromDXF(nil) },
		"a binary DXF":      func() (pattern.Piece, error) { return pattern.FromDXF([]byte("AutoCAD Binary DXF\r\n")) },
		"join its lines": func() (pattern.Piece, error) {
			return pattern.FromDXF(dxf(4, "0\nLINE\n10\n0\n20\n0\n11\n100\n21\n0\n"))
		},
		"units of number 6": func() (pattern.Piece, error) { return pattern.FromDXF(dxf(6)) },
		"no piece is called": func() (pattern.Piece, error) {
			return pattern.Drawn("hat", pattern.Measures{WidthMM: 100, HeightMM: 100})
		},
		"write width": func() (pattern.Piece, error) {
			return pattern.Drawn(pattern.Cuff, pattern.Measures{WidthMM: math.NaN()})
		},
	} {
		_, err := read()
		assert.ErrorContains(t, err, says)
	}
}

// A drawing that overflows is refused by what is wrong with it, in numbers that can be read.
func TestDrawingsThatOverflowAreRefusedInWords(t *testing.T) {
	dxfTo := func(far string) []byte {
		return dxf(4, "0\nLWPOLYLINE\n70\n1\n10\n0\n20\n0\n10\n"+far+"\n20\n0\n10\n"+far+"\n20\n"+far+"\n")
	}
	for what, read := range map[string]func() (pattern.Piece, error){
		"a wide rectangle": func() (pattern.Piece, error) {
			return pattern.FromSVG([]byte(`<svg><rect width="1e300" height="90"/></svg>`))
		},
		"a far corner": func() (pattern.Piece, error) {
			return pattern.FromSVG([]byte(`<svg><path d="M0 0H-1e308V1e308Z"/></svg>`))
		},
		"a sum past all": func() (pattern.Piece, error) {
			return pattern.FromSVG([]byte(`<svg><path d="M1e308 0h1e308v9z"/></svg>`))
		},
		"a scale": func() (pattern.Piece, error) {
			return pattern.FromSVG([]byte(`<svg><g transform="scale(1e300)"><rect width="90" height="90"/></g></svg>`))
		},
		"scales one in the other": func() (pattern.Piece, error) {
			return pattern.FromSVG(
				[]byte(`<svg><g transform="scale(1e200)"><g transform="scale(1e200)"><rect width="90" height="90"/></g></g></svg>`))
		},
		"a small viewBox": func() (pattern.Piece, error) {
			return pattern.FromSVG(
				[]byte(`<svg width="90mm" height="90mm" viewBox="0 0 1e-300 1e-300"><rect width="90" height="90"/></svg>`))
		},
		"a far place": func() (pattern.Piece, error) {
			return pattern.FromSVG([]byte(`<svg><rect x="1e30" y="-1e30" width="90" height="90"/></svg>`))
		},
		"an arc": func() (pattern.Piece, error) {
			return pattern.FromSVG([]byte(`<svg><path d="M0 0A1e300 1e300 0 0 1 90 90A1e-300 9 0 0 1 0 1e300Z"/></svg>`))
		},
		"a DXF":                 func() (pattern.Piece, error) { return pattern.FromDXF(dxfTo("1e300")) },
		"a DXF of miles":        func() (pattern.Piece, error) { return pattern.FromDXF(dxfTo("-9223372036854775808")) },
		"a piece of ten metres": func() (pattern.Piece, error) { return pattern.FromDXF(dxfTo("10000")) },
	} {
		_, err := read()
		require.Error(t, err, what)
		assert.Regexp(t, "more than a kilometre away|the piece is 10,000 × 10,000 mm", err.Error(), what)
	}
}

// Whatever a file holds, reading it ends with a piece or with a reason.
func FuzzDrawings(f *testing.F) {
	f.Add([]byte(`<svg viewBox="0 0 9 9"><path d="M0 0h90v90a3 4 5 0 1 9 9z"/></svg>`))
	f.Add(dxf(4, "0\nLWPOLYLINE\n70\n1\n10\n0\n20\n0\n42\n1\n10\n99\n20\n0\n"))
	f.Fuzz(func(t *testing.T, data []byte) {
		if len(data) > 1500 {
			t.Skip("longer drawings are no other, and slower")
		}
		for _, read := range []func([]byte) (pattern.Piece, error){pattern.FromSVG, pattern.FromDXF} {
			if p, err := read(data); err == nil {
				require.NoError(t, p.Check())
				p.Room(pattern.Box{WidthMM: 10, HeightMM: 10})
			}
		}
	})
}

// The heaviest outline there may be is drawn with its seam line while a page is
// made.
func BenchmarkSeamLines(b *testing.B) {
	var d strings.Builder
	d.WriteString("M")
	for i := range pattern.MostPoints {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / pattern.MostPoints)
		r := 300 + 20*float64(i%2)
		fmt.Fprintf(&d, "%.2f %.2f ", 400+r*cos, 400+r*sin)
	}
	p, err := pattern.FromSVG([]byte(`<svg viewBox="0 0 800 800"><path d="` + d.String() + `Z"/></svg>`))
	require.NoError(b, err)
	for b.Loop() {
		require.NotNil(b, p.SeamLines())
	}
}
