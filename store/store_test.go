package store_test

import (
	"crypto/sha256"
	"fmt"
	"math/rand/v2"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/pace"
	"chalkstep/core/skill"
	"chalkstep/store"
	"chalkstep/store/storetest"
)

func TestMain(m *testing.M) { storetest.Main(m) }

var morning = time.Date(2026, 12, 5, 10, 0, 0, 0, time.UTC)

// all of a list that a test makes.
var all = store.Stretch{Limit: 1000}

// shop makes a workshop with one of everything.
func shop(t *testing.T, s *store.Store, name string) (store.Workshop, fixture) {
	t.Helper()
	row, err := s.CreateWorkshop(t.Context(), name, "Europe/Dublin")
	require.NoError(t, err)
	w := s.For(t.Context(), row.ID)
	f := fixture{
		account: store.Account{Email: name + "@example.org", Name: "Ola", Role: store.Owner, PasswordHash: "x"},
		hoop:    store.Hoop{Name: "Small", WidthMM: 100, HeightMM: 100, Count: 2},
		machine: store.Machine{Name: "Heron", Formats: []string{"dst"}, TopSpeedSPM: 700, ChangeSeconds: 60, Needles: 1, BobbinStyle: "low", BobbinMetres: 60},
		student: store.Student{Name: "Ana", FirstTimer: true},
	}
	require.NoError(t, w.AddAccount(&f.account))
	require.NoError(t, w.SaveHoop(&f.hoop))
	f.machine.Hoops = []store.MachineHoop{{HoopID: f.hoop.ID, DXMM: 3}}
	require.NoError(t, w.SaveMachine(&f.machine))
	require.NoError(t, w.SaveStudent(&f.student))
	f.design = design(name)
	require.NoError(t, w.AddDesign(&f.design))
	f.project = store.Project{Name: "Tote", DesignID: f.design.ID, Blank: "tote", BlankWidthMM: 380, BlankHeightMM: 420, Fabric: "canvas", Uses: []string{"washed"},
		Content: store.ProjectContent{Minutes: map[pace.StepKey]float64{pace.StepHoop: 7}}}
	require.NoError(t, w.SaveProject(&f.project))
	f.class = store.Class{Name: "Totes", ProjectID: f.project.ID, ProjectVersion: f.project.Version, StartsAt: morning, EndsAt: morning.Add(3 * time.Hour), Instructors: 1, Irons: 1}
	require.NoError(t, w.SaveClass(&f.class, []int64{f.student.ID}, []int64{f.machine.ID}))
	require.NoError(t, w.SignOff(store.SignOff{StudentID: f.student.ID, Skill: "threading", MachineKind: store.SingleNeedle, SignedOn: morning, AssessorID: f.account.ID}))
	return w, f
}

type fixture struct {
	account store.Account
	hoop    store.Hoop
	machine store.Machine
	student store.Student
	design  store.Design
	project store.Project
	class   store.Class
}

func design(content string) store.Design {
	sum := sha256.Sum256([]byte(content))
	return store.Design{Name: "Lighthouse", FileName: "lighthouse.dst", Format: "dst", Original: []byte(content), SHA256: sum[:], WidthMM: 80, HeightMM: 90, Stitches: 100,
		AddedAt: morning, Stops: []store.DesignStop{{N: 1, Color: "#112233", Role: "fill", Stitches: 60}, {N: 2, Color: "#445566", Role: "run", Stitches: 40}}}
}

