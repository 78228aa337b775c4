// Package fleet is a workshop's machines and hoops, and how a design can be
// sewn there.
package fleet

import (
	"cmp"
	"slices"
	"time"

	"chalkstep/core/design"
	"chalkstep/core/hoop"
	"chalkstep/core/pace"
	"chalkstep/core/policy"
	"chalkstep/core/recipe"
	"chalkstep/core/say"
	"chalkstep/core/skill"
	"chalkstep/core/stitch"
	"chalkstep/core/supply"
)

// A Hoop is a number of like hoops. ID and Version name its row.
type Hoop struct {
	ID      int64
	Version int
	Name    string
	hoop.Field
	Count int
	// Kind is how it holds.
	Kind hoop.Kind
}

// A Held hoop is one that a machine takes, with how far the marks on the frame
// miss the true needle start there.
type Held struct {
	Hoop
	OffXMM, OffYMM float64
	// MeasuredOn is when a cross was sewn to measure that, nil where it was not.
	MeasuredOn *time.Time
}

// A Machine of the room. ID and Version name its row.
type Machine struct {
	ID      int64
	Version int
	Name    string
	// Formats it reads, the one it likes best first.
	Formats                             []string
	TopSpeedSPM, ChangeSeconds, Needles int
	AutoTrim                            bool
	// Sews tells that it sews as well as it embroiders, Pedal that it has one.
	Sews, Pedal bool
	// Features it has; none where nobody has said.
	Features []Feature
	// BobbinStyle is what its bobbins are called, BobbinMetres what one holds.
	BobbinStyle  string
	BobbinMetres float64
	// Place is where it stands, of [Places] counted from 1; 0 for wherever there is room.
	Place int
	Hoops []Held
	// Outages are when it cannot be used.
	Outages []Outage
	// Logged is what its stitch-outs come to, and Pace what was learned of that
	// for mixed work, 0 while nothing was: see [Learn].
	Logged Logged
	Pace   float64
}

// The room is a grid of so many places across and deep.
const (
	PlacesAcross = 4
	PlacesDeep   = 6
	Places       = PlacesAcross * PlacesDeep
)

// Kind of the machine.
func (m Machine) Kind() skill.Kind {
	if m.Needles > 1 {
		return skill.MultiNeedle
	}
	return skill.SingleNeedle
}

// Pacing is what its minutes depend on.
func (m Machine) Pacing() pace.Machine {
	return pace.Machine{TopSpeedSPM: float64(m.TopSpeedSPM), ChangeSeconds: float64(m.ChangeSeconds), Needles: m.Needles,
		AutoTrim: m.AutoTrim, Pace: m.Pace}
}

// Bobbin is the key of bobbins that fit it.
func (m Machine) Bobbin() supply.Key { return supply.Bobbins(m.BobbinStyle) }

// Usable are the hoops of a machine of which there is one, smallest first.
func (m Machine) Usable() []Held {
	held := slices.DeleteFunc(slices.Clone(m.Hoops), func(h Held) bool { return h.Count == 0 })
	slices.SortStableFunc(held, byArea)
	return held
}

func byArea(a, b Held) int { return cmp.Compare(a.WidthMM*a.HeightMM, b.WidthMM*b.HeightMM) }

// HoopsOf lists each usable hoop of some machines once, in their order.
func HoopsOf(machines []Machine) []Hoop {
	return slices.DeleteFunc(Taken(machines), func(h Hoop) bool { return h.Count == 0 })
}

// Taken lists each hoop that some machines take once, there or not.
func Taken(machines []Machine) []Hoop {
	var hoops []Hoop
	for _, m := range machines {
		for _, h := range m.Hoops {
			if !slices.ContainsFunc(hoops, func(have Hoop) bool { return have.ID == h.ID }) {
				hoops = append(hoops, h.Hoop)
			}
		}
	}
	return hoops
}

// OfKind leaves machines their hoops of a kind; where it is empty, all but clamps,
// which hold nothing but bands.
func OfKind(machines []Machine, kind hoop.Kind) []Machine {
	all := slices.Clone(machines)
	for i := range all {
		all[i].Hoops = slices.DeleteFunc(slices.Clone(all[i].Hoops), func(h Held) bool {
			return kind != "" && h.Kind != kind || kind == "" && h.Kind == hoop.Clamp
		})
	}
	return all
}

// ChooseHoop picks from hoops the one to use for a design, by the school of the
// house; ok is false when none fits.
func ChooseHoop(hoops []Hoop, d design.Design, garment bool, rules policy.Rules) (Hoop, bool) {
	h, _, ok := choose(hoops, func(h Hoop) hoop.Field { return h.Field }, d, garment, rules)
	return h, ok
}

