package app_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/actor"
	"chalkstep/app/designs"
	appfleet "chalkstep/app/fleet"
	"chalkstep/app/people"
	"chalkstep/core/skill"
	"chalkstep/demo/demotest"
)

// Each person reads pages in units and by a clock of their own, or of the
// workshop, and a student's card is in the student's.
func TestEveryoneReadsTheirOwnUnits(t *testing.T) {
	s := demotest.Open(t)
	a := actor.New(s, nowClock)
	seat := func(account int64) person {
		who, err := a.Who(t.Context(), 1, account)
		require.NoError(t, err)
		return atWork(a.For(t.Context(), who))
	}
	note := func(d person, student int64) string {
		page, err := d.StepCard(badges, student)
		require.NoError(t, err)
		return d.PrinterFor(page.Card).Say(page.Card.Steps[1].Note)
	}
	owner := seat(1)
	metric := note(owner, 1)
	assert.Contains(t, metric, " mm.")

	assert.Contains(t, problem(t, owner.SaveUnits("cubits", "24"), "units"), "Choose millimetres")
	require.NoError(t, owner.SaveUnits("in", "12"))
	owner = seat(1)
	assert.Regexp(t, `tear-away, \d+( \d/\d)? × \d+( \d/\d)? in\.$`, note(owner, 1))
	plan, err := owner.Class(badges)
	require.NoError(t, err)
	assert.Equal(t, "10:00 am", owner.Say(clock(plan.Class.StartsAt)))
	assert.Equal(t, metric, note(seat(2), 1), "the other reads as before")

	ana := skill.Student{ID: 1, Version: 1, Name: "Ana Thorne", Units: "mm"}
	_, err = owner.SaveStudent(ana)
	require.NoError(t, err)
	assert.Equal(t, metric, note(owner, 1), "the student's card is in the student's units")

	page, err := owner.House()
	require.NoError(t, err)
	require.NoError(t, owner.SaveHouse(people.HouseInput{Version: page.Settings.Version, Choices: choicesOf(page),
		TrimMM: "10 mm", SheetMargin: "1 in", Units: "in", Clock: "12"}))
	assert.Contains(t, note(seat(2), 3), " in.", "who has not chosen reads as the workshop does")

	// What is typed is read in the reader's units, and either can be written.
	machine := appfleet.HoopInput{Name: "Long", Width: "4", Height: "14 7/8", Count: "1"}
	id, err := owner.SaveHoop(machine)
	require.NoError(t, err)
	hoop, err := owner.Hoop(id)
	require.NoError(t, err)
	assert.InDelta(t, 101.6, hoop.WidthMM, 1e-9)
	assert.InDelta(t, 377.8, hoop.HeightMM, 1e-9)
	machine.Name, machine.Width = "Longer", "1,200"
	_, err = owner.SaveHoop(machine)
	assert.Equal(t, "1,200 may mean two numbers: write 1200 or 1.200.", problem(t, err, "width"))
}

// A form that is opened and sent as it is changes nothing, whatever its reader
// measures in.
func TestFormsInInchesGiveBackWhatTheyShow(t *testing.T) {
	s := demotest.Open(t)
	a := actor.New(s, nowClock)
	who, err := a.Who(t.Context(), 1, 1)
	require.NoError(t, err)
	require.NoError(t, atWork(a.For(t.Context(), who)).SaveUnits("in", "12"))
	who, err = a.Who(t.Context(), 1, 1)
	require.NoError(t, err)
	d := atWork(a.For(t.Context(), who))

	before, err := d.Machine(heron)
	require.NoError(t, err)
	machine, err := d.MachineInput(heron)
	require.NoError(t, err)
	assert.Contains(t, machine.Hoops[0].DX, " in")
	_, err = d.SaveMachine(machine)
	require.NoError(t, err)
	after, err := d.Machine(heron)
	require.NoError(t, err)
	assert.Equal(t, before.Hoops, after.Hoops)

	hoop, err := d.HoopInput(after.Hoops[0].ID)
	require.NoError(t, err)
	_, err = d.SaveHoop(hoop)
	require.NoError(t, err)
	field, err := d.Hoop(hoop.ID)
	require.NoError(t, err)
	assert.Equal(t, before.Hoops[0].Field, field.Field)

	placed, err := d.Placing(lighthouse,
		designs.PlacingInput{MachineID: heron, HoopID: 3, Percent: 100, Asked: true, X: "-1/4", Y: "6 mm"})
	require.NoError(t, err)
	assert.InDelta(t, -6.4, placed.In.XMM, 1e-9)
	assert.InDelta(t, 6, placed.In.YMM, 1e-9)
	aligned, err := d.Align(buoy,
		designs.AlignInput{ClothA: [2]string{"-1", "0"}, ClothB: [2]string{"1", "0"}, DesignA: [2]string{"-20", "0"},
			DesignB: [2]string{"20.3 mm", "0"}})
	require.NoError(t, err)
	assert.InDelta(t, -25.4, aligned.ClothA.X, 0.05)
	_, err = d.Pieces(compass, designs.PiecesInput{Offset: "1"})
	assert.Contains(t, problem(t, err, "offset"), "0.00 in to 0.10 in")
}
