package app_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/actor"
	"chalkstep/app/bookings"
	appfleet "chalkstep/app/fleet"
	"chalkstep/app/keeping"
	"chalkstep/app/people"
	"chalkstep/app/planning"
	"chalkstep/core/classday"
	"chalkstep/core/skill"
	"chalkstep/store"
)

// What nothing refers to is deleted; what the past refers to leaves its list and
// can be put back; what is still needed stays.
func TestThingsAreTakenOffTheirLists(t *testing.T) {
	d := desks(t)[store.Owner]
	k := keeping.UseCases{Actor: d.Actor}
	for kind, use := range map[store.Listed]string{store.ListedMachine: "Towels that last on", store.ListedHoop: "Lantern",
		store.ListedStudent: "Towels that last on", store.ListedProject: "Towels that last on"} {
		id := map[store.Listed]int64{store.ListedMachine: heron, store.ListedHoop: 1, store.ListedStudent: 1,
			store.ListedProject: 3}[kind]
		_, err := k.Remove(kind, id)
		assert.Contains(t, problem(t, err, ""), use, kind)
	}
	require.NoError(t, d.Reserve(badges))
	page, err := d.Shelf(badges)
	require.NoError(t, err)
	felt := need(t, page, "felt sheet").Item.ID
	_, err = k.Remove(store.ListedItem, felt)
	assert.Contains(t, problem(t, err, ""), "Buoy badges, first felt")

	// Nobody has heard of Zed: she is gone for good. Wren has a sign-off.
	zed, err := d.SaveStudent(skill.Student{Name: "Zed"})
	require.NoError(t, err)
	kept, err := k.Remove(store.ListedStudent, zed)
	require.NoError(t, err)
	assert.False(t, kept)
	_, err = d.Student(zed)
	require.ErrorIs(t, err, actor.ErrNotFound)

	require.NoError(t, d.CallOff(totes))
	wren, err := d.Workshop.StudentNamed("Wren Achterberg-Holloway")
	require.NoError(t, err)
	require.NoError(t, d.Mark(people.MarkInput{StudentIDs: []int64{wren.ID}, Skill: skill.SafeStart,
		On: skill.SingleNeedle, Level: skill.Alone}))
	kept, err = k.Remove(store.ListedStudent, wren.ID)
	require.NoError(t, err)
	assert.True(t, kept, "what she has shown is kept")
	names, err := d.StudentNames("Wren")
	require.NoError(t, err)
	assert.Empty(t, names)
	class, err := d.Class(totes)
	require.NoError(t, err)
	assert.Len(t, class.Class.Places, 10, "the class of then still names her")

	twin, err := d.SaveStudent(skill.Student{Name: wren.Name})
	require.NoError(t, err, "the name is free")
	assert.Contains(t, problem(t, k.PutBack(store.ListedStudent, wren.ID), ""), "has its name now")
	_, err = k.Remove(store.ListedStudent, twin)
	require.NoError(t, err)
	list, err := k.Removed(1)
	require.NoError(t, err)
	require.Len(t, list.Removed, 1)
	assert.Equal(t, wren.Name, list.Removed[0].Name)
	require.NoError(t, k.PutBack(store.ListedStudent, wren.ID))
	names, err = d.StudentNames("Wren")
	require.NoError(t, err)
	assert.Len(t, names, 1)
	_, err = k.Remove("treasure", 1)
	require.ErrorIs(t, err, actor.ErrNotFound)
	_, err = keeping.UseCases{Actor: desks(t)[store.Assistant].Actor}.Remove(store.ListedHoop, 1)
	require.ErrorIs(t, err, actor.ErrMayNot)
}

