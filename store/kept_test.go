package store_test

import (
	"errors"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/classday"
	"chalkstep/core/design"
	"chalkstep/core/fleet"
	"chalkstep/core/hoop"
	"chalkstep/core/kit"
	"chalkstep/core/pace"
	"chalkstep/core/photo"
	"chalkstep/core/project"
	"chalkstep/core/recipe"
	"chalkstep/core/skill"
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
		p.Level = i + 1
		p.House = recipe.Rules{Jumps: "at-end"}
		_, err := w.SaveProject(p)
		require.NoError(t, err)
		p.Version++
	}
	newest, err := w.NewestVersion(p.ID)
	require.NoError(t, err)
	assert.Equal(t, first+3, newest)
	was, err := w.ProjectAt(project.At{ID: p.ID, Version: first})
	require.NoError(t, err)
	assert.Equal(t, "Tote", was.Name)
	assert.Zero(t, was.Level)
	assert.Equal(t, 7.0, was.Minutes[pace.StepHoop])
	is, err := w.ProjectAt(project.At{ID: p.ID, Version: newest})
	require.NoError(t, err)
	assert.Equal(t, "Tote for good", is.Name)
	assert.Equal(t, "at-end", is.House.Jumps)
	assert.Equal(t, f.design.ID, is.Design().ID)
	_, err = w.ProjectAt(project.At{ID: p.ID, Version: 99})
	assert.ErrorIs(t, err, store.ErrNotFound)
	class, err := w.Class(f.class)
	require.NoError(t, err)
	assert.Equal(t, "Tote", class.Project.Name, "the class keeps what it was planned with")
	stale := p
	stale.Version = first
	_, err = w.SaveProject(stale)
	assert.ErrorIs(t, err, store.ErrChanged)
}

func TestPlacementsAndTheirOverrides(t *testing.T) {
	s := storetest.Open(t)
	w, f := shop(t, s, "placing")
	other, _ := shop(t, s, "elsewhere")
	p := fleet.Placement{DesignID: f.design.ID, MachineID: f.machine.ID, HoopID: f.hoop,
		Placing: hoop.Placing{Turn: 90, X: 4, Y: -3}, Percent: 95}
	require.NoError(t, w.SavePlacement(p))
	assert.ErrorIs(t, w.SavePlacement(p), store.ErrChanged, "a second first placement")
	p.Version, p.Override = 1, &fleet.Override{ByID: f.person, At: morning, Reason: "pieces are not cut"}
	require.NoError(t, w.SavePlacement(p))
	got, err := w.Placement(f.design.ID, f.machine.ID)
	require.NoError(t, err)
	assert.Equal(t, "Ola", got.Override.By)
	assert.Equal(t, p.Placing, got.Placing)
	assert.Equal(t, 2, got.Version)
	got.Override.Reason = "  "
	assert.Error(t, w.SavePlacement(got), "who set a lock aside has said why: the database holds to it")
	got.Override, got.Percent = nil, 300
	assert.Error(t, w.SavePlacement(got))
	_, err = other.Placement(f.design.ID, f.machine.ID)
	assert.ErrorIs(t, err, store.ErrNotFound)
}

// Photos from before they were made anew are made so once, in every workshop;
// what is no picture is kept and shown to nobody.
func TestOldPhotosAreMadeAnew(t *testing.T) {
	s := storetest.Open(t)
	w, f := shop(t, s, "log")
	logged := func(old string) int64 {
		id, err := w.LogStitchOut(sewn(f), photo.Photo{Data: []byte(old)}, f.person)
		require.NoError(t, err)
		return id
	}
	good, odd := logged("old"), logged("a script")
	_, err := w.StitchOutPhoto(f.design.ID, good)
	assert.ErrorIs(t, err, store.ErrNotFound, "not shown as it came")
	remake := func(old []byte) (photo.Photo, error) {
		if string(old) != "old" {
			return photo.Photo{}, errors.New("no picture")
		}
		return photo.Photo{Data: []byte("new"), Width: 4, Height: 3}, nil
	}
	made, kept, err := s.RemakePhotos(t.Context(), remake)
	require.NoError(t, err)
	assert.Equal(t, [2]int{1, 1}, [2]int{made, kept})
	shown, err := w.StitchOutPhoto(f.design.ID, good)
	require.NoError(t, err)
	assert.Equal(t, photo.Photo{Data: []byte("new"), Width: 4, Height: 3}, shown)
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
	id, err := w.LogStitchOut(sewn(f), photo.Photo{Data: []byte{1}, Width: 4, Height: 3}, f.person)
	require.NoError(t, err)
	runs, total, err := w.StitchOutsOf(f.design.ID, 10)
	require.NoError(t, err)
	require.Equal(t, 1, total)
	want := sewn(f)
	want.ID, want.Machine, want.By, want.PhotoSize, want.SewnOn = id, "Heron", "Ola", [2]int{4, 3}, runs[0].SewnOn
	assert.Equal(t, want, runs[0])
	kept, err := w.StitchOutPhoto(f.design.ID, id)
	require.NoError(t, err)
	assert.Equal(t, []byte{1}, kept.Data)
	_, err = other.LogStitchOut(sewn(f), photo.Photo{}, g.person)
	assert.ErrorIs(t, err, store.ErrInUse, "of a design of another workshop")
	none, total, err := other.StitchOutsOf(f.design.ID, 10)
	require.NoError(t, err)
	assert.Zero(t, total)
	assert.Empty(t, none)
	assert.ErrorIs(t, other.RemoveStitchOut(f.design.ID, id), store.ErrNotFound)
	require.NoError(t, w.RemoveStitchOut(f.design.ID, id))
}

