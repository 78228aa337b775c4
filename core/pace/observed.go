package pace

import (
	"cmp"
	"math"
	"slices"
	"time"
)

// An Observation is how long a step really took somebody in a class.
type Observation struct {
	ClassID int64
	Class   string
	At      time.Time
	// Step is the plain key of the step.
	Step                 StepKey
	StudentID, MachineID int64
	// DesignID is what was sewn, 0 for a step that sews nothing.
	DesignID int64
	// SaidMinutes are what is said with nothing learned, PlannedMinutes what the plan of
	// the class had, TookMinutes what it took.
	SaidMinutes, PlannedMinutes, TookMinutes float64
	// Breaks of the thread in so many Stitches.
	Breaks, Stitches int
}

// A Factor is by how much something takes longer than said, by so many observations. One
// that is set aside says why, and is not used.
type Factor struct {
	Factor float64 `json:"factor"`
	N      int     `json:"n"`
	Aside  string  `json:"aside,omitempty"`
}

// Used is the factor that is planned with: 1 while nothing is known, or where it was set
// aside.
func (f Factor) Used() float64 {
	if f.Factor == 0 || f.Aside != "" {
		return 1
	}
	return f.Factor
}

// Broken is how often thread broke in so many stitches.
type Broken struct {
	Breaks   int `json:"breaks"`
	Stitches int `json:"stitches"`
}

// Learned are the factors that classes taught: of bench steps by their keys and by the
// students who did them, of sewing by machine and by design, and of the thread it draws.
type Learned struct {
	Steps    map[StepKey]Factor `json:"steps,omitempty"`
	Students map[int64]Factor   `json:"students,omitempty"`
	Machines map[int64]Factor   `json:"machines,omitempty"`
	Designs  map[int64]Factor   `json:"designs,omitempty"`
	Broken   map[int64]Broken   `json:"broken,omitempty"`
	// Thread is what classes used.
	Thread Thread `json:"thread,omitzero"`
}

// How slowly is learned: as if trusted observations had gone as said, and never further
// than farthest each way. What is longer or shorter than odd times what was said is taken
// for somebody who forgot to press.
const (
	trusted  = 2
	farthest = 3
	odd      = 6
)

// Learn finds the factors that observations teach, by robust medians pulled towards 1
// while there are few (handbook, While a class runs). What was set aside before stays so.
func Learn(observed []Observation, before Learned) Learned {
	l := Learned{Steps: map[StepKey]Factor{}, Students: map[int64]Factor{}, Machines: map[int64]Factor{},
		Designs: map[int64]Factor{}, Broken: map[int64]Broken{}}
	var bench, sewn []ratio
	for _, o := range observed {
		if o.DesignID != 0 && o.Stitches > 0 {
			b := l.Broken[o.MachineID]
			l.Broken[o.MachineID] = Broken{b.Breaks + o.Breaks, b.Stitches + o.Stitches}
		}
		if o.SaidMinutes <= 0 || o.TookMinutes <= 0 {
			continue
		}
		r := ratio{o, math.Log(o.TookMinutes / o.SaidMinutes)}
		switch {
		case math.Abs(r.log) > math.Log(odd):
		case o.DesignID != 0:
			sewn = append(sewn, r)
		default:
			bench = append(bench, r)
		}
	}
	l.Steps = factors(bench, func(o Observation) StepKey { return o.Step }, before.Steps)
	l.Students = factors(without(bench, func(o Observation) float64 { return l.Steps[o.Step].Factor }),
		func(o Observation) int64 { return o.StudentID }, before.Students)
	l.Machines = factors(sewn, func(o Observation) int64 { return o.MachineID }, before.Machines)
	l.Designs = factors(without(sewn, func(o Observation) float64 { return l.Machines[o.MachineID].Factor }),
		func(o Observation) int64 { return o.DesignID }, before.Designs)
	return l
}

// A ratio is how much longer something took than said, as a logarithm.
type ratio struct {
	Observation
	log float64
}

// without takes out of ratios what is known already.
func without(ratios []ratio, known func(Observation) float64) []ratio {
	rest := slices.Clone(ratios)
	for i := range rest {
		rest[i].log -= math.Log(max(known(rest[i].Observation), 1e-9))
	}
	return rest
}

