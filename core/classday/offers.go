package classday

import (
	"cmp"
	"maps"
	"slices"
	"strings"
	"time"

	"chalkstep/core/design"
	"chalkstep/core/fleet"
	"chalkstep/core/project"
	"chalkstep/core/say"
	"chalkstep/core/schedule"
	"chalkstep/core/stitch"
	"chalkstep/core/technique"
	"chalkstep/core/thread"
)

// Beside is what a class could have beside what it has: machines of the room that
// nobody has while it runs, and projects that some could make instead.
type Beside struct {
	Machines []fleet.Machine
	Projects []project.Project
}

// Figures of ours of what could be otherwise.
const (
	// leverMinutes is how much earlier or longer a class may be.
	leverMinutes = 30
	// assistantHour is how long an assistant comes who does not stay.
	assistantHour = 60
	// nearThread is how unlike two threads may be to be one, by [thread.Difference].
	nearThread = 10
	// simplerShare of what is made now is what a simpler project takes at most.
	simplerShare = 0.85
)

// offers lists what of a planned class could be otherwise.
func (p Plan) offers(beside Beside) []Lever {
	return slices.Concat(p.offerThings(beside.Machines), p.offerHands(), p.offerTimes(), p.offerAhead(),
		p.offerDesign(beside.Machines), p.offerSimpler(beside.Projects))
}

// offerThings are machines, hoops and irons.
func (p Plan) offerThings(free []fleet.Machine) []Lever {
	var all []Lever
	for _, m := range free {
		if !slices.ContainsFunc(p.Works, func(w Work) bool {
			return w.Planned() && newWork(w.Project, withMachine(p.Class, m), p.Rules).Fits(m.ID)
		}) {
			continue
		}
		all = append(all, Lever{Key: leverKey(LeverMachine, m.ID), Adopts: true, Name: say.T("%s as well", m.Name),
			Cost:  say.T("it is free then"),
			class: func(c Class) Class { return withMachine(c, m) }})
	}
	for _, pool := range p.Problem.Resources {
		if id, is := strings.CutPrefix(pool.ID, hoopPrefix); is {
			all = append(all, Lever{Key: LeverKey(LeverHoop + ":" + id),
				Name:    say.T("one more %s hoop", say.Name(strings.ToLower(p.PoolName(pool.ID).String()))),
				Cost:    say.T("to be bought or borrowed"),
				problem: func(problem schedule.Problem) schedule.Problem { return withUnit(problem, pool.ID) }})
		}
	}
	return append(all, Lever{Key: leverKey(LeverIron, 1), Adopts: true, Name: say.T("another iron"),
		Cost: say.T("an iron and a pad"), class: func(c Class) Class { c.Irons++; return c }})
}

// offerHands are people who help.
func (p Plan) offerHands() []Lever {
	all := []Lever{{Key: leverKey(LeverInstructor, 1), Adopts: true, Name: say.T("another instructor"),
		Cost: say.T("one more pair of hands for the class"), class: func(c Class) Class { c.Instructors++; return c }}}
	whole := Lever{Key: leverKey(LeverAssistant, 0), Adopts: true, Name: say.T("an assistant"),
		Cost: say.T("somebody who helps at hooping and loading"), class: func(c Class) Class {
			c.Assistants++
			c.AssistantMinutes = 0
			return c
		}}
	if p.Class.Assistants > 0 && p.Class.AssistantMinutes > 0 { // then help is there, and leaves
		whole.Name, whole.Cost = say.T("%s to the end", say.N{N: p.Class.Assistants, Noun: "assistant"}),
			say.T("whoever helps now stays")
		whole.class = func(c Class) Class { c.AssistantMinutes = 0; return c }
	}
	all = append(all, whole)
	if p.Class.Assistants == 0 {
		minutes := p.Class.OpeningMinutes + assistantHour
		all = append(all, Lever{Key: leverKey(LeverAssistant, assistantHour), Adopts: true,
			Name: say.T("an assistant for the first hour"),
			Cost: say.T("somebody who helps until %s", say.Clock(p.At(float64(minutes)))),
			class: func(c Class) Class {
				if c.Assistants == 0 { // nobody comes yet who stays
					c.Assistants, c.AssistantMinutes = 1, minutes
				}
				return c
			}})
	}
	return all
}

