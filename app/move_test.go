package app_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/actor"
	"chalkstep/app/planning"
	"chalkstep/app/projects"
	"chalkstep/core/classday"
	"chalkstep/core/pace"
	"chalkstep/core/schedule"
	"chalkstep/store"
)

// seat is where and when somebody sits down in the badges class.
func seat(t *testing.T, d person, studentID int64) (classday.Plan, schedule.Assignment) {
	t.Helper()
	plan, err := d.Class(badges)
	require.NoError(t, err)
	for _, s := range plan.StepsOf(classday.PersonID(studentID)) {
		if pace.StepKey(s.Operation).Is(pace.StepLoad) {
			return plan, s
		}
	}
	require.Fail(t, "nobody sits")
	return plan, schedule.Assignment{}
}

func versionOf(t *testing.T, plan classday.Plan, studentID int64) int {
	t.Helper()
	for _, p := range plan.Class.Places {
		if p.ID == studentID {
			return p.Version
		}
	}
	require.Fail(t, "not on the roster")
	return 0
}

// A sitting is pinned to a machine and a time, moved again, and let go of; what breaks
// a rule is refused and changes nothing.
func TestMovingASitting(t *testing.T) {
	all := desks(t)
	d := all[store.Owner]
	const ana = 1
	before, _ := seat(t, d, ana)
	move := func(machine int64, clock string) error {
		plan, _ := seat(t, d, ana)
		return d.Move(badges,
			planning.MoveInput{StudentID: ana, Hooping: 1, MachineID: machine, At: clock, Version: versionOf(t, plan, ana)})
	}
	require.NoError(t, move(kettle, "11:10"))
	plan, sits := seat(t, d, ana)
	assert.Equal(t, classday.StationID(kettle), sits.Machine)
	assert.InDelta(t, 70, sits.Start, 0.01)
	require.Len(t, plan.Class.Places[0].Pins, 1)
	require.NoError(t, move(heron, ""))
	_, sits = seat(t, d, ana)
	assert.Equal(t, classday.StationID(heron), sits.Machine)

	for clock, says := range map[string]string{"10:05": "not ready for it before", "12:50": "before the class is over"} {
		assert.Contains(t, problem(t, move(heron, clock), "move"), says)
	}
	for _, clock := range []string{"soon", "09:00", "13:30", "25:00"} {
		assert.Contains(t, problem(t, move(heron, clock), "at"), "Write a time of the class")
	}
	assert.Contains(t, problem(t, move(pigeon, "11:00"), "move"), "Pigeon cannot sew it: too tall")
	assert.Contains(t, problem(t, move(lantern, "11:00"), "move"), "not one of the class's")
	plan, sits = seat(t, d, ana)
	assert.Equal(t, classday.StationID(heron), sits.Machine, "what was refused changed nothing")

	stale := planning.MoveInput{StudentID: ana, Hooping: 1, MachineID: kettle, Version: versionOf(t, plan, ana) - 1}
	assert.Contains(t, problem(t, d.Move(badges, stale), ""), "Someone else changed this")
	require.ErrorIs(t, d.Move(badges, planning.MoveInput{StudentID: 77, Hooping: 1}), actor.ErrNotFound)
	require.ErrorIs(t, d.Move(999, planning.MoveInput{StudentID: ana, Hooping: 1}), actor.ErrNotFound)
	require.ErrorIs(t, all[store.Assistant].Move(badges, stale), actor.ErrMayNot)

	require.NoError(t, move(0, ""), "let go of")
	after, _ := seat(t, d, ana)
	assert.Equal(t, before.FinishMinutes, after.FinishMinutes, "as if nothing had been pinned")
	assert.Empty(t, after.Class.Places[0].Pins)
}

// A pin goes with what somebody makes: with another project it is gone, with another
// size or attendance it stays.
func TestAPinGoesWithTheProject(t *testing.T) {
	d := desks(t)[store.Owner]
	const ana = 1
	plan, _ := seat(t, d, ana)
	require.NoError(t, d.Move(badges,
		planning.MoveInput{StudentID: ana, Hooping: 1, MachineID: kettle, Version: versionOf(t, plan, ana)}))
	save := func(in planning.PlaceInput) classday.Plan {
		plan, err := d.Class(badges)
		require.NoError(t, err)
		in.Version = versionOf(t, plan, ana)
		require.NoError(t, d.SavePlace(badges, ana, in))
		plan, err = d.Class(badges)
		require.NoError(t, err)
		return plan
	}
	assert.Len(t, save(planning.PlaceInput{Attendance: string(classday.Late), LateMinutes: "15"}).Class.Places[0].Pins, 1)
	assert.Empty(t, save(planning.PlaceInput{Attendance: string(classday.Expected),
		Project: "Crab hand towel"}).Class.Places[0].Pins)
}

