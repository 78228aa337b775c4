package classday

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"chalkstep/core/say"
	"chalkstep/core/schedule"
	"chalkstep/core/schedule/lever"
	"chalkstep/core/schedule/odds"
	"chalkstep/core/schedule/search"
)

// A LeverKey names something of a class that could be otherwise: "machine:5".
type LeverKey string

// The kinds of lever, before the colon of a key.
const (
	LeverMachine    = "machine"
	LeverHoop       = "hoop"
	LeverInstructor = "instructor"
	LeverIron       = "iron"
	LeverEarlier    = "earlier"
	LeverLonger     = "longer"
	LeverHooped     = "hooped"
	LeverPreCut     = "pre-cut"
	LeverSessions   = "sessions"
	LeverArrivals   = "arrivals"
	LeverOpening    = "opening"
	LeverAssistant  = "assistant"
	LeverThreads    = "threads"
	LeverSorted     = "sorted"
	LeverSmaller    = "smaller"
	LeverSimpler    = "simpler"
)

// Kind and Value take a key apart; Value is 0 where the key has none.
func (k LeverKey) Kind() string {
	kind, _, _ := strings.Cut(string(k), ":")
	return kind
}

// Value is the number in a key.
func (k LeverKey) Value() int64 {
	_, text, _ := strings.Cut(string(k), ":")
	var n int64
	if _, err := fmt.Sscanf(text, "%d", &n); err != nil {
		return 0
	}
	return n
}

// leverKey writes a key.
func leverKey(kind string, value int64) LeverKey {
	return LeverKey(fmt.Sprintf("%s:%d", kind, value))
}

// A Lever is something of a class that could be otherwise, with the day it gives.
type Lever struct {
	Key LeverKey
	// Name is what it is, Cost what it takes, Because why it works or does not.
	Name, Cost, Because say.Text
	// Adopts tells that a press changes the class by it; the others say what is to
	// be done.
	Adopts bool
	// Waits tells that it is for shorter waits, not for an earlier end;
	// LongestWait is how long somebody waits then.
	Waits       bool
	LongestWait float64
	// FinishMinutes from the start of the class; Fits tells that it is in its
	// window, SoonerMinutes how much sooner than now.
	FinishMinutes, SoonerMinutes float64
	Fits                         bool
	// FitsShare is the share of days on which everyone finishes in the window.
	FitsShare float64
	// Tight says what is waited for then.
	Tight say.Text

	class   func(Class) Class
	problem func(schedule.Problem) schedule.Problem
}

// Surely tells that it brings the class into its window even where a day goes badly.
func (l Lever) Surely() bool { return l.promise().Surely() }

func (l Lever) promise() lever.Promise {
	return lever.Promise{MakespanMinutes: l.FinishMinutes, Fits: l.Fits, FitsShare: l.FitsShare}
}

// A Trying is how carefully levers are tried: iterations of the planner for each,
// days for the odds of each, and the planner's seed.
type Trying struct {
	Iterations, Days int
	Seed             uint64
}

// Levers plans a class with each of what could be otherwise, and with all of some
// at once, in the order of [floor.BestFirst]. What changes nothing is left out, unless it was
// asked for.
func (p Plan) Levers(beside Beside, together []LeverKey, try Trying) (each []Lever, all *Lever) {
	if !p.Planned() || len(p.Works) == 0 {
		return nil, nil
	}
	candidates := p.offers(beside)
	// What is planned again as it is may end sooner, at the cost of waits: only what
	// is better than that is due to a lever.
	soonest := min(p.FinishMinutes, p.pull(try).FinishMinutes)
	for _, l := range candidates {
		l = p.pull(try, l)
		l.SoonerMinutes = soonest - l.FinishMinutes
		// What makes the day later is no help, whatever else it does.
		helps := (l.Fits && !p.Result.Fits || l.SoonerMinutes >= 1) && l.FinishMinutes <= p.FinishMinutes+schedule.Hair
		if l.Waits { // nobody is to be later for it
			helps = p.LongestWait-l.LongestWait >= 5 && (l.Fits || l.SoonerMinutes >= 0)
		}
		if helps || slices.Contains(together, l.Key) {
			each = append(each, l)
		}
	}
	slices.SortStableFunc(each, func(a, b Lever) int { return lever.BestFirst(a.promise(), b.promise()) })
	if len(together) > 1 {
		pulled := named(candidates, together)
		made := p.pull(try, pulled...)
		made.SoonerMinutes = soonest - made.FinishMinutes
		made.Adopts = !slices.ContainsFunc(pulled, func(l Lever) bool { return !l.Adopts })
		all = &made
	}
	return each, all
}

// named are those of some levers that keys name: in the order in which they are offered and
// each once, however they are named, so that several that are adopted do what was said of them
// together.
func named(offers []Lever, keys []LeverKey) []Lever {
	return slices.DeleteFunc(slices.Clone(offers), func(l Lever) bool { return !slices.Contains(keys, l.Key) })
}

