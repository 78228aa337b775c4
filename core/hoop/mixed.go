package hoop

import (
	"math"
	"slices"
)

// A pallet is a field that is filled with rectangles of one size, some of them
// turned: the pallet loading problem. Sides include one gap, so that rectangles
// may touch. It is cut by straight lines again and again, and at last once in
// five blocks about a middle one, which a straight line cannot part (Bischoff
// and Dowsland 1982; cuts at sums of the sides suffice, Herz 1972).
type pallet struct {
	a, b   float64
	xs, ys []float64
	known  map[[2]int]cutting
}

// A cutting is the best way to fill a part of a pallet.
type cutting struct {
	count int
	// vertical and at say where it is cut; at is 0 for a plain grid, which is
	// turned or not.
	vertical, turned bool
	at               float64
}

// Work that a pallet may take: cuts tried, and five-block splits.
const (
	mostCuts   = 1_000_000
	mostBlocks = 100_000
)

// mixed fills a field with copies of an item of which some may be turned.
func mixed(field Field, item Item, gap float64) []Spot {
	width, height := field.WidthMM+gap, field.HeightMM+gap
	p := pallet{a: item.WidthMM + gap, b: item.HeightMM + gap, known: map[[2]int]cutting{}}
	p.xs, p.ys = sums(width, p.a, p.b), sums(height, p.a, p.b)
	if n, m := len(p.xs), len(p.ys); n*m*(n+m) > mostCuts {
		return oneCut(field, item, gap)
	}
	var spots []Spot
	p.fill(Point{}, width, height, item, &spots)
	if bound := int((width*height)/(p.a*p.b) + hair); len(spots) < bound {
		if five := p.fiveBlocks(width, height, item); len(five) > len(spots) {
			return five
		}
	}
	return spots
}

// oneCut parts a field once, where so many small copies fit that turning a few
// of them gains little.
func oneCut(field Field, item Item, gap float64) []Spot {
	var best []Spot
	for _, turned := range []bool{false, true} {
		w, h := item.WidthMM, item.HeightMM
		if turned {
			w, h = h, w
		}
		columns, rows := grid(field, w, h, gap)
		for c := range columns + 1 {
			for r := range rows + 1 {
				if c < columns && r < rows {
					continue // beside or above, not both
				}
				corner := Point{float64(c) * (w + gap), 0}
				rest := Field{field.WidthMM - corner.X, field.HeightMM}
				if c == columns {
					corner = Point{0, float64(r) * (h + gap)}
					rest = Field{field.WidthMM, field.HeightMM - corner.Y}
				}
				restColumns, restRows := grid(rest, h, w, gap)
				if c*r+max(0, restColumns)*max(0, restRows) <= len(best) {
					continue
				}
				best = append(gridOf(Point{}, c, r, w, h, gap, turned),
					gridOf(corner, restColumns, restRows, h, w, gap, !turned)...)
			}
		}
	}
	return best
}

// gridOf is a block of copies of width w and height h, from its lower left
// corner.
func gridOf(corner Point, columns, rows int, w, h, gap float64, turned bool) []Spot {
	var spots []Spot
	for row := range max(0, rows) {
		for column := range max(0, columns) {
			spots = append(spots,
				Spot{Point{corner.X + float64(column)*(w+gap) + w/2, corner.Y + float64(row)*(h+gap) + h/2}, turned})
		}
	}
	return spots
}

// sliver, in millimetres, is too little to tell two lengths apart.
const sliver = 1e-7

// sums are all i·a + j·b up to a length, in order, each once.
func sums(length, a, b float64) []float64 {
	var all []float64
	for i := 0.0; i <= length+hair; i += a {
		for j := i; j <= length+hair; j += b {
			all = append(all, j)
		}
	}
	slices.Sort(all)
	return slices.CompactFunc(all, func(p, q float64) bool { return math.Abs(q-p) < sliver })
}

// under is the index of the longest sum that a length holds.
func under(all []float64, length float64) int {
	i, found := slices.BinarySearch(all, length+sliver)
	if found {
		return i
	}
	return i - 1
}

// best fills a part of the pallet.
func (p *pallet) best(width, height float64) cutting {
	key := [2]int{under(p.xs, width), under(p.ys, height)}
	if found, ok := p.known[key]; ok {
		return found
	}
	width, height = p.xs[key[0]], p.ys[key[1]]
	upright := int((width+sliver)/p.a) * int((height+sliver)/p.b)
	turned := int((width+sliver)/p.b) * int((height+sliver)/p.a)
	found := cutting{count: max(upright, turned), turned: turned > upright}
	bound := int(width*height/(p.a*p.b) + sliver)
	for _, at := range p.xs {
		if at > width/2+sliver || found.count >= bound {
			break
		}
		if at == 0 {
			continue
		}
		if n := p.best(at, height).count + p.best(width-at, height).count; n > found.count {
			found = cutting{count: n, vertical: true, at: at}
		}
	}
	for _, at := range p.ys {
		if at > height/2+sliver || found.count >= bound {
			break
		}
		if at == 0 {
			continue
		}
		if n := p.best(width, at).count + p.best(width, height-at).count; n > found.count {
			found = cutting{count: n, at: at}
		}
	}
	p.known[key] = found
	return found
}

// fill adds the copies of the best way to fill a part of the pallet whose lower
// left corner is given.
func (p *pallet) fill(corner Point, width, height float64, item Item, spots *[]Spot) {
	c := p.best(width, height)
	switch {
	case c.count == 0:
	case c.at == 0:
		w, h, gap := item.WidthMM, item.HeightMM, p.a-item.WidthMM
		if c.turned {
			w, h = h, w
		}
		*spots = append(*spots,
			gridOf(corner, int((width+sliver)/(w+gap)), int((height+sliver)/(h+gap)), w, h, gap, c.turned)...)
	case c.vertical:
		p.fill(corner, c.at, height, item, spots)
		p.fill(Point{corner.X + c.at, corner.Y}, width-c.at, height, item, spots)
	default:
		p.fill(corner, width, c.at, item, spots)
		p.fill(Point{corner.X, corner.Y + c.at}, width, height-c.at, item, spots)
	}
}

// A block is a part of a pallet.
type block struct {
	corner        Point
	width, height float64
}

// fiveBlocks fills a pallet in four blocks that go round a fifth.
func (p *pallet) fiveBlocks(width, height float64, item Item) []Spot {
	if n, m := len(p.xs), len(p.ys); n*n*m*m/4 > mostBlocks {
		return nil
	}
	most := 0
	var best [5]block
	for i, x1 := range p.xs {
		for _, x2 := range p.xs[i:] {
			for j, y1 := range p.ys {
				for _, y2 := range p.ys[j:] {
					blocks := [5]block{
						{Point{0, y1}, x1, height - y1},
						{Point{x1, y2}, width - x1, height - y2},
						{Point{x1, y1}, x2 - x1, y2 - y1},
						{Point{0, 0}, x2, y1},
						{Point{x2, 0}, width - x2, y2},
					}
					n := 0
					for _, b := range blocks {
						n += p.best(math.Max(0, b.width), math.Max(0, b.height)).count
					}
					if n > most {
						most, best = n, blocks
					}
				}
			}
		}
	}
	var spots []Spot
	for _, b := range best {
		p.fill(b.corner, b.width, b.height, item, &spots)
	}
	return spots
}
