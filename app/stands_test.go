package app_test

import (
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/bookings"
	applive "chalkstep/app/live"
	"chalkstep/app/people"
	"chalkstep/app/planning"
	"chalkstep/core/classday"
	"chalkstep/core/live"
	"chalkstep/core/schedule"
	"chalkstep/core/skill"
	"chalkstep/store"
)

// seats of a class: who is planned where, in which order.
func seats(plan classday.Plan) (all []string) {
	for _, m := range plan.Class.Machines {
		for _, sit := range plan.Sits(m.ID) {
			all = append(all, m.Name+": "+sit.Place.Name)
		}
	}
	return all
}

// The plan of a class stands once it has begun: whatever the workshop learns or changes since, who sits
// where and in which order is as it was planned, early or late.
func TestThePlanStands(t *testing.T) {
	for name, minute := range map[string]float64{"early": -20, "in time": 0, "late": 12} {
		t.Run(name, func(t *testing.T) {
			d := desks(t)[store.Instructor]
			at := func(minute float64) person { return atMinute(t, d, badges, minute) }
			before, err := d.Class(badges)
			require.NoError(t, err)
			require.NoError(t, at(minute).Happen(badges, applive.HappenInput{Kind: "started"}))
			require.NoError(t, at(minute).Happen(badges, applive.HappenInput{Kind: "all-here"}))
			require.NoError(t, d.Mark(people.MarkInput{StudentIDs: []int64{before.Class.Places[0].ID}, Skill: skill.Threading,
				On: skill.SingleNeedle, Level: skill.Alone, Anyway: true}))
			after, err := at(minute + 1).Class(badges)
			require.NoError(t, err)
			assert.Equal(t, before.Result, after.Result)
			assert.Equal(t, seats(before), seats(after))
			page, err := at(minute + 1).Run(badges)
			require.NoError(t, err)
			for _, m := range before.Class.Machines {
				var planned, told []string
				for _, sit := range before.Sits(m.ID) {
					planned = append(planned, sit.Place.Name)
				}
				for _, sitting := range page.Forecast.Sittings(page.State, classday.StationID(m.ID)) {
					told = append(told, sitting.Name)
				}
				assert.Equal(t, planned, told, "in their order at %s", m.Name)
			}
			shift := time.Duration(minute * float64(time.Minute))
			assert.WithinDuration(t, before.Finish().Add(shift), page.Forecast.Finish, 2*time.Minute,
				"as planned, from when it began")
			assert.Empty(t, page.Offers)
		})
	}
}

// A class that has begun is not planned anew: what would need that is refused, and says where it is
// noted; its name can be changed.
func TestABegunClassIsNotPlannedAnew(t *testing.T) {
	d := desks(t)[store.Instructor]
	at := func(minute float64) person { return atMinute(t, d, badges, minute) }
	require.NoError(t, at(0).Happen(badges, applive.HappenInput{Kind: "started"}))
	in, err := at(1).ClassInput(badges)
	require.NoError(t, err)
	longer := in
	longer.Instructors = "3"
	class, err := d.Class(badges)
	require.NoError(t, err)
	place := class.Class.Places[0]
	fewer := in
	fewer.StudentIDs = in.StudentIDs[1:]
	for what, err := range map[string]error{
		"more hands": second(at(1).SaveClass(longer)), "fewer students": second(at(1).SaveClass(fewer)),
		"a lever": at(1).Adopt(badges, in.Version, []classday.LeverKey{"instructor"}),
		"a sitting": at(1).planningUse.Move(badges,
			planning.MoveInput{StudentID: place.ID, Hooping: 1, MachineID: heron, Version: place.Version}),
		"another project": at(1).SavePlace(badges, place.ID,
			planning.PlaceInput{Attendance: "expected", Project: "Crab hand towel", Version: place.Version}),
	} {
		assert.ErrorContains(t, err, "its plan stands", what)
	}
	in.Name = "Badges on a Saturday"
	_, err = at(1).SaveClass(in)
	require.NoError(t, err)
	after, err := at(1).Class(badges)
	require.NoError(t, err)
	assert.Equal(t, "Badges on a Saturday", after.Class.Name)
	assert.Equal(t, class.Result, after.Result)
}

