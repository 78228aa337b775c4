package designs

import (
	"slices"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/design"
	"chalkstep/core/stitch"
	"chalkstep/core/stitch/outline"
)

// A PiecesInput says which stops' outlines are cut from one fabric, and how.
type PiecesInput struct {
	Stops []int
	// Offset is how far outside the line is cut, as typed; Mirror is for cutting
	// from the paper side.
	Offset string
	Mirror bool
}

// A Piece is a stop whose outline can be cut.
type Piece struct {
	design.Stop
	Picked bool
	// HolesLost is how many openings the offset closes in it.
	HolesLost int
}

// A PiecesPage is cut paths laid out together.
type PiecesPage struct {
	Design design.Design
	In     PiecesInput
	// Pieces are the placement lines, or where there are none, all stops that
	// come back to their start.
	Pieces   []Piece
	OffsetMM float64
	Cut      outline.Cut
}

// Pieces side by side, as wide as a sheet that fits a cutter, this far apart.
const (
	cutSheetMM = 280
	cutGapMM   = 6
)

// Pieces opens the cut paths of a design: of the stops picked, or of all
// placement lines.
func (d UseCases) Pieces(designID int64, in PiecesInput) (PiecesPage, error) {
	if err := d.Need(actor.See); err != nil {
		return PiecesPage{}, err
	}
	sewn, a, err := d.analysis(designID)
	page := PiecesPage{Design: sewn, In: in}
	if err != nil {
		return page, err
	}
	page.find(a)
	if len(page.Pieces) == 0 {
		return page, form.Problems{"": "No stop of this design comes back to its start, so there is no piece to cut."}
	}
	for i := range page.Pieces {
		page.Pieces[i].Picked = len(in.Stops) == 0 || slices.Contains(in.Stops, page.Pieces[i].N)
	}
	problems := form.Problems{}
	if page.OffsetMM = outline.UsualOffset; in.Offset != "" {
		page.OffsetMM = form.FineLength(d.Printer(), problems, "offset", in.Offset, 0, outline.LargestOffset)
	}
	if err := problems.OrNil(); err != nil {
		return page, err
	}
	var cuts []outline.Cut
	for i := range page.Pieces {
		p := &page.Pieces[i]
		if !p.Picked {
			continue
		}
		cut, err := outline.Of(a, p.N, page.OffsetMM, in.Mirror)
		if err != nil {
			return page, form.Problems{"": form.Sentence(err.Error())}
		}
		p.HolesLost = cut.HolesLost
		cuts = append(cuts, cut)
	}
	if len(cuts) == 0 {
		return page, form.Problems{"stop": "Pick at least one piece."}
	}
	page.Cut = outline.Together(cuts, cutSheetMM, cutGapMM)
	return page, nil
}

// find lists what can be cut.
func (p *PiecesPage) find(a stitch.Analysis) {
	for _, placement := range []bool{true, false} {
		for _, s := range p.Design.Stops {
			if placement && s.Role != stitch.Placement {
				continue
			}
			if outline.Closes(a, a.Stops[s.N-1]) {
				p.Pieces = append(p.Pieces, Piece{Stop: s})
			}
		}
		if len(p.Pieces) > 0 {
			return
		}
	}
}

// PiecesFile is the cut paths as SVG at actual size.
func (d UseCases) PiecesFile(designID int64, in PiecesInput) (fileName string, svg []byte, err error) {
	if err := d.Need(actor.See); err != nil {
		return "", nil, err
	}
	page, err := d.Pieces(designID, in)
	if err != nil {
		return "", nil, err
	}
	return actor.Stem(page.Design.FileName) + "-pieces.svg", []byte(page.Cut.SVG()), nil
}
