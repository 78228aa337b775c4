package skill

import (
	"time"

	"chalkstep/core/say"
)

// A Clearance is whether a student may have a machine of a kind without anybody of the
// staff, and what stands in the way.
type Clearance struct {
	On Kind
	// Missing are the steps that they have not done alone on that kind.
	Missing []Step
	// Lapsed is when they were last marked on it, where that is too long ago.
	Lapsed time.Time
	// Suspended says why nobody is to let them, empty where nobody said so.
	Suspended string
}

// May tells that nothing stands in the way.
func (c Clearance) May() bool { return len(c.Missing) == 0 && c.Lapsed.IsZero() && c.Suspended == "" }

// Why says what stands in the way, silent where nothing does.
func (c Clearance) Why() say.Text {
	switch {
	case c.Suspended != "":
		return say.T("suspended: %s", say.Name(c.Suspended))
	case len(c.Missing) > 0:
		return say.T("%s still to be done alone", Titles(c.Missing))
	case !c.Lapsed.IsZero():
		return say.T("lapsed: last marked on %s", say.Date(c.Lapsed))
	}
	return say.Text{}
}

// ClearanceOn a kind of machine: safe start and stop, threading, hooping, changing a needle
// and recovering a break were done alone on it (handbook, Skills and projects for
// beginners), something was marked there in the last so many days, 0 for however long ago,
// and nobody suspended it.
func (s Student) ClearanceOn(ladder Ladder, kind Kind, idleDays int, now time.Time) Clearance {
	c := Clearance{On: kind, Suspended: s.Suspended, Missing: ladder.Missing(s.AloneOn(kind), aloneNeeds)}
	if seen := s.Seen[kind]; len(c.Missing) == 0 && idleDays > 0 && seen.AddDate(0, 0, idleDays).Before(now) {
		c.Lapsed = seen
	}
	return c
}
