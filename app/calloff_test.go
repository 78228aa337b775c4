package app_test

import (
	"fmt"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/actor"
	"chalkstep/app/bookings"
	"chalkstep/app/people"
	"chalkstep/app/planning"
	"chalkstep/app/prep"
	appstock "chalkstep/app/stock"
	"chalkstep/app/wrapup"
	"chalkstep/core/classday"
	"chalkstep/core/skill"
	"chalkstep/core/stock"
	"chalkstep/store"
)

// reserved is how many things the shelf holds for a class.
func reserved(t *testing.T, d person, classID int64) int {
	t.Helper()
	shelf, err := d.Shelf(classID)
	require.NoError(t, err)
	n := 0
	for _, need := range shelf.Needs {
		if need.Reserved > 0 {
			n++
		}
	}
	return n
}

// booked are the machines a class has, as the week shows them.
func booked(t *testing.T, d person, name string, date time.Time) (machines []string) {
	t.Helper()
	week, err := d.Week(date.In(d.Who.Zone).Format("2006-01-02"), 0)
	require.NoError(t, err)
	for _, b := range week.Bookings {
		if b.Class != nil && b.Class.Name == name {
			machines = append(machines, b.Machine.Name)
		}
	}
	return machines
}

// A class that is called off frees its machines, students, hoops and what it had reserved,
// once the minute is over in which it can be taken back; saved again it takes them anew. One
// that the ledger does not name can be deleted.
func TestAClassIsCalledOff(t *testing.T) {
	d := desks(t)[store.Owner]
	require.NoError(t, d.Reserve(badges))
	assert.Contains(t, problem(t, d.DeleteClass(badges), ""), "Call it off instead")
	require.NoError(t, d.CallOff(badges))
	assert.Contains(t, problem(t, d.CallOff(badges), ""), "called off already")
	page, err := d.Class(badges)
	require.NoError(t, err)
	assert.Equal(t, "The class was called off.", page.Why.String())
	assert.Contains(t, problem(t, d.Reserve(badges), ""), "called off")
	date := page.Class.StartsAt.In(d.Who.Zone).Format("2006-01-02")
	booking := bookings.BookingInput{MachineID: heron, Student: "Ana Thorne", Date: date, From: "10:00", To: "11:00",
		Accompanied: true}
	assert.Error(t, d.after(59*time.Second).Book(booking), "its slots are held")
	assert.NotZero(t, reserved(t, d, badges))

	later := d.after(classday.HeldFor)
	require.NoError(t, later.Book(booking), "machine, student and instructor are free")
	assert.Zero(t, reserved(t, later, badges))
	again, err := later.ClassInput(badges)
	require.NoError(t, err)
	assert.Contains(t, moves(t, second(later.SaveClass(again))).Words, "Ana Thorne has Heron")
	bookings, err := later.Week(date, 0)
	require.NoError(t, err)
	for _, b := range bookings.Bookings {
		if b.Student != nil && b.Student.Name == "Ana Thorne" && b.Machine.ID == heron {
			require.NoError(t, later.CancelBooking(b.ID))
		}
	}
	_, err = later.SaveClass(again)
	require.NoError(t, err)
	page, err = later.Class(badges)
	require.NoError(t, err)
	assert.True(t, page.Planned())

	require.NoError(t, d.DeleteClass(totes))
	_, err = d.Class(totes)
	require.ErrorIs(t, err, actor.ErrNotFound)
}

