package app_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/actor"
	"chalkstep/app/designs"
	appfleet "chalkstep/app/fleet"
	"chalkstep/app/planning"
	"chalkstep/app/prep"
	"chalkstep/app/projects"
	"chalkstep/core/design"
	"chalkstep/store"
	"chalkstep/store/storetest"
)

// Following the program's own advice, to give the project another design and
// then delete the one in use, leaves what was made with it readable.
func TestADesignThatWasUsedIsTakenOffTheList(t *testing.T) {
	d := desks(t)[store.Owner]
	project, err := d.Project(toteProject)
	require.NoError(t, err)
	before, err := d.Class(totes)
	require.NoError(t, err)
	in := projects.ProjectInput{
		ID: toteProject, Version: project.Version, Name: project.Name, Blank: project.Blank.Name, Design: "Crab",
		Width: "380", Height: "420", Fabric: "canvas",
	}
	_, err = d.SaveProject(in)
	require.NoError(t, err)
	retired, err := d.DeleteDesign(lighthouse)
	require.NoError(t, err)
	assert.True(t, retired)
	list, err := d.Designs(designs.DesignFilter{}, 1)
	require.NoError(t, err)
	assert.Len(t, list.Designs, 6)
	page, err := d.Design(lighthouse)
	require.NoError(t, err)
	assert.NotNil(t, page.Design.RetiredAt)
	after, err := d.Class(totes)
	require.NoError(t, err)
	assert.Equal(t, before.Result, after.Result, "the class is as it was")
	_, err = d.Today()
	require.NoError(t, err)
	buy, err := d.BuyList()
	require.NoError(t, err)
	assert.Empty(t, buy.Unknown)

	// It comes back, by hand or with its file, under its name if that is free.
	_, data, err := d.DesignFile(lighthouse)
	require.NoError(t, err)
	again, err := d.AddDesign("lighthouse.dst", data)
	require.NoError(t, err)
	assert.EqualValues(t, lighthouse, again)
	page, err = d.Design(lighthouse)
	require.NoError(t, err)
	assert.Nil(t, page.Design.RetiredAt)

	// The design of a second hooping is kept in the same way.
	require.NoError(t, d.SavePart(badge, 1, "hoopings",
		projects.ProjectParts{Hoopings: []projects.HoopingInput{{Title: "the back", Design: "Buoy badge"}}}))
	_, err = d.DeleteDesign(buoy)
	assert.Contains(t, problem(t, err, ""), "used by “Buoy badges”")
	require.NoError(t, d.SavePart(badge, 2, "hoopings", projects.ProjectParts{}))
	retired, err = d.DeleteDesign(buoy)
	require.NoError(t, err)
	assert.True(t, retired, "an earlier version sews it")
}

// A workshop that was broken before the database held to this opens again,
// and says of the one class what to do.
func TestABrokenClassTakesNoPageWithIt(t *testing.T) {
	s := storetest.OpenAt(t, "../store/testdata/demo-at-migration-5.sql.gz", `
		UPDATE projects SET design_id = 3 WHERE design_id = 2;
		DELETE FROM stitch_outs WHERE design_id = 2;
		DELETE FROM designs WHERE id = 2;`)
	// The dump's classes are of November 2026.
	at := time.Date(2026, 11, 26, 9, 0, 0, 0, time.UTC)
	a := actor.New(s, func() time.Time { return at })
	who, err := a.Who(t.Context(), 1, 1)
	require.NoError(t, err)
	d := atWork(a.For(t.Context(), who))
	page, err := d.Class(totes)
	require.NoError(t, err)
	assert.Equal(t, "A design of “Lighthouse tote” is gone from the workshop: give the class a project that has "+
		"its designs.", page.Why.String())
	_, err = d.Today()
	require.NoError(t, err)
	buy, err := d.BuyList()
	require.NoError(t, err)
	require.Len(t, buy.Unknown, 1)
	assert.Contains(t, buy.Unknown[0].String(), "Lighthouse totes: A design of")
	shelf, err := d.Shelf(totes)
	require.NoError(t, err)
	assert.NotEmpty(t, shelf.Problem.String())
	_, err = d.Kits(totes)
	require.NoError(t, err)
	// What it says is what helps.
	in, err := d.ClassInput(totes)
	require.NoError(t, err)
	in.Project = "Crab hand towel"
	_, err = d.SaveClass(in)
	require.NoError(t, err)
	page, err = d.Class(totes)
	require.NoError(t, err)
	assert.True(t, page.Planned())
}

// An id that is not there is an error, never another row's.
func TestAnIDThatIsNotThereIsAnError(t *testing.T) {
	d := desks(t)[store.Owner]
	const none = 9999
	for name, err := range map[string]error{
		"machine to place on": second(d.Placing(lighthouse, designs.PlacingInput{MachineID: none})),
		"hoop to place in": second(
			d.Placing(lighthouse, designs.PlacingInput{MachineID: heron, HoopID: none, Percent: 100, Asked: true})),
		"kept on a machine":  second(d.SavePlacing(lighthouse, designs.PlacingInput{MachineID: none, Percent: 100})),
		"hoop of copies":     second(d.Copies(buoy, designs.CopiesInput{HoopID: none, Quantity: "2", Gap: "8"})),
		"hoop of a border":   second(d.Border(buoy, designs.BorderInput{HoopID: none, Length: "900"})),
		"hoop of the list":   second(d.Designs(designs.DesignFilter{HoopID: none}, 1)),
		"student of a place": d.SavePlace(badges, none, planning.PlaceInput{Attendance: "absent"}),
		"kit":                d.SaveKit(badges, prep.KitInput{StudentID: none}), "class": second(d.Class(none)),
		"class to reserve for": d.Reserve(none), "class to put right": d.PutRight(none, nil),
		"picture":         third(d.DesignPicture(none, design.Thumb)),
		"kind of picture": third(d.DesignPicture(lighthouse, "portrait")),
		"person":          d.RemovePerson(none), "booking": d.CancelBooking(none), "design": d.ListDesign(none),
	} {
		assert.ErrorIs(t, err, store.ErrNotFound, name)
	}
	_, err := d.SaveMachine(appfleet.MachineInput{Name: "Gull", Formats: []string{"dst"}, TopSpeed: "500",
		ChangeSeconds: "60", Needles: "1", BobbinStyle: "low", BobbinMetres: "60",
		Hoops: []appfleet.MachineHoopInput{{HoopID: none}}})
	assert.Contains(t, problem(t, err, ""), "is gone")
	_, err = d.SaveClass(planning.ClassInput{Name: "x", Project: "Compass mat", Date: "2026-12-19", From: "10:00",
		To: "11:00", Instructors: "1", Irons: "1", StudentIDs: []int64{none}, Machines: []int64{heron}})
	assert.Contains(t, problem(t, err, ""), "is gone")
}

func second[T any](_ T, err error) error        { return err }
func third[T, U any](_ T, _ U, err error) error { return err }