// A machine that is out of order sits out: its bookings and classes say so, and
// nobody can book it then.
func TestAMachineIsOutOfOrder(t *testing.T) {
	d := desks(t)[store.Owner]
	before, err := d.Class(badges)
	require.NoError(t, err)
	from := before.Class.StartsAt.In(d.Who.Zone)
	out := appfleet.OutageInput{From: from.Add(time.Hour).Format("2006-01-02T15:04"), Reason: "the belt slips"}
	assert.Contains(t, problem(t, d.AddOutage(heron, appfleet.OutageInput{From: "soon"}), "outage-from"), "Choose a day")
	assert.Contains(t, problem(t,
		d.AddOutage(heron, appfleet.OutageInput{From: out.From, To: from.Format("2006-01-02T15:04"), Reason: "x"}),
		"outage-to"), "after the start")
	assert.Contains(t, problem(t, d.AddOutage(heron, appfleet.OutageInput{From: out.From}), "outage-reason"),
		"what is the matter")
	require.NoError(t, d.AddOutage(heron, out))
	page, err := d.Class(badges)
	require.NoError(t, err)
	require.Len(t, page.Loud(), 1)
	assert.Contains(t, page.Loud()[0].String(), "Heron is out of order from")
	for _, sit := range page.Sits(heron) {
		assert.LessOrEqual(t, sit.End, 60.0, "nobody is planned there from then on")
	}
	assert.Greater(t, page.FinishMinutes, before.FinishMinutes)
	week, err := d.Week(from.Format(time.DateOnly), 0)
	require.NoError(t, err)
	said := 0
	for _, b := range week.Bookings {
		if week.IsOut(b) {
			said++
			assert.Equal(t, "Heron", b.Machine.Name)
		}
	}
	assert.Equal(t, 2, said, "the class, and Iris in the afternoon")
	in := bookings.BookingInput{MachineID: heron, Student: "Ana Thorne", Date: from.AddDate(0, 0, 1).Format("2006-01-02"),
		From: "10:00", To: "11:00", Accompanied: true}
	assert.Contains(t, problem(t, d.Book(in), "machine"), "the belt slips. Choose another machine or time.")

	require.NoError(t, d.EndOutage(heron, cared(t, d, heron).Outages[0].ID))
	page, err = d.Class(badges)
	require.NoError(t, err)
	assert.Empty(t, page.Loud())
	assert.Equal(t, before.FinishMinutes, page.FinishMinutes)
	require.NoError(t, d.Book(in))
}

// Two classes at a time share the room: machines, hoops and instructors.
func TestTwoClassesAtATime(t *testing.T) {
	d := desks(t)[store.Owner]
	fewer, err := d.ClassInput(badges)
	require.NoError(t, err)
	fewer.Machines = []int64{heron, wharf}
	_, err = d.SaveClass(fewer)
	require.NoError(t, err)
	before, err := d.Class(badges)
	require.NoError(t, err)
	date := before.Class.StartsAt.In(d.Who.Zone).Format("2006-01-02")
	other := planning.ClassInput{Name: "Ropes", Project: "Rope-knot sampler", Date: date, From: "10:00", To: "13:00",
		Instructors: "2", Irons: "1", StudentIDs: []int64{12, 13}, Machines: []int64{kettle}}
	assert.Contains(t, problem(t, second(d.SaveClass(other)), "instructors"),
		"of 2 instructors, Buoy badges, first felt has 1 instructor from 10:00 to 13:00")
	other.Instructors = "1"
	preview, err := d.Preview(other)
	require.NoError(t, err)
	id, err := d.SaveClass(other)
	require.NoError(t, err)
	ropes, err := d.Class(id)
	require.NoError(t, err)
	require.True(t, ropes.Planned(), ropes.Why)
	assert.Equal(t, ropes.Problem, preview.Plan.Problem, "the form knew of the other class's hoops")
	page, err := d.Class(badges)
	require.NoError(t, err)
	// Of no kind of hoop do the two have more than there are.
	taken := map[int64]int{}
	for _, p := range []classday.Plan{page, ropes} {
		for hoopID, n := range p.HoopsTaken() {
			taken[hoopID] += n
		}
	}
	machines, err := d.Machines()
	require.NoError(t, err)
	for _, h := range machines.Hoops {
		assert.LessOrEqual(t, taken[h.ID], h.Count, h.Name)
	}
	assert.NotEmpty(t, ropes.Loud(), "what the other class has is said")

	// Both instructors teach: nobody can be accompanied then.
	in := bookings.BookingInput{MachineID: lantern, Student: "Tam Nguyen", Date: date, From: "11:00", To: "12:00",
		Accompanied: true}
	assert.Contains(t, problem(t, d.Book(in), "accompanied"), "No instructor is free then")
	in.From, in.To = "13:00", "14:00"
	require.NoError(t, d.Book(in))
}