// choose picks one of some hoops for a design, and tells how it lies there.
func choose[H any](hoops []H, field func(H) hoop.Field, d design.Design, garment bool, rules policy.Rules) (chosen H,
	fit hoop.Fit, ok bool) {
	fields := make([]hoop.Field, len(hoops))
	for i, h := range hoops {
		fields[i] = field(h)
	}
	index, fit, ok := hoop.Choose(fields, d.WidthMM, d.HeightMM, 0, School(rules.House.Rules), garment)
	if ok {
		chosen = hoops[index]
	}
	return chosen, fit, ok
}

// School is how a house chooses among hoops that fit.
func School(h recipe.Rules) hoop.School {
	if h.HoopSize == "" {
		return hoop.ByBlank
	}
	return hoop.School(h.HoopSize)
}

// A Seat is how a machine takes a design.
type Seat struct {
	Machine Machine
	// Problem is silent when a hoop fits and a file can be had.
	Problem say.Text
	// Hoop is the one to use; where none fits, the largest.
	Hoop Held
	Fit  hoop.Fit
	// Hoops are all that take it, by size, each with how.
	Hoops []Fitted
	// HasFile tells that the design has a file the machine reads, in
	// FileFormat; otherwise ConvertTo is one it could read.
	HasFile    bool
	FileFormat string
	ConvertTo  string
	StitchOut  pace.StitchOut
}

// A Fitted hoop takes a design so.
type Fitted struct {
	Held
	Fit hoop.Fit
}

// In is the seat with another of its hoops.
func (s Seat) In(hoopID int64) Seat {
	if i := slices.IndexFunc(s.Hoops, func(h Fitted) bool { return h.ID == hoopID }); i >= 0 {
		s.Hoop, s.Fit = s.Hoops[i].Held, s.Hoops[i].Fit
	}
	return s
}

// Fits tells whether some hoop of the machine takes the design.
func (s Seat) Fits() bool { return s.Problem.Silent() }

// Format is what the machine's file of the design is in.
func (s Seat) Format() string {
	if s.HasFile {
		return s.FileFormat
	}
	return s.ConvertTo
}

// SeatAt tries a design on a machine's hoops and takes the one the house
// prefers.
func SeatAt(m Machine, d design.Design, garment bool, rules policy.Rules) Seat {
	s := Seat{Machine: m}
	for _, format := range d.Formats() {
		if !s.HasFile && slices.Contains(m.Formats, format) {
			s.HasFile, s.FileFormat = true, format
		}
	}
	if !s.HasFile {
		if i := slices.IndexFunc(m.Formats, func(f string) bool { return slices.Contains(stitch.Names(), f) }); i >= 0 {
			s.ConvertTo = m.Formats[i]
		}
	}
	hoops := slices.DeleteFunc(slices.Clone(m.Hoops), func(h Held) bool { return h.Count == 0 })
	if len(hoops) == 0 {
		s.Problem = say.T("no hoop for this machine yet")
		return s
	}
	chosen, fit, ok := choose(hoops, func(h Held) hoop.Field { return h.Field }, d, garment, rules)
	if !ok {
		s.Hoop = slices.MaxFunc(hoops, byArea)
		_, err := hoop.Into(s.Hoop.Field, d.WidthMM, d.HeightMM, 0)
		s.Problem = say.Of(err)
		return s
	}
	if s.Format() == "" {
		s.Problem = say.T("reads none of the formats we can write")
	}
	s.Hoop, s.Fit = chosen, fit
	for _, h := range m.Usable() {
		if into, err := hoop.Into(h.Field, d.WidthMM, d.HeightMM, 0); err == nil {
			s.Hoops = append(s.Hoops, Fitted{h, into})
		}
	}
	s.StitchOut = rules.Timing().StitchOut(m.Pacing(), d.Pacing(), 1)
	return s
}

// Share lets machines that want the same hoop have one each: a machine for
// which none is left takes the next size up that fits, as long as there is
// one, and shares otherwise. The machines with the least choice go first.
func Share(seats []Seat) {
	order := make([]*Seat, len(seats))
	for i := range seats {
		order[i] = &seats[i]
	}
	slices.SortStableFunc(order, func(a, b *Seat) int {
		return cmp.Compare(len(a.Machine.Usable()), len(b.Machine.Usable()))
	})
	wanted := map[int64]int{}
	for _, s := range order {
		if !s.Fits() {
			continue
		}
		if wanted[s.Hoop.ID] >= s.Hoop.Count {
			s.takeLarger(wanted)
		}
		wanted[s.Hoop.ID]++
	}
}

// takeLarger moves a seat to the next hoop up that fits and is left.
func (s *Seat) takeLarger(wanted map[int64]int) {
	for _, h := range s.Hoops {
		if byArea(h.Held, s.Hoop) >= 0 && wanted[h.ID] < h.Count {
			s.Hoop, s.Fit = h.Held, h.Fit
			return
		}
	}
}
