// Package demo sets up the demo workshop: a made-up makerspace in a former
// ferry terminal, with a beginner course of harbour motifs.
package demo

import (
	"context"
	"fmt"
	"time"

	"chalkstep/app/actor"
	"chalkstep/app/designs"
	"chalkstep/app/planning"
	"chalkstep/app/projects"
	"chalkstep/core/classday"
	"chalkstep/core/fleet"
	"chalkstep/core/hoop"
	"chalkstep/core/skill"
	"chalkstep/core/stitch"
	"chalkstep/demo/motif"
	"chalkstep/store"
)

// A Login is printed when the demo starts, so that anyone can look around.
type Login struct {
	Email, Password, Name string
	Role                  store.Role
}

// Logins of the demo workshop.
var Logins = []Login{
	{"owner@ferry.example", "slack-tide-1", "Marit", store.Owner},
	{"instructor@ferry.example", "slack-tide-2", "Joss", store.Instructor},
	{"assistant@ferry.example", "slack-tide-3", "Pim", store.Assistant},
}

// Load makes the demo workshop if the database holds no workshop yet, in one
// transaction, and tells whether it did.
func Load(ctx context.Context, s *store.Store, now time.Time) (loaded bool, err error) {
	err = s.Alone(ctx, "loading the demo", func(tx *store.Store) error {
		n, err := tx.CountWorkshops(ctx)
		if err != nil || n > 0 {
			return err
		}
		loaded = true
		return load(ctx, tx, now)
	})
	if err != nil {
		return false, fmt.Errorf("loading the demo workshop: %w", err)
	}
	return loaded, nil
}

// A loader carries what is made first to what refers to it.
type loader struct {
	shop     store.Workshop
	desk     actor.Actor
	now      time.Time
	zone     *time.Location
	assessor int64
	machines map[string]int64
	designs  map[string]int64
	projects map[string]int64
	students map[string]int64
}

func load(ctx context.Context, s *store.Store, now time.Time) error {
	workshop, err := s.CreateWorkshop(ctx, "Slack Tide Ferry Terminal", "Europe/Dublin")
	if err != nil {
		return err
	}
	l := &loader{shop: s.For(ctx, workshop.ID), now: now, machines: map[string]int64{}, designs: map[string]int64{},
		projects: map[string]int64{}, students: map[string]int64{}}
	if l.zone, err = time.LoadLocation(workshop.Zone); err != nil {
		return err
	}
	for _, login := range Logins {
		hash, err := actor.HashPassword(login.Password)
		if err != nil {
			return err
		}
		id, err := l.shop.AddAccount(store.Person{Email: login.Email, Name: login.Name, Role: login.Role}, hash)
		if err != nil {
			return err
		}
		if l.assessor == 0 {
			l.assessor = id
		}
	}
	a := actor.New(s, func() time.Time { return now })
	who, err := a.Who(ctx, workshop.ID, l.assessor)
	if err != nil {
		return err
	}
	l.desk = a.For(ctx, who)
	for _, step := range []func() error{l.addMachines, l.addCare, l.addDesigns, l.addStitchOuts, l.addStock, l.addProjects,
		l.addTechnique, l.addTests, l.addStudents, l.addClasses, l.addBookings} {
		if err := step(); err != nil {
			return err
		}
	}
	return nil
}