// A machine that can sew nothing of what a class makes is not booked for it.
func TestMachinesOfNoUseAreNotBooked(t *testing.T) {
	d := desks(t)[store.Owner]
	page, err := d.Class(badges)
	require.NoError(t, err)
	assert.Contains(t, page.Class.Unbooked, int64(pigeon), "it cannot sew six badges in a hoop")
	date := page.Class.StartsAt.In(d.Who.Zone).Format("2006-01-02")
	require.NoError(t, d.Book(bookings.BookingInput{MachineID: pigeon, Student: "Tam Nguyen", Date: date, From: "10:00",
		To: "11:00", Accompanied: true}))
}

// A day far ahead, or of another century, is doubted before it is taken.
func TestDaysThatAreSlipsOfTheKey(t *testing.T) {
	d := desks(t)[store.Owner]
	in := bookings.BookingInput{MachineID: heron, Student: "Ana Thorne", Date: "2062-11-28", From: "10:00", To: "11:00",
		Accompanied: true}
	assert.Contains(t, problem(t, d.Book(in), "date"), "That is in 2062, more than two years ahead")
	in.Far = true
	assert.Contains(t, problem(t, d.Book(in), "override"), "28 days ahead")
	in.Override = "a jubilee"
	require.NoError(t, d.Book(in))
	in.Date = "1926-11-28"
	assert.Contains(t, problem(t, d.Book(in), "date"), "these years")
	week, err := d.Week("2062-11-28", 0)
	require.NoError(t, err)
	last := week.Bookings[len(week.Bookings)-1]
	assert.Equal(t, 2062, last.StartsAt.Year(), "it is listed, and can be cancelled")
	require.NoError(t, d.CancelBooking(last.ID))
}

// A class that is over reads as it did on its day, whatever has changed since.
func TestThePastStays(t *testing.T) {
	d := desks(t)[store.Owner]
	before, err := d.Class(badges)
	require.NoError(t, err)
	cost, err := d.Shelf(badges)
	require.NoError(t, err)

	later := func(days int) person {
		late := d.Actor
		late.Now = before.Class.EndsAt.AddDate(0, 0, days)
		return atWork(late)
	}
	for _, name := range []string{"Heron", "Kettle", "Wharf"} { // slower machines
		machines, err := d.Machines()
		require.NoError(t, err)
		for _, m := range machines.Machines {
			if m.Name == name {
				in, err := d.MachineInput(m.ID)
				require.NoError(t, err)
				in.TopSpeed = "300"
				_, err = later(1).SaveMachine(in)
				require.NoError(t, err)
			}
		}
	}
	for _, step := range skill.Usual { // Bo has learned a lot since
		require.NoError(t, later(1).Mark(people.MarkInput{StudentIDs: []int64{2}, Skill: step.Key, On: skill.SingleNeedle,
			Level: skill.Alone}))
	}
	page, err := d.StockItem(need(t, cost, "felt sheet").Item.ID)
	require.NoError(t, err)
	page.Typed.PackCost = "99"
	_, err = later(1).SaveStockItem(page.Typed)
	require.NoError(t, err)

	after, err := later(2).Class(badges)
	require.NoError(t, err)
	assert.Equal(t, before.Result, after.Result)
	assert.Equal(t, len(before.NotReady), len(after.NotReady))
	spent, err := later(2).Shelf(badges)
	require.NoError(t, err)
	assert.Equal(t, []float64{cost.Cents, cost.FeeCents}, []float64{spent.Cents, spent.FeeCents})

	now, err := d.Class(badges)
	require.NoError(t, err)
	assert.NotEqual(t, before.Result, now.Result, "while it is to come, it follows")
}
