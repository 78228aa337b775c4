package app_test

import (
	"bytes"
	"encoding/csv"
	"slices"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/classload"
	"chalkstep/app/form"
	applive "chalkstep/app/live"
	"chalkstep/core/live"
	"chalkstep/store"
)

// atMinute is somebody at work at a minute of a class.
func atMinute(t *testing.T, d person, classID int64, minute float64) person {
	t.Helper()
	c, err := d.Workshop.Class(classID)
	require.NoError(t, err)
	base := d.Actor
	base.Now = c.StartsAt.Add(time.Duration(minute * float64(time.Minute)))
	return atWork(base)
}

// step is what a student is at.
func step(t *testing.T, page classload.RunPage, studentID int64) string {
	t.Helper()
	at, ok := page.Standing(studentID)
	require.True(t, ok)
	placed, ok := at.Step()
	require.True(t, ok)
	return placed.Operation
}

// A class is run by an assistant: started, who is here, what is done, a hand; each once,
// and the last taken back.
func TestRunningAClass(t *testing.T) {
	d := desks(t)[store.Assistant]
	const ana = 1
	at := func(minute float64) person { return atMinute(t, d, badges, minute) }
	assert.Error(t, at(-300).Happen(badges, applive.HappenInput{Kind: "started"}), "five hours before")
	require.NoError(t, at(0).Happen(badges, applive.HappenInput{Kind: "started"}))
	var problems form.Problems
	require.ErrorAs(t, at(1).Happen(badges, applive.HappenInput{Kind: "started"}), &problems)
	assert.Equal(t, "The class has begun already.", problems[""])
	require.NoError(t, at(2).Happen(badges, applive.HappenInput{Kind: "here", StudentID: ana}))
	page, err := at(3).Run(badges)
	require.NoError(t, err)
	require.True(t, page.Running())
	first := step(t, page, ana)
	require.NoError(t, at(8).Happen(badges, applive.HappenInput{Kind: "done", StudentID: ana, Step: first}))
	require.ErrorAs(t, at(8).Happen(badges, applive.HappenInput{Kind: "done", StudentID: ana, Step: first}), &problems,
		"pressed twice")
	require.NoError(t, at(9).Happen(badges,
		applive.HappenInput{Kind: "hand-up", StudentID: ana, Reason: "bobbin-out", Step: "sneaked in", Undoes: 1}))
	page, err = at(10).Run(badges)
	require.NoError(t, err)
	assert.NotEqual(t, first, step(t, page, ana))
	require.Len(t, page.Hands, 1)
	assert.Equal(t, live.Bobbin, page.Hands[0].Reason)
	assert.True(t, page.Left)
	assert.False(t, page.Forecast.Finish.Before(at(10).Now))
	require.ErrorAs(t, at(10).Happen(badges, applive.HappenInput{Kind: "undone", Undoes: 1}), &problems, "not the last")
	for range 2 { // the hand, and that she is done
		page, err = at(11).Run(badges)
		require.NoError(t, err)
		require.NoError(t, at(11).Happen(badges, applive.HappenInput{Kind: "undone", Undoes: page.Last.Seq}))
	}
	page, err = at(12).Run(badges)
	require.NoError(t, err)
	assert.Empty(t, page.Hands)
	assert.Equal(t, first, step(t, page, ana))
	require.ErrorAs(t, at(12).Happen(badges, applive.HappenInput{Kind: "sang", StudentID: ana}), &problems)
	require.ErrorAs(t, at(12).Happen(badges, applive.HappenInput{Kind: "here", StudentID: 99999}), &problems)
	assert.Error(t, at(12).Happen(99999, applive.HappenInput{Kind: "started"}))
}

