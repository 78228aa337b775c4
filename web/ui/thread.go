package ui

// A ThreadBar is a stop of a sewing drawn as a length of thread: done, under way or to come.
type ThreadBar struct {
	X, Width   float64
	Color      string
	Done, Here bool
	// Dots are those of a stop to come.
	Dots []float64
}

// A ThreadStop is what a bar stands for.
type ThreadStop struct {
	Minutes float64
	Color   string
}

// A Strip is how wide bars of thread are drawn together, in pixels: Gap lies between two,
// Least is the least of one, and dots stand DotApart, Inset from the ends.
type Strip struct{ Width, Gap, Least, DotApart, Inset float64 }

// Bars draw stops in proportion to their minutes; present is the index of the one that is
// sewn. There are none where the strip cannot tell them apart.
func (s Strip) Bars(stops []ThreadStop, present int) []ThreadBar {
	total := 0.0
	for _, stop := range stops {
		total += stop.Minutes
	}
	room := s.Width - (s.Gap+s.Least)*float64(len(stops))
	if room < 0 {
		return nil
	}
	var bars []ThreadBar
	x := 0.0
	for i, stop := range stops {
		share := 1 / float64(len(stops))
		if total > 0 {
			share = stop.Minutes / total
		}
		b := ThreadBar{X: x, Width: s.Least + room*share, Color: stop.Color, Done: i < present, Here: i == present}
		for dot := b.X + s.Inset; !b.Done && !b.Here && dot <= b.X+b.Width-s.Inset; dot += s.DotApart {
			b.Dots = append(b.Dots, dot)
		}
		x += b.Width + s.Gap
		bars = append(bars, b)
	}
	return bars
}
