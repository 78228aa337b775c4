package skill

import (
	"slices"
	"time"

	"chalkstep/core/say"
)

// A Level is how somebody did a step of the ladder, seen by an assessor.
type Level string

// The levels, from least to most.
const (
	// Shown: they watched it done.
	Shown Level = "shown"
	// Helped: they did it with help.
	Helped Level = "helped"
	// Alone: they did it and nobody helped.
	Alone Level = "alone"
	// Teaches: they can show it to others.
	Teaches Level = "teaches"
)

// Levels from least to most.
var Levels = []Level{Shown, Helped, Alone, Teaches}

// Text is the level as people say it, "nothing yet" for none.
func (l Level) Text() say.Text { return say.T("%s", levelWords[l]) }

var levelWords = map[Level]say.Word{"": "nothing yet", Shown: "shown", Helped: "with help", Alone: "alone",
	Teaches: "can teach"}

// Less tells whether a level is weaker than another; none is weaker than any.
func (l Level) Less(other Level) bool {
	return slices.Index(Levels, l) < slices.Index(Levels, other)
}

// A Mark says how a student did a step on a kind of machine, when, and who saw it. Marks
// are only added: a later weaker one shows and does not erase.
type Mark struct {
	ID        int64
	StudentID int64
	Skill     Key
	On        Kind
	Level     Level
	Date      time.Time
	Assessor  string
	Note      string
	// ClassID is the class in which it was seen, 0 for another time.
	ClassID int64
	// Clean tells that nobody had to be called, as the log of the class shows.
	Clean bool
	// HasPhoto tells that there is a photo of what it was given for.
	HasPhoto bool
}

// A Standing is what the marks of a step come to.
type Standing struct {
	// Best is the strongest level there is a mark of, empty for none.
	Best Level
	// Last is the mark that was given last; nothing where N, how many there are, is 0.
	Last Mark
	N    int
	// Helped is how often it was done with help.
	Helped int
	// By is the mark by which the step counts as reached, where it does.
	By Mark
}

// StandingOf sums up marks of one step in the order in which they were given.
func StandingOf(marks []Mark) Standing {
	var s Standing
	for _, m := range marks {
		before := s.Reached()
		s.N++
		s.Last = m
		if s.Best.Less(m.Level) {
			s.Best = m.Level
		}
		if m.Level == Helped {
			s.Helped++
		}
		if !before && s.Reached() {
			s.By = m
		}
	}
	return s
}

// enoughHelped and enoughTries: with help twice counts as reached (handbook, Courses);
// who tried three times and never did it alone is stuck.
const (
	enoughHelped = 2
	enoughTries  = 3
)

// Reached tells whether the step counts as reached: alone was seen once, or with help
// twice (handbook, Courses).
func (s Standing) Reached() bool { return !s.Best.Less(Alone) || s.Helped >= enoughHelped }

// Slipped tells that the last mark is weaker than the best.
func (s Standing) Slipped() bool { return s.N > 0 && s.Last.Level.Less(s.Best) }

// Stuck tells that it was tried again and again, and was never done alone.
func (s Standing) Stuck() bool { return s.N >= enoughTries && s.Helped > 0 && s.Best.Less(Alone) }
