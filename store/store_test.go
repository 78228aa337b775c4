package store_test

import (
	"crypto/sha256"
	"errors"
	"fmt"
	"math/rand/v2"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/classday"
	"chalkstep/core/design"
	"chalkstep/core/fleet"
	"chalkstep/core/hoop"
	"chalkstep/core/pace"
	"chalkstep/core/project"
	"chalkstep/core/recipe"
	"chalkstep/core/skill"
	"chalkstep/core/stitch"
	"chalkstep/store"
	"chalkstep/store/storetest"
)

func TestMain(m *testing.M) { storetest.Main(m) }

var morning = time.Date(2026, 12, 5, 10, 0, 0, 0, time.UTC)

// all of a list that a test makes.
var all = store.Rows{Limit: 1000}

// shop makes a workshop with one of everything.
func shop(t *testing.T, s *store.Store, name string) (store.Workshop, fixture) {
	t.Helper()
	workshop, err := s.CreateWorkshop(t.Context(), name, "Europe/Dublin")
	require.NoError(t, err)
	w := s.For(t.Context(), workshop.ID)
	var f fixture
	id := func(id int64, err error) int64 {
		t.Helper()
		require.NoError(t, err)
		return id
	}
	f.person = id(w.AddAccount(store.Person{Email: name + "@example.org", Name: "Ola", Role: store.Owner}, "x"))
	f.hoop = id(w.SaveHoop(fleet.Hoop{Name: "Small", Field: hoop.Field{WidthMM: 100, HeightMM: 100}, Count: 2}))
	f.machine, err = w.Machine(id(w.SaveMachine(fleet.Machine{
		Name: "Heron", Formats: []string{"dst"}, TopSpeedSPM: 700, ChangeSeconds: 60, Needles: 1, BobbinStyle: "low",
		BobbinMetres: 60,
		Hoops:        []fleet.Held{{Hoop: fleet.Hoop{ID: f.hoop}, OffXMM: 3}},
	})))
	require.NoError(t, err)
	f.student = id(w.SaveStudent(skill.Student{Name: "Ana", FirstTimer: true}))
	f.design, err = w.Design(id(w.AddDesign(upload(name))))
	require.NoError(t, err)
	f.project, err = w.Project(id(w.SaveProject(project.Project{
		Name: "Tote", Hoopings: []project.Hooping{{Design: f.design}},
		Blank: project.Blank{Name: "tote", WidthMM: 380, HeightMM: 420}, Fabric: recipe.Canvas,
		Uses:    []recipe.Use{recipe.Washed},
		Minutes: map[pace.StepKey]float64{pace.StepHoop: 7},
	})))
	require.NoError(t, err)
	f.class = id(w.SaveClass(classday.Class{Name: "Totes", StartsAt: morning, EndsAt: morning.Add(3 * time.Hour),
		Instructors: 1, Irons: 1}, f.project.At(), []int64{f.student}, []int64{f.machine.ID}, []int64{f.machine.ID}))
	id(w.Mark(skill.Mark{StudentID: f.student, Skill: skill.Threading, On: skill.SingleNeedle, Level: skill.Alone,
		Date: morning}, f.person))
	return w, f
}

// A fixture is what a workshop has, by ID where that is all a test asks for.
type fixture struct {
	person, hoop, student, class int64
	machine                      fleet.Machine
	design                       design.Design
	project                      project.Project
}

func upload(content string) design.Upload {
	return design.Upload{
		Design: design.Design{Name: "Lighthouse", FileName: "lighthouse.dst", Format: "dst", WidthMM: 80, HeightMM: 90,
			Stitches: 100, AddedAt: morning, Stops: []design.Stop{
				{Stop: stitch.Stop{N: 1, Role: stitch.Fill, Stitches: 60}, Color: stitch.RGB{R: 0x11}},
				{Stop: stitch.Stop{N: 2, Role: stitch.Run, Stitches: 40}, Color: stitch.RGB{B: 0x66}},
			}},
		Data: []byte(content), SHA256: sha256.Sum256([]byte(content)),
		StitchesSHA256: sha256.Sum256([]byte("stitches of " + content)),
	}
}