// With is the class with some levers adopted, and those of them that cannot be: what
// is done by hand, or is not offered any more.
func (p Plan) With(beside Beside, keys []LeverKey) (c Class, refused []LeverKey) {
	c, refused = p.Class, slices.Clone(keys)
	for _, l := range named(p.offers(beside), keys) {
		if !l.Adopts {
			continue
		}
		refused = slices.DeleteFunc(refused, func(key LeverKey) bool { return key == l.Key })
		c = l.class(c)
		c.Adopted = append(slices.Clone(c.Adopted), l.Key)
	}
	return c, refused
}

// pull plans the class with some levers together.
func (p Plan) pull(try Trying, levers ...Lever) Lever {
	out := Lever{}
	if len(levers) == 1 {
		out = levers[0]
	}
	c := p.Class
	for _, l := range levers {
		if l.class != nil {
			c = l.class(c)
		}
	}
	d := Open(c, p.Rules)
	if !d.Why.Silent() {
		out.Because, out.FinishMinutes = d.Why, math.Inf(1)
		return out
	}
	for _, l := range levers {
		if l.problem != nil {
			d.Problem = l.problem(d.Problem)
		}
	}
	result, err := search.Solve(d.Problem, search.Options{Iterations: try.Iterations, Seed: try.Seed})
	if err != nil {
		out.Because, out.FinishMinutes = say.Of(err), math.Inf(1)
		return out
	}
	if len(levers) == 1 && levers[0].Key.Kind() == LeverLonger && result.MakespanMinutes > p.Result.MakespanMinutes {
		result = p.Result // it holds with more time at its end
		result.Fits = result.MakespanMinutes <= d.Problem.WindowMinutes
	}
	then := d.Take(result)
	shift := c.StartsAt.Sub(p.Class.StartsAt).Minutes()
	out.FinishMinutes, out.Fits, out.Tight, out.LongestWait = then.FinishMinutes+shift, result.Fits, then.Tight,
		then.LongestWait
	if odds, err := odds.Of(d.Problem, result, max(1, try.Days), try.Seed); err == nil {
		out.FitsShare = odds.FitsShare
	}
	before, now := p.heldUp(p.Result.Bottleneck), then.heldUp(result.Bottleneck)
	switch {
	case out.Waits:
		out.Because = say.T("nobody waits over %s, instead of %s", say.Minutes(then.LongestWait), say.Minutes(p.LongestWait))
	case p.FinishMinutes-out.FinishMinutes < 1:
		out.Because = say.T("%s holds it up all the same", now)
	case len(levers) == 1 && levers[0].Key.Kind() == LeverEarlier:
		out.Because = say.T("all of it is %s earlier", say.Minutes(leverMinutes))
	case p.Result.Bottleneck == result.Bottleneck && result.WaitedMinutes() < p.Result.WaitedMinutes():
		out.Because = say.T("%s is waited for less", now)
	case p.Result.Bottleneck == result.Bottleneck:
		out.Because = say.T("all are done sooner, and %s is still what is waited for", now)
	default:
		out.Because = say.T("%s held it up, and then %s does", before, now)
	}
	return out
}

// HeldUp names what people waited for, nothing where nobody did.
func (p Plan) HeldUp() say.Text { return p.heldUp(p.Result.Bottleneck) }

// heldUp names what people waited for: "the instructor", "a machine".
func (p Plan) heldUp(bottleneck string) say.Text {
	switch {
	case bottleneck == Instructor:
		return say.T("the instructor")
	case bottleneck == Assistant:
		return say.T("the assistant")
	case bottleneck == Iron:
		return say.T("the iron")
	case bottleneck == Bench:
		return say.T("the benches")
	case strings.HasPrefix(bottleneck, hoopPrefix):
		return say.T("the %s hoop", say.Name(strings.ToLower(p.PoolName(bottleneck).String())))
	}
	if m, ok := p.Machine(bottleneck); ok {
		return say.Name(m.Name)
	}
	return say.T("nothing")
}

// FinishOf is the clock time at which a lever's day ends.
func (p Plan) FinishOf(l Lever) time.Time {
	return p.Class.StartsAt.Add(time.Duration(l.FinishMinutes) * time.Minute)
}

// Varies says what the odds are played with.
func (p Plan) Varies() []say.Text {
	f := p.Rules.Pace
	texts := []say.Text{say.T("The odds are played on %s days: hand steps vary by %s, and a break of the thread takes %s.",
		say.Count(odds.UsualDays), say.Percent(math.Round(100*f.BenchSpread)), say.Minutes(f.BreakMinutes))}
	for _, m := range p.Class.Machines {
		if len(p.Sits(m.ID)) > 0 {
			texts = append(texts,
				say.T("%s: sewing varies by %s, the thread breaks %s times in 10,000 stitches, by %s.", m.Name,
					say.Percent(math.Round(100*f.Spread(m.Logged.Runs))), say.Decimal{Value: f.BreakRate(m.Logged.Runs), Places: 1},
					say.N{N: m.Logged.Count, Noun: "logged run"}))
		}
	}
	return texts
}

// Odds plays the plan on [floor.OddsDays].
func (p Plan) Odds() (odds.Outlook, error) {
	return odds.Of(p.Problem, p.Result, odds.UsualDays, 1)
}