// offerTimes are other times, for all or for some.
func (p Plan) offerTimes() []Lever {
	all := []Lever{
		{Key: leverKey(LeverEarlier, leverMinutes), Adopts: true, Name: say.T("begin %s earlier", say.Minutes(leverMinutes)),
			Cost: say.T("everyone has to know"), class: func(c Class) Class {
				c.StartsAt = c.StartsAt.Add(-leverMinutes * time.Minute)
				return c
			}},
		{Key: leverKey(LeverLonger, leverMinutes), Adopts: true, Name: say.T("end %s later", say.Minutes(leverMinutes)),
			Cost: say.T("everyone has to know"), class: func(c Class) Class {
				c.EndsAt = c.EndsAt.Add(leverMinutes * time.Minute)
				return c
			}},
	}
	if l, any := p.arrivalsLever(); any {
		all = append(all, l)
	}
	if len(p.Class.Places) > 3 {
		all = append(all, Lever{Key: leverKey(LeverSessions, 2), Name: say.T("two sessions, half of them in each"),
			Cost: say.T("the room twice"), class: func(c Class) Class {
				c.Places = slices.Clone(c.Places[:(len(c.Places)+1)/2])
				return c
			}})
	}
	return all
}

// offerAhead is what could be done before the class.
func (p Plan) offerAhead() []Lever {
	var all []Lever
	if first := p.firstRound(); len(first) > 0 {
		all = append(all, Lever{Key: leverKey(LeverHooped, 1), Adopts: true,
			Name: say.T("the first round hooped before class"),
			Cost: say.T("staff hoop %s before they come", say.N{N: len(first), Noun: "blank"}), class: func(c Class) Class {
				c.Places = slices.Clone(c.Places)
				for i := range c.Places {
					c.Places[i].HoopedAhead = c.Places[i].HoopedAhead || slices.Contains(first, PersonID(c.Places[i].ID))
				}
				return c
			}})
	}
	if swap, can := technique.ByKey("cut-by-machine"); can && p.Class.Project.Appliques() > 0 &&
		!p.Class.Project.HasTechnique(swap.Key) {
		all = append(all, Lever{Key: leverKey(LeverPreCut, 1), Name: say.T("pieces cut by machine before class"),
			Cost: say.T("about %s of cutting", say.Minutes(2*float64(len(p.Class.Places)))), class: func(c Class) Class {
				c.Project.Techniques = append(slices.DeleteFunc(slices.Clone(c.Project.Techniques),
					func(t technique.Technique) bool { _, bad := technique.Excludes(t, swap); return bad }), swap)
				return c
			}})
	}
	if opening := p.Class.OpeningMinutes; opening > 0 {
		all = append(all, Lever{Key: leverKey(LeverOpening, 0), Adopts: true, Name: say.T("the demonstration beforehand"),
			Cost:  say.T("%s to be shown before the day; safety is still said to each at the machine", say.Minutes(opening)),
			class: func(c Class) Class { c.OpeningMinutes = 0; return c }})
	}
	return all
}

// firstRound are those who are the first to sew at each machine and do not find
// their blank hooped yet.
func (p Plan) firstRound() []string {
	var first []string
	for _, m := range p.Class.Machines {
		if sits := p.Sits(m.ID); len(sits) > 0 && !sits[0].Place.HoopedAhead {
			first = append(first, sits[0].Job)
		}
	}
	return first
}

// offerDesign is what of the class's own design could be otherwise.
func (p Plan) offerDesign(free []fleet.Machine) []Lever {
	var all []Lever
	if l, any := p.sharedThreads(); any {
		all = append(all, l)
	}
	if l, any := p.sortedStops(); any {
		all = append(all, l)
	}
	for _, m := range slices.Concat(p.Class.Machines, free) {
		if l, any := p.smaller(m); any {
			all = append(all, l)
		}
	}
	return all
}