func TestWhatIsSavedIsReadBack(t *testing.T) {
	w, f := shop(t, storetest.Open(t), "pier")
	class, err := w.Class(f.class.ID)
	require.NoError(t, err)
	assert.Equal(t, "Lighthouse", class.Project.Design.Name)
	assert.Len(t, class.Project.Design.Stops, 2)
	assert.Empty(t, class.Project.Design.Original, "pages do not carry the bytes around")
	assert.Equal(t, "Ana", class.Students[0].Student.Name)
	assert.True(t, class.Students[0].Student.Signed(store.SingleNeedle)[skill.Threading])
	assert.False(t, class.Students[0].Student.Signed(store.MultiNeedle)[skill.Threading])
	machines, err := w.Machines()
	require.NoError(t, err)
	assert.Equal(t, class.Bookings[0].MachineID, machines[0].ID)
	assert.Equal(t, 3.0, machines[0].Hoops[0].DXMM)
	file, err := w.DesignFile(f.design.ID)
	require.NoError(t, err)
	assert.Equal(t, "pier", string(file.Original))
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
		"account": func() error { _, err := w.Account(theirs.account.ID); return err },
		"machine": func() error { _, err := w.Machine(theirs.machine.ID); return err },
		"hoop":    func() error { _, err := w.Hoop(theirs.hoop.ID); return err },
		"design":  func() error { _, err := w.Design(theirs.design.ID); return err },
		"file":    func() error { _, err := w.DesignFile(theirs.design.ID); return err },
		"project": func() error { _, err := w.Project(theirs.project.ID); return err },
		"student": func() error { _, err := w.Student(theirs.student.ID); return err },
		"class":   func() error { _, err := w.Class(theirs.class.ID); return err },
	} {
		assert.ErrorIs(t, find(), store.ErrNotFound, name)
	}
	theirs.machine.Name = "Stolen"
	assert.ErrorIs(t, w.SaveMachine(&theirs.machine), store.ErrChanged)
	assert.ErrorIs(t, w.SaveDesign(theirs.design, nil), store.ErrChanged)
	assert.ErrorIs(t, w.SaveProject(&store.Project{Name: "x", DesignID: theirs.design.ID, Blank: "b", BlankWidthMM: 50, BlankHeightMM: 50, Fabric: "felt"}), store.ErrInUse)
	assert.ErrorIs(t, w.Book(&store.Booking{MachineID: theirs.machine.ID, StudentID: &theirs.student.ID, StartsAt: morning.Add(99 * time.Hour), EndsAt: morning.Add(100 * time.Hour)}), store.ErrInUse)
	assert.ErrorIs(t, w.SignOff(store.SignOff{StudentID: theirs.student.ID, Skill: "bobbin", MachineKind: store.SingleNeedle, SignedOn: morning, AssessorID: theirs.account.ID}), store.ErrInUse)
}

func TestTwoEditorsOfOneRowAreNotOverwritten(t *testing.T) {
	w, f := shop(t, storetest.Open(t), "pier")
	first, second := f.machine, f.machine
	first.Name, second.Name = "Heron one", "Heron two"
	require.NoError(t, w.SaveMachine(&first))
	assert.ErrorIs(t, w.SaveMachine(&second), store.ErrChanged)
	kept, err := w.Machine(f.machine.ID)
	require.NoError(t, err)
	assert.Equal(t, "Heron one", kept.Name)
	assert.Len(t, kept.Hoops, 1, "the failed save left the hoops alone")
}

func TestNothingIsHalfSaved(t *testing.T) {
	w, _ := shop(t, storetest.Open(t), "pier")
	bad := design("another file")
	bad.Name, bad.Stops[1].Color = "Broken", "blue"
	require.Error(t, w.AddDesign(&bad))
	designs, _, err := w.Designs(store.DesignFilter{}, all)
	require.NoError(t, err)
	assert.Len(t, designs, 1)

	twin := design("pier")
	twin.Name = "Same bytes"
	assert.ErrorIs(t, w.AddDesign(&twin), store.ErrTaken)
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
				err := w.Book(&store.Booking{MachineID: f.machine.ID, StudentID: &f.student.ID, StartsAt: start, EndsAt: start.Add(time.Duration(1+rng.IntN(8)) * 15 * time.Minute)})
				lock.Lock()
				if err == nil {
					granted++
				} else {
					refused++
					assert.ErrorIs(t, err, store.ErrOverlap)
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
		assert.False(t, bookings[i].StartsAt.Before(bookings[i-1].EndsAt), fmt.Sprint(bookings[i-1].EndsAt, bookings[i].StartsAt))
	}
}

func TestAClassThatCannotHaveItsMachinesIsNotMovedEither(t *testing.T) {
	w, f := shop(t, storetest.Open(t), "pier")
	other := store.Class{Name: "Badges", ProjectID: f.project.ID, ProjectVersion: f.project.Version, StartsAt: morning.Add(4 * time.Hour), EndsAt: morning.Add(6 * time.Hour), Instructors: 1, Irons: 1}
	require.NoError(t, w.SaveClass(&other, nil, []int64{f.machine.ID}))
	moved := other
	moved.StartsAt = morning.Add(time.Hour)
	assert.ErrorIs(t, w.SaveClass(&moved, nil, []int64{f.machine.ID}), store.ErrOverlap)
	kept, err := w.Class(other.ID)
	require.NoError(t, err)
	assert.True(t, kept.StartsAt.Equal(other.StartsAt))
	assert.Len(t, kept.Bookings, 1)
	assert.ErrorIs(t, w.CancelBooking(kept.Bookings[0].ID), store.ErrNotFound, "a class's machines change with the class")
}
