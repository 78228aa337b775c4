package live

import (
	"cmp"
	"math"
	"slices"
	"time"

	"chalkstep/core/classday"
	"chalkstep/core/pace"
	"chalkstep/core/say"
	"chalkstep/core/schedule"
	"chalkstep/core/stitch"
)

// A State is the room at a moment: what follows of a plan and what happened.
type State struct {
	Plan classday.Plan
	// StartedAt is when the class began, zero before.
	StartedAt time.Time
	// EndedAt is when somebody ended it, zero before.
	EndedAt time.Time
	// Standings are where everybody of the plan is, by name.
	Standings []Standing
	// Hands that are up, the most urgent first, and of those the one that waits longest.
	Hands []Hand
	// Calls are all hands that went up, in order.
	Calls []Call
	// Out are the machines that are out of order, since when, by station.
	Out map[string]time.Time
	// Declined are the offers that nobody wants, by their keys.
	Declined map[string]bool
	// Notes are for staff alone, in order.
	Notes []Note
	// Clock is that of the class.
	Clock Clock
	// Last is the event that can be taken back, nil where there is none; Seq is that of
	// the last event of all. What was noted with it by one press is taken back with it: AtOnce
	// are their Seqs, its own the last.
	Last   *Event
	AtOnce []int64
	Seq    int64
	// tasks are everybody's, by their place among the standings; ticked is until when turns came.
	tasks      [][]task
	thereAgain []float64
	ticked     time.Time
}

// Presence is whether somebody is there.
type Presence string

// Everybody of the roster who is not absent is awaited first.
const (
	Awaited Presence = "awaited"
	Present Presence = "here"
	Left    Presence = "gone"
)

// A Standing is where a student is in what they make.
type Standing struct {
	StudentID int64
	Name      string
	Presence  Presence
	// Steps are theirs, as planned; Next is the index of the one that comes, their
	// number when all are done.
	Steps []schedule.Assignment
	Next  int
	// Begun tells that they are at the next step, Since when. Where they are here and
	// have not begun, somebody else has what it takes.
	Begun bool
	Since time.Time
	// Expected is when somebody who said they are late comes, zero for in time.
	Expected time.Time
	// Stop is how many stops of the sewing they are at are sewn, StopSince since when they
	// sew the one after; Heard is when something was last heard of them.
	Stop             int
	StopSince, Heard time.Time
	// Stops are those of the sewing they are at; none for another step.
	Stops []classday.SewnStop
	// Real is how the steps before the next really went.
	Real []Real
	// inHoop tells of each step whether it is done at the machine in which their hoop is.
	inHoop []bool
	// goesOn tells of each step whether it follows at the bench on the one before.
	goesOn []bool
	// free is when the step before was done; resumed tells that the next was interrupted,
	// moved that they are to sit at a machine at which they have not begun yet.
	free    time.Time
	resumed bool
	moved   bool
	// late is by the roster, in minutes from the planned beginning of the class.
	late float64
}

// A Note is something to remember of a student, or of the class where StudentID is 0.
type Note struct {
	StudentID int64
	Name      string
	Text, By  string
	At        time.Time
}

// A Real is how a step went: it is zero from Begun to Ended where it was skipped, or done
// by somebody who had not begun it.
type Real struct {
	Begun, Ended time.Time
	Skipped      bool
}

// Timed tells whether it says how long the step took.
func (r Real) Timed() bool { return !r.Skipped && r.Ended.After(r.Begun) }

// A Call is a hand that went up: at which station, empty for the bench, with which thread,
// black for none, and when somebody came, zero for never.
type Call struct {
	Hand
	Station string
	Thread  stitch.RGB
	Settled time.Time
}

// A Hand is up.
type Hand struct {
	StudentID int64
	Name      string
	Reason    Reason
	Since     time.Time
}

// Finished tells that they are done with all steps.
func (s Standing) Finished() bool { return s.Next == len(s.Steps) }

// Came tells that they were there at some time.
func (s Standing) Came() bool { return !s.free.IsZero() }

// Step is the one that comes; ok is false when all are done.
func (s Standing) Step() (step schedule.Assignment, ok bool) {
	if s.Finished() {
		return schedule.Assignment{}, false
	}
	return s.Steps[s.Next], true
}

// LeftMinutes of the step somebody is at, as planned: never less than none. Of a sewing
// it is what the stops take that were not said to be sewn: beginners forget to say so, and
// go on.
func (s Standing) LeftMinutes(now time.Time) float64 { return max(0, s.remaining(now)) }