// Who is marked absent or late on the roster of a class that has begun is so on its board, and everybody
// else stays where they are; who is added joins, and nobody moves for it.
func TestTheRosterOfABegunClass(t *testing.T) {
	d := desks(t)[store.Instructor]
	at := func(minute float64) person { return atMinute(t, d, badges, minute) }
	require.NoError(t, at(0).Happen(badges, applive.HappenInput{Kind: "started"}))
	page, err := at(1).Run(badges)
	require.NoError(t, err)
	home := map[int64]int64{}
	for _, s := range page.Standings {
		home[s.StudentID], _ = page.MachineOf(s.StudentID)
	}
	gone, late := page.Standings[0].StudentID, page.Standings[1].StudentID
	place := func(id int64) planning.PlaceInput {
		c, err := d.Workshop.Class(badges)
		require.NoError(t, err)
		i := slices.IndexFunc(c.Places, func(p classday.Place) bool { return p.ID == id })
		return planning.PlaceInput{Version: c.Places[i].Version}
	}
	in := place(gone)
	in.Attendance = "absent"
	require.NoError(t, at(2).SavePlace(badges, gone, in))
	in = place(late)
	in.Attendance, in.LateMinutes = "late", "25"
	require.NoError(t, at(2).SavePlace(badges, late, in))
	page, err = at(3).Run(badges)
	require.NoError(t, err)
	s, _ := page.Standing(gone)
	assert.Equal(t, live.Left, s.Presence)
	s, _ = page.Standing(late)
	assert.Equal(t, page.Plan.Class.StartsAt.Add(25*time.Minute), s.Expected)
	roster, err := at(3).Roster(badges)
	require.NoError(t, err)
	for _, p := range roster.Class.Places {
		assert.Equal(t, map[int64]classday.Attendance{gone: classday.Absent, late: classday.Late}[p.ID] == "",
			p.Attendance == classday.Expected, p.Name)
	}

	form, err := at(3).ClassInput(badges)
	require.NoError(t, err)
	joins := somebodyElse(t, d, form.StudentIDs)
	form.StudentIDs = append(form.StudentIDs, joins.ID)
	_, err = at(3).SaveClass(form)
	require.NoError(t, err)
	page, err = at(4).Run(badges)
	require.NoError(t, err)
	s, there := page.Standing(joins.ID)
	require.True(t, there)
	assert.Equal(t, live.Present, s.Presence)
	assert.Contains(t, page.Forecast.Ends, joins.ID)
	for id, machine := range home {
		if id == gone {
			continue
		}
		now, _ := page.MachineOf(id)
		assert.Equal(t, machine, now, "nobody is moved")
	}
	at4, err := at(4).Class(badges)
	require.NoError(t, err)
	assert.False(t, slices.ContainsFunc(at4.Result.Assignments, func(a schedule.Assignment) bool {
		return a.Job == classday.PersonID(joins.ID)
	}))
}

// A small change of the roster before a class leaves everybody else where and when they sit: the kits that
// are packed stay right.
func TestASmallChangeOfTheRosterMovesNobodyElse(t *testing.T) {
	d := desks(t)[store.Instructor]
	where := func() map[string]string {
		plan, err := d.Class(badges)
		require.NoError(t, err)
		all := map[string]string{}
		for _, p := range plan.Class.Places {
			for _, a := range plan.StepsOf(classday.PersonID(p.ID)) {
				if a.Machine != "" || len(a.Took) > 0 {
					all[p.Name+" "+a.Operation] = a.Machine + " " + strings.Join(a.Took, ",")
				}
			}
		}
		return all
	}
	before := where()
	class, err := d.Class(badges)
	require.NoError(t, err)
	for _, absent := range class.Class.Places {
		require.NoError(t, d.SavePlace(badges, absent.ID, planning.PlaceInput{Attendance: "absent", Version: absent.Version}))
		for what, at := range where() {
			assert.Equal(t, before[what], at, "%s, without %s", what, absent.Name)
		}
		require.NoError(t, d.SavePlace(badges, absent.ID,
			planning.PlaceInput{Attendance: "expected", Version: absent.Version + 1}))
		assert.Equal(t, before, where(), "with %s again", absent.Name)
	}
	in, err := d.ClassInput(badges)
	require.NoError(t, err)
	joins := somebodyElse(t, d, in.StudentIDs)
	in.StudentIDs = append(in.StudentIDs, joins.ID)
	_, err = d.SaveClass(in)
	require.NoError(t, err)
	after := where()
	for what, at := range before {
		assert.Equal(t, at, after[what], "%s, with %s", what, joins.Name)
	}
	plan, err := d.Class(badges)
	require.NoError(t, err)
	assert.NotEmpty(t, plan.StepsOf(classday.PersonID(joins.ID)))
}