// sharedThreads sews neighbouring stops of much the same colour with one thread.
func (p Plan) sharedThreads() (Lever, bool) {
	own := p.Class.Project
	threads, shared := map[project.Thread]stitch.RGB{}, 0
	maps.Copy(threads, own.Threads)
	if own.Gone() {
		return Lever{}, false
	}
	for i := range own.Hoopings {
		stops := own.Sewn(i).Stops
		for k := 1; k < len(stops); k++ {
			if stops[k].Color != stops[k-1].Color && thread.Difference(stops[k].Color, stops[k-1].Color) <= nearThread {
				stops[k].Color = stops[k-1].Color
				threads[project.Thread{Hooping: i, Stop: stops[k].N}] = stops[k].Color
				shared++
			}
		}
	}
	if shared == 0 {
		return Lever{}, false
	}
	return Lever{Key: leverKey(LeverThreads, int64(shared)),
		Name: say.T("neighbouring stops in one thread, %s less", say.N{N: shared, Noun: "change"}),
		Cost: say.T("try it on the project's thread sheet, and choose it there"), class: func(c Class) Class {
			c.Project.Threads = threads
			return c
		}}, true
}

// sortedStops sews a design thread by thread as far as its stops allow. Where layers
// are laid between the stops, they keep their order.
func (p Plan) sortedStops() (Lever, bool) {
	own := p.Class.Project
	if own.Gone() || len(own.Layers) > 0 {
		return Lever{}, false
	}
	hoopings, saved := slices.Clone(own.Hoopings), 0
	for i := range hoopings {
		d := hoopings[i].Design
		facts := d.Facts()
		order := slices.Concat(stitch.ColorOrder(facts.Threads, stitch.Precedence(facts.Stops))...)
		sorted := d
		sorted.Stops = make([]design.Stop, len(d.Stops))
		for k, from := range order {
			sorted.Stops[k] = d.Stops[from]
		}
		if fewer := changesOf(d) - changesOf(sorted); fewer > 0 {
			hoopings[i].Design, saved = sorted, saved+fewer
		}
	}
	if saved == 0 {
		return Lever{}, false
	}
	return Lever{Key: leverKey(LeverSorted, int64(saved)),
		Name: say.T("sewn thread by thread, %s less", say.N{N: saved, Noun: "change"}),
		Cost: say.T("the stops chosen in that order at the machine, as its manual says"), class: func(c Class) Class {
			c.Project.Hoopings = hoopings
			return c
		}}, true
}

// changesOf counts the thread changes of a design.
func changesOf(d design.Design) int {
	n := 0
	for i := 1; i < len(d.Stops); i++ {
		if d.Stops[i].Color != d.Stops[i-1].Color {
			n++
		}
	}
	return n
}

// percents are the sizes a design may be sewn at instead of its own: within what a
// machine resizes without a new file (handbook, Resizing).
var percents = []int{95, 90, 85, 80}

// smaller is the least that a design has to shrink for a machine to take it, within
// the locks of the design and the house.
func (p Plan) smaller(m fleet.Machine) (Lever, bool) {
	own, c := p.Class.Project, withMachine(p.Class, m)
	if own.Gone() || own.InHoop || p.Rules.House.NeverResizes() || newWork(own, c, p.Rules).Fits(m.ID) {
		return Lever{}, false
	}
	for _, percent := range percents {
		if slices.ContainsFunc(own.Hoopings, func(h project.Hooping) bool {
			return len(h.Design.Facts().TraitsOf(false).Locks(percent)) > 0
		}) {
			return Lever{}, false // smaller yet is locked the more
		}
		if newWork(shrunk(own, own, percent), c, p.Rules).Fits(m.ID) {
			return Lever{Key: leverKey(LeverSmaller, m.ID),
				Name: say.T("sewn at %s, which %s takes", say.Percent(percent), m.Name),
				Cost: say.T("the size is set at each machine, as its manual says; sew a test of it"), class: func(was Class) Class {
					was.Project = shrunk(was.Project, own, percent)
					return withMachine(was, m)
				}}, true
		}
	}
	return Lever{}, false
}