// OverMinutes is how much longer somebody takes over what they are at than planned.
func (s Standing) OverMinutes(now time.Time) float64 { return max(0, -s.remaining(now)) }

func (s Standing) remaining(now time.Time) float64 {
	step, ok := s.Step()
	if !ok {
		return 0
	}
	length, since := step.End-step.Start, s.Since
	if len(s.Stops) > 0 {
		length, since = 0, s.StopSince
		for _, stop := range s.Stops[min(s.Stop, len(s.Stops)):] {
			length += stop.Minutes
		}
	}
	if !s.Begun {
		return length
	}
	// A clock that was put back makes nothing longer.
	return length - max(0, now.Sub(since).Minutes())
}

// present is how long what somebody is at takes: the stop they sew, or the step.
func (s Standing) present() float64 {
	if s.Stop < len(s.Stops) {
		return s.Stops[s.Stop].Minutes
	}
	step, _ := s.Step()
	return step.End - step.Start
}

// QuietShare of what something takes is how long nothing is heard of a machine before it
// is asked (handbook, While a class runs).
const QuietShare = 1.5

// leastQuiet is how long nobody is asked, however short a stop is, in minutes.
const leastQuiet = 3

// Quiet tells since when something should have been heard of somebody at a machine, zero
// where nothing should. Whoever has a hand up was heard.
func (s State) Quiet(at Standing, now time.Time) time.Time {
	step, ok := at.Step()
	if !ok || !at.Begun || step.Machine == "" || at.Presence != Present ||
		slices.ContainsFunc(s.Hands, func(h Hand) bool { return h.StudentID == at.StudentID }) {
		return time.Time{}
	}
	due := at.Heard.Add(time.Duration(max(leastQuiet, QuietShare*at.present()) * float64(time.Minute)))
	if now.Before(due) {
		return time.Time{}
	}
	return due
}

// The phone beside a machine asks first. Staff are asked this long after it.
const answers = 2 * time.Minute

// Unanswered reports whether a student has not answered the phone beside the machine in time.
func (s State) Unanswered(at Standing, now time.Time) bool {
	due := s.Quiet(at, now)
	return !due.IsZero() && now.Sub(due) >= answers
}

// Running tells that the class began.
func (s State) Running() bool { return !s.StartedAt.IsZero() }

// Of is the state that follows of a plan and the events of its class, in the order of
// their Seq. What does not fit, as a step that is not the one somebody is at, changes
// nothing: it was sent when something else had happened.
func Of(plan classday.Plan, events []Event) State {
	s := State{Plan: plan, Out: map[string]time.Time{}, Declined: map[string]bool{}}
	for _, w := range plan.Works {
		for _, p := range w.Places {
			if steps := plan.StepsOf(classday.PersonID(p.ID)); len(steps) > 0 {
				s.Standings = append(s.Standings,
					Standing{StudentID: p.ID, Name: p.Name, Presence: Awaited, Steps: steps, inHoop: inHoop(w, steps),
						goesOn: goesOn(w, steps), late: float64(p.LateMinutes)})
			}
		}
	}
	slices.SortStableFunc(s.Standings, byName)
	s.tasks, s.thereAgain = numbered(plan, s.Standings), thereAgain(plan.Problem)
	undone := map[int64]bool{}
	for _, e := range events {
		if e.Kind == Undone {
			undone[e.Undoes] = true
		}
	}
	for i := range events {
		if e := &events[i]; e.Kind != Undone && !undone[e.Seq] && s.apply(*e) {
			if s.Last == nil || e.PartOf == 0 || e.PartOf != s.Last.PartOf {
				s.AtOnce = nil
			}
			s.Last, s.AtOnce = e, append(s.AtOnce, e.Seq)
		}
		s.Seq = events[i].Seq
	}
	slices.SortStableFunc(s.Hands, func(a, b Hand) int {
		return cmp.Or(cmp.Compare(slices.Index(Reasons, a.Reason), slices.Index(Reasons, b.Reason)), a.Since.Compare(b.Since))
	})
	return s
}

// Accepts tells whether an event would change something: what does not is refused
// before it is written down.
func (s State) Accepts(e Event) bool {
	if e.Kind == Undone { // one after another, from the last
		return s.Last != nil && s.Last.Seq == e.Undoes
	}
	s = s.copied()
	return s.apply(e.Plain())
}