func booking(f fixture, start, end time.Time) fleet.Booking {
	return fleet.Booking{Machine: fleet.Named{ID: f.machine.ID}, Student: &fleet.Named{ID: f.student}, StartsAt: start,
		EndsAt: end}
}

func TestWhatIsSavedIsReadBack(t *testing.T) {
	w, f := shop(t, storetest.Open(t), "pier")
	class, err := w.Class(f.class)
	require.NoError(t, err)
	assert.Equal(t, f.project, class.Project)
	assert.Equal(t, f.design, class.Project.Design())
	assert.Equal(t, stitch.RGB{R: 0x11}, f.design.Stops[0].Color)
	assert.Equal(t, "Ana", class.Places[0].Name)
	assert.True(t, class.Places[0].Signed(skill.SingleNeedle)[skill.Threading])
	assert.False(t, class.Places[0].Signed(skill.MultiNeedle)[skill.Threading])
	machines, err := w.Machines()
	require.NoError(t, err)
	assert.Equal(t, machines, class.In(machines).Machines)
	assert.Equal(t, f.machine, machines[0])
	assert.Equal(t, 3.0, machines[0].Hoops[0].OffXMM)
	file, err := w.DesignFile(f.design.ID)
	require.NoError(t, err)
	assert.Equal(t, design.Original{Format: "dst", Name: "lighthouse.dst", Data: []byte("pier")}, file)
}

func TestAWorkshopSeesAndTouchesNothingOfAnother(t *testing.T) {
	s := storetest.Open(t)
	_, theirs := shop(t, s, "quay")
	row, err := s.CreateWorkshop(t.Context(), "empty", "Europe/Dublin")
	require.NoError(t, err)
	w := s.For(t.Context(), row.ID)

	for name, find := range map[string]func() (int, error){
		"machines": func() (int, error) { rows, err := w.Machines(); return len(rows), err },
		"hoops":    func() (int, error) { rows, err := w.Hoops(); return len(rows), err },
		"designs":  func() (int, error) { rows, _, err := w.Designs(store.DesignFilter{}, all); return len(rows), err },
		"projects": func() (int, error) { rows, _, err := w.Projects("", all); return len(rows), err },
		"students": func() (int, error) { rows, _, err := w.Students("", all); return len(rows), err },
		"classes":  func() (int, error) { rows, _, _, err := w.Classes(morning, all); return len(rows), err },
		"bookings": func() (int, error) {
			rows, _, err := w.BookingsBetween(morning.Add(-time.Hour), morning.Add(24*time.Hour), all)
			return len(rows), err
		},
	} {
		n, err := find()
		require.NoError(t, err, name)
		assert.Zero(t, n, name)
	}
	for name, find := range map[string]func() error{
		"account": func() error { _, err := w.Account(theirs.person); return err },
		"machine": func() error { _, err := w.Machine(theirs.machine.ID); return err },
		"hoop":    func() error { _, err := w.Hoop(theirs.hoop); return err },
		"design":  func() error { _, err := w.Design(theirs.design.ID); return err },
		"file":    func() error { _, err := w.DesignFile(theirs.design.ID); return err },
		"project": func() error { _, err := w.Project(theirs.project.ID); return err },
		"student": func() error { _, err := w.Student(theirs.student); return err },
		"class":   func() error { _, err := w.Class(theirs.class); return err },
	} {
		assert.ErrorIs(t, find(), store.ErrNotFound, name)
	}
	theirs.machine.Name = "Stolen"
	_, err = w.SaveMachine(theirs.machine)
	assert.ErrorIs(t, err, store.ErrChanged)
	assert.ErrorIs(t, w.SaveDesign(theirs.design, nil), store.ErrChanged)
	copied := theirs.project
	copied.ID, copied.Version = 0, 0
	_, err = w.SaveProject(copied)
	assert.ErrorIs(t, err, store.ErrInUse)
	_, err = w.Book(booking(theirs, morning.Add(99*time.Hour), morning.Add(100*time.Hour)), theirs.person)
	assert.ErrorIs(t, err, store.ErrInUse)
	_, err = w.Mark(skill.Mark{StudentID: theirs.student, Skill: skill.Bobbin, On: skill.SingleNeedle, Level: skill.Alone,
		Date: morning}, theirs.person)
	assert.ErrorIs(t, err, store.ErrInUse)
}

