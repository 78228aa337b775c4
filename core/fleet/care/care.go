// Package care is the upkeep of machines: what was done to each and when, what is due by
// the hours it has sewn since, and whether one breaks thread more often than the others.
package care

import (
	"time"

	"chalkstep/core/policy/rule"
	"chalkstep/core/say"
)

// A Kind of care.
type Kind string

// The kinds of care that come round again (handbook, Booking shared machines).
const (
	// Needle: a new one.
	Needle Kind = "needle"
	// Lint: out of the bobbin area.
	Lint Kind = "lint"
	// Service by a technician.
	Service Kind = "service"
)

// Kinds of care, the most frequent first.
var Kinds = []Kind{Needle, Lint, Service}

// kinds have what they are called, and what is said before somebody does it.
var kinds = map[Kind]struct{ title, caution say.Word }{
	Needle:  {"New needle", "Power off first. The old needle goes into the sharps tin."},
	Lint:    {"Lint out of the bobbin area", "Power off first. What the manual does not open stays closed."},
	Service: {"Technician's service", "Repairs inside the machine are for a qualified technician."},
}

// Title of a kind.
func (k Kind) Title() say.Word { return kinds[k].title }

// Caution of a kind.
func (k Kind) Caution() say.Word { return kinds[k].caution }

// Rules say after how long each kind comes round again; 0 stands for never.
type Rules struct {
	// NeedleHours and LintHours are hours of sewing.
	NeedleHours int `json:"needle_hours"`
	LintHours   int `json:"lint_hours"`
	// ServiceDays are days by the calendar.
	ServiceDays int `json:"service_days"`
}

// Defaults are the handbook's (Booking shared machines); the machine's manual comes first.
func Defaults() Rules { return Rules{NeedleHours: 8, LintHours: 8, ServiceDays: 365} }

// Figures of the rules, in the order in which they are asked.
var Figures = []rule.Figure[Rules]{
	{Key: "needle", Title: "New needle after, sewing hours", Because: "and at once after a strike; 0 for never",
		Most: 1000, At: func(r *Rules) *int { return &r.NeedleHours }},
	{Key: "lint", Title: "Lint out after, sewing hours", Because: "what the manual says comes first; 0 for never",
		Most: 1000, At: func(r *Rules) *int { return &r.LintHours }},
	{Key: "service", Title: "Service after, days", Because: "what the manual says comes first; 0 for never", Most: 3650,
		At: func(r *Rules) *int { return &r.ServiceDays }},
}

// A Done care says what was done to a machine, when and by whom.
type Done struct {
	ID   int64
	Kind Kind
	At   time.Time
	By   string
	Note string
}

// A State of one kind of care of a machine.
type State struct {
	Kind Kind
	// Last is when it was done last, nil where nobody has written that down.
	Last *Done
	// Minutes sewn and Stitches since then; since the machine came, where it never was.
	Minutes  float64
	Stitches int
	// Struck is when a needle struck since then, nothing where none did.
	Struck time.Time
}

// Hours sewn since it was done last.
func (s State) Hours() float64 { return s.Minutes / 60 }

// Due says why it is due by the rules at a moment, silent where it is not.
func (s State) Due(r Rules, now time.Time) say.Text {
	hours := map[Kind]int{Needle: r.NeedleHours, Lint: r.LintHours}[s.Kind]
	switch {
	case s.Kind == Needle && !s.Struck.IsZero():
		return say.T("a needle struck on %s", say.Date(s.Struck))
	case hours > 0 && s.Hours() >= float64(hours):
		return say.T("%s sewn since, of %s", say.Decimal{Value: s.Hours(), Places: 1}, say.N{N: hours, Noun: "hour"})
	case s.Kind != Service || r.ServiceDays == 0 || s.Last == nil: // it counts from the first that is written down
		return say.Text{}
	case s.Last.At.AddDate(0, 0, r.ServiceDays).Before(now):
		return say.T("the last was on %s", say.Date(s.Last.At))
	}
	return say.Text{}
}
