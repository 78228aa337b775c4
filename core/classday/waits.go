package classday

import (
	"math"
	"slices"

	"chalkstep/core/pace"
	"chalkstep/core/policy"
	"chalkstep/core/say"
	"chalkstep/core/schedule"
	"chalkstep/core/skill"
)

// A Wait is a stretch in which somebody of a class has nothing of their own to do,
// with what fills it.
type Wait struct {
	StudentID  int64
	Name       string
	Start, End float64
	Fill       []Practice
}

// A Practice is something useful in a wait: a step of the ladder at the bench, or,
// for who has shown them all, something of the day.
type Practice struct {
	// Skill is the step that is practised, empty for none.
	Skill      skill.Key
	Title      say.Text
	Does       say.Text
	Caution    say.Text
	Start, End float64
}

// Minutes of the wait.
func (w Wait) Minutes() float64 { return w.End - w.Start }

// A WaitPart is a stretch of a wait: with something to do, or with nothing where Practice is nil.
type WaitPart struct {
	Start, End float64
	Practice   *Practice
}

// Parts of a wait follow one another without an overlap, from its start to its end.
func (w Wait) Parts() []WaitPart {
	var parts []WaitPart
	at := w.Start
	idle := func(until float64) {
		if until > at {
			parts = append(parts, WaitPart{Start: at, End: until})
		}
	}
	for i, practice := range w.Fill {
		idle(practice.Start)
		parts = append(parts, WaitPart{practice.Start, practice.End, &w.Fill[i]})
		at = practice.End
	}
	idle(w.End)
	return parts
}

// Unfilled are the minutes that nothing fills.
func (w Wait) Unfilled() float64 {
	left := w.Minutes()
	for _, p := range w.Fill {
		left -= p.End - p.Start
	}
	return max(0, left)
}

// Idle is the longest stretch of it that nothing fills.
func (w Wait) Idle() float64 {
	longest := 0.0
	for _, part := range w.Parts() {
		if part.Practice == nil {
			longest = max(longest, part.End-part.Start)
		}
	}
	return longest
}

// Rehearsing, watching and finishing are figures of ours.
const (
	rehearseMinutes = 8
	watchMinutes    = 5
	finishMinutes   = 12
)

// waits are all waits of a plan, by student, each filled.
func (p Plan) waits() []Wait {
	var all []Wait
	for _, w := range p.Works {
		for _, place := range w.Places {
			all = append(all, p.waitsOf(place, pace.Needs(w.Steps))...)
		}
	}
	return all
}

// waitsOf are the waits of somebody who makes what needs some steps of the ladder.
func (p Plan) waitsOf(place Place, needs []skill.Key) []Wait {
	var all []Wait
	var spans []schedule.Interval
	sits, end := math.Inf(1), float64(max(place.LateMinutes, p.Class.OpeningMinutes))
	for _, s := range p.StepsOf(PersonID(place.ID)) {
		for _, free := range p.open(end, s.Start) {
			if free[1]-free[0] > 0.5 {
				all = append(all, Wait{StudentID: place.ID, Name: place.Name, Start: free[0], End: free[1]})
				spans = append(spans, schedule.Interval{From: free[0], To: free[1]})
			}
		}
		if s.Machine != "" {
			sits = min(sits, s.Start)
		}
		end = s.End
	}
	list := practiceOf(place, p.Rules, needs)
	for i, filled := range schedule.Fill(spans, sits, minutesOf(list)) {
		for _, f := range filled {
			practice := list[f.Practice].Practice
			practice.Start, practice.End = f.Start, f.End
			all[i].Fill = append(all[i].Fill, practice)
		}
	}
	return all
}

// A listed is a Practice before it has a time.
type listed struct {
	Practice
	minutes schedule.Practice
}

// practiceOf is what somebody can do in their waits, in order: steps of the ladder that
// they have not shown, what they need that day first, and then what is done once.
func practiceOf(place Place, rules policy.Rules, needs []skill.Key) []listed {
	hand := Hand(place.Student, rules.Pace)
	var list []listed
	for _, e := range skill.ExercisesFor(rules.Ladder, place.Signed(), needs) {
		step, _ := rules.Ladder.ByKey(e.Key)
		practice := Practice{Skill: e.Key, Title: say.T("%s", step.Title), Does: say.T("%s", e.Does)}
		if e.Caution != "" {
			practice.Caution = say.T("%s", e.Caution)
		}
		list = append(list, listed{practice, schedule.Practice{Minutes: math.Ceil(e.Minutes * hand)}})
	}
	list = append(list,
		listed{Practice{Title: say.T("Rehearse the step card"),
			Does: say.T("Read it through stop by stop, and say what comes before each.")},
			schedule.Practice{Minutes: rehearseMinutes, Early: true}},
		listed{Practice{Title: say.T("Watch a neighbour start"),
			Does: say.T("Foot down, tail held for three stitches: what do they check first?")},
			schedule.Practice{Minutes: watchMinutes, Early: true}})
	if !place.StillNew() { // who is has no piece yet
		list = append(list, listed{
			Practice{Title: say.T("Finish an earlier piece"),
				Does: say.T("Snip its jumps, trim its back, look at it with the card: what would you do otherwise?")},
			schedule.Practice{Minutes: finishMinutes}})
	}
	return list
}

// minutesOf is what a plan knows of it.
func minutesOf(list []listed) []schedule.Practice {
	var out []schedule.Practice
	for _, l := range list {
		out = append(out, l.minutes)
	}
	return out
}

// open are the parts of a stretch in which there is no break.
func (p Plan) open(from, to float64) [][2]float64 {
	var parts [][2]float64
	for _, span := range p.Problem.Closed {
		if span.To <= from || span.From >= to {
			continue
		}
		if span.From > from {
			parts = append(parts, [2]float64{from, span.From})
		}
		from = max(from, span.To)
	}
	if to > from {
		parts = append(parts, [2]float64{from, to})
	}
	return parts
}

// A WarmUp is practised by somebody who is not ready for what they make.
type WarmUp struct {
	Step skill.Step
	// At is when, in a wait that has room for it; where none has, AtNone is true, and they
	// would come so many Minutes earlier.
	At      float64
	AtNone  bool
	Minutes float64
}

// WarmUps are what of the steps that somebody is missing can be practised at the bench
// before they sew.
func (p Plan) WarmUps(n NotReady) []WarmUp {
	sits, hand := p.sitsAt(n.Student.ID), Hand(n.Student, p.Rules.Pace)
	var all []WarmUp
	for _, step := range n.Missing {
		i := slices.IndexFunc(skill.Exercises, func(e skill.Exercise) bool { return e.Key == step.Key })
		if i < 0 {
			continue
		}
		w := WarmUp{Step: step, AtNone: true, Minutes: math.Ceil(skill.Exercises[i].Minutes * hand)}
		for _, wait := range p.WaitsOf(n.Student.ID) {
			for _, practice := range wait.Fill {
				if practice.Skill == step.Key && practice.End <= sits {
					w.At, w.AtNone = practice.Start, false
				}
			}
		}
		all = append(all, w)
	}
	return all
}

// WaitsOf are a student's waits, in order.
func (p Plan) WaitsOf(studentID int64) []Wait {
	return slices.DeleteFunc(slices.Clone(p.Waits), func(w Wait) bool { return w.StudentID != studentID })
}

// longestUnfilled is the longest stretch in which somebody has nothing to do.
func longestUnfilled(waits []Wait) (minutes float64, name string) {
	for _, w := range waits {
		if idle := w.Idle(); idle > minutes {
			minutes, name = idle, w.Name
		}
	}
	return minutes, name
}
