package day

import (
	"math"
	"slices"

	"chalkstep/core/pace"
	"chalkstep/core/say"
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
	at, longest := w.Start, 0.0
	for _, p := range w.Fill {
		longest, at = max(longest, p.Start-at), p.End
	}
	return max(longest, w.End-at)
}

// Waits over shortWait minutes are filled (handbook, Waiting); between two things
// somebody has a minute to put the one away. Rehearsing, watching and finishing are
// figures of ours.
const (
	shortWait       = 10
	breathMinutes   = 1
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
	end := float64(max(place.LateMinutes, p.Class.OpeningMinutes))
	for _, s := range p.StepsOf(PersonID(place.ID)) {
		for _, free := range p.open(end, s.Start) {
			if free[1]-free[0] > 0.5 {
				all = append(all, Wait{StudentID: place.ID, Name: place.Name, Start: free[0], End: free[1]})
			}
		}
		end = s.End
	}
	done, signed := map[skill.Key]bool{}, place.Signed()
	rehearsed, watched, finished := false, false, place.StillNew() // who has no piece yet
	hand := Hand(place.Student, p.Rules.Pace)
	sits := p.sitsAt(place.ID)
	for i := range all {
		at := all[i].Start
		for all[i].End-at > shortWait {
			next := Practice{Start: at}
			minutes := 0.0
			e, any := skill.NextExercise(p.Rules.Ladder, signed, done, needs)
			switch {
			case any && math.Ceil(e.Minutes*hand) <= all[i].End-at-breathMinutes:
				step, _ := p.Rules.Ladder.ByKey(e.Key)
				next.Skill, next.Title, next.Does, minutes = e.Key, say.T("%s", step.Title), say.T("%s", e.Does), math.Ceil(e.Minutes*hand)
				if e.Caution != "" {
					next.Caution = say.T("%s", e.Caution)
				}
				done[e.Key] = true
			case !rehearsed && at < sits && rehearseMinutes <= all[i].End-at-breathMinutes:
				rehearsed, minutes = true, rehearseMinutes
				next.Title, next.Does = say.T("Rehearse the step card"), say.T("Read it through stop by stop, and say what comes before each.")
			case !watched && at < sits && watchMinutes <= all[i].End-at-breathMinutes:
				watched, minutes = true, watchMinutes
				next.Title, next.Does = say.T("Watch a neighbour start"), say.T("Foot down, tail held for three stitches: what do they check first?")
			case !finished && finishMinutes <= all[i].End-at-breathMinutes:
				finished, minutes = true, finishMinutes
				next.Title, next.Does = say.T("Finish an earlier piece"), say.T("Snip its jumps, trim its back, look at it with the card: what would you do otherwise?")
			default:
				minutes = 0
			}
			if minutes == 0 {
				break
			}
			next.End = at + minutes
			all[i].Fill = append(all[i].Fill, next)
			at = next.End + breathMinutes
		}
	}
	return all
}

// fillMinutes are how much of somebody's waits can be filled at most: what of the
// ladder they have not shown, and the rest that is done once.
func fillMinutes(place Place, hand float64) float64 {
	total, signed := float64(rehearseMinutes+watchMinutes+2*breathMinutes), place.Signed()
	if !place.StillNew() {
		total += finishMinutes + breathMinutes
	}
	for _, e := range skill.Exercises {
		if !signed[e.Key] {
			total += math.Ceil(e.Minutes*hand) + breathMinutes
		}
	}
	return total
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
