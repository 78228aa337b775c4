package live

import (
	"cmp"
	"slices"
	"time"

	"chalkstep/core/classday"
	"chalkstep/core/pace"
	"chalkstep/core/say"
	"chalkstep/core/schedule"
	"chalkstep/core/stitch"
)

// A Report is how a class went.
type Report struct {
	Students []Outcome
	Steps    []StepTimes
	Calls    []CallCount
}

// Reached is how far somebody came.
type Reached string

// A student who never came is Missing.
const (
	Finished   Reached = "finished"
	ToFinish   Reached = "to-finish"
	NotStarted Reached = "not-started"
	Missing    Reached = "missing"
)

// An Outcome is a student's: Ended is when the last step they did was done, Planned when
// they were to be done with everything, ToGo the steps that are left.
type Outcome struct {
	Standing
	Reached        Reached
	Ended, Planned time.Time
	ToGo           []pace.StepKey
}

// MinutesOf is how long somebody took over a step, of how long they were to; timed is false where nobody
// knows.
func (o Outcome) MinutesOf(step pace.StepKey) (real, planned float64, timed bool) {
	for k, placed := range o.Steps[:o.Next] {
		if pace.StepKey(placed.Operation) == step && o.Real[k].Timed() {
			return o.Real[k].Ended.Sub(o.Real[k].Begun).Minutes(), placed.End - placed.Start, true
		}
	}
	return 0, 0, false
}

// StepTimes are the minutes of a step, over all who did it: the median of what was
// planned for them and of what it really took.
type StepTimes struct {
	Step          pace.StepKey
	N             int
	Planned, Real float64
}

// A CallCount is how often a hand went up for a reason at a station, and the longest it
// was up, as far as somebody came.
type CallCount struct {
	Reason  Reason
	Station string
	// Thread is the one that broke, black for another reason.
	Thread  stitch.RGB
	N       int
	Longest time.Duration
}

// Report sums a class up, however far it is.
func (s State) Report() Report {
	var r Report
	type times struct{ planned, real []float64 }
	by := map[pace.StepKey]*times{}
	var order []pace.StepKey
	for _, at := range s.Standings {
		o := Outcome{Standing: at, Reached: ToFinish}
		switch {
		case at.Next == 0 && !at.Came():
			o.Reached = Missing
		case at.Finished():
			o.Reached = Finished
		case at.Next == 0:
			o.Reached = NotStarted
		}
		if at.Next > 0 {
			o.Ended = at.Real[at.Next-1].Ended
		}
		o.Planned = s.timeOf(at.Steps[len(at.Steps)-1].End + s.shift())
		for k, step := range at.Steps {
			key := pace.StepKey(step.Operation)
			if k >= at.Next {
				o.ToGo = append(o.ToGo, key)
				continue
			}
			if !at.Real[k].Timed() {
				continue
			}
			if by[key] == nil {
				by[key] = &times{}
				order = append(order, key)
			}
			by[key].planned = append(by[key].planned, step.End-step.Start)
			by[key].real = append(by[key].real, at.Real[k].Ended.Sub(at.Real[k].Begun).Minutes())
		}
		r.Students = append(r.Students, o)
	}
	for _, key := range order {
		t := by[key]
		r.Steps = append(r.Steps, StepTimes{key, len(t.real), median(t.planned), median(t.real)})
	}
	r.Calls = s.counted()
	return r
}

// TitleOf is what a step is called by the first who has it.
func (s State) TitleOf(key pace.StepKey) say.Text {
	for _, at := range s.Standings {
		w, _, made := s.Plan.Maker(classday.PersonID(at.StudentID))
		if !made || !slices.ContainsFunc(at.Steps, func(step schedule.Assignment) bool {
			return step.Operation == string(key)
		}) {
			continue
		}
		step, _ := w.Step(string(key))
		return step.Title
	}
	return say.Name(string(key))
}

func (s State) counted() []CallCount {
	var all []CallCount
	for _, c := range s.Calls {
		i := slices.IndexFunc(all, func(n CallCount) bool {
			return n.Reason == c.Reason && n.Station == c.Station && n.Thread == c.Thread
		})
		if i < 0 {
			i = len(all)
			all = append(all, CallCount{Reason: c.Reason, Station: c.Station, Thread: c.Thread})
		}
		all[i].N++
		if !c.Settled.IsZero() {
			all[i].Longest = max(all[i].Longest, c.Settled.Sub(c.Since))
		}
	}
	slices.SortStableFunc(all, func(a, b CallCount) int {
		return cmp.Or(cmp.Compare(b.N, a.N), cmp.Compare(slices.Index(Reasons, a.Reason), slices.Index(Reasons, b.Reason)))
	})
	return all
}

// median of some numbers: the middle one, or the mean of the two in the middle.
func median(of []float64) float64 {
	sorted := slices.Sorted(slices.Values(of))
	n := len(sorted)
	if n%2 == 1 {
		return sorted[n/2]
	}
	return (sorted[n/2-1] + sorted[n/2]) / 2
}
