package app

import (
	"crypto/sha256"
	"encoding/json"
	"fmt"
	"maps"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"

	"chalkstep/core/floor"
	"chalkstep/core/kit"
	"chalkstep/core/pace"
	"chalkstep/core/skill"
	"chalkstep/store"
)

// Names of the pools that are not hoops.
const (
	poolInstructor = "instructor"
	poolIron       = "iron"
	hoopPrefix     = "hoop-"
)

// A ClassPage is a class with its plan and its kit.
type ClassPage struct {
	Class    store.Class
	Project  ProjectPage
	NotReady []NotReady
	// Seats says how each machine of the class takes the design.
	Seats []MachineFit
	// Works is what is made, the class's own project first.
	Works []Work
	// Plan is what the planner found; PlanProblem says why there is no plan.
	Plan        floor.Result
	PlanProblem string
	Finish      time.Time
	// SpareMinutes to the end of the window, below 0 when it is too late.
	SpareMinutes float64
	TightSpot    string
	LongestWait  float64
	Waiter       string
	Kit          kit.Kit
	// Spools is how many of a colour are sewn with at once.
	Spools   map[string]int
	problem  floor.Problem
	settings store.WorkshopRow
	// widths are how wide each material lies on the shelf, where that is known.
	widths map[string]float64
}

// unusable says what no machine of the class can sew.
func (p ClassPage) unusable() string {
	for i, w := range p.Works {
		if len(w.Students) == 0 && i > 0 {
			continue
		}
		if !slices.ContainsFunc(p.Class.Bookings, func(b store.Booking) bool { return w.Fits(b.MachineID) }) {
			if i == 0 {
				return "None of the class's machines can sew this design."
			}
			return fmt.Sprintf("None of the class's machines can sew “%s”.", w.Project.Name)
		}
	}
	return ""
}

// StudentName of a person in the plan.
func (p ClassPage) StudentName(person string) string {
	for _, s := range p.Class.Students {
		if id(s.StudentID) == person {
			return s.Student.Name
		}
	}
	return person
}

// MachineName of a station in the plan.
func (p ClassPage) MachineName(station string) string {
	for _, s := range p.Seats {
		if id(s.Machine.ID) == station {
			return s.Machine.Name
		}
	}
	return station
}

// Pools of the plan, hoops first.
func (p ClassPage) Pools() []floor.Pool { return p.problem.Pools }

// PoolName in plain words.
func (p ClassPage) PoolName(pool string) string {
	switch pool {
	case poolInstructor:
		return "Instructor"
	case poolIron:
		return "Iron"
	}
	for _, w := range p.Works {
		for _, h := range w.Hoopings {
			for _, s := range h.Seats {
				if s.Fits() && hoopPool(s.Hoop.Hoop) == pool {
					return s.Hoop.Hoop.Name
				}
			}
		}
	}
	return pool
}

// Uses lists the stretches in which a person holds or needs a pool.
func (p ClassPage) Uses(pool string) []floor.Placed {
	var uses []floor.Placed
	for _, person := range p.problem.People {
		var held *floor.Placed
		for _, placed := range p.StepsOf(person.ID) {
			step := person.Steps[slices.IndexFunc(person.Steps, func(s floor.Step) bool { return s.ID == placed.Step })]
			if step.Needs[pool] > 0 {
				uses = append(uses, placed)
			}
			if len(step.TakeFor) > 0 && step.TakeFor[p.stationAfter(person.ID, placed)] == pool {
				held = &floor.Placed{Person: placed.Person, Step: placed.Step, Start: placed.Start}
			}
			if held != nil && slices.Contains(step.Release, pool) {
				held.End = placed.End
				uses = append(uses, *held)
				held = nil
			}
		}
	}
	return uses
}

// StepsOf lists a person's steps in order.
func (p ClassPage) StepsOf(person string) []floor.Placed {
	var steps []floor.Placed
	for _, s := range p.Plan.Steps {
		if s.Person == person {
			steps = append(steps, s)
		}
	}
	return steps
}

// stationOf is where a person sews, first.
func (p ClassPage) stationOf(person string) string {
	for _, s := range p.Plan.Steps {
		if s.Person == person && s.Station != "" {
			return s.Station
		}
	}
	return ""
}

// stationAfter is where a person sews next after a step.
func (p ClassPage) stationAfter(person string, step floor.Placed) string {
	for _, s := range p.StepsOf(person) {
		if s.Start >= step.Start && s.Station != "" {
			return s.Station
		}
	}
	return ""
}

