// Package classdaytest makes small class days for tests: a room of two machines and
// a badge of two colours, with figures that are easy to add up.
package classdaytest

import (
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"chalkstep/core/classday"
	"chalkstep/core/design"
	"chalkstep/core/fleet"
	"chalkstep/core/hoop"
	"chalkstep/core/policy"
	"chalkstep/core/project"
	"chalkstep/core/recipe"
	"chalkstep/core/schedule/search"
	"chalkstep/core/skill"
	"chalkstep/core/stitch"
)

// Red and Blue are the badge's threads.
var (
	Red  = stitch.RGB{R: 0xc2, G: 0x3b, B: 0x2a}
	Blue = stitch.RGB{R: 0x1f, G: 0x4f, B: 0x8b}
)

// Small is a hoop of which there is one, Large one of which there are two.
var (
	Small = fleet.Hoop{ID: 1, Name: "Small", Field: hoop.Field{WidthMM: 100, HeightMM: 100}, Count: 1}
	Large = fleet.Hoop{ID: 2, Name: "Large", Field: hoop.Field{WidthMM: 180, HeightMM: 130}, Count: 2}
)

// Gull takes both hoops, Tern the small one alone.
func Gull() fleet.Machine {
	return fleet.Machine{ID: 1, Name: "Gull", Formats: []string{"dst"}, TopSpeedSPM: 600, ChangeSeconds: 60, Needles: 1,
		AutoTrim: true, BobbinStyle: "low, clear", BobbinMetres: 60,
		Hoops: []fleet.Held{{Hoop: Small, OffXMM: 1.5}, {Hoop: Large}}}
}

// Tern is the other machine.
func Tern() fleet.Machine {
	return fleet.Machine{ID: 2, Name: "Tern", Formats: []string{"dst"}, TopSpeedSPM: 600, ChangeSeconds: 60, Needles: 1,
		AutoTrim: true, BobbinStyle: "low, clear", BobbinMetres: 60,
		Hoops: []fleet.Held{{Hoop: Small}}}
}

// Badge is 60 × 40 mm in two stops, red and blue.
func Badge() design.Design {
	box := stitch.Bounds{Left: -30, Bottom: -20, Right: 30, Top: 20}
	return design.Design{
		ID: 1, Version: 1, Name: "Badge", FileName: "badge.dst", Format: "dst", WidthMM: 60, HeightMM: 40, Stitches: 4000,
		Trims: 2, ColourChanges: 1, Coverage: 1,
		Stops: []design.Stop{
			{Stop: stitch.Stop{N: 1, Role: stitch.Fill, Stitches: 3000, Trims: 1, ThreadMM: 10_000, Bounds: box}, Color: Red,
				Sews: "the ground"},
			{Stop: stitch.Stop{N: 2, Role: stitch.Satin, Stitches: 1000, Trims: 1, ThreadMM: 4000, Bounds: box}, Color: Blue,
				Sews: "the rim"},
		},
	}
}

// Badges is the project: a badge on woven cotton, with a pin.
func Badges() project.Project {
	return project.Project{
		ID: 1, Version: 1, Name: "Badges", Blank: project.Blank{Name: "Cotton square", WidthMM: 200, HeightMM: 200},
		Fabric:   recipe.WovenCotton,
		Hoopings: []project.Hooping{{Design: Badge()}}, Parts: []project.Part{{Name: "badge pin", Count: 2}},
	}
}

// Practised is a student who has been signed off on everything.
func Practised(id int64, name string) skill.Student {
	s := skill.Student{ID: id, Version: 1, Name: name}
	for _, step := range skill.Usual {
		s.SignOffs = append(s.SignOffs, skill.SignOff{Skill: step.Key, On: skill.SingleNeedle})
	}
	return s
}

// Places seats students as they are expected.
func Places(students ...skill.Student) []classday.Place {
	places := make([]classday.Place, len(students))
	for i, s := range students {
		places[i] = classday.Place{Student: s, Attendance: classday.Expected, Kit: "to cut", Version: 1}
	}
	return places
}

// Class of three hours on both machines, with three students: Ann and Ben are
// practised, Cat comes for the first time.
func Class() classday.Class {
	starts := time.Date(2026, 11, 28, 10, 0, 0, 0, time.UTC)
	return classday.Class{
		ID: 1, Version: 1, Name: "Saturday", Project: Badges(), StartsAt: starts, EndsAt: starts.Add(3 * time.Hour),
		Instructors: 1, Irons: 1,
		Places:   Places(Practised(1, "Ann"), Practised(2, "Ben"), skill.Student{ID: 3, Name: "Cat", FirstTimer: true}),
		Machines: []fleet.Machine{Gull(), Tern()},
	}
}

// Plan opens a class by the handbook's rules and plans it.
func Plan(t testing.TB, c classday.Class) classday.Plan {
	t.Helper()
	d := classday.Open(c, policy.Defaults())
	require.True(t, d.Why.Silent(), d.Why.String())
	result, err := search.Solve(d.Problem, search.Options{Seed: 1})
	require.NoError(t, err)
	return d.Take(result)
}
