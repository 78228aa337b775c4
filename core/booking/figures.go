package booking

import "chalkstep/core/policy/rule"

// Figures of the rules, in the order in which they are asked.
var Figures = []rule.Figure[Rules]{
	{Key: "least", Title: "Shortest, minutes", Because: "sooner nothing is hooped", Least: 5, Most: 240,
		At: func(r *Rules) *int { return &r.LeastMinutes }},
	{Key: "most", Title: "Longest, minutes", Because: "so that others have a turn; 0 for no limit", Most: 720,
		At: func(r *Rules) *int { return &r.MostMinutes }},
	{Key: "week", Title: "At most of a week, minutes", Because: "by one person; 0 for no limit", Most: 5000,
		At: func(r *Rules) *int { return &r.WeekMinutes }},
	{Key: "gap", Title: "Between two people, minutes", Because: "to clear up, and to settle in", Most: 120,
		At: func(r *Rules) *int { return &r.GapMinutes }},
	{Key: "ahead", Title: "At most ahead, days", Because: "0 for no limit", Most: 730, At: func(r *Rules) *int {
		return &r.AheadDays
	}},
	{Key: "grace", Title: "Given up after, minutes", Because: "where nobody has sat down; 0 for never", Most: 240,
		At: func(r *Rules) *int { return &r.GraceMinutes }},
	{Key: "idle", Title: "Alone lapses after, days", Because: "without a mark on that kind of machine; 0 for never",
		Most: 3650, At: func(r *Rules) *int { return &r.IdleDays }},
}