// Class opens a class: its plan, worked out anew when anything it was made
// from has changed, and its kit.
func (d Desk) Class(classID int64) (ClassPage, error) {
	c, err := d.shop.Class(classID)
	if err != nil {
		return ClassPage{}, err
	}
	settings, machines, err := d.floorplan()
	if err != nil {
		return ClassPage{}, err
	}
	page := ClassPage{Class: c, NotReady: notReady(c), settings: settings}
	if page.Project, err = newProjectPage(c.Project, settings, machines); err != nil {
		return ClassPage{}, err
	}
	page.Works = worksOf(c, settings, machines)
	page.Seats = page.Works[0].Hoopings[0].Seats
	if err := d.planInto(&page, settings.Figures.Pace); err != nil {
		return ClassPage{}, err
	}
	return page, packInto(&page)
}

func (d Desk) planInto(page *ClassPage, figures pace.Figures) error {
	if page.PlanProblem = page.unusable(); page.PlanProblem != "" {
		return nil
	}
	page.problem = dayProblem(page, figures)
	if len(page.problem.People) == 0 {
		page.PlanProblem = "Everyone is absent."
		return nil
	}
	text, err := json.Marshal(page.problem)
	if err != nil {
		return fmt.Errorf("writing down the day of class %d: %w", page.Class.ID, err)
	}
	hash := sha256.Sum256(text)
	result, kept, err := d.shop.ClassPlan(page.Class.ID, hash[:])
	if err != nil {
		return err
	}
	if !kept {
		if result, err = floor.Plan(page.problem, floor.Options{Seed: 1}); err != nil {
			page.PlanProblem = Sentence(err.Error())
			return nil
		}
		if err := d.shop.KeepPlan(page.Class.ID, hash[:], result); err != nil {
			return err
		}
	}
	page.Plan = result
	page.Spools = kit.SpoolsAtOnce(page.sewing())
	// A finish is told in whole minutes, and never too early.
	whole := math.Ceil(result.MakespanMinutes - 1e-6)
	page.Finish = page.Class.StartsAt.Add(time.Duration(whole) * time.Minute)
	page.SpareMinutes = page.problem.WindowMinutes - whole
	page.TightSpot = page.tightSpot(result.Bottleneck)
	for _, s := range page.Class.Students {
		if w := result.Waiting[id(s.StudentID)]; w > page.LongestWait {
			page.LongestWait, page.Waiter = w, s.Student.Name
		}
	}
	return nil
}

// tightSpot says what was waited for as the end of a sentence.
func (p ClassPage) tightSpot(bottleneck string) string {
	switch {
	case bottleneck == poolInstructor:
		return "The instructor is the tight spot."
	case bottleneck == poolIron:
		return "The iron is the tight spot."
	case strings.HasPrefix(bottleneck, hoopPrefix):
		return p.tightHoop(bottleneck)
	case bottleneck == "":
		return ""
	case len(p.problem.Stations) == 1:
		return p.MachineName(bottleneck) + " is the tight spot."
	}
	return "The machines are the tight spot."
}

func (p ClassPage) tightHoop(pool string) string {
	name := p.PoolName(pool)
	for _, candidate := range p.problem.Pools {
		if candidate.ID == pool && candidate.Count > 1 {
			return fmt.Sprintf("The %d %s hoops are the tight spot.", candidate.Count, strings.ToLower(name))
		}
	}
	return fmt.Sprintf("The one %s hoop is the tight spot.", strings.ToLower(name))
}

func id(n int64) string { return strconv.FormatInt(n, 10) }

func hoopPool(h store.Hoop) string { return hoopPrefix + id(h.ID) }

// dayProblem puts a class into the planner's terms.
func dayProblem(page *ClassPage, figures pace.Figures) floor.Problem {
	c := page.Class
	day := floor.Problem{WindowMinutes: c.EndsAt.Sub(c.StartsAt).Minutes()}
	for _, b := range c.Bookings {
		if slices.ContainsFunc(page.Works, func(w Work) bool { return len(w.Students) > 0 && w.Fits(b.MachineID) }) {
			day.Stations = append(day.Stations, floor.Station{ID: id(b.MachineID)})
		}
	}
	for _, w := range page.Works {
		for _, seat := range w.usable() {
			pool := hoopPool(seat.Hoop.Hoop)
			if !slices.ContainsFunc(day.Pools, func(p floor.Pool) bool { return p.ID == pool }) {
				day.Pools = append(day.Pools, floor.Pool{ID: pool, Count: seat.Hoop.Hoop.Count})
			}
		}
	}
	day.Pools = append(day.Pools, floor.Pool{ID: poolInstructor, Count: c.Instructors}, floor.Pool{ID: poolIron, Count: c.Irons})
	for _, w := range page.Works {
		for _, s := range w.Students {
			day.People = append(day.People, floor.Person{ID: id(s.StudentID), Ready: float64(s.LateMinutes), Steps: personSteps(w, s.Student, figures)})
		}
	}
	return day
}

