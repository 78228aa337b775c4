package day

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"chalkstep/core/floor"
	"chalkstep/core/pace"
	"chalkstep/core/room"
	"chalkstep/core/say"
	"chalkstep/core/technique"
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
	problem func(floor.Problem) floor.Problem
}

// A Trying is how carefully levers are tried: iterations of the planner for each,
// days for the odds of each, and the planner's seed.
type Trying struct {
	Iterations, Days int
	Seed             uint64
}

// leverMinutes is how much earlier or longer a class may be.
const leverMinutes = 30

// levers lists what of a planned class could be otherwise. free are the machines
// of the room that nobody has while it runs.
func (p Plan) levers(free []room.Machine) []Lever {
	var all []Lever
	for _, m := range free {
		if !slices.ContainsFunc(p.Works, func(w Work) bool {
			return w.Planned() && newWork(w.Project, withMachine(p.Class, m), p.Rules).Fits(m.ID)
		}) {
			continue
		}
		all = append(all, Lever{Key: leverKey(LeverMachine, m.ID), Adopts: true, Name: say.T("%s as well", m.Name), Cost: say.T("it is free then"), class: func(c Class) Class { return withMachine(c, m) }})
	}
	for _, pool := range p.Problem.Pools {
		if id, is := strings.CutPrefix(pool.ID, hoopPrefix); is {
			all = append(all, Lever{Key: LeverKey(LeverHoop + ":" + id), Name: say.T("one more %s hoop", say.Name(strings.ToLower(p.PoolName(pool.ID).String()))), Cost: say.T("to be bought or borrowed"), problem: func(problem floor.Problem) floor.Problem {
				return withUnit(problem, pool.ID)
			}})
		}
	}
	all = append(all,
		Lever{Key: leverKey(LeverInstructor, 1), Adopts: true, Name: say.T("another instructor"), Cost: say.T("one more pair of hands for the class"), class: func(c Class) Class { c.Instructors++; return c }},
		Lever{Key: leverKey(LeverIron, 1), Adopts: true, Name: say.T("another iron"), Cost: say.T("an iron and a pad"), class: func(c Class) Class { c.Irons++; return c }},
		Lever{Key: leverKey(LeverEarlier, leverMinutes), Adopts: true, Name: say.T("begin %s earlier", say.Minutes(leverMinutes)), Cost: say.T("everyone has to know"), class: func(c Class) Class { c.StartsAt = c.StartsAt.Add(-leverMinutes * time.Minute); return c }},
		Lever{Key: leverKey(LeverLonger, leverMinutes), Adopts: true, Name: say.T("end %s later", say.Minutes(leverMinutes)), Cost: say.T("everyone has to know"), class: func(c Class) Class { c.EndsAt = c.EndsAt.Add(leverMinutes * time.Minute); return c }})
	if first := p.firstRound(); len(first) > 0 {
		all = append(all, Lever{Key: leverKey(LeverHooped, 1), Name: say.T("the first round hooped before class"), Cost: say.T("staff hoop %s before they come", say.N{N: len(first), Noun: "blank"}), problem: func(problem floor.Problem) floor.Problem {
			return hoopedAhead(problem, first)
		}})
	}
	if swap, can := technique.ByKey("cut-by-machine"); can && p.Class.Project.Appliques() > 0 && !p.Class.Project.HasTechnique(swap.Key) {
		all = append(all, Lever{Key: leverKey(LeverPreCut, 1), Name: say.T("pieces cut by machine before class"), Cost: say.T("about %s of cutting", say.Minutes(2*float64(len(p.Class.Places)))), class: func(c Class) Class {
			c.Project.Techniques = append(slices.DeleteFunc(slices.Clone(c.Project.Techniques), func(t technique.Technique) bool { _, bad := technique.Excludes(t, swap); return bad }), swap)
			return c
		}})
	}
	if opening := p.Class.OpeningMinutes; opening > 0 {
		all = append(all, Lever{Key: leverKey(LeverOpening, 0), Adopts: true, Name: say.T("the demonstration beforehand"), Cost: say.T("%s to be shown before the day; safety is still said to each at the machine", say.Minutes(opening)), class: func(c Class) Class { c.OpeningMinutes = 0; return c }})
	}
	if l, any := p.arrivalsLever(); any {
		all = append(all, l)
	}
	if len(p.Class.Places) > 3 {
		all = append(all, Lever{Key: leverKey(LeverSessions, 2), Name: say.T("two sessions, half of them in each"), Cost: say.T("the room twice"), class: func(c Class) Class {
			c.Places = slices.Clone(c.Places[:(len(c.Places)+1)/2])
			return c
		}})
	}
	return all
}

