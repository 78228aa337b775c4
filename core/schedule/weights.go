package schedule

// Weights say what a plan that is good for jobs is: how many minutes of makespan
// each of these is worth. Handbook, Waiting: in the window; nobody's first stitch
// late; the longest wait short, and waits shared; the same machine; hoops not held
// idle; only then the last minute.
type Weights struct {
	// Late is for A minute after the window.
	Late float64 `json:"late"`
	// Margin is for a minute that is missing of MarginMinutes between the end of the plan
	// and that of the window: a day varies, and what ends on the last minute is late on
	// every second one.
	Margin        float64 `json:"margin"`
	MarginMinutes float64 `json:"margin_minutes"`
	// FirstStitch is for a minute of somebody's first operation at a machine after half
	// of the window.
	FirstStitch float64 `json:"first_stitch"`
	// LongestWait is for a minute of the longest wait over ShortMinutes; waits up to
	// those cost nothing, nor what a job has to do in them.
	LongestWait  float64 `json:"longest_wait"`
	ShortMinutes float64 `json:"short_minutes"`
	// SharedWaits is for a minute of waiting over ShortMinutes, more for long ones:
	// for each the square over an hour.
	SharedWaits float64 `json:"shared_waits"`
	// Change is for somebody who goes to another machine than before, where they
	// might have stayed.
	Change float64 `json:"change"`
	// Idle is for a minute in which something taken is not used.
	Idle float64 `json:"idle"`
}

// UsualWeights are the product's own, in the order of the handbook.
func UsualWeights() Weights {
	return Weights{Late: 50, Margin: 3, MarginMinutes: 30, FirstStitch: 5, LongestWait: 2, ShortMinutes: 10,
		SharedWaits: 0.5, Change: 10, Idle: 0.02}
}

// A Weight is one of the [Weights] with what it is of, and why it is weighed.
type Weight struct {
	Key, Title, Because string
	value               func(*Weights) *float64
}

// WeightKinds are all of them, in the order of the handbook.
var WeightKinds = []Weight{
	{"late", "A minute after the class has ended", "whoever is not done goes home with an open hoop",
		func(w *Weights) *float64 { return &w.Late }},
	{"margin", "A minute short of the margin before the end",
		"a day varies: without a margin every second class runs over", func(w *Weights) *float64 { return &w.Margin }},
	{"margin_minutes", "Minutes of margin before the end", "about what makes a class end in time on nine days of ten",
		func(w *Weights) *float64 { return &w.MarginMinutes }},
	{"first_stitch", "A minute of somebody's first stitch after half of the class",
		"until they have sewn, they have not begun", func(w *Weights) *float64 { return &w.FirstStitch }},
	{"longest_wait", "A minute of the longest wait", "one long wait is remembered, three short ones are not",
		func(w *Weights) *float64 { return &w.LongestWait }},
	{"short_minutes", "Minutes of a wait that cost nothing", "that long it takes to look at what one has made",
		func(w *Weights) *float64 { return &w.ShortMinutes }},
	{"shared_waits", "An hour of waiting, more for long waits", "waits are shared rather than all one person's",
		func(w *Weights) *float64 { return &w.SharedWaits }},
	{"change", "A change of machine without need", "every machine is threaded and loaded otherwise",
		func(w *Weights) *float64 { return &w.Change }},
	{"idle", "A minute in which a hoop is held and not used", "somebody else may want it", func(w *Weights) *float64 {
		return &w.Idle
	}},
}

// Of is what some weights say of it.
func (w Weight) Of(weights Weights) float64 { return *w.value(&weights) }

// Set changes it.
func (w Weight) Set(weights *Weights, value float64) { *w.value(weights) = value }

// MostWeight is the largest there is.
const MostWeight = 10_000