func (l *loader) addMachines() error {
	hoops := map[string]fleet.Hoop{}
	for _, h := range []fleet.Hoop{
		{Name: "Tiny square", Field: hoop.Field{WidthMM: 90, HeightMM: 90}, Count: 1},
		{Name: "Small square", Field: hoop.Field{WidthMM: 100, HeightMM: 100}, Count: 2},
		{Name: "Medium", Field: hoop.Field{WidthMM: 130, HeightMM: 180}, Count: 3},
		{Name: "Medium magnetic", Field: hoop.Field{WidthMM: 130, HeightMM: 180}, Count: 1},
		{Name: "Large square", Field: hoop.Field{WidthMM: 150, HeightMM: 150}, Count: 1},
		{Name: "Large", Field: hoop.Field{WidthMM: 200, HeightMM: 300}, Count: 1},
	} {
		var err error
		if h.ID, err = l.shop.SaveHoop(h); err != nil {
			return err
		}
		hoops[h.Name] = h
	}
	offset := func(name string, dx, dy float64) fleet.Held {
		return fleet.Held{Hoop: hoops[name], OffXMM: dx, OffYMM: dy}
	}
	for _, m := range []fleet.Machine{
		{Name: "Heron", Formats: []string{"pes", "dst"}, TopSpeedSPM: 800, ChangeSeconds: 60, Needles: 1, AutoTrim: true,
			BobbinStyle: "low, clear", BobbinMetres: 60,
			Hoops: []fleet.Held{offset("Small square", 1.5, -1), offset("Medium", 3, -2), offset("Medium magnetic", 0.5, 0)}},
		{Name: "Kettle", Formats: []string{"exp"}, TopSpeedSPM: 650, ChangeSeconds: 75, Needles: 1,
			BobbinStyle: "tall, steel", BobbinMetres: 45,
			Hoops: []fleet.Held{offset("Small square", -2, 1), offset("Medium", -6, 4)}},
		{Name: "Lantern", Formats: []string{"dst"}, TopSpeedSPM: 400, ChangeSeconds: 90, Needles: 1,
			BobbinStyle: "low, clear", BobbinMetres: 60,
			Hoops: []fleet.Held{offset("Tiny square", 0, 2)}},
		{Name: "Pigeon", Formats: []string{"jef", "dst"}, TopSpeedSPM: 700, ChangeSeconds: 60, Needles: 1, AutoTrim: true,
			BobbinStyle: "low, clear", BobbinMetres: 60,
			Hoops: []fleet.Held{offset("Small square", 0, -3)}},
		{Name: "Wharf", Formats: []string{"dst"}, TopSpeedSPM: 1000, ChangeSeconds: 5, Needles: 6, AutoTrim: true,
			BobbinStyle: "pre-wound, card", BobbinMetres: 100,
			Hoops: []fleet.Held{offset("Large square", 0, 0), offset("Large", 1, 1)}},
	} {
		var err error
		if l.machines[m.Name], err = l.shop.SaveMachine(m); err != nil {
			return err
		}
	}
	return nil
}

func (l *loader) addDesigns() error {
	for _, m := range motif.Harbour() {
		data, err := stitch.Encode(m.File, m.Pattern)
		if err != nil {
			return err
		}
		id, err := (designs.UseCases{Actor: l.desk}).AddDesign(m.File, data)
		if err != nil {
			return err
		}
		page, err := (designs.UseCases{Actor: l.desk}).Design(id)
		if err != nil {
			return err
		}
		var choices []designs.StopChoice
		for i, s := range m.Stops {
			choices = append(choices,
				designs.StopChoice{N: i + 1, Color: s.Color, Role: string(page.Design.Stops[i].Role), Sews: s.Sews})
		}
		if err := (designs.UseCases{Actor: l.desk}).SaveDesign(id,
			designs.DesignInput{Version: page.Design.Version, Name: m.Name, Level: m.Level, Tags: m.Tags,
				Stops: choices}); err != nil {
			return err
		}
		l.designs[m.Name] = id
	}
	return nil
}

// addStitchOuts logs how the tests of some designs went.
func (l *loader) addStitchOuts() error {
	for _, run := range []struct {
		design, machine, fabric, recipe, minutes, thread, wrong string
		daysAgo                                                 int
	}{
		{"Rope-knot sampler", "Heron", "woven-cotton", "one light tear-away", "13", "", "", 24},
		{"Lighthouse", "Heron", "canvas", "medium tear-away", "14", "13.4", "", 19},
		{"Lighthouse", "Kettle", "canvas", "medium tear-away", "21", "",
			"Thread shredded twice at the lamp: new needle, then fine.", 18},
		{"Crab", "Kettle", "terry", "tear-away, topper", "12", "9.1", "Topper lifted at one claw: tape it.", 9},
	} {
		in := designs.StitchOutInput{MachineID: l.machines[run.machine],
			Date: l.now.In(l.zone).AddDate(0, 0, -run.daysAgo).Format(time.DateOnly), Fabric: run.fabric, Recipe: run.recipe,
			Minutes: run.minutes, Thread: run.thread, WentWrong: run.wrong}
		if err := (designs.UseCases{Actor: l.desk}).LogStitchOut(l.designs[run.design], in); err != nil {
			return fmt.Errorf("logging a stitch-out of %s: %w", run.design, err)
		}
	}
	return nil
}

func (l *loader) addProjects() error {
	for _, p := range []struct {
		name, design, blank, width, height, fabric string
		uses                                       []string
	}{
		{"Rope-knot sampler", "Rope-knot sampler", "practice cloth", "250", "250", "woven-cotton", nil},
		{"Lighthouse tote", "Lighthouse", "canvas tote", "380", "420", "canvas", []string{"washed"}},
		{"Crab hand towel", "Crab", "hand towel", "400", "600", "terry", []string{"washed"}},
		{"Open sail T-shirt", "Open sail", "T-shirt front", "480", "680", "jersey", []string{"worn", "washed"}},
		{"Buoy badges", "Buoy badges, six in one hoop", "felt sheet", "160", "210", "felt", nil},
		{"Compass mat", "Compass rose", "mat", "146", "146", "woven-cotton", []string{"heat"}},
	} {
		id, err := (projects.UseCases{Actor: l.desk}).SaveProject(projects.ProjectInput{Rest: rests[p.name], Name: p.name,
			Blank: p.blank, Design: p.design, Width: p.width, Height: p.height, Fabric: p.fabric, Uses: p.uses})
		if err != nil {
			return err
		}
		l.projects[p.name] = id
	}
	return nil
}

