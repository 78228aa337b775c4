package kit

import (
	"math"

	"chalkstep/core/recipe"
	"chalkstep/core/say"
	"chalkstep/core/stitch"
	"chalkstep/core/supply"
)

// A LayerKind is what something laid in the hoop beside stabilizer is laid as
// (handbook, Cut sizes).
type LayerKind string

// The kinds of layer.
const (
	Batting    LayerKind = "batting"
	Background LayerKind = "background"
	PieceLayer LayerKind = "piece"
	Film       LayerKind = "film"
	Backing    LayerKind = "backing"
	Fusible    LayerKind = "fusible"
	Binding    LayerKind = "binding"
)

// LayerKinds in the order they are usually laid.
var LayerKinds = []LayerKind{Batting, Background, PieceLayer, Film, Backing, Fusible, Binding}

// material of a layer where it is its own, ok is false where it is a fabric.
func (k LayerKind) material() (key supply.Key, ok bool) {
	switch k {
	case Batting:
		return supply.Key{Kind: supply.Batting}, true
	case Film:
		return supply.Key{Kind: supply.Film}, true
	case Fusible:
		return supply.Key{Kind: supply.Fusible}, true
	}
	return supply.Key{}, false
}

// Cut sizes in millimetres: what each is larger, or smaller, than what it
// has to cover.
const (
	pieceMarginMM      = 12.0 // a side, round the box of its placement line
	backgroundMarginMM = 25.0 // a side, so 50 mm each way in all
	fusibleSmallerMM   = 3.0  // a side, which keeps the iron clean
	bindingWidthMM     = 63.0
	bindingTrimMM      = 6.0
)

// A Layer is something laid in the hoop: as what, of which fabric, the stop it
// is laid before, and its size where the project sets one.
type Layer struct {
	As     LayerKind
	Fabric recipe.Fabric
	SizeMM [2]float64
	Stop   int
}

// A Piece is a rectangle to cut for one set, so many times.
type Piece struct {
	// As is what it is laid as; empty for the sheets of the recipe.
	As     LayerKind
	Key    supply.Key
	SizeMM [2]float64
	Count  int
	// Turn allows it to lie on its side; Hooped is a sheet in the hoop.
	Turn, Hooped bool
	Working      say.Text
}

// A Layout is what layers are cut for: the finished size, and the box of each
// stop of the design.
type Layout struct {
	FinishedMM [2]float64
	Boxes      map[int]stitch.Bounds
}

// Pieces works out what is cut for the layers of one set, with the size of
// each and why. widthMM is how wide a material lies on the shelf: strips longer
// than that are joined.
func Pieces(layers []Layer, l Layout, widthMM func(supply.Key) float64) []Piece {
	var pieces []Piece
	for _, layer := range layers {
		p := Piece{As: layer.As, Key: supply.Cloth(string(layer.Fabric)), Count: 1}
		if own, ok := layer.As.material(); ok {
			p.Key, p.Turn = own, true // these have no grain
		}
		switch layer.As {
		case PieceLayer, Film:
			box, ok := l.Boxes[layer.Stop]
			if !ok {
				box = around(l.Boxes)
			}
			p.SizeMM = [2]float64{box.Width() + 2*pieceMarginMM, box.Height() + 2*pieceMarginMM}
			p.Working = say.T("the box of its placement line, %s, and %s a side", say.Size{box.Width(), box.Height()},
				say.MM(pieceMarginMM))
		case Binding:
			pieces = append(pieces, binding(layer, l.FinishedMM, widthMM(p.Key)))
			continue
		default:
			p.SizeMM = [2]float64{l.FinishedMM[0] + 2*backgroundMarginMM, l.FinishedMM[1] + 2*backgroundMarginMM}
			p.Working = say.T("the finished size, %s, and %s a side", say.Size(l.FinishedMM), say.MM(backgroundMarginMM))
			if layer.As == Fusible {
				p.SizeMM = [2]float64{p.SizeMM[0] - 2*fusibleSmallerMM, p.SizeMM[1] - 2*fusibleSmallerMM}
				p.Working = say.T("%s, less %s a side, which keeps the iron clean", p.Working, say.MM(fusibleSmallerMM))
			}
		}
		if layer.SizeMM[0] > 0 && layer.SizeMM[1] > 0 {
			p.SizeMM, p.Working = layer.SizeMM, say.T("the size the project sets")
		}
		p.SizeMM = [2]float64{math.Ceil(p.SizeMM[0]), math.Ceil(p.SizeMM[1])}
		pieces = append(pieces, p)
	}
	return pieces
}

func around(boxes map[int]stitch.Bounds) stitch.Bounds {
	var all stitch.Bounds
	for _, b := range boxes {
		all.Left, all.Right, all.Bottom, all.Top = min(all.Left, b.Left), max(all.Right, b.Right), min(all.Bottom, b.Bottom),
			max(all.Top, b.Top)
	}
	return all
}

// binding is one strip round a square, joined of several where the fabric is
// not wide enough. Each join takes the strip's width, as it is diagonal.
func binding(layer Layer, finished [2]float64, fabricWidthMM float64) Piece {
	width := bindingWidthMM
	if layer.SizeMM[0] > 0 {
		width = layer.SizeMM[0]
	}
	perimeter := 2 * (finished[0] + finished[1])
	length := perimeter + 2*width + bindingTrimMM
	working := say.T("perimeter %s + 2 × the strip's %s + %s to trim for the diagonal join = %s", say.MM(perimeter),
		say.MM(width), say.MM(bindingTrimMM), say.MM(length))
	n := 1
	for fabricWidthMM > width && (length+float64(n-1)*width)/float64(n) > fabricWidthMM {
		n++
	}
	each := math.Ceil((length + float64(n-1)*width) / float64(n))
	if n > 1 {
		working = say.T("%s; in %s, each join takes another %s", working, say.N{N: n, Noun: "strip"}, say.MM(width))
	}
	return Piece{As: Binding, Key: supply.Cloth(string(layer.Fabric)), SizeMM: [2]float64{each, width}, Count: n,
		Turn: true, Working: working}
}

// SheetPieces are the stabilizer and topper of a recipe as pieces to cut, for
// a hoop of a name.
func SheetPieces(r recipe.Recipe, hoop string) []Piece {
	var pieces []Piece
	for _, u := range r.Under {
		pieces = append(pieces,
			Piece{Key: u.Key(), SizeMM: u.CutMM, Count: u.Sheets, Turn: true, Hooped: u.How == recipe.Hooped,
				Working: say.T("the hoop %s and the house's margin on every side, %s", hoop, say.Word(u.How))})
	}
	if r.Over != nil {
		pieces = append(pieces,
			Piece{Key: r.Over.Key(), SizeMM: r.Over.CutMM, Count: 1, Turn: true,
				Working: say.T("as the sheet under it, for the hoop %s", hoop)})
	}
	if c := r.SoftCoverMM; c[0] > 0 {
		pieces = append(pieces,
			Piece{Key: supply.Key{Kind: supply.SoftCover}, SizeMM: [2]float64{math.Ceil(c[0]), math.Ceil(c[1])}, Count: 1,
				Turn:    true,
				Working: say.T("the embroidery and a margin on every side, fused over the back")})
	}
	return pieces
}
