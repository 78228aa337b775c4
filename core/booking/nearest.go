package booking

import (
	"slices"
	"time"
)

// Nearest is the free time nearest to one that somebody had, as long and at any of some
// machines: by how far its beginning is from that of the other, then in the order of the
// machines. fits says what else a time has to be; ok is false where there is none.
func (r Rules) Nearest(w Want, had Span, fits func(Span) bool) (machineID int64, to Span, ok bool) {
	length := had.Length()
	w.Within = w.Within.Since(w.Now)
	best := time.Duration(-1)
	for _, m := range w.Machines {
		for _, free := range r.Free(w.Within, m.Taken, w.Zone) {
			at := free.From.Truncate(quarter)
			if at.Before(free.From) {
				at = at.Add(quarter)
			}
			for ; !at.Add(length).After(free.To); at = at.Add(quarter) {
				s := Span{at, at.Add(length)}
				far := at.Sub(had.From).Abs()
				if best >= 0 && far >= best || slices.ContainsFunc(w.Elsewhere, s.Meets) || !fits(s) {
					continue
				}
				machineID, to, best, ok = m.ID, s, far, true
			}
		}
	}
	return machineID, to, ok
}
