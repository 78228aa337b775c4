// Package cutplantest makes cutting jobs of which the best answer is known,
// and checks layouts without knowing how they were made.
package cutplantest

import (
	"fmt"
	"math"
	"math/rand/v2"

	"chalkstep/core/cutplan"
)

// Known cuts a full rectangle into n pieces by straight cuts from edge to
// edge, so that its length is the best there is. Some pieces keep their grain.
func Known(rng *rand.Rand, n int) (cutplan.Material, []cutplan.Piece, float64) {
	type rect struct{ w, h float64 }
	width, length := 400+math.Round(rng.Float64()*800), 500+math.Round(rng.Float64()*1500)
	parts := []rect{{width, length}}
	const least = 40
	for len(parts) < n {
		// The larger parts are cut first, so that none stays huge.
		at := 0
		for i, p := range parts {
			if p.w*p.h > parts[at].w*parts[at].h {
				at = i
			}
		}
		if rng.IntN(3) == 0 {
			at = rng.IntN(len(parts))
		}
		p := parts[at]
		across := p.h > p.w
		if rng.IntN(4) == 0 {
			across = !across
		}
		share := 0.25 + 0.5*rng.Float64()
		a, b := p, p
		if across {
			a.h = math.Round(p.h * share)
			b.h = p.h - a.h
		} else {
			a.w = math.Round(p.w * share)
			b.w = p.w - a.w
		}
		if min(a.w, a.h, b.w, b.h) < least {
			n-- // too small to cut: settle for fewer
			continue
		}
		parts[at] = a
		parts = append(parts, b)
	}
	var pieces []cutplan.Piece
	for i, p := range parts {
		piece := cutplan.Piece{ID: fmt.Sprint("p", i), WMM: p.w, HMM: p.h, Count: 1, Turn: rng.IntN(2) == 0}
		if piece.Turn && rng.IntN(2) == 0 && p.h <= width {
			piece.WMM, piece.HMM = p.h, p.w
		}
		pieces = append(pieces, piece)
	}
	return cutplan.Material{WidthMM: width, MaxLengthMM: 20_000}, pieces, length
}

const hair = 1e-3

// Check finds what is wrong with a layout: a piece missing, changed, off the
// material or over another, or cuts that do not take it apart from edge to
// edge. The whole begins as one part; each cut has to run right across one
// part; in the end every piece has to be a part of its own.
func Check(m cutplan.Material, pieces []cutplan.Piece, l cutplan.Layout) error {
	wanted := map[string]cutplan.Piece{}
	for _, p := range pieces {
		wanted[p.ID] = p
	}
	for i, p := range l.Placed {
		want, ok := wanted[p.ID]
		if !ok || want.Count == 0 {
			return fmt.Errorf("piece %s was not asked for so often", p.ID)
		}
		want.Count--
		wanted[p.ID] = want
		w, h := want.WMM, want.HMM
		if p.Turned {
			if !want.Turn {
				return fmt.Errorf("piece %s is turned against its grain", p.ID)
			}
			w, h = h, w
		}
		if math.Abs(w-p.WMM) > hair || math.Abs(h-p.HMM) > hair {
			return fmt.Errorf("piece %s lies as %v × %v, not %v × %v", p.ID, p.WMM, p.HMM, w, h)
		}
		if p.XMM < -hair || p.YMM < -hair || p.XMM+p.WMM > m.WidthMM+hair || p.YMM+p.HMM > l.LengthMM+hair {
			return fmt.Errorf("piece %s lies off the material", p.ID)
		}
		for _, q := range l.Placed[:i] {
			if p.XMM < q.XMM+q.WMM-hair && q.XMM < p.XMM+p.WMM-hair && p.YMM < q.YMM+q.HMM-hair && q.YMM < p.YMM+p.HMM-hair {
				return fmt.Errorf("pieces %s and %s overlap", p.ID, q.ID)
			}
		}
	}
	return comesApart(m, l)
}

type part struct{ x0, y0, x1, y1 float64 }

func comesApart(m cutplan.Material, l cutplan.Layout) error {
	parts := []part{{0, 0, m.WidthMM, max(m.MaxLengthMM, l.LengthMM)}}
	for n, c := range l.Cuts {
		found := false
		for i, p := range parts {
			upright := math.Abs(c.X1MM-c.X2MM) < hair
			if upright && c.X1MM > p.x0+hair && c.X1MM < p.x1-hair && math.Abs(c.Y1MM-p.y0) < hair &&
				math.Abs(c.Y2MM-p.y1) < hair {
				parts[i] = part{p.x0, p.y0, c.X1MM, p.y1}
				parts = append(parts, part{c.X1MM, p.y0, p.x1, p.y1})
				found = true
			} else if !upright && c.Y1MM > p.y0+hair && c.Y1MM < p.y1-hair && math.Abs(c.X1MM-p.x0) < hair &&
				math.Abs(c.X2MM-p.x1) < hair {
				parts[i] = part{p.x0, p.y0, p.x1, c.Y1MM}
				parts = append(parts, part{p.x0, c.Y1MM, p.x1, p.y1})
				found = true
			}
			if found {
				break
			}
		}
		if !found && (n > 0 || math.Abs(c.Y1MM-l.LengthMM) > hair) {
			return fmt.Errorf("cut %d from (%v, %v) to (%v, %v) does not run from edge to edge of a part", n+1, c.X1MM, c.Y1MM,
				c.X2MM, c.Y2MM)
		}
	}
	for _, p := range l.Placed {
		alone := false
		for _, q := range parts {
			alone = alone || math.Abs(p.XMM-q.x0) < hair && math.Abs(p.YMM-q.y0) < hair && math.Abs(p.XMM+p.WMM-q.x1) < hair &&
				math.Abs(p.YMM+p.HMM-q.y1) < hair
		}
		if !alone {
			return fmt.Errorf("piece %s does not come out as a part of its own", p.ID)
		}
	}
	return nil
}
