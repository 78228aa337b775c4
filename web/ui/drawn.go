package ui

import (
	"fmt"

	"chalkstep/core/card"
	"chalkstep/core/technique"
)

// A Drawn is a technique's picture as a page shows it.
type Drawn struct {
	Name    string
	ViewBox string
	Strokes []DrawnStroke
}

// A DrawnStroke is a path with its classes, or a word at a point.
type DrawnStroke struct {
	Path, Class string
	Word        string
	X, Y        float64
}

// NewDrawn draws a technique's picture.
func NewDrawn(p P, name string, lines technique.Picture) Drawn {
	d := Drawn{Name: name, ViewBox: fmt.Sprintf("0 0 %d %d", technique.PictureWidth, technique.PictureHeight)}
	for _, s := range lines {
		stroke := DrawnStroke{Class: string(s.Tone) + " " + string(s.Style)}
		switch {
		case s.Word != "":
			stroke.Word, stroke.X, stroke.Y = p.Say(s.Word), s.Points[0][0], s.Points[0][1]
		default:
			stroke.Path = path(s.Points)
			if s.Closed {
				stroke.Path += "Z"
			}
			if s.Fill != "" {
				stroke.Class += " of-" + s.Fill
			}
		}
		d.Strokes = append(d.Strokes, stroke)
	}
	return d
}

// NewDrawnAll draws the pictures at a step of a card.
func NewDrawnAll(p P, pictures []card.Picture) []Drawn {
	var all []Drawn
	for _, picture := range pictures {
		all = append(all, NewDrawn(p, p.Say(picture.Name), picture.Lines))
	}
	return all
}
