package kit

import (
	"fmt"
	"math"

	"chalkstep/core/measure"
	"chalkstep/core/recipe"
	"chalkstep/core/stitch"
)

// What is laid in the hoop beside stabilizer (handbook, Cut sizes).
const (
	Batting    = "batting"
	Background = "background"
	PieceLayer = "piece"
	Film       = "film"
	Backing    = "backing"
	Fusible    = "fusible"
	Binding    = "binding"
)

// LayerKinds in the order they are usually laid.
var LayerKinds = []string{Batting, Background, PieceLayer, Film, Backing, Fusible, Binding}

// Cut sizes in millimetres: what each is larger, or smaller, than what it
// has to cover.
const (
	pieceMarginMM      = 12.0 // a side, round the box of its placement line
	backgroundMarginMM = 25.0 // a side, so 50 mm each way in all
	fusibleSmallerMM   = 3.0  // a side, which keeps the iron clean
	bindingWidthMM     = 63.0
	bindingTrimMM      = 6.0
)

// A Layer is something laid in the hoop: its kind, its fabric, the stop it is
// laid before, and its size where the project sets one.
type Layer struct {
	What, Fabric      string
	WidthMM, HeightMM float64
	Stop              int
}

// A Piece is a rectangle to cut, so many times.
type Piece struct {
	What string
	// Material is what it is cut from, in the words of recipes and shelves:
	// "medium cut-away", "jersey".
	Material string
	WMM, HMM float64
	Count    int
	// Turn allows it to lie on its side.
	Turn    bool
	Working string
}

// Size prints what is cut.
func (p Piece) Size() string { return measure.Size(p.WMM, p.HMM) }

// A Layout is what layers are cut for: the finished size, and the box of each
// stop of the design.
type Layout struct {
	FinishedMM [2]float64
	Boxes      map[int]stitch.Bounds
}

// Pieces works out what is cut for the layers of one set, with the size of
// each and why. Strips longer than their material is wide are joined.
func Pieces(layers []Layer, l Layout, widthMM func(material string) float64) []Piece {
	var pieces []Piece
	for _, layer := range layers {
		p := Piece{What: layer.What, Material: layer.Fabric, Count: 1}
		switch layer.What {
		case PieceLayer, Film:
			box, ok := l.Boxes[layer.Stop]
			if !ok {
				box = whole(l.Boxes)
			}
			p.WMM, p.HMM = box.Width()+2*pieceMarginMM, box.Height()+2*pieceMarginMM
			p.Working = fmt.Sprintf("the box of its placement line, %s, and %.0f mm a side", measure.Size(box.Width(), box.Height()), pieceMarginMM)
		case Binding:
			pieces = append(pieces, binding(layer, l.FinishedMM, widthMM(layer.Fabric))...)
			continue
		default:
			p.WMM, p.HMM = l.FinishedMM[0]+2*backgroundMarginMM, l.FinishedMM[1]+2*backgroundMarginMM
			p.Working = fmt.Sprintf("the finished size, %s, and %.0f mm a side", measure.Size(l.FinishedMM[0], l.FinishedMM[1]), backgroundMarginMM)
			if layer.What == Fusible {
				p.WMM, p.HMM = p.WMM-2*fusibleSmallerMM, p.HMM-2*fusibleSmallerMM
				p.Working += fmt.Sprintf(", less %.0f mm a side, which keeps the iron clean", fusibleSmallerMM)
			}
		}
		// These are their own material, and have no grain.
		if p.Turn = layer.What == Batting || layer.What == Fusible || layer.What == Film; p.Turn {
			p.Material = layer.What
		}
		if layer.WidthMM > 0 && layer.HeightMM > 0 {
			p.WMM, p.HMM, p.Working = layer.WidthMM, layer.HeightMM, "the size the project sets"
		}
		p.WMM, p.HMM = math.Ceil(p.WMM), math.Ceil(p.HMM)
		pieces = append(pieces, p)
	}
	return pieces
}

func whole(boxes map[int]stitch.Bounds) stitch.Bounds {
	var all stitch.Bounds
	for _, b := range boxes {
		all.Left, all.Right, all.Bottom, all.Top = min(all.Left, b.Left), max(all.Right, b.Right), min(all.Bottom, b.Bottom), max(all.Top, b.Top)
	}
	return all
}

// binding is one strip round a square, joined of several where the fabric is
// not wide enough. Each join takes the strip's width, as it is diagonal.
func binding(layer Layer, finished [2]float64, fabricWidthMM float64) []Piece {
	width := bindingWidthMM
	if layer.WidthMM > 0 {
		width = layer.WidthMM
	}
	perimeter := 2 * (finished[0] + finished[1])
	length := perimeter + 2*width + bindingTrimMM
	working := fmt.Sprintf("perimeter %.0f + 2 × the strip's %.0f + %.0f to trim for the diagonal join = %.0f mm", perimeter, width, bindingTrimMM, length)
	n := 1
	for fabricWidthMM > width && (length+float64(n-1)*width)/float64(n) > fabricWidthMM {
		n++
	}
	each := math.Ceil((length + float64(n-1)*width) / float64(n))
	if n > 1 {
		working += fmt.Sprintf("; in %d strips, each join takes another %.0f mm", n, width)
	}
	return []Piece{{What: Binding, Material: layer.Fabric, WMM: each, HMM: width, Count: n, Turn: true, Working: working}}
}

// SheetPieces are the stabilizer and topper of a recipe as pieces to cut.
func SheetPieces(r recipe.Recipe) []Piece {
	var pieces []Piece
	for _, u := range r.Under {
		pieces = append(pieces, Piece{What: u.Weight + " " + u.What, Material: u.Weight + " " + u.What, WMM: u.CutMM[0], HMM: u.CutMM[1], Count: u.Sheets, Turn: true, Working: "the hoop and the house's margin on every side, " + u.How})
	}
	if r.Over != nil {
		pieces = append(pieces, Piece{What: r.Over.What, Material: r.Over.What, WMM: r.Over.CutMM[0], HMM: r.Over.CutMM[1], Count: 1, Turn: true, Working: "as the sheet under it"})
	}
	return pieces
}