func withMachine(c Class, m room.Machine) Class {
	c.Machines = append(slices.Clone(c.Machines), m)
	return c
}

func withUnit(p floor.Problem, pool string) floor.Problem {
	p.Pools = slices.Clone(p.Pools)
	for i := range p.Pools {
		if p.Pools[i].ID == pool {
			p.Pools[i].Count++
		}
	}
	return p
}

// firstRound are those who are the first to sew at each machine.
func (p Plan) firstRound() []string {
	var first []string
	for _, m := range p.Class.Machines {
		if sits := p.Sits(m.ID); len(sits) > 0 {
			first = append(first, sits[0].Person)
		}
	}
	return first
}

// hoopedAhead takes what comes before the machine off some people.
func hoopedAhead(p floor.Problem, people []string) floor.Problem {
	p.People = slices.Clone(p.People)
	for i := range p.People {
		if !slices.Contains(people, p.People[i].ID) {
			continue
		}
		p.People[i].Steps = slices.Clone(p.People[i].Steps)
		for k := range p.People[i].Steps {
			s := &p.People[i].Steps[k]
			if pace.StepKey(s.ID) == pace.StepLoad {
				break
			}
			if s.Minutes != nil {
				s.Minutes, s.Needs = floor.Minutes(0), nil
			}
		}
	}
	return p
}

// Levers plans a class with each of what could be otherwise, and with all of some
// at once: those that bring it into its window soonest come first, then those that
// end it soonest. What changes nothing is left out, unless it was asked for.
func (p Plan) Levers(free []room.Machine, together []LeverKey, try Trying) (each []Lever, all *Lever) {
	if !p.Planned() {
		return nil, nil
	}
	candidates := p.levers(free)
	for _, l := range candidates {
		l = p.pull(try, l)
		helps := l.Fits && !p.Result.Fits || l.SoonerMinutes >= 1
		if l.Waits { // nobody is to be later for it
			helps = p.LongestWait-l.LongestWait >= 5 && (l.Fits || l.SoonerMinutes >= 0)
		}
		if helps || slices.Contains(together, l.Key) {
			each = append(each, l)
		}
	}
	slices.SortStableFunc(each, func(a, b Lever) int {
		if a.Fits != b.Fits {
			if a.Fits {
				return -1
			}
			return 1
		}
		return cmp.Compare(b.SoonerMinutes, a.SoonerMinutes)
	})
	if len(together) > 1 {
		var pulled []Lever
		for _, l := range candidates {
			if slices.Contains(together, l.Key) {
				pulled = append(pulled, l)
			}
		}
		made := p.pull(try, pulled...)
		all = &made
	}
	return each, all
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
	result, err := floor.Plan(d.Problem, floor.Options{Iterations: try.Iterations, Seed: try.Seed})
	if err != nil {
		out.Because, out.FinishMinutes = say.Of(err), math.Inf(1)
		return out
	}
	then := d.Take(result)
	shift := c.StartsAt.Sub(p.Class.StartsAt).Minutes()
	out.FinishMinutes, out.Fits, out.Tight, out.LongestWait = then.FinishMinutes+shift, result.Fits, then.Tight, then.LongestWait
	out.SoonerMinutes = p.FinishMinutes - out.FinishMinutes
	if odds, err := floor.Odds(d.Problem, result, max(1, try.Days), try.Seed); err == nil {
		out.FitsShare = odds.FitsShare
	}
	before, now := p.heldUp(p.Result.Bottleneck), then.heldUp(result.Bottleneck)
	switch {
	case out.Waits:
		out.Because = say.T("nobody waits over %s, instead of %s", say.Minutes(then.LongestWait), say.Minutes(p.LongestWait))
	case out.SoonerMinutes < 1:
		out.Because = say.T("%s holds it up all the same", now)
	case p.Result.Bottleneck == result.Bottleneck:
		out.Because = say.T("%s is waited for less", now)
	default:
		out.Because = say.T("%s held it up, and then %s does", before, now)
	}
	return out
}

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

// Odds plays the plan on many days.
func (p Plan) Odds(days int) (floor.Outlook, error) {
	return floor.Odds(p.Problem, p.Result, days, 1)
}