// addTechnique writes one that the workshop has of its own.
func (l *loader) addTechnique() error {
	_, err := (projects.UseCases{Actor: l.desk}).SaveOwn(projects.OwnInput{
		Name:    "Tissue under the hoop",
		What:    "A sheet of tissue paper lies under the hoop while thin cloth is sewn, and is torn off after.",
		Because: "Thin cloth is not pulled down into the needle plate.",
		Steps: []projects.OwnStepInput{{Title: "Lay tissue paper under the hoop", At: "load", Instead: "after", Minutes: "1",
			Where: "machine"}},
		Lines: []projects.OwnLineInput{
			{Text: "Tear the tissue off gently, from the middle outwards.", At: "clean-up", Kind: "line"}},
		Things: []projects.OwnThing{{Name: "tissue paper", Per: "set", Count: "1"}},
	})
	return err
}

// addTests logs how the tests of some projects went.
func (l *loader) addTests() error {
	for _, run := range []struct {
		project, machine, minutes, wrong, changed string
		daysAgo                                   int
	}{
		{"Rope-knot sampler", "Heron", "8", "", "", 22},
		{"Lighthouse tote", "Heron", "13", "The canvas slipped a little at the top.", "Screw set by a dry run first.", 12},
		{"Crab hand towel", "Heron", "10", "", "Basted, since the topper lifted at one claw.", 8},
		{"Buoy badges", "Wharf", "19", "", "", 5},
	} {
		in := projects.TestInput{MachineID: l.machines[run.machine],
			Date: l.now.In(l.zone).AddDate(0, 0, -run.daysAgo).Format(time.DateOnly), Minutes: run.minutes, WentWrong: run.wrong,
			WhatChanged: run.changed}
		if err := (projects.UseCases{Actor: l.desk}).LogTest(l.projects[run.project], in); err != nil {
			return fmt.Errorf("logging a test of %s: %w", run.project, err)
		}
	}
	return nil
}

// addStudents makes fourteen students at mixed levels: each has climbed the
// given number of rungs.
func (l *loader) addStudents() error {
	for _, who := range []struct {
		name  string
		rungs int
	}{
		{"Ana Thorne", 12}, {"Bo Lindqvist", 9}, {"Cy Okafor", 2}, {"Dee Marchetti", 8}, {"Iris Vale", 14},
		{"Juno Petrova", 7}, {"Kit Aldana", 10}, {"Lev Sorensen", 5}, {"Noor Haddad", 11}, {"Sol Whitaker", 1},
		{"Tam Nguyen", 0}, {"Uma Castellanos", 6}, {"Vic Brennan", 3}, {"Wren Achterberg-Holloway", 0},
	} {
		name, rungs := who.name, who.rungs
		id, err := l.shop.SaveStudent(skill.Student{Name: name, FirstTimer: rungs < 6})
		if err != nil {
			return err
		}
		l.students[name] = id
		kinds := []skill.Kind{skill.SingleNeedle}
		if rungs > 10 {
			kinds = skill.Kinds
		}
		for _, on := range kinds {
			for i, level := range climbed(rungs) {
				mark := skill.Mark{StudentID: id, Skill: skill.Usual[i].Key, On: on, Level: level,
					Date: l.now.AddDate(0, 0, -40+2*i)}
				if _, err := l.shop.Mark(mark, l.assessor); err != nil {
					return err
				}
			}
		}
	}
	return l.stuck()
}

// climbed are the levels of somebody who has climbed so many rungs alone: those of long ago
// they can teach, the next they did with help, and of the one after they were shown.
func climbed(rungs int) []skill.Level {
	var levels []skill.Level
	for i := range rungs {
		if i < rungs-8 {
			levels = append(levels, skill.Teaches)
		} else {
			levels = append(levels, skill.Alone)
		}
	}
	if rungs > 0 {
		levels = append(levels, skill.Helped, skill.Shown)
	}
	return levels
}

// stuck has one go on trying what the others do alone.
func (l *loader) stuck() error {
	for i, level := range []skill.Level{skill.Helped, skill.Shown, skill.Shown} {
		mark := skill.Mark{StudentID: l.students["Sol Whitaker"], Skill: skill.Threading, On: skill.SingleNeedle,
			Level: level, Date: l.now.AddDate(0, 0, -20+5*i)}
		if level == skill.Shown {
			mark.Note = "The thread jumped out of the discs again."
		}
		if _, err := l.shop.Mark(mark, l.assessor); err != nil {
			return err
		}
	}
	return nil
}