func factors[K cmp.Ordered](ratios []ratio, of func(Observation) K, before map[K]Factor) map[K]Factor {
	by := map[K][]float64{}
	for _, r := range ratios {
		by[of(r.Observation)] = append(by[of(r.Observation)], r.log)
	}
	found := map[K]Factor{}
	for key, logs := range by {
		slices.Sort(logs)
		n := len(logs)
		middle := (logs[(n-1)/2] + logs[n/2]) / 2
		middle *= float64(n) / float64(n+trusted)
		found[key] = Factor{Factor: math.Exp(min(math.Log(farthest), max(-math.Log(farthest), middle))), N: n,
			Aside: before[key].Aside}
	}
	for key, f := range before {
		if _, known := found[key]; !known && f.Aside != "" {
			found[key] = Factor{Aside: f.Aside}
		}
	}
	return found
}

// figures are those that a step's minutes come from.
func (f *Figures) figures(step StepKey) []*float64 {
	switch step {
	case StepMark:
		return []*float64{&f.Mark}
	case StepStabilise:
		return []*float64{&f.Stabilise}
	case StepHoop:
		return []*float64{&f.HoopWoven, &f.HoopKnit}
	case StepLoad:
		return []*float64{&f.Load}
	case StepUnhoop:
		return []*float64{&f.Unhoop}
	case StepCleanUp:
		return []*float64{&f.CleanUp}
	case StepPress:
		return []*float64{&f.Press}
	case StepSignOff:
		return []*float64{&f.SignOff}
	}
	return nil
}

// Figure is what the house says a step takes, 0 where no figure says it.
func (f Figures) Figure(step StepKey) float64 {
	if all := f.figures(step); len(all) > 0 {
		return *all[0]
	}
	return 0
}

// Taught are the figures with what classes taught of the steps.
func (f Figures) Taught(l Learned) Figures {
	for step, factor := range l.Steps {
		for _, minutes := range f.figures(step) {
			*minutes *= factor.Used()
		}
	}
	return f
}

// Of is by how much longer than said a step of somebody is planned to take: what an
// observation of it is divided by.
func (l Learned) Of(step StepKey, studentID, machineID, designID int64) float64 {
	if designID != 0 {
		return l.Machines[machineID].Used() * l.Designs[designID].Used()
	}
	factor := l.Students[studentID].Used()
	if step == StepSignOff || step == StepTrim {
		factor = 1 // the instructor sets the pace, or the sewing it is part of
	}
	if len((&Figures{}).figures(step)) > 0 {
		factor *= l.Steps[step].Used()
	}
	return factor
}

// An Off is by how much the estimates of a class were off: the mean of their errors, as a
// share of what it took, with nothing learned and as planned.
type Off struct {
	ClassID       int64
	Class         string
	At            time.Time
	N             int
	Said, Planned float64
}

// OffBy is how far off the estimates of each class were, in time's order.
func OffBy(observed []Observation) []Off {
	by := map[int64]*Off{}
	for _, o := range observed {
		if o.SaidMinutes <= 0 || o.TookMinutes <= 0 || math.Abs(math.Log(o.TookMinutes/o.SaidMinutes)) > math.Log(odd) {
			continue
		}
		off := by[o.ClassID]
		if off == nil {
			off = &Off{ClassID: o.ClassID, Class: o.Class, At: o.At}
			by[o.ClassID] = off
		}
		off.N++
		off.Said += math.Abs(o.SaidMinutes-o.TookMinutes) / o.TookMinutes
		off.Planned += math.Abs(o.PlannedMinutes-o.TookMinutes) / o.TookMinutes
		if o.At.Before(off.At) {
			off.At = o.At
		}
	}
	var all []Off
	for _, off := range by {
		off.Said /= float64(off.N)
		off.Planned /= float64(off.N)
		all = append(all, *off)
	}
	slices.SortFunc(all, func(a, b Off) int { return cmp.Or(a.At.Compare(b.At), cmp.Compare(a.ClassID, b.ClassID)) })
	return all
}