// What a class says of assistants, benches and a break is kept; what cannot be is
// refused beside its field.
func TestAClassWithABreak(t *testing.T) {
	d := desks(t)[store.Owner]
	edit := func(change func(*planning.ClassInput)) error {
		in, err := d.ClassInput(badges)
		require.NoError(t, err)
		change(&in)
		_, err = d.SaveClass(in)
		return err
	}
	require.NoError(t, edit(func(in *planning.ClassInput) {
		in.Assistants, in.Benches, in.BreakAt, in.BreakMinutes = "1", "6", "11:15", "15"
	}))
	in, err := d.ClassInput(badges)
	require.NoError(t, err)
	assert.Equal(t, []string{"1", "6", "11:15", "15"}, []string{in.Assistants, in.Benches, in.BreakAt, in.BreakMinutes})
	plan, err := d.Class(badges)
	require.NoError(t, err)
	for _, s := range plan.Result.Assignments {
		assert.True(t, s.End <= 75.001 || s.Start >= 89.999, "%s of %s in the break", s.Operation, s.Job)
	}
	for name, c := range map[string]struct{ at, minutes, field, says string }{
		"no length":          {"11:15", "", "break-minutes", "how long the break is"},
		"no time":            {"", "15", "break-at", "when the break begins"},
		"no time at all":     {"noon", "15", "break-at", "when the break begins"},
		"while all together": {"10:05", "15", "break-at", "between what is done together"},
		"after the class":    {"13:30", "15", "break-at", "between what is done together"},
		"over its end":       {"12:45", "30", "break-at", "between what is done together"},
		"half a minute":      {"11:15", "0.5", "break-minutes", "how long the break is"},
	} {
		err := edit(func(in *planning.ClassInput) { in.BreakAt, in.BreakMinutes = c.at, c.minutes })
		assert.Contains(t, problem(t, err, c.field), c.says, name)
	}
	assert.Contains(t, problem(t, edit(func(in *planning.ClassInput) { in.Assistants = "many" }), "assistants"), "0 to 10")
	assert.Contains(t, problem(t, edit(func(in *planning.ClassInput) { in.Benches = "-1" }), "benches"), "1 to 60")
	require.NoError(t, edit(func(in *planning.ClassInput) { in.BreakAt, in.BreakMinutes = "", "" }))
}

// Whoever opens the form of a class reads there what its page says.
func TestTheFormOfAClassSaysWhatItsPageSays(t *testing.T) {
	d := desks(t)[store.Owner]
	for _, id := range []int64{towels, badges, totes} {
		page, err := d.Class(id)
		require.NoError(t, err)
		in, err := d.ClassInput(id)
		require.NoError(t, err)
		preview, err := d.Preview(in)
		require.NoError(t, err)
		assert.Equal(t, page.Problem, preview.Plan.Problem, page.Class.Name)
		assert.Equal(t, page.Result, preview.Plan.Result, page.Class.Name)
	}

	// A class keeps to its project as it was planned with, until the newest is asked for.
	before, err := d.Class(totes)
	require.NoError(t, err)
	project, err := d.Project(toteProject)
	require.NoError(t, err)
	_, err = d.SaveProject(projects.ProjectInput{ID: toteProject, Version: project.Version, Name: project.Name,
		Blank: project.Blank.Name, Design: "Crab", Width: "380", Height: "420", Fabric: "canvas"})
	require.NoError(t, err)
	in, err := d.ClassInput(totes)
	require.NoError(t, err)
	preview, err := d.Preview(in)
	require.NoError(t, err)
	assert.Equal(t, before.Problem, preview.Plan.Problem)
	in.Newest = true
	preview, err = d.Preview(in)
	require.NoError(t, err)
	assert.NotEqual(t, before.Problem, preview.Plan.Problem)

	// Who helps for five hours of six does so here, too.
	in.From, in.To, in.Assistants, in.AssistantMinutes = "10:00", "16:00", "1", "300"
	preview, err = d.Preview(in)
	require.NoError(t, err)
	helps := slices.IndexFunc(preview.Plan.Problem.Resources, func(p schedule.Resource) bool {
		return p.ID == classday.Assistant
	})
	require.GreaterOrEqual(t, helps, 0)
	assert.EqualValues(t, 300, preview.Plan.Problem.Resources[helps].Unavailable[0].From)
}

// The totes are sewn at three of the four machines that are chosen; how the class would
// end with fewer and with more is said of those that can sew them, and none of it is later
// than with less.
func TestAPreviewSaysWhatAnotherMachineWouldDo(t *testing.T) {
	d := desks(t)[store.Owner]
	page, err := d.Class(totes)
	require.NoError(t, err)
	in, err := d.ClassInput(totes)
	require.NoError(t, err)
	require.Len(t, in.Machines, 4)
	preview, err := d.Preview(in)
	require.NoError(t, err)
	for _, others := range [][]planning.PreviewOther{preview.Others, preview.Instructors} {
		for i, o := range others {
			assert.Equal(t, i+1, o.Count)
			if i > 0 {
				assert.LessOrEqual(t, o.FinishMinutes, others[i-1].FinishMinutes)
			}
			if o.Now {
				assert.Equal(t, page.FinishMinutes, o.FinishMinutes)
			}
		}
	}
	require.Len(t, preview.Others, 4)
	assert.True(t, preview.Others[2].Now)
	assert.Equal(t, "Wharf", preview.Others[3].With)
	assert.Less(t, preview.Others[3].FinishMinutes, page.FinishMinutes)
	assert.True(t, preview.Instructors[0].Now)
}

// Nobody of the demo's classes has nothing to do for more than twenty minutes, where
// the class fits, and nobody changes machine without need.
func TestWaitsOfTheDemoClasses(t *testing.T) {
	d := desks(t)[store.Owner]
	list, err := d.Classes(1)
	require.NoError(t, err)
	planned := 0
	for _, line := range list.Classes {
		plan, err := d.Class(line.ID)
		require.NoError(t, err)
		if line.Over || !plan.Planned() {
			continue
		}
		planned++
		most := 20.0
		if !plan.Result.Fits { // then it is the end that matters first
			most = 30
		}
		assert.LessOrEqual(t, plan.LongestWait, most, "%s of %s", plan.Waiter, line.Name)
		for _, p := range plan.Problem.Jobs {
			stations := map[string]bool{}
			for _, s := range plan.StepsOf(p.ID) {
				if s.Machine != "" {
					stations[s.Machine] = true
				}
			}
			assert.Len(t, stations, 1, "%s of %s keeps the machine", p.ID, line.Name)
		}
	}
	assert.Equal(t, 3, planned)
}
