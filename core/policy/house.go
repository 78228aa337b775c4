// Package policy is what a workshop holds to: its house rules, and the figures
// it plans by. Both are kept as JSON documents that say which version of this
// package wrote them; what a document lacks is the handbook's.
package policy

import (
	"encoding/json"
	"fmt"

	"chalkstep/core/booking"
	"chalkstep/core/fleet/care"
	"chalkstep/core/kit"
	"chalkstep/core/pace"
	"chalkstep/core/policy/rule"
	"chalkstep/core/recipe"
	"chalkstep/core/schedule"
	"chalkstep/core/skill"
)

// House is what a workshop holds to where practitioners differ, in its recipes and its classes.
type House struct {
	recipe.Rules
	Class
}

// Questions are all of it: those that a project may answer otherwise, and those of a class.
var Questions = questions()

func questions() []rule.Question[House] {
	var all []rule.Question[House]
	for _, q := range recipe.Questions {
		all = append(all, rule.Within(q, func(h *House) *recipe.Rules { return &h.Rules }))
	}
	for _, q := range ClassQuestions {
		all = append(all, rule.Within(q, func(h *House) *Class { return &h.Class }))
	}
	return all
}

// Set chooses a school of one of them; an error says which there are.
func (h *House) Set(key, value string) error { return rule.Set(Questions, h, key, value) }

// Rules of a workshop.
type Rules struct {
	House House
	Pace  pace.Figures
	Kit   kit.Figures
	// Plan is what a class's plan is weighed by.
	Plan schedule.Weights
	// Booking is who may have which machine when.
	Booking booking.Rules
	// Care says when machines are looked after.
	Care care.Rules
	// Ladder is what beginners climb here, empty for the usual.
	Ladder skill.Ladder
	// Learned are the factors that classes taught.
	Learned pace.Learned
}

// A Workshop with what it holds to. ID and Version name its row.
type Workshop struct {
	ID      int64
	Version int
	Name    string
	// Zone is the name of its time zone.
	Zone string
	// Units and Clock are for those of its people who have not chosen.
	Units, Clock string
	Rules
}

// Defaults are the handbook's.
func Defaults() Rules {
	return Rules{Pace: pace.Defaults(), Kit: kit.Defaults(), Plan: schedule.UsualWeights(), Booking: booking.Defaults(),
		Care: care.Defaults()}
}

// In is what holds for a project with choices of its own.
func (r Rules) In(own recipe.Rules) Rules {
	r.House.Rules = r.House.With(own)
	return r
}

// Timing is what the house plans minutes by: where pieces are cut before, none
// is trimmed in the hoop.
func (r Rules) Timing() pace.Figures {
	if r.House.CutsBefore() {
		r.Pace.TrimMinutes = 0
	}
	return r.Pace
}

// Weights are what a class's plan is weighed by, nil for the earliest finish.
func (r Rules) Weights() *schedule.Weights {
	if r.House.PlansShortest() {
		return nil
	}
	return &r.Plan
}

// documentVersion of what is written now.
const documentVersion = 5

// figures as a document has them.
type figures struct {
	Version int              `json:"version"`
	Pace    pace.Figures     `json:"pace"`
	Kit     kit.Figures      `json:"kit"`
	Plan    schedule.Weights `json:"plan"`
	Booking booking.Rules    `json:"booking"`
	Care    care.Rules       `json:"care"`
	Ladder  skill.Ladder     `json:"ladder,omitempty"`
}

// FiguresJSON writes the figures.
func (r Rules) FiguresJSON() ([]byte, error) {
	return json.Marshal(figures{documentVersion, r.Pace, r.Kit, r.Plan, r.Booking, r.Care, r.Ladder})
}

// ReadFigures reads figures over the handbook's: what a document of any version
// does not name, such as a figure that came later, keeps its default.
func (r *Rules) ReadFigures(data []byte) error {
	f := figures{Pace: pace.Defaults(), Kit: kit.Defaults(), Plan: schedule.UsualWeights(), Booking: booking.Defaults(),
		Care: care.Defaults()}
	if len(data) > 0 {
		if err := json.Unmarshal(data, &f); err != nil {
			return fmt.Errorf("reading the workshop's figures: %w", err)
		}
	}
	if f.Version > documentVersion {
		return fmt.Errorf("reading the workshop's figures: they are of version %d, and this program knows %d: update it",
			f.Version, documentVersion)
	}
	r.Pace, r.Kit, r.Plan, r.Booking, r.Care, r.Ladder = f.Pace, f.Kit, f.Plan, f.Booking, f.Care, f.Ladder
	return nil
}