// shrunk is a project sewn at no more than a percentage of its own size.
func shrunk(p, own project.Project, percent int) project.Project {
	p.Hoopings = slices.Clone(p.Hoopings)
	for i := range p.Hoopings {
		d, whole := &p.Hoopings[i].Design, own.Hoopings[i].Design
		d.WidthMM, d.HeightMM = min(d.WidthMM, whole.WidthMM*float64(percent)/100),
			min(d.HeightMM, whole.HeightMM*float64(percent)/100)
	}
	return p
}

// offerSimpler has those who end last make something simpler, of what the class's
// machines can sew.
func (p Plan) offerSimpler(projects []project.Project) []Lever {
	slow := p.endLast()
	if len(slow) == 0 {
		return nil
	}
	now := p.leastMinutes(p.Works[0], slow[0])
	var all []Lever
	for _, other := range projects {
		w := newWork(other, p.Class, p.Rules)
		if other.ID == p.Class.Project.ID || !w.Why.Silent() || p.leastMinutes(w, slow[0]) > simplerShare*now {
			continue
		}
		var names say.List
		for _, place := range slow {
			names = append(names, say.Name(place.Name))
		}
		all = append(all, Lever{Key: leverKey(LeverSimpler, other.ID), Adopts: true,
			Name: say.T("%s make “%s”", names, other.Name), Cost: say.T("they have to be told, and like it"),
			class: func(c Class) Class {
				c.Places = slices.Clone(c.Places)
				for i := range c.Places {
					if slices.ContainsFunc(slow, func(s Place) bool { return s.ID == c.Places[i].ID }) {
						c.Places[i].Makes, c.Places[i].Pins = &other, nil
					}
				}
				return c
			}})
	}
	const most = 2
	slices.SortStableFunc(all, func(a, b Lever) int { return cmp.Compare(a.Key, b.Key) })
	return all[:min(most, len(all))]
}

// endLast are the third of those who make what the class makes that end last.
func (p Plan) endLast() []Place {
	var places []Place
	end := map[int64]float64{}
	for _, place := range p.Works[0].Places {
		for _, s := range p.StepsOf(PersonID(place.ID)) {
			end[place.ID] = max(end[place.ID], s.End)
		}
		places = append(places, place)
	}
	slices.SortStableFunc(places, func(a, b Place) int { return cmp.Compare(end[b.ID], end[a.ID]) })
	return places[:len(places)/3]
}

// leastMinutes are those of somebody's steps where each is done fastest.
func (p Plan) leastMinutes(w Work, place Place) float64 {
	minutes := 0.0
	for _, s := range p.stepsOf(w, place) {
		minutes += least(s)
	}
	return minutes
}

// withMachine is the class with a machine, where it has not got it.
func withMachine(c Class, m fleet.Machine) Class {
	if slices.ContainsFunc(c.Machines, func(have fleet.Machine) bool { return have.ID == m.ID }) {
		return c
	}
	c.Machines = append(slices.Clone(c.Machines), m)
	return c
}

func withUnit(p schedule.Problem, pool string) schedule.Problem {
	p.Resources = slices.Clone(p.Resources)
	for i := range p.Resources {
		if p.Resources[i].ID == pool {
			p.Resources[i].Count++
		}
	}
	return p
}

// LeverName is what a lever that was adopted is called.
func (c Class) LeverName(key LeverKey) say.Text {
	switch key.Kind() {
	case LeverMachine:
		if i := slices.IndexFunc(c.Machines, func(m fleet.Machine) bool { return m.ID == key.Value() }); i >= 0 {
			return say.T("%s as well", c.Machines[i].Name)
		}
		return say.T("another machine")
	case LeverIron:
		return say.T("another iron")
	case LeverInstructor:
		return say.T("another instructor")
	case LeverAssistant:
		if key.Value() > 0 {
			return say.T("an assistant for the first hour")
		}
		return say.T("an assistant")
	case LeverEarlier:
		return say.T("%s earlier", say.Minutes(key.Value()))
	case LeverLonger:
		return say.T("%s longer", say.Minutes(key.Value()))
	case LeverArrivals:
		return say.T("some come later")
	case LeverHooped:
		return say.T("the first round hooped before class")
	case LeverOpening:
		return say.T("the demonstration beforehand")
	case LeverSimpler:
		return say.T("some make something simpler")
	}
	return say.T("something else")
}
