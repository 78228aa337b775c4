package app

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"chalkstep/core/measure"
	"chalkstep/store"
)

// A StudentKit is one student's bag and how far it is.
type StudentKit struct {
	Place store.ClassStudent
	// Sitting is the place in the order in which the students sit down.
	Sitting int
	Machine string
	Project store.Project
	Lines   []KitItem
	// Missing counts lines that are not in the bag.
	Missing int
}

// A KitItem is one thing in a bag.
type KitItem struct {
	What, Size string
	Count      int
	Packed     bool
}

// Key names a line in the database and in forms.
func (k KitItem) Key() string { return k.What + " " + k.Size }

// Next is the state a kit goes to next, empty at the end.
func (k StudentKit) Next() string {
	i := slices.Index(store.KitStates, k.Place.KitState)
	if i < 0 || i+1 >= len(store.KitStates) {
		return ""
	}
	return store.KitStates[i+1]
}

// A KitsPage is the kits of a class.
type KitsPage struct {
	ClassPage
	Kits []StudentKit
	// Done counts kits that are packed or farther.
	Done int
}

// Kits opens the kits of a class, in sitting order.
func (d Desk) Kits(classID int64) (KitsPage, error) {
	page, err := d.Class(classID)
	if err != nil {
		return KitsPage{}, err
	}
	items, err := d.shop.Stock()
	if err != nil {
		return KitsPage{}, err
	}
	page.widths = widthsOf(items)
	out := KitsPage{ClassPage: page}
	for _, w := range page.Works {
		for _, s := range w.Students {
			k, err := page.studentKit(w, s)
			if err != nil {
				return out, err
			}
			out.Kits = append(out.Kits, k)
			if packedBy(s.KitState) {
				out.Done++
			}
		}
	}
	start := func(k StudentKit) float64 {
		for _, s := range page.StepsOf(id(k.Place.StudentID)) {
			if s.Station != "" {
				return s.Start
			}
		}
		return 0
	}
	slices.SortStableFunc(out.Kits, func(a, b StudentKit) int {
		return cmp.Or(cmp.Compare(start(a), start(b)), cmp.Compare(a.Place.Student.Name, b.Place.Student.Name))
	})
	for i := range out.Kits {
		out.Kits[i].Sitting = i + 1
	}
	return out, nil
}

// packedBy tells whether a kit has been packed by the time it is in a state.
func packedBy(state string) bool {
	return slices.Index(store.KitStates, state) >= slices.Index(store.KitStates, store.KitPacked)
}

// studentKit lists what goes into one bag.
func (p ClassPage) studentKit(w Work, s store.ClassStudent) (StudentKit, error) {
	k := StudentKit{Place: s, Project: w.Project, Machine: p.MachineName(p.stationOf(id(s.StudentID)))}
	pieces, err := p.piecesOf(w, s)
	if err != nil {
		return k, err
	}
	for _, piece := range pieces {
		what := piece.What
		if piece.Material != piece.What {
			what += " of " + piece.Material
		}
		k.Lines = append(k.Lines, KitItem{What: what, Size: piece.Size(), Count: piece.Count})
	}
	k.Lines = append(k.Lines, KitItem{What: w.Project.Blank, Size: measure.Size(w.Project.BlankWidthMM, w.Project.BlankHeightMM), Count: 1})
	for _, part := range w.Project.Content.Parts {
		k.Lines = append(k.Lines, KitItem{What: part.Name, Count: part.Count})
	}
	k.Lines = append(k.Lines, KitItem{What: "step card", Count: 1})
	for i := range k.Lines {
		if k.Lines[i].Packed = slices.Contains(s.KitPacked, k.Lines[i].Key()); !k.Lines[i].Packed {
			k.Missing++
		}
	}
	return k, nil
}

// A KitInput is what a person says of a kit: what is in the bag, and the
// state it goes to, empty to leave it.
type KitInput struct {
	StudentID int64
	Version   int
	Packed    []string
	State     string
	// Scanned comes from the card that a label's code opens: what is in the
	// bag is left as it is.
	Scanned bool
}

// SaveKit keeps how far a kit is. A kit is packed when nothing is missing.
func (d Desk) SaveKit(classID int64, in KitInput) error {
	page, err := d.Kits(classID)
	if err != nil {
		return err
	}
	at := slices.IndexFunc(page.Kits, func(k StudentKit) bool { return k.Place.StudentID == in.StudentID })
	if at < 0 {
		return fmt.Errorf("finding the kit of student %d: %w", in.StudentID, store.ErrNotFound)
	}
	k := page.Kits[at]
	place := k.Place
	place.ClassID, place.KitVersion = classID, in.Version
	if in.State != "" {
		if !slices.Contains(store.KitStates, in.State) {
			return Problems{"state": "Choose how far the kit is."}
		}
		place.KitState = in.State
	}
	if in.Scanned {
		in.Packed = k.Place.KitPacked
	}
	place.KitPacked = store.Texts{}
	var missing []string
	for _, line := range k.Lines {
		if slices.Contains(in.Packed, line.Key()) {
			place.KitPacked = append(place.KitPacked, line.Key())
		} else {
			missing = append(missing, line.What)
		}
	}
	if packedBy(place.KitState) && place.KitState != store.KitReturned && len(missing) > 0 {
		return Problems{fmt.Sprintf("kit-%d", in.StudentID): fmt.Sprintf("%s's kit is not complete: %s still missing.", place.Student.Name, joinWords(missing))}
	}
	return saved(d.shop.SaveKit(place), "")
}

// joinWords lists things as a sentence does.
func joinWords(words []string) string {
	switch len(words) {
	case 0:
		return ""
	case 1:
		return words[0] + " is"
	}
	last := len(words) - 1
	return strings.Join(words[:last], ", ") + " and " + words[last] + " are"
}
