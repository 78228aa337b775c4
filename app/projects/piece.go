package projects

import (
	"bytes"
	"cmp"
	"strconv"
	"strings"

	"chalkstep/app/form"
	"chalkstep/core/blank"
	"chalkstep/core/pattern"
	"chalkstep/core/project"
	"chalkstep/core/say"
)

// mostDrawingBytes of a drawing of a pattern piece are read.
const mostDrawingBytes = 2 << 20

// A PieceInput is a pattern piece as it is typed: from its measures, or from a
// drawing.
type PieceInput struct {
	Kind   string `says:"kind"`
	Width  string `says:"width"`
	Height string `says:"height"`
	Third  string `says:"third measure"`
	Seam   string `says:"seam allowance"`
	Count  string `says:"how many"`
	// FileName and Drawing are of a file, empty for none.
	FileName string
	Drawing  string
}

// typedPiece is how the form shows the pattern piece of a blank.
func (d UseCases) typedPiece(b project.Blank) PieceInput {
	in := PieceInput{Seam: form.TypedLength(d.Printer(), pattern.UsualSeamMM), Count: "1"}
	if b.Piece != nil {
		w, h := b.Piece.SizeMM()
		in.Seam, in.Count, in.Width, in.Height = form.TypedLength(d.Printer(), b.Piece.SeamMM), strconv.Itoa(b.Piece.Count),
			form.TypedLength(d.Printer(), w), form.TypedLength(d.Printer(), h)
	}
	return in
}

// readPiece reads the outline of a piece from a drawing, or draws it from its
// measures; where neither is given, it keeps the one there is with another
// allowance and count.
func (d UseCases) readPiece(problems form.Problems, p *project.Project, in PieceInput) {
	b := &p.Blank
	var piece pattern.Piece
	var err error
	switch {
	case in.Drawing != "":
		piece, err = readDrawing(in.FileName, []byte(in.Drawing))
	case in.Kind != "":
		kind := pattern.Kind(in.Kind)
		usual := kind.Usual()
		measure := func(typed string, otherwise float64) float64 {
			if strings.TrimSpace(typed) == "" {
				return otherwise
			}
			return form.Length(d.Printer(), problems, "piece", typed, 0, 2000)
		}
		piece, err = pattern.Drawn(kind,
			pattern.Measures{WidthMM: measure(in.Width, usual.WidthMM), HeightMM: measure(in.Height, usual.HeightMM),
				ThirdMM: measure(in.Third, usual.ThirdMM)})
	case b.Piece != nil:
		piece = *b.Piece
	default:
		problems["piece"] = "Choose what piece it is, or add a drawing of it."
		return
	}
	if err != nil {
		problems["piece"] = form.Sentence(d.Say(say.Of(err)))
		return
	}
	piece.SeamMM = form.Length(d.Printer(), problems, "piece", cmp.Or(strings.TrimSpace(in.Seam), "0"), 0, 60)
	piece.Count = form.Whole(problems, "piece", in.Count, 1, 20, "Write how many are cut of it for one set, 1 to 20.")
	if len(problems) == 0 {
		piece.Seams = piece.SeamLines()
	}
	if fresh := in.Drawing != "" || in.Kind != ""; fresh && err == nil && len(problems) == 0 {
		_, h := piece.SizeMM()
		spot := piece.Spot(pattern.Box{WidthMM: p.Design().WidthMM, HeightMM: p.Design().HeightMM})
		b.MoveXMM, b.MoveYMM = spot.XMM, spot.YMM-h/2
	}
	b.Shape, b.Spot, b.Size, b.Piece = blank.PatternPiece, blank.Centre, "", &piece
	b.WidthMM, b.HeightMM = piece.SizeMM()
}

// readDrawing reads a drawing by what it is, whatever it is called.
func readDrawing(name string, data []byte) (pattern.Piece, error) {
	if len(data) > mostDrawingBytes {
		return pattern.Piece{}, say.Errorf("the drawing is larger than 2 MB: draw only the piece")
	}
	if bytes.Contains(data[:min(len(data), 4096)], []byte("<svg")) || strings.HasSuffix(strings.ToLower(name), ".svg") {
		return pattern.FromSVG(data)
	}
	return pattern.FromDXF(data)
}