func TestTwoEditorsOfOneRowAreNotOverwritten(t *testing.T) {
	w, f := shop(t, storetest.Open(t), "pier")
	first, second := f.machine, f.machine
	first.Name, second.Name = "Heron one", "Heron two"
	_, err := w.SaveMachine(first)
	require.NoError(t, err)
	_, err = w.SaveMachine(second)
	assert.ErrorIs(t, err, store.ErrChanged)
	kept, err := w.Machine(f.machine.ID)
	require.NoError(t, err)
	assert.Equal(t, "Heron one", kept.Name)
	assert.Len(t, kept.Hoops, 1, "the failed save left the hoops alone")
}

func TestNothingIsHalfSaved(t *testing.T) {
	w, _ := shop(t, storetest.Open(t), "pier")
	bad := upload("another file")
	bad.Name, bad.Stops[1].N = "Broken", 1
	_, err := w.AddDesign(bad)
	require.Error(t, err)
	designs, _, err := w.Designs(store.DesignFilter{}, all)
	require.NoError(t, err)
	assert.Len(t, designs, 1)

	twin := upload("pier")
	twin.Name = "Same bytes"
	_, err = w.AddDesign(twin)
	assert.ErrorIs(t, err, store.ErrTaken)
}

// Many people book one machine at once for random stretches: whatever is
// granted, no two stretches overlap, and the database alone sees to it.
func TestNoTwoBookingsOfOneMachineOverlap(t *testing.T) {
	w, f := shop(t, storetest.Open(t), "pier")
	var wait sync.WaitGroup
	var lock sync.Mutex
	granted, refused := 0, 0
	for client := range uint64(20) {
		wait.Go(func() {
			rng := rand.New(rand.NewPCG(client, 1))
			for range 15 {
				start := morning.Add(time.Duration(rng.IntN(48)) * 15 * time.Minute)
				_, err := w.Book(booking(f, start, start.Add(time.Duration(1+rng.IntN(8))*15*time.Minute)), f.person)
				lock.Lock()
				if err == nil {
					granted++
				} else {
					refused++
					assert.True(t, errors.Is(err, store.ErrOverlap) || errors.Is(err, store.ErrElsewhere), "%v", err)
				}
				lock.Unlock()
			}
		})
	}
	wait.Wait()
	assert.Positive(t, granted)
	assert.Positive(t, refused)
	bookings, _, err := w.BookingsBetween(morning, morning.Add(48*time.Hour), all)
	require.NoError(t, err)
	assert.Len(t, bookings, granted+1, "and the class's own")
	for i := 1; i < len(bookings); i++ {
		assert.False(t, bookings[i].StartsAt.Before(bookings[i-1].EndsAt),
			fmt.Sprint(bookings[i-1].EndsAt, bookings[i].StartsAt))
	}
}

func TestAClassThatCannotHaveItsMachinesIsNotMovedEither(t *testing.T) {
	w, f := shop(t, storetest.Open(t), "pier")
	other := classday.Class{Name: "Badges", StartsAt: morning.Add(4 * time.Hour), EndsAt: morning.Add(6 * time.Hour),
		Instructors: 1, Irons: 1}
	id, err := w.SaveClass(other, f.project.At(), nil, []int64{f.machine.ID}, []int64{f.machine.ID})
	require.NoError(t, err)
	moved := other
	moved.ID, moved.Version, moved.StartsAt = id, 1, morning.Add(time.Hour)
	_, err = w.SaveClass(moved, f.project.At(), nil, []int64{f.machine.ID}, []int64{f.machine.ID})
	assert.ErrorIs(t, err, store.ErrOverlap)
	kept, err := w.Class(id)
	require.NoError(t, err)
	assert.True(t, kept.StartsAt.Equal(other.StartsAt))
	assert.Len(t, kept.Machines, 1)
	bookings, _, err := w.BookingsBetween(other.StartsAt, other.EndsAt, all)
	require.NoError(t, err)
	require.Len(t, bookings, 1)
	assert.ErrorIs(t, w.CancelBooking(bookings[0].ID), store.ErrNotFound, "a class's machines change with the class")
}
