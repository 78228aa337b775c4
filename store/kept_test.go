package store_test

import (
	"errors"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/pace"
	"chalkstep/core/recipe"
	"chalkstep/store"
	"chalkstep/store/storetest"
)

// Every version of a project is kept as it was, and can be opened again.
func TestEveryVersionOfAProjectIsKept(t *testing.T) {
	w, f := shop(t, storetest.Open(t), "versions")
	p, err := w.Project(f.project.ID)
	require.NoError(t, err)
	first := p.Version
	for i := range 3 {
		p.Name = []string{"Tote, lined", "Tote with pocket", "Tote for good"}[i]
		p.Content.Level = i + 1
		p.Content.House = recipe.House{Jumps: "at-end"}
		require.NoError(t, w.SaveProject(&p))
	}
	newest, err := w.NewestVersion(p.ID)
	require.NoError(t, err)
	assert.Equal(t, first+3, newest)
	was, err := w.ProjectAt(p.ID, first)
	require.NoError(t, err)
	assert.Equal(t, "Tote", was.Name)
	assert.Zero(t, was.Content.Level)
	assert.Equal(t, 7.0, was.Content.Minutes[pace.StepHoop])
	is, err := w.ProjectAt(p.ID, newest)
	require.NoError(t, err)
	assert.Equal(t, "Tote for good", is.Name)
	assert.Equal(t, "at-end", is.Content.House.Jumps)
	assert.Equal(t, f.design.ID, is.Design.ID)
	_, err = w.ProjectAt(p.ID, 99)
	assert.ErrorIs(t, err, store.ErrNotFound)
	class, err := w.Class(f.class.ID)
	require.NoError(t, err)
	assert.Equal(t, "Tote", class.Project.Name, "the class keeps what it was planned with")
	stale := p
	stale.Version = first
	assert.ErrorIs(t, w.SaveProject(&stale), store.ErrChanged)
}

func TestPlacementsAndTheirOverrides(t *testing.T) {
	s := storetest.Open(t)
	w, f := shop(t, s, "placing")
	other, _ := shop(t, s, "elsewhere")
	p := store.Placement{DesignID: f.design.ID, MachineID: f.machine.ID, HoopID: f.hoop.ID, Turn: 90, XMM: 4, YMM: -3, Percent: 95}
	require.NoError(t, w.SavePlacement(&p))
	assert.ErrorIs(t, w.SavePlacement(&store.Placement{DesignID: f.design.ID, MachineID: f.machine.ID, HoopID: f.hoop.ID, Percent: 100}), store.ErrChanged, "a second first placement")
	at := morning
	p.OverriddenByID, p.OverriddenAt, p.OverrideReason = &f.account.ID, &at, "pieces are not cut"
	require.NoError(t, w.SavePlacement(&p))
	got, err := w.Placement(f.design.ID, f.machine.ID)
	require.NoError(t, err)
	assert.Equal(t, "Ola", got.OverriddenBy.Name)
	assert.Equal(t, 2, got.Version)
	p.OverrideReason = "  "
	assert.Error(t, w.SavePlacement(&p), "who set a lock aside has said why: the database holds to it")
	p.Percent = 93
	assert.Error(t, w.SavePlacement(&p))
	_, err = other.Placement(f.design.ID, f.machine.ID)
	assert.ErrorIs(t, err, store.ErrNotFound)
}

// Photos from before they were made anew are made so once, in every workshop;
// what is no picture is kept and shown to nobody.
func TestOldPhotosAreMadeAnew(t *testing.T) {
	s := storetest.Open(t)
	w, f := shop(t, s, "log")
	logged := func(photo string) int64 {
		run := store.StitchOut{DesignID: f.design.ID, MachineID: f.machine.ID, LoggedByID: f.account.ID, SewnOn: morning, Fabric: "canvas", Minutes: 14, EstimatedMinutes: 12, EstimatedSewing: 8, SewnMinutes: 10, PathMM: 9000, Ends: 4, Photo: []byte(photo), PhotoType: "image/png"}
		require.NoError(t, w.LogStitchOut(&run))
		return run.ID
	}
	good, odd := logged("old"), logged("a script")
	_, err := w.StitchOutPhoto(f.design.ID, good)
	assert.ErrorIs(t, err, store.ErrNotFound, "not shown as it came")
	remake := func(old []byte) (store.Photo, error) {
		if string(old) != "old" {
			return store.Photo{}, errors.New("no picture")
		}
		return store.Photo{Data: []byte("new"), Type: "image/jpeg", Width: 4, Height: 3}, nil
	}
	made, kept, err := s.RemakePhotos(t.Context(), remake)
	require.NoError(t, err)
	assert.Equal(t, [2]int{1, 1}, [2]int{made, kept})
	shown, err := w.StitchOutPhoto(f.design.ID, good)
	require.NoError(t, err)
	assert.Equal(t, "new", string(shown.Photo))
	assert.Equal(t, "image/jpeg", shown.PhotoType)
	_, err = w.StitchOutPhoto(f.design.ID, odd)
	assert.ErrorIs(t, err, store.ErrNotFound)
	made, kept, err = s.RemakePhotos(t.Context(), remake)
	require.NoError(t, err)
	assert.Equal(t, [2]int{}, [2]int{made, kept}, "once")
}

