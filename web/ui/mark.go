package ui

import (
	"fmt"
	"strings"

	"chalkstep/core/blank"
)

// A Mark draws a blank with a design on it, in millimetres, y down from the
// middle of its top edge.
type Mark struct {
	ViewBox, Outline, Seams, Guide, Transform string
	X, Y                                      float64
	Unit                                      float64 // a length that reads well
}

// NewMark draws where a design goes; the zero Mark has no outline.
func NewMark(m blank.Mark) Mark {
	if len(m.Outline) == 0 {
		return Mark{}
	}
	left, top, right, bottom := m.Outline[0][0], m.Outline[0][1], m.Outline[0][0], m.Outline[0][1]
	for _, p := range m.Outline {
		left, right, top, bottom = min(left, p[0]), max(right, p[0]), min(top, p[1]), max(bottom, p[1])
	}
	unit := max(right-left, bottom-top) / 100
	p := Mark{X: m.XMM, Y: m.YMM, Unit: unit * 0.45}
	p.ViewBox = fmt.Sprintf("%.0f %.0f %.0f %.0f", left-3*unit, top-3*unit, right-left+6*unit, bottom-top+6*unit)
	p.Outline = path(m.Outline) + "Z"
	for _, seam := range m.Seams {
		p.Seams += path(seam)
	}
	if len(m.Guide) > 0 {
		p.Guide = path(m.Guide)
	}
	p.Transform = fmt.Sprintf("translate(%.1f %.1f) rotate(%.1f) scale(0.1)", m.XMM, m.YMM, m.TurnDegrees)
	return p
}

func path(points [][2]float64) string {
	var s strings.Builder
	for i, p := range points {
		command := "L"
		if i == 0 {
			command = "M"
		}
		fmt.Fprintf(&s, "%s%.1f %.1f", command, p[0], p[1])
	}
	return s.String()
}