// Standing finds a student's.
func (s State) Standing(studentID int64) (Standing, bool) {
	i := s.indexOf(studentID)
	if i < 0 {
		return Standing{}, false
	}
	return s.Standings[i], true
}

func (s State) indexOf(studentID int64) int {
	return slices.IndexFunc(s.Standings, func(at Standing) bool { return at.StudentID == studentID })
}

// apply has an event happen, and is false where it does not fit.
func (s *State) apply(e Event) bool {
	is := kinds[e.Kind]
	if e.Kind != Started && !s.Running() {
		return false
	}
	if e.Kind != Noted && !s.EndedAt.IsZero() && !e.At.Before(s.EndedAt) {
		return false
	}
	s.tick(e.At)
	if is.joins != nil {
		joined := is.joins(s, e)
		s.begin(e.At)
		return joined
	}
	if e.StudentID == 0 || !is.has.Student && !is.has.MaybeStudent {
		return is.ofClass != nil && is.ofClass(s, e)
	}
	i := s.indexOf(e.StudentID)
	if i < 0 || is.ofStudent == nil || !is.ofStudent(s, &s.Standings[i], e) {
		return false
	}
	s.Standings[i].Heard = e.At
	s.begin(e.At)
	return true
}

// stepTitle is what the step of an event is called.
func (s State) stepTitle(e Event) say.Text {
	w, _, made := s.Plan.Maker(classday.PersonID(e.StudentID))
	if !made {
		return say.Name(string(e.Step))
	}
	step, _ := w.Step(string(e.Step))
	return step.Title
}

// machineName is what a machine of the class is called.
func (s State) machineName(id int64) say.Text {
	m, _ := s.Plan.Machine(classday.StationID(id))
	return say.Name(m.Name)
}

// isOut tells that a machine is out of order.
func (s State) isOut(station string) bool { _, out := s.Out[station]; return out }

// isBeside tells that somebody is at a machine, or at none where it is 0.
func (s State) isBeside(studentID, machineID int64) bool {
	station := s.StationOf(studentID)
	return machineID == 0 && station == "" || machineID != 0 && station == classday.StationID(machineID)
}

// thread is what somebody sews with whose thread broke or ran out.
func (s *State) thread(at *Standing, reason Reason) stitch.RGB {
	if reason != Break || at.Stop >= len(at.Stops) {
		return stitch.RGB{}
	}
	step, _ := at.Step()
	sewn, ok := s.Plan.SewnBy(at.StudentID, pace.StepKey(step.Operation))
	if !ok {
		return stitch.RGB{}
	}
	return sewn.Stops[at.Stops[at.Stop].N-1].Color
}

// isAt tells that the next step of somebody who is there is a certain one.
func (s Standing) isAt(step pace.StepKey) bool {
	next, more := s.Step()
	return more && s.Presence == Present && pace.StepKey(next.Operation) == step
}

// settle ends somebody's call.
func (s *State) settle(at *Standing, now time.Time) bool {
	if !s.lower(at.StudentID) {
		return false
	}
	for i := range s.Calls {
		if c := &s.Calls[i]; c.StudentID == at.StudentID && c.Settled.IsZero() {
			c.Settled = now
		}
	}
	return true
}

// sewsAgain settles what held somebody's machine up: they went on.
func (s *State) sewsAgain(at *Standing, now time.Time) {
	if slices.ContainsFunc(s.Hands, func(h Hand) bool { return h.StudentID == at.StudentID && h.Reason.OfMachine() }) {
		s.settle(at, now)
	}
}

// again is the step with which somebody begins again who leaves: what they had hooped or
// loaded, others take out.
func (at Standing) again(p schedule.Problem) int {
	before := at
	before.Begun = false
	first := at.Next
	for held := before.hoops(p); len(held) > 0; held = before.hoops(p) {
		before.Next--
		first = before.Next
	}
	for k := first - 1; k >= 0; k-- {
		if at.Steps[k].Machine == "" {
			continue
		}
		if !keeps(p, at.StudentID, at.Steps[k].Operation) {
			break
		}
		first = k
	}
	return first
}

// lower takes somebody's hand down; it is false where it was not up.
func (s *State) lower(studentID int64) bool {
	before := len(s.Hands)
	s.Hands = slices.DeleteFunc(s.Hands, func(h Hand) bool { return h.StudentID == studentID })
	return len(s.Hands) < before
}

// StationOf is the machine a student has, empty for none.
func (s State) StationOf(studentID int64) string {
	for _, station := range s.Plan.Problem.Machines {
		if at, taken := s.At(station.ID); taken && at.StudentID == studentID {
			return station.ID
		}
	}
	return ""
}