// usable are the seats of all hoopings at machines that can sew the work.
func (w Work) usable() []MachineFit {
	if len(w.Students) == 0 {
		return nil
	}
	var seats []MachineFit
	for _, h := range w.Hoopings {
		for _, seat := range h.Seats {
			if w.Fits(seat.Machine.ID) {
				seats = append(seats, seat)
			}
		}
	}
	return seats
}

// handOf is how much longer than practised a student takes over hand steps.
func handOf(s store.Student, figures pace.Figures) float64 {
	if s.FirstTimer {
		return figures.FirstTimer
	}
	return 1
}

// personSteps are the steps of one student: slower by the figure for
// first-timers, and with the instructor beside them where they hoop or load
// without having been signed off on it.
func personSteps(w Work, s store.Student, figures pace.Figures) []floor.Step {
	hand := handOf(s, figures)
	signed := s.Signed(machineKinds...)
	var steps []floor.Step
	for _, ps := range w.Project.Steps {
		base, hooping := pace.Base(ps.Key)
		step := floor.Step{ID: ps.Key}
		minutes := ps.Minutes * hand
		if ps.Instructor {
			minutes = ps.Minutes // the instructor sets the pace
			step.Needs = map[string]int{poolInstructor: 1}
		}
		switch {
		case base == pace.StepHoop:
			step.TakeFor = w.hoops(hooping)
		case base == pace.StepUnhoop:
			step.Release = w.hoopPools(hooping)
		case pace.NeedsIron(ps.Key):
			step.Needs = with(step.Needs, poolIron)
		}
		if (base == pace.StepHoop || base == pace.StepLoad) && len(skill.Missing(signed, ps.Skills)) > 0 {
			step.Needs = with(step.Needs, poolInstructor)
		}
		if ps.Place != pace.AtMachine {
			step.Minutes = floor.Minutes(tenth(minutes))
			steps = append(steps, step)
			continue
		}
		step.On = map[string]float64{}
		for _, seat := range w.Hoopings[hooping-1].Seats {
			if !w.Fits(seat.Machine.ID) {
				continue
			}
			step.On[id(seat.Machine.ID)] = tenth(minutes)
			if base == pace.StepSew {
				step.On[id(seat.Machine.ID)] = tenth(figures.StitchOut(paceMachine(seat.Machine), paceStops(w.Hoopings[hooping-1].Design), hand).Total)
			}
		}
		step.Keep = base == pace.StepLoad
		steps = append(steps, step)
	}
	return steps
}

// with adds one unit of a pool to what a step needs.
func with(needs map[string]int, pool string) map[string]int {
	if needs == nil {
		needs = map[string]int{}
	}
	needs[pool] = 1
	return needs
}

// hoops names, for each machine, the pool its hoop of a hooping comes from.
func (w Work) hoops(hooping int) map[string]string {
	pools := map[string]string{}
	for _, seat := range w.Hoopings[hooping-1].Seats {
		if w.Fits(seat.Machine.ID) {
			pools[id(seat.Machine.ID)] = hoopPool(seat.Hoop.Hoop)
		}
	}
	return pools
}

func (w Work) hoopPools(hooping int) []string {
	return slices.Compact(slices.Sorted(maps.Values(w.hoops(hooping))))
}

// tenth rounds minutes to six seconds; nobody plans finer.
func tenth(minutes float64) float64 { return math.Round(minutes*10) / 10 }

// At is the clock time of a minute of the plan.
func (p ClassPage) At(minute float64) time.Time {
	return p.Class.StartsAt.Add(time.Duration(math.Round(minute)) * time.Minute)
}

// StepTitle of a step of the plan.
func (p ClassPage) StepTitle(key string) string {
	for _, w := range p.Works {
		for _, s := range w.Project.Steps {
			if s.Key == key {
				return s.Title
			}
		}
	}
	return key
}
