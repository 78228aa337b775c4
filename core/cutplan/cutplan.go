// Package cutplan lays rectangular pieces on a roll, sheet or width of fabric
// so that little is wasted, and so that the whole comes apart with straight
// cuts from edge to edge, as shears and rotary cutters make them. Such
// layouts are called guillotine layouts; the shortest is not known to be
// findable quickly, so the plan is a search: each region is filled with the
// piece that suits it best and its rest is cut into two regions, for many
// orders of the pieces, and the shortest result is kept.
package cutplan

import (
	"errors"
	"fmt"
	"math"
)

// A Material is cut across its width; lengths and widths are in millimetres.
type Material struct {
	WidthMM     float64 `json:"width_mm"`
	MaxLengthMM float64 `json:"max_length_mm"`
}

// A Piece is wanted Count times. Turn allows it to lie on its side; without
// it the grain, nap or print keeps its direction: H runs along the length.
type Piece struct {
	ID    string  `json:"id"`
	WMM   float64 `json:"w_mm"`
	HMM   float64 `json:"h_mm"`
	Count int     `json:"count"`
	Turn  bool    `json:"turn"`
}

// A Placed piece lies with its corner at (X, Y): x across the width, y along
// the length. W and H are as it lies.
type Placed struct {
	ID     string  `json:"id"`
	XMM    float64 `json:"x_mm"`
	YMM    float64 `json:"y_mm"`
	WMM    float64 `json:"w_mm"`
	HMM    float64 `json:"h_mm"`
	Turned bool    `json:"turned"`
}

// A Cut runs straight from edge to edge of what is still in one part.
type Cut struct {
	X1MM float64 `json:"x1_mm"`
	Y1MM float64 `json:"y1_mm"`
	X2MM float64 `json:"x2_mm"`
	Y2MM float64 `json:"y2_mm"`
}

// An Offcut is a rest worth keeping.
type Offcut struct {
	XMM, YMM, WMM, HMM float64
}

// LeastOffcutMM is the side from which on a rest goes back to the shelf.
const LeastOffcutMM = 100

// A Layout is the answer. Cuts are in the order they are made, the first
// across the roll where the layout ends.
type Layout struct {
	LengthMM float64 `json:"length_mm"`
	// Waste is the share of the length that becomes no piece.
	Waste float64 `json:"waste"`
	// AreaBoundMM is the length that no layout can be shorter than.
	AreaBoundMM float64  `json:"area_bound_mm"`
	Placed      []Placed `json:"placed"`
	Cuts        []Cut    `json:"cuts"`
	Offcuts     []Offcut `json:"-"`
}

// Limits of a plan, so that a mistyped count costs little.
const (
	MostPieces = 2000
	mostMM     = 1e6
)

// ErrTooLong means the material ends before the pieces do.
var ErrTooLong = errors.New("the material is too short")

// Plan lays out pieces on one material. The same pieces always give the same
// layout.
func Plan(m Material, pieces []Piece) (Layout, error) {
	all, err := spread(m, pieces)
	if err != nil {
		return Layout{}, err
	}
	if len(all) == 0 {
		return Layout{Placed: []Placed{}, Cuts: []Cut{}}, nil
	}
	layout := shortest(m.WidthMM, all).lay(m.WidthMM)
	layout.measure(m, all)
	if m.MaxLengthMM > 0 && layout.LengthMM > m.MaxLengthMM+hair {
		return layout, fmt.Errorf("%w: the pieces need %.0f mm of it, and there are %.0f mm", ErrTooLong, layout.LengthMM,
			m.MaxLengthMM)
	}
	return layout, nil
}

// hair forgives what is lost in adding lengths up.
const hair = 1e-6

// spread lists every single piece and checks that each can lie on the material.
func spread(m Material, pieces []Piece) ([]rect, error) {
	if !(m.WidthMM > 0 && m.WidthMM <= mostMM) || !(m.MaxLengthMM >= 0 && m.MaxLengthMM <= mostMM) {
		return nil, fmt.Errorf("material of width %v mm and length %v mm: expected numbers above 0", m.WidthMM, m.MaxLengthMM)
	}
	var all []rect
	for i, p := range pieces {
		if !(p.WMM > 0 && p.WMM <= mostMM) || !(p.HMM > 0 && p.HMM <= mostMM) || p.Count < 0 {
			return nil, fmt.Errorf("piece %q is %v × %v mm, %d times: expected sizes above 0", p.ID, p.WMM, p.HMM, p.Count)
		}
		if len(all)+p.Count > MostPieces {
			return nil, fmt.Errorf("more than %d pieces in one plan", MostPieces)
		}
		if p.WMM > m.WidthMM+hair && !(p.Turn && p.HMM <= m.WidthMM+hair) {
			return nil, fmt.Errorf("piece %q is %.0f mm wide, and the material %.0f mm", p.ID, p.WMM, m.WidthMM)
		}
		for range p.Count {
			all = append(all, rect{kind: i, id: p.ID, w: p.WMM, h: p.HMM, turn: p.Turn && p.WMM != p.HMM})
		}
	}
	return all, nil
}

// measure puts in what is said of a layout.
func (l *Layout) measure(m Material, all []rect) {
	area, tallest := 0.0, 0.0
	for _, r := range all {
		area += r.w * r.h
		least := r.h
		if r.turn && r.h <= m.WidthMM+hair {
			least = min(r.w, r.h)
			if r.w > m.WidthMM+hair {
				least = r.w
			}
		}
		tallest = max(tallest, least)
	}
	l.AreaBoundMM = math.Floor(max(area/m.WidthMM, tallest)*10) / 10 // down: no layout is shorter
	l.Waste = math.Round((1-area/(m.WidthMM*l.LengthMM))*1000) / 1000
}

// Fill lays as many pieces as it can on one sheet or remnant of a fixed size,
// and returns those that did not fit.
func Fill(m Material, pieces []Piece) (Layout, []Piece, error) {
	fitting := make([]Piece, 0, len(pieces))
	for _, p := range pieces {
		upright := p.WMM <= m.WidthMM+hair && p.HMM <= m.MaxLengthMM+hair
		onSide := p.Turn && p.HMM <= m.WidthMM+hair && p.WMM <= m.MaxLengthMM+hair
		if upright || onSide {
			fitting = append(fitting, p)
		}
	}
	all, err := spread(m, fitting)
	if err != nil {
		return Layout{}, nil, err
	}
	layout := fullest(m.WidthMM, m.MaxLengthMM, all)
	if len(layout.Cuts) > 0 {
		layout.Cuts = layout.Cuts[1:] // a sheet ends where it ends
	}
	laid := 0.0
	for _, p := range layout.Placed {
		laid += p.WMM * p.HMM
	}
	layout.Waste = math.Round((1-laid/(m.WidthMM*m.MaxLengthMM))*1000) / 1000
	rest := make([]Piece, len(pieces))
	copy(rest, pieces)
	for _, placed := range layout.Placed {
		for i := range rest {
			if rest[i].ID == placed.ID && rest[i].Count > 0 {
				rest[i].Count--
				break
			}
		}
	}
	left := rest[:0]
	for _, p := range rest {
		if p.Count > 0 {
			left = append(left, p)
		}
	}
	return layout, left, nil
}