// Until is the state at a moment after its last event: turns came meanwhile.
func (s State) Until(now time.Time) State {
	s = s.copied()
	if s.Running() {
		s.tick(now)
	}
	return s
}

// tick has turns come that came until a moment, each when it came.
func (s *State) tick(now time.Time) {
	for range 1000 {
		if s.ticked.IsZero() || !s.ticked.Before(now) || !s.anybodyWaits() {
			break
		}
		g := s.newPlay(s.ticked, nil)
		next := g.turnAfter(g.now)
		if next > s.minuteOf(now) {
			break
		}
		s.ticked = s.Plan.Class.StartsAt.Add(time.Duration(math.Ceil(next*60_000)) * time.Millisecond)
		s.begin(s.ticked)
	}
	if now.After(s.ticked) {
		s.ticked = now
	}
}

// anybodyWaits tells that somebody is there who has not begun what comes next.
func (s *State) anybodyWaits() bool {
	return slices.ContainsFunc(s.Standings, func(at Standing) bool {
		return at.Presence == Present && !at.Begun && !at.Finished()
	})
}

// begin lets everybody who is here go on with their next step, as far as what it takes is free and
// their turn has come. Where nobody would be at anything, nobody is waited for.
func (s *State) begin(now time.Time) {
	if !s.anybodyWaits() {
		return
	}
	g := s.newPlay(now, s.Paces(now))
	g.hereOnly = true
	began := g.start(g.now)
	if len(began) == 0 && !slices.ContainsFunc(g.jobs, func(one playing) bool { return one.active }) &&
		s.minuteOf(now) >= s.talk() {
		g.forced = true
		began = g.start(g.now)
	}
	for _, j := range began {
		at := &s.Standings[g.jobs[j].index]
		at.Begun, at.moved, at.Since, at.StopSince, at.Heard = true, false, now, now, now
		step := at.Steps[at.Next]
		if m, there := s.Plan.Machine(step.Machine); there {
			at.Stops = s.Plan.SewnStops(at.StudentID, pace.StepKey(step.Operation), m.ID)
		}
	}
}

// At finds who has a machine: they are at a step there, or stay there for their next.
func (s *State) At(station string) (Standing, bool) {
	for _, at := range s.Standings {
		if at.Presence == Present && at.has(s.Plan.Problem, station) {
			return at, true
		}
	}
	return Standing{}, false
}

func (at Standing) has(p schedule.Problem, station string) bool {
	if step, ok := at.Step(); ok && at.Begun && step.Machine == station {
		return true
	}
	last, kept := at.last(p)
	return kept && last == station && !at.moved
}

// last is the machine somebody was at last, empty for none, and whether they keep it for
// what comes next.
func (at Standing) last(p schedule.Problem) (station string, kept bool) {
	for k := at.Next - 1; k >= 0; k-- {
		if station := at.Steps[k].Machine; station != "" {
			return station, keeps(p, at.StudentID, at.Steps[k].Operation)
		}
	}
	return "", false
}

// keeps tells whether whoever has done a step keeps its machine.
func keeps(p schedule.Problem, studentID int64, step string) bool {
	found, ok := planned(p, studentID, step)
	return ok && found.KeepMachine
}

// planned finds a step as the planner had it.
func planned(p schedule.Problem, studentID int64, step string) (schedule.Operation, bool) {
	for _, who := range p.Jobs {
		if who.ID != classday.PersonID(studentID) {
			continue
		}
		for _, one := range who.Operations {
			if one.ID == step {
				return one, true
			}
		}
	}
	return schedule.Operation{}, false
}

// hoops are the pools of which somebody has one: taken, and not given back. Whoever
// left has left it.
func (at Standing) hoops(p schedule.Problem) []string {
	if at.Presence == Left {
		return nil
	}
	var have []string
	for k, step := range at.Steps {
		if k > at.Next || k == at.Next && !at.Begun {
			break
		}
		have = append(have, step.Took...)
		if one, ok := planned(p, at.StudentID, step.Operation); ok && k < at.Next {
			have = slices.DeleteFunc(have, func(pool string) bool { return slices.Contains(one.Release, pool) })
		}
	}
	return have
}

// byName orders standings.
func byName(a, b Standing) int {
	return cmp.Or(cmp.Compare(a.Name, b.Name), cmp.Compare(a.StudentID, b.StudentID))
}