// sewn is a stitch-out of what a workshop has.
func sewn(f fixture) design.StitchOut {
	return design.StitchOut{
		DesignID: f.design.ID, MachineID: f.machine.ID, SewnOn: morning, Fabric: "canvas", Minutes: 14, EstimatedMinutes: 12,
		EstimatedSewing: 8, SewnMinutes: 10, PathMM: 9000, Ends: 4,
	}
}

// A place in a class keeps its kit when the roster changes, and two people who
// pack one kit are told.
func TestPlacesAndKits(t *testing.T) {
	w, f := shop(t, storetest.Open(t), "kits")
	class, err := w.Class(f.class)
	require.NoError(t, err)
	place := class.Places[0]
	assert.Equal(t, kit.ToCut, place.Kit)
	place.Kit, place.Packed = kit.Cut, []kit.ItemID{"tote"}
	require.NoError(t, w.SaveKit(f.class, place))
	assert.ErrorIs(t, w.SaveKit(f.class, place), store.ErrChanged)
	ben, err := w.SaveStudent(skill.Student{Name: "Ben"})
	require.NoError(t, err)
	roster := func(studentIDs ...int64) classday.Class {
		t.Helper()
		_, err := w.SaveClass(class, class.Project.At(), studentIDs, []int64{f.machine.ID}, []int64{f.machine.ID})
		require.NoError(t, err)
		class, err := w.Class(f.class)
		require.NoError(t, err)
		return class
	}
	class = roster(f.student, ben)
	require.Len(t, class.Places, 2)
	assert.Equal(t, kit.Cut, class.Places[0].Kit, "who stays keeps the kit")
	assert.Equal(t, place.Packed, class.Places[0].Packed)
	late := class.Places[1]
	late.Attendance, late.LateMinutes = classday.Late, 0
	assert.Error(t, w.SavePlace(f.class, late), "late is by some minutes")
	late.LateMinutes, late.Makes = 15, &f.project
	require.NoError(t, w.SavePlace(f.class, late))
	class = roster(ben)
	require.Len(t, class.Places, 1)
	assert.Equal(t, 15, class.Places[0].LateMinutes)
	assert.Equal(t, f.project, *class.Places[0].Makes)
	assert.WithinDuration(t, morning, class.StartsAt, time.Second)
}

// The same stitches are found whatever file they came in.
func TestDesignsAreFoundByTheirStitches(t *testing.T) {
	s := storetest.Open(t)
	w, _ := shop(t, s, "twins")
	other, _ := shop(t, s, "strangers")
	d := upload("print")
	d.Name = "Printed"
	id, err := w.AddDesign(d)
	require.NoError(t, err)
	twin, err := w.DesignByStitches(d.StitchesSHA256)
	require.NoError(t, err)
	assert.Equal(t, id, twin.ID)
	converted := design.Original{Format: "pes", Name: "printed.pes", Data: []byte{1}}
	require.NoError(t, w.AddDesignFile(id, converted))
	assert.ErrorIs(t, w.AddDesignFile(id, converted), store.ErrTaken)
	files, err := w.Originals(id)
	require.NoError(t, err)
	assert.Equal(t, []design.Original{{Format: "dst", Name: "lighthouse.dst", Data: []byte("print")}, converted},
		files[id])
	files, err = other.Originals(id)
	require.NoError(t, err)
	assert.Empty(t, files)
	twin, err = w.DesignByStitches(d.StitchesSHA256)
	require.NoError(t, err)
	assert.Equal(t, []string{"dst", "pes"}, twin.Formats())
	_, err = other.DesignByStitches(d.StitchesSHA256)
	assert.ErrorIs(t, err, store.ErrNotFound)
}