// A class that is ended frees its machines and people at once, and has them again when that is taken back,
// unless somebody else has them meanwhile.
func TestAClassThatEndedFreesWhatItHas(t *testing.T) {
	d := desks(t)[store.Instructor]
	at := func(minute float64) person { return atMinute(t, d, badges, minute) }
	require.NoError(t, at(0).Happen(badges, applive.HappenInput{Kind: "started"}))
	require.NoError(t, at(0).Happen(badges, applive.HappenInput{Kind: "all-here"}))
	class, err := d.Class(badges)
	require.NoError(t, err)
	machine, day := class.Class.Machines[0].ID, class.Class.StartsAt.In(d.Who.Zone)
	in := bookings.BookingInput{MachineID: machine, Student: class.Class.Places[0].Name, Accompanied: true,
		Date: day.Format("2006-01-02"), From: day.Add(90 * time.Minute).Format("15:04"),
		To: day.Add(2 * time.Hour).Format("15:04")}
	assert.Error(t, at(61).Book(in), "the class has both")
	require.NoError(t, at(60).Happen(badges, applive.HappenInput{Kind: "ended"}))
	page, err := at(61).Run(badges)
	require.NoError(t, err)
	ended := page.Last.Seq
	assert.ErrorContains(t, at(61).Happen(badges, applive.HappenInput{Kind: "here", StudentID: class.Class.Places[0].ID}),
		"has ended")
	require.NoError(t, at(61).Happen(badges, applive.HappenInput{Kind: "undone", Undoes: ended}))
	assert.Error(t, at(62).Book(in), "it goes on, and has both")
	require.NoError(t, at(63).Happen(badges, applive.HappenInput{Kind: "ended"}))
	require.NoError(t, at(64).Book(in), "they are free")
	page, err = at(65).Run(badges)
	require.NoError(t, err)
	undo := applive.HappenInput{Kind: "undone", Undoes: page.Last.Seq}
	assert.ErrorContains(t, at(65).Happen(badges, undo), "stays ended")
}

// When all are done the class is over by itself, with its tidying up: its machines are free from then on, and
// not while somebody comes back to it.
func TestAClassWhoseStudentsAreAllDoneFreesWhatItHas(t *testing.T) {
	d := desks(t)[store.Instructor]
	at := func(minute float64) person { return atMinute(t, d, badges, minute) }
	require.NoError(t, at(0).Happen(badges, applive.HappenInput{Kind: "started"}))
	class, err := d.Class(badges)
	require.NoError(t, err)
	last := class.Class.Places[len(class.Class.Places)-1]
	for _, p := range class.Class.Places {
		kind := "gone"
		if p.ID == last.ID {
			kind = "here"
		}
		require.NoError(t, at(1).Happen(badges, applive.HappenInput{Kind: kind, StudentID: p.ID}))
	}
	done := func(minute float64) {
		for {
			page, err := at(minute).Run(badges)
			require.NoError(t, err)
			standing, _ := page.Standing(last.ID)
			step, more := standing.Step()
			if !more {
				return
			}
			require.NoError(t, at(minute).Happen(badges,
				applive.HappenInput{Kind: "done", StudentID: last.ID, Step: step.Operation}))
		}
	}
	done(60)
	machine, day := class.Class.Machines[0].ID, class.Class.StartsAt.In(d.Who.Zone)
	over := 60 + class.Class.ClosingMinutes
	page, err := at(float64(over)).Run(badges)
	require.NoError(t, err)
	_, ended := page.Ended()
	assert.True(t, ended)
	back := class.Class.Places[0]
	require.NoError(t, at(61).Happen(badges, applive.HappenInput{Kind: "here", StudentID: back.ID}))
	in := bookings.BookingInput{MachineID: machine, Student: last.Name, Accompanied: true, Date: day.Format("2006-01-02"),
		From: day.Add(100 * time.Minute).Format("15:04"), To: day.Add(130 * time.Minute).Format("15:04")}
	assert.Error(t, at(62).Book(in), "somebody came back")
	require.NoError(t, at(63).Happen(badges, applive.HappenInput{Kind: "gone", StudentID: back.ID}))
	require.NoError(t, at(80).Book(in), "it is over")
	assert.ErrorContains(t, at(81).Happen(badges, applive.HappenInput{Kind: "here", StudentID: back.ID}), "stays ended")
}

// somebodyElse is a student who is none of some.
func somebodyElse(t *testing.T, d person, ids []int64) skill.Student {
	t.Helper()
	students, _, err := d.Workshop.Students("", store.Rows{Limit: 40})
	require.NoError(t, err)
	i := slices.IndexFunc(students, func(s skill.Student) bool { return !slices.Contains(ids, s.ID) })
	require.GreaterOrEqual(t, i, 0)
	return students[i]
}