// Within a minute, a class that was called off by mistake is as it was.
func TestCallingOffIsTakenBack(t *testing.T) {
	all := desks(t)
	d := all[store.Owner]
	require.NoError(t, d.Reserve(badges))
	before, err := d.Class(badges)
	require.NoError(t, err)
	had, things := booked(t, d, before.Class.Name, before.Class.StartsAt), reserved(t, d, badges)
	require.NotEmpty(t, had)
	require.NoError(t, d.CallOff(badges))
	_, err = all[store.Assistant].Reinstate(badges)
	require.ErrorIs(t, err, actor.ErrMayNot)
	later := d.after(50 * time.Second)
	taken, err := later.Reinstate(badges)
	require.NoError(t, err)
	assert.Empty(t, taken)
	after, err := later.Class(badges)
	require.NoError(t, err)
	assert.Equal(t, before.Result, after.Result, "the same plan")
	assert.Equal(t, had, booked(t, later, before.Class.Name, before.Class.StartsAt))
	assert.Equal(t, things, reserved(t, later, badges))
	assert.Contains(t, problem(t, second(later.Reinstate(badges)), ""), "not called off")
	require.NoError(t, later.Workshop.FreeCalledOff(later.Now.Add(time.Hour)))
	assert.Equal(t, had, booked(t, later, before.Class.Name, before.Class.StartsAt), "nothing is freed behind its back")
}

// Later, it takes what is still free, and what is not is named: a machine, a student, a thing
// on the shelf.
func TestCallingOffIsTakenBackLate(t *testing.T) {
	d := desks(t)[store.Owner]
	require.NoError(t, d.Reserve(badges))
	before, err := d.Class(badges)
	require.NoError(t, err)
	had := booked(t, d, before.Class.Name, before.Class.StartsAt)
	require.NoError(t, d.CallOff(badges))
	d = d.after(5 * time.Minute)
	date := before.Class.StartsAt.In(d.Who.Zone).Format("2006-01-02")
	book := func(machine int64, student string) {
		require.NoError(t, d.Book(bookings.BookingInput{MachineID: machine, Student: student, Date: date, From: "10:00",
			To: "11:00", Accompanied: true}))
	}
	book(heron, "Ana Thorne") // of the class, at a machine of the class
	page, err := d.Shelf(badges)
	require.NoError(t, err)
	felt := need(t, page, "felt sheet").Item
	require.NoError(t, d.MoveStock(felt.ID,
		appstock.MoveInput{Kind: stock.Used, Quantity: fmt.Sprint(felt.Available() - 2)}))

	taken, err := d.Reinstate(badges)
	require.NoError(t, err)
	said := strings.Join(d.Printer().Lines(taken), "\n")
	assert.Contains(t, said, "Heron is booked 10:00–11:00 for Ana Thorne.")
	assert.Contains(t, said, "Ana Thorne has Heron 10:00–11:00. They are down as absent.")
	assert.Regexp(t, `Of Felt sheets .* it had 11 reserved, and 2 are free\.`, said)
	after, err := d.Class(badges)
	require.NoError(t, err)
	assert.True(t, after.Planned(), after.Why.String())
	assert.NotContains(t, booked(t, d, before.Class.Name, before.Class.StartsAt), "Heron")
	assert.Len(t, booked(t, d, before.Class.Name, before.Class.StartsAt), len(had)-1)
	for _, p := range after.Class.Places {
		assert.Equal(t, p.Name == "Ana Thorne", p.Attendance == classday.Absent, p.Name)
	}
}

// Where every machine is taken, or nobody is free to teach, it stays called off, and that is
// said.
func TestAClassWithoutMachinesStaysOff(t *testing.T) {
	d := desks(t)[store.Owner]
	c, err := d.Class(badges)
	require.NoError(t, err)
	require.NoError(t, d.CallOff(badges))
	d = d.after(classday.HeldFor)
	for _, m := range c.Class.Machines {
		require.NoError(t, d.Book(bookings.BookingInput{MachineID: m.ID, Care: true, Note: "service",
			Date: c.Class.StartsAt.In(d.Who.Zone).Format("2006-01-02"), From: "10:00", To: "11:00"}))
	}
	assert.Contains(t, problem(t, second(d.Reinstate(badges)), ""), "it has no machine")
	c, err = d.Class(badges)
	require.NoError(t, err)
	assert.True(t, c.Class.Off())
}

