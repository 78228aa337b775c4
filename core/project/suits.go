package project

import (
	"cmp"
	"slices"

	"chalkstep/core/pace"
	"chalkstep/core/policy"
	"chalkstep/core/say"
	"chalkstep/core/skill"
)

// mostNew steps are taught by one project: two to four, not more (handbook, Courses).
const mostNew = 4

// A Suit is how a project suits a student.
type Suit struct {
	StudentID int64
	// Missing are the steps it needs that they have not reached, New those that it teaches
	// them beside.
	Missing, New []skill.Step
}

// Ready tells that they have reached all that it needs.
func (s Suit) Ready() bool { return len(s.Missing) == 0 }

// Suits tells that it teaches them something, and not too much at once.
func (s Suit) Suits() bool {
	n := len(s.Missing) + len(s.New)
	return n > 0 && n <= mostNew
}

// Early tells that too much is missing yet.
func (s Suit) Early() bool { return len(s.Missing) > mostNew }

// An Offer is a project, and how it suits each of a group.
type Offer struct {
	Project Project
	// Why nobody can make it, silent where they can.
	Why   say.Text
	Suits []Suit
}

// Counts are how many it suits, and how many are ready for it.
func (o Offer) Counts() (suits, ready int) {
	for _, s := range o.Suits {
		if s.Suits() {
			suits++
		}
		if s.Ready() {
			ready++
		}
	}
	return suits, ready
}

// Offers say how projects suit a group, best first: those that teach most of them something
// and not too much, then those that most are ready for, then those that miss least.
func Offers(projects []Project, group []skill.Student, rules policy.Rules) []Offer {
	offers := make([]Offer, len(projects))
	for i, p := range projects {
		o := Offer{Project: p}
		steps, err := p.Steps(rules)
		if err != nil {
			o.Why = say.Of(err)
		}
		needs, teaches := pace.Needs(steps), p.teaches()
		for _, s := range group {
			signed := s.Signed()
			suit := Suit{StudentID: s.ID, Missing: rules.Ladder.Missing(signed, needs)}
			for _, step := range rules.Ladder.Missing(signed, teaches) {
				if !slices.Contains(needs, step.Key) {
					suit.New = append(suit.New, step)
				}
			}
			o.Suits = append(o.Suits, suit)
		}
		offers[i] = o
	}
	missing := func(o Offer) (n int) {
		for _, s := range o.Suits {
			n += len(s.Missing)
		}
		return n
	}
	slices.SortStableFunc(offers, func(a, b Offer) int {
		aSuits, aReady := a.Counts()
		bSuits, bReady := b.Counts()
		made := func(o Offer) int { // what cannot be made comes last
			if o.Why.Silent() {
				return 0
			}
			return 1
		}
		return cmp.Or(cmp.Compare(made(a), made(b)), cmp.Compare(bSuits, aSuits), cmp.Compare(bReady, aReady),
			cmp.Compare(missing(a), missing(b)))
	})
	return offers
}

// Best of some offers for a student: a project that they are ready for and that teaches them
// most, else the one that misses least; ok is false where there is none that suits them.
func Best(offers []Offer, studentID int64) (best Offer, suit Suit, ok bool) {
	for _, o := range offers {
		if !o.Why.Silent() {
			continue
		}
		for _, s := range o.Suits {
			if s.StudentID != studentID || !s.Suits() {
				continue
			}
			better := len(s.Missing) < len(suit.Missing) || len(s.Missing) == len(suit.Missing) && len(s.New) > len(suit.New)
			if !ok || better {
				best, suit, ok = o, s, true
			}
		}
	}
	return best, suit, ok
}