// What was noted is summed up, and comes as CSV: a row for each step of each student.
func TestAClassIsSummedUp(t *testing.T) {
	d := desks(t)[store.Instructor]
	const ana = 1
	at := func(minute float64) person { return atMinute(t, d, badges, minute) }
	report, err := d.Wrap(badges)
	require.NoError(t, err)
	assert.False(t, report.Running())
	require.Len(t, report.Students, 8)
	assert.Equal(t, live.Missing, report.Students[0].Reached)
	require.NoError(t, at(0).Happen(badges, applive.HappenInput{Kind: "started"}))
	require.NoError(t, at(2).Happen(badges, applive.HappenInput{Kind: "here", StudentID: ana}))
	page, err := at(3).Run(badges)
	require.NoError(t, err)
	first := step(t, page, ana)
	talk := float64(page.Plan.Class.OpeningMinutes)
	require.NoError(t, at(talk+6).Happen(badges, applive.HappenInput{Kind: "done", StudentID: ana, Step: first}))
	data, err := d.WrapCSV(badges)
	require.NoError(t, err)
	rows, err := csv.NewReader(bytes.NewReader(data)).ReadAll()
	require.NoError(t, err)
	steps := 0
	for _, at := range page.Standings {
		steps += len(at.Steps)
	}
	require.Len(t, rows, steps+1)
	assert.Equal(t, []string{"student", "step", "machine", "planned_minutes", "real_minutes", "begun", "done", "skipped"},
		rows[0])
	assert.Equal(t, []string{"Ana Thorne", first, "6.0"}, []string{rows[1][0], rows[1][1], rows[1][4]})
	assert.Empty(t, rows[2][4])
	assert.Empty(t, rows[2][6])
}

// A class is repeated: the same people at the same machines, on the next such weekday,
// planned at once; what only that day had is not taken over.
func TestAClassIsRepeated(t *testing.T) {
	d := desks(t)[store.Instructor]
	was, err := d.Class(badges)
	require.NoError(t, err)
	in, err := d.Repeat(badges)
	require.NoError(t, err)
	assert.Zero(t, in.ID)
	assert.Equal(t, was.Class.StartsAt.AddDate(0, 0, 7).Format("2006-01-02"), in.Date)
	in.Date = was.Class.StartsAt.AddDate(0, 0, 21).Format("2006-01-02") // the next one is taken
	id, err := d.SaveClass(in)
	require.NoError(t, err)
	again, err := d.Class(id)
	require.NoError(t, err)
	assert.True(t, again.Planned())
	assert.Len(t, again.Class.Places, len(was.Class.Places))
	assert.Equal(t, was.Class.OpeningMinutes, again.Class.OpeningMinutes)
	later := d.Actor
	later.Now = was.Class.StartsAt.AddDate(0, 0, 100)
	old, err := atWork(later).Repeat(badges)
	require.NoError(t, err)
	day, err := time.Parse("2006-01-02", old.Date)
	require.NoError(t, err)
	assert.Equal(t, was.Class.StartsAt.Weekday(), day.Weekday())
	assert.True(t, day.After(later.Now) && day.Before(later.Now.AddDate(0, 0, 8)), old.Date)
}

// Many press at once that somebody is done: it counts once, and the log has no gap.
func TestPressedAtOnceCountsOnce(t *testing.T) {
	d := desks(t)[store.Instructor]
	const ana = 1
	at := atMinute(t, d, badges, 5)
	require.NoError(t, at.Happen(badges, applive.HappenInput{Kind: "started"}))
	require.NoError(t, at.Happen(badges, applive.HappenInput{Kind: "here", StudentID: ana}))
	page, err := at.Run(badges)
	require.NoError(t, err)
	first := step(t, page, ana)
	var group sync.WaitGroup
	done := make([]bool, 12)
	for i := range done {
		group.Go(func() {
			done[i] = at.Happen(badges, applive.HappenInput{Kind: "done", StudentID: ana, Step: first}) == nil
		})
	}
	group.Wait()
	counted := 0
	for _, ok := range done {
		if ok {
			counted++
		}
	}
	assert.Equal(t, 1, counted)
	events, err := d.Workshop.Events(badges)
	require.NoError(t, err)
	require.Len(t, events, 3)
	for i, e := range events {
		assert.EqualValues(t, i+1, e.Seq)
		assert.NotEmpty(t, e.By)
	}
}