// A class that has begun is not called off, and one that is over is a record: notes, marks and
// outcomes are added, and nothing of it changes.
func TestAClassThatIsOverIsARecord(t *testing.T) {
	d := desks(t)[store.Owner]
	assert.Contains(t, problem(t, d.CallOff(towels), ""), "has begun")
	_, err := d.Workshop.Class(towels)
	require.NoError(t, err)
	assert.ErrorIs(t, d.Workshop.CallOff(towels, d.Now, d.Who.AccountID), store.ErrRefused, "nor by the database")

	before, err := d.Wrap(ropes)
	require.NoError(t, err)
	class := before.Plan.Class
	in, err := d.ClassInput(ropes)
	require.NoError(t, err)
	require.True(t, class.Over(d.Now))
	place := class.Places[0]
	_, err = d.ClassToChange(ropes)
	assert.Contains(t, problem(t, err, ""), "is over")
	for what, err := range map[string]error{
		"called off": d.CallOff(ropes), "changed": second(d.SaveClass(in)), "reinstated": second(d.Reinstate(ropes)),
		"a place": d.SavePlace(ropes, place.ID, planning.PlaceInput{Attendance: "absent", Version: place.Version}),
		"a kit":   d.SaveKit(ropes, prep.KitInput{StudentID: place.ID, State: "cut", Version: place.Version}),
		"a sitting": d.planningUse.Move(ropes,
			planning.MoveInput{StudentID: place.ID, Hooping: 1, MachineID: heron, Version: place.Version}),
		"its levers": d.Adopt(ropes, class.Version, []classday.LeverKey{"instructor"}), "its shelf": d.Reserve(ropes),
	} {
		assert.ErrorContains(t, err, "", what)
		assert.Regexp(t, "is over|nothing more to reserve|done by hand", err.Error(), what)
	}
	assert.Error(t, d.Workshop.CallOff(ropes, d.Now, d.Who.AccountID), "nor by the database")
	assert.Contains(t, problem(t, d.DeleteClass(ropes), ""), "cannot be deleted")
	after, err := d.Wrap(ropes)
	require.NoError(t, err)
	assert.Equal(t, before.Plan.Result, after.Plan.Result)
	assert.Equal(t, before.Plan.Class.Places, after.Plan.Class.Places)
	assert.Equal(t, before.Students, after.Students)

	require.NoError(t, d.Save(ropes, wrapup.SaveInput{Outcomes: []wrapup.OutcomeInput{{StudentID: place.ID,
		Note: "came back for her hat", Version: before.Said[place.ID].Version}}}))
	require.NoError(t, d.Mark(people.MarkInput{StudentIDs: []int64{place.ID}, Skill: skill.SafeStart,
		On: skill.SingleNeedle, Level: skill.Alone}))
}

// Called off and taken back by many at once, a class is one or the other, with all of its
// machines or none.
func TestCallingOffAtOnce(t *testing.T) {
	d := desks(t)[store.Owner]
	c, err := d.Class(badges)
	require.NoError(t, err)
	had := booked(t, d, c.Class.Name, c.Class.StartsAt)
	for range 5 {
		var wait sync.WaitGroup
		for n := range 8 {
			wait.Go(func() {
				later := d.after(time.Duration(n%2) * classday.HeldFor)
				if n%4 < 2 {
					_ = later.CallOff(badges) // or somebody has
				} else {
					_, _ = later.Reinstate(badges)
				}
			})
		}
		wait.Wait()
		now, err := d.Workshop.Class(badges)
		require.NoError(t, err)
		has := booked(t, d, c.Class.Name, c.Class.StartsAt)
		if now.FreedAt != nil {
			assert.Empty(t, has)
		} else {
			assert.ElementsMatch(t, had, has, fmt.Sprint(now.OffAt))
		}
	}
}