func TestStitchOutsBelongToTheirWorkshop(t *testing.T) {
	s := storetest.Open(t)
	w, f := shop(t, s, "log")
	other, g := shop(t, s, "next door")
	run := store.StitchOut{DesignID: f.design.ID, MachineID: f.machine.ID, LoggedByID: f.account.ID, SewnOn: morning, Fabric: "canvas", Minutes: 14, EstimatedMinutes: 12, EstimatedSewing: 8, SewnMinutes: 10, PathMM: 9000, Ends: 4, Photo: []byte{1}, PhotoType: "image/jpeg", PhotoWidth: 4, PhotoHeight: 3}
	require.NoError(t, w.LogStitchOut(&run))
	runs, total, err := w.StitchOutsOf(f.design.ID, 10)
	require.NoError(t, err)
	require.Equal(t, 1, total)
	assert.Nil(t, runs[0].Photo, "lists go without photos")
	photo, err := w.StitchOutPhoto(f.design.ID, run.ID)
	require.NoError(t, err)
	assert.Equal(t, []byte{1}, photo.Photo)
	bare := run
	bare.ID, bare.PhotoType = 0, ""
	assert.Error(t, w.LogStitchOut(&bare), "a photo has its type")
	theirs := run
	theirs.ID = 0
	assert.ErrorIs(t, other.LogStitchOut(&theirs), store.ErrInUse, "of a design of another workshop")
	none, total, err := other.StitchOutsOf(f.design.ID, 10)
	require.NoError(t, err)
	assert.Zero(t, total)
	assert.Empty(t, none)
	assert.ErrorIs(t, other.RemoveStitchOut(f.design.ID, run.ID), store.ErrNotFound)
	require.NoError(t, w.RemoveStitchOut(f.design.ID, run.ID))
	assert.NotZero(t, g.account.ID)
}

// A place in a class keeps its kit when the roster changes, and two people who
// pack one kit are told.
func TestPlacesAndKits(t *testing.T) {
	w, f := shop(t, storetest.Open(t), "kits")
	class, err := w.Class(f.class.ID)
	require.NoError(t, err)
	place := class.Students[0]
	assert.Equal(t, store.KitToCut, place.KitState)
	place.KitState, place.KitPacked = store.KitCut, store.Texts{"tote"}
	require.NoError(t, w.SaveKit(place))
	assert.ErrorIs(t, w.SaveKit(place), store.ErrChanged)
	ben := store.Student{Name: "Ben"}
	require.NoError(t, w.SaveStudent(&ben))
	require.NoError(t, w.SaveClass(&class, []int64{f.student.ID, ben.ID}, []int64{f.machine.ID}))
	class, err = w.Class(f.class.ID)
	require.NoError(t, err)
	require.Len(t, class.Students, 2)
	assert.Equal(t, store.KitCut, class.Students[0].KitState, "who stays keeps the kit")
	late := class.Students[1]
	late.Attendance, late.LateMinutes = store.Late, 0
	assert.Error(t, w.SavePlace(late), "late is by some minutes")
	late.LateMinutes = 15
	require.NoError(t, w.SavePlace(late))
	require.NoError(t, w.SaveClass(&class, []int64{ben.ID}, []int64{f.machine.ID}))
	class, err = w.Class(f.class.ID)
	require.NoError(t, err)
	require.Len(t, class.Students, 1)
	assert.Equal(t, 15, class.Students[0].LateMinutes)
	assert.WithinDuration(t, morning, class.StartsAt, time.Second)
}

// The same stitches are found whatever file they came in.
func TestDesignsAreFoundByTheirStitches(t *testing.T) {
	s := storetest.Open(t)
	w, f := shop(t, s, "twins")
	other, _ := shop(t, s, "strangers")
	print := make([]byte, 32)
	print[0] = 7
	d := design("print")
	d.Name, d.StitchesSHA256 = "Printed", print
	require.NoError(t, w.AddDesign(&d))
	twin, err := w.DesignByStitches(print)
	require.NoError(t, err)
	assert.Equal(t, d.ID, twin.ID)
	require.NoError(t, w.AddDesignFile(&store.DesignFile{DesignID: d.ID, Format: "pes", FileName: "printed.pes", Original: []byte{1}}))
	assert.ErrorIs(t, w.AddDesignFile(&store.DesignFile{DesignID: d.ID, Format: "pes", FileName: "again.pes", Original: []byte{1}}), store.ErrTaken)
	twin, err = w.DesignByStitches(print)
	require.NoError(t, err)
	assert.Equal(t, []string{d.Format, "pes"}, twin.Value().Formats())
	_, err = other.DesignByStitches(print)
	assert.ErrorIs(t, err, store.ErrNotFound)
	assert.NotZero(t, f.design.ID)
}