// What happened is in the log for good: a class that began cannot be deleted.
func TestAClassThatBeganIsKept(t *testing.T) {
	d := desks(t)[store.Owner]
	at := atMinute(t, d, badges, 0)
	require.NoError(t, at.Happen(badges, applive.HappenInput{Kind: "started"}))
	var problems form.Problems
	require.ErrorAs(t, d.DeleteClass(badges), &problems)
	assert.Contains(t, problems[""], "what happened in it")
}

// All who are awaited came, but for who is said to be late: one press, and each can be
// taken back.
func TestAllAreHere(t *testing.T) {
	d := desks(t)[store.Instructor]
	at := func(minute float64) person { return atMinute(t, d, badges, minute) }
	assert.Error(t, at(0).Happen(badges, applive.HappenInput{Kind: string(live.AllHere)}), "before it began")
	require.NoError(t, at(0).Happen(badges, applive.HappenInput{Kind: "started"}))
	page, err := at(1).Run(badges)
	require.NoError(t, err)
	late := page.Standings[0].StudentID
	require.NoError(t, at(1).Happen(badges, applive.HappenInput{Kind: "late", StudentID: late, Minutes: "20"}))
	require.NoError(t, at(2).Happen(badges, applive.HappenInput{Kind: string(live.AllHere)}))
	assert.Contains(t, problem(t, at(2).Happen(badges, applive.HappenInput{Kind: string(live.AllHere)}), ""),
		"noted already")
	page, err = at(3).Run(badges)
	require.NoError(t, err)
	for _, s := range page.Standings {
		want := live.Present
		if s.StudentID == late {
			want = live.Awaited
		}
		assert.Equal(t, want, s.Presence, s.Name)
	}
	require.NoError(t, at(3).Happen(badges, applive.HappenInput{Kind: "undone", Undoes: page.Last.Seq}))
}

// A machine fails where somebody keeps it between loading and sewing, works again, and others
// are moved in the middle of their sewing: what is left is planned all along.
func TestARepairedMachineEndsNoPage(t *testing.T) {
	d := desks(t)[store.Instructor]
	moved := 0
	for minute := range 60 {
		at := d.after(time.Duration(minute) * time.Minute)
		page, err := at.Run(towels)
		require.NoError(t, err)
		for _, s := range page.Standings {
			_, ends := page.Forecast.Ends[s.StudentID]
			stuck := slices.ContainsFunc(page.Forecast.Stuck, func(one live.Stuck) bool { return one.StudentID == s.StudentID })
			missing := slices.ContainsFunc(page.Forecast.Missing, func(one live.Standing) bool {
				return one.StudentID == s.StudentID
			})
			require.True(t, ends || stuck || missing || s.Presence == live.Left, "minute %d: what of %s?", minute, s.Name)
		}
		_, err = at.Wrap(towels)
		require.NoError(t, err)
		switch minute % 6 {
		case 1:
			_ = at.Happen(towels, applive.HappenInput{Kind: "failed", MachineID: heron})
		case 3:
			_ = at.Happen(towels, applive.HappenInput{Kind: "mended", MachineID: heron})
		case 0, 4:
			for _, s := range page.Standings {
				for _, machine := range page.MayBeSeated(s) {
					if at.Happen(towels, applive.HappenInput{Kind: "seated", StudentID: s.StudentID, MachineID: machine}) == nil {
						moved++
						break
					}
				}
			}
		case 5:
			for _, s := range page.Standings {
				if step, more := s.Step(); more && s.Begun {
					_ = at.Happen(towels, applive.HappenInput{Kind: "done", StudentID: s.StudentID, Step: step.Operation})
				}
			}
		}
	}
	assert.Positive(t, moved)
}