// saturday is the next Saturday that is not today, or one so many weeks from that, at a clock
// time.
func (l *loader) saturday(weeks, hour int) time.Time {
	day := l.now.In(l.zone)
	ahead := 1 + (int(time.Saturday)-int(day.Weekday())+6)%7 + 7*weeks
	return time.Date(day.Year(), day.Month(), day.Day()+ahead, hour, 0, 0, 0, l.zone)
}

// friday is the day before the next Saturday, at a clock time; where that is today, when a
// class runs, it is the Thursday after.
func (l *loader) friday(hour int) time.Time {
	next := l.saturday(0, hour)
	if l.now.In(l.zone).Weekday() == time.Friday {
		return next.AddDate(0, 0, 5)
	}
	return next.AddDate(0, 0, -1)
}

func (l *loader) addClasses() error {
	running := l.now.In(l.zone).Add(-30 * time.Minute).Truncate(15 * time.Minute)
	for _, c := range []struct {
		name, project string
		start         time.Time
		hours         float64
		students      []string
		machines      []string
	}{
		{"First stitches", "Rope-knot sampler", l.saturday(-2, 10), 3,
			[]string{"Bo Lindqvist", "Dee Marchetti", "Juno Petrova", "Lev Sorensen", "Uma Castellanos", "Vic Brennan"},
			[]string{"Heron", "Kettle", "Lantern", "Pigeon"}},
		{"Towels that last", "Crab hand towel", running, 3, []string{"Ana Thorne", "Iris Vale", "Kit Aldana", "Noor Haddad"},
			[]string{"Heron", "Kettle", "Pigeon"}},
		{"Buoy badges, first felt", "Buoy badges", l.saturday(0, 10), 3,
			[]string{"Ana Thorne", "Bo Lindqvist", "Cy Okafor", "Dee Marchetti", "Iris Vale", "Juno Petrova", "Kit Aldana",
				"Noor Haddad"}, []string{"Heron", "Kettle", "Pigeon", "Wharf"}},
		{"Lighthouse totes", "Lighthouse tote", l.saturday(1, 13), 2.1,
			[]string{"Bo Lindqvist", "Cy Okafor", "Dee Marchetti", "Juno Petrova", "Lev Sorensen", "Sol Whitaker", "Tam Nguyen",
				"Uma Castellanos", "Vic Brennan", "Wren Achterberg-Holloway"}, []string{"Heron", "Kettle", "Lantern", "Pigeon"}},
	} {
		class := classday.Class{Name: c.name, StartsAt: c.start,
			EndsAt: c.start.Add(time.Duration(c.hours * float64(time.Hour))), Instructors: 1, Irons: 1}
		if c.name == "Buoy badges, first felt" {
			class.OpeningMinutes, class.ClosingMinutes = 15, 10
		}
		var students, machines []int64
		for _, name := range c.students {
			students = append(students, l.students[name])
		}
		for _, name := range c.machines {
			machines = append(machines, l.machines[name])
		}
		makes, err := l.shop.ProjectNamed(c.project)
		if err != nil {
			return err
		}
		usable, err := (planning.UseCases{Actor: l.desk}).Usable(class, makes, classday.Class{}, machines)
		if err != nil {
			return err
		}
		id, err := l.shop.SaveClass(class, makes, students, machines, usable)
		if err != nil {
			return err
		}
		plan, err := (planning.UseCases{Actor: l.desk}).Class(id)
		if err != nil {
			return fmt.Errorf("planning %s: %w", c.name, err)
		}
		if err := l.run(plan); err != nil {
			return fmt.Errorf("running %s: %w", c.name, err)
		}
	}
	return nil
}

func (l *loader) addBookings() error {
	for _, b := range []struct {
		machine, student string
		start            time.Time
		minutes          int
	}{
		{"Heron", "Iris Vale", l.saturday(0, 14), 90},
		{"Wharf", "Noor Haddad", l.saturday(0, 15), 120},
		{"Pigeon", "Ana Thorne", l.saturday(1, 10), 60},
		{"Lantern", "", l.friday(9), 45},
		{"Heron", "Kit Aldana", l.friday(17), 75},
	} {
		made := fleet.Booking{Machine: fleet.Named{ID: l.machines[b.machine]}, StartsAt: b.start,
			EndsAt: b.start.Add(time.Duration(b.minutes) * time.Minute), Note: "lint and needle"}
		if b.student != "" {
			made.Student, made.Note = &fleet.Named{ID: l.students[b.student]}, ""
		}
		if _, err := l.shop.Book(made, l.assessor); err != nil {
			return err
		}
	}
	return nil
}
