package schedule

// A Plan is a plan and what there is to say about it.
type Plan struct {
	MakespanMinutes   float64 `json:"makespan_minutes"`
	Fits              bool    `json:"fits"`
	LowerBoundMinutes float64 `json:"lower_bound_minutes"`
	// Bottleneck is the machine or resource that jobs waited for longest, or
	// the busiest one when nobody waited.
	Bottleneck string `json:"bottleneck"`
	// ShortestMinutes is the shortest plan that was found, where another is better
	// for jobs.
	ShortestMinutes float64 `json:"shortest_minutes,omitempty"`
	// LongestWaitMinutes is the longest wait of the plan that nothing fills, and
	// ShortestWaitMinutes that of the shortest.
	LongestWaitMinutes  float64            `json:"longest_wait_minutes,omitempty"`
	ShortestWaitMinutes float64            `json:"shortest_wait_minutes,omitempty"`
	Assignments         []Assignment       `json:"steps"`
	Waiting             map[string]float64 `json:"waiting_minutes"`
}

// WaitedMinutes is how long all wait together.
func (p Plan) WaitedMinutes() float64 {
	minutes := 0.0
	for _, one := range p.Waiting {
		minutes += one
	}
	return minutes
}

// An Assignment is one operation of a plan with its times in minutes; Machine is empty at the bench.
type Assignment struct {
	Job       string  `json:"person"`
	Operation string  `json:"step"`
	Machine   string  `json:"station,omitempty"`
	Start     float64 `json:"start"`
	End       float64 `json:"end"`
	// Took are the resources that TakeFor chose, With the one that NeedsOneOf did.
	Took []string `json:"took,omitempty"`
	With string   `json:"with,omitempty"`
}

// IsSolvedBy tells whether a result places every operation of every job of the
// problem, and none beside.
func (p Problem) IsSolvedBy(r Plan) bool {
	type step struct{ person, step string }
	placed := map[step]bool{}
	for _, s := range r.Assignments {
		placed[step{s.Job, s.Operation}] = true
	}
	steps := 0
	for _, job := range p.Jobs {
		for _, s := range job.Operations {
			if !placed[step{job.ID, s.ID}] {
				return false
			}
			steps++
		}
	}
	return steps > 0 && steps == len(r.Assignments)
}

// Has tells whether a problem has every operation that a plan places: of who came to it since, the
// plan says nothing.
func (p Problem) Has(r Plan) bool {
	type step struct{ person, step string }
	there := map[step]bool{}
	for _, job := range p.Jobs {
		for _, s := range job.Operations {
			there[step{job.ID, s.ID}] = true
		}
	}
	for _, s := range r.Assignments {
		if !there[step{s.Job, s.Operation}] {
			return false
		}
	}
	return len(r.Assignments) > 0
}
