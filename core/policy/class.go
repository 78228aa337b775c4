package policy

import "chalkstep/core/policy/rule"

// Class is what a workshop holds to in its classes. The zero value is the default.
type Class struct {
	// Plan: a class's plan is good for "people" first, or the "shortest".
	Plan string `json:"plan,omitempty"`
	// Assistants: "help" with hooping and loading, or "sign-off" too.
	Assistants string `json:"assistants,omitempty"`
	// Trimming: the machine is "kept" while pieces are trimmed, or "released".
	Trimming string `json:"trimming,omitempty"`
}

// The schools that others ask for.
const (
	planShortest      = "shortest"
	trimmingReleased  = "released"
	assistantsSignOff = "sign-off"
)

// ClassQuestions are what practitioners differ in about classes (handbook, House rules).
var ClassQuestions = []rule.Question[Class]{
	{Key: "plan", Title: "A class's plan", Schools: []rule.School{
		rule.Answer("people", "good for people first", "a finish a few minutes later costs less than an hour of waiting"),
		rule.Answer(planShortest, "the earliest finish", "the room is wanted for the next class"),
	}, At: func(c *Class) *string { return &c.Plan }},
	{Key: "assistants", Title: "What assistants do in a class", Schools: []rule.School{
		rule.Answer("help", "help with hooping and loading", "what is signed off or shown is the instructor's word"),
		rule.Answer(assistantsSignOff, "whatever the instructor does", "an assistant who can teach a step can judge it"),
	}, At: func(c *Class) *string { return &c.Assistants }},
	{Key: "trimming", Title: "The machine while a piece is trimmed", Schools: []rule.School{
		rule.Answer("kept", "kept for whoever trims", "the hoop goes back where it came from, and nothing is knocked"),
		rule.Answer(trimmingReleased, "free for others until they are back",
			"a machine that waits for scissors sews nothing"),
	}, At: func(c *Class) *string { return &c.Trimming }},
}

// AssistantMay tells whether an assistant may stand in for the instructor at a step;
// toSee is one at which the instructor shows or judges.
func (c Class) AssistantMay(toSee bool) bool { return !toSee || c.Assistants == assistantsSignOff }

// PlansShortest tells that a class's plan is the one that ends first.
func (c Class) PlansShortest() bool { return c.Plan == planShortest }

// ReleasesMachine tells that others may have the machine while somebody trims a piece.
func (c Class) ReleasesMachine() bool { return c.Trimming == trimmingReleased }
