package booking

import "chalkstep/core/say"

// A Figure of the rules, as a house sets it.
type Figure struct {
	Key            string
	Title, Because say.Word
	Least, Most    int
	at             func(*Rules) *int
}

// Of is the figure in some rules.
func (f Figure) Of(r Rules) int { return *f.at(&r) }

// Set changes it.
func (f Figure) Set(r *Rules, n int) { *f.at(r) = n }

// Figures are those of the rules, in the order in which they are asked.
var Figures = []Figure{
	{"least", "Shortest, minutes", "sooner nothing is hooped", 5, 240, func(r *Rules) *int { return &r.LeastMinutes }},
	{"most", "Longest, minutes", "so that others have a turn; 0 for no limit", 0, 720, func(r *Rules) *int { return &r.MostMinutes }},
	{"week", "At most of a week, minutes", "by one person; 0 for no limit", 0, 5000, func(r *Rules) *int { return &r.WeekMinutes }},
	{"gap", "Between two people, minutes", "to clear up, and to settle in", 0, 120, func(r *Rules) *int { return &r.GapMinutes }},
	{"ahead", "At most ahead, days", "0 for no limit", 0, 730, func(r *Rules) *int { return &r.AheadDays }},
	{"idle", "Alone lapses after, days", "without a mark on that kind of machine; 0 for never", 0, 3650, func(r *Rules) *int { return &r.IdleDays }},
}
