package app_test

import (
	"bytes"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	applive "chalkstep/app/live"
	"chalkstep/app/wrapup"
	"chalkstep/core/fleet"
	"chalkstep/core/live"
	"chalkstep/core/photo"
	"chalkstep/core/skill"
	"chalkstep/store"
)

// Whoever has something to finish is offered times after the class. Booking one leaves them a message.
func TestUnfinishedWorkIsBooked(t *testing.T) {
	d := desks(t)[store.Instructor]
	w, err := d.Wrap(towels)
	require.NoError(t, err)
	require.Len(t, w.Students, 4)
	noor := w.Students[3]
	require.Equal(t, live.ToFinish, noor.Reached)
	offers := w.Makeups[noor.StudentID]
	require.Len(t, offers, 3)
	for _, m := range offers {
		assert.True(t, m.StartsAt.After(w.Plan.Class.EndsAt))
		assert.GreaterOrEqual(t, m.EndsAt.Sub(m.StartsAt), 30*time.Minute)
	}
	assert.Error(t, d.BookMakeup(towels, noor.StudentID, offers[0].StartsAt.Add(time.Minute)), "no such time")
	assert.ErrorIs(t, desks(t)[store.Assistant].BookMakeup(towels, noor.StudentID, offers[0].StartsAt), actor.ErrMayNot)
	require.NoError(t, d.BookMakeup(towels, noor.StudentID, offers[0].StartsAt))
	after, err := d.Wrap(towels)
	require.NoError(t, err)
	assert.Empty(t, after.Makeups[noor.StudentID], "she has one")
	require.Len(t, after.Booked[noor.StudentID], 1)
	assert.Equal(t, offers[0].StartsAt.UTC(), after.Booked[noor.StudentID][0].StartsAt.UTC())
	assert.Equal(t, "To finish: Towels that last", after.Booked[noor.StudentID][0].Note)
	told, _, err := d.Workshop.Messages(noor.StudentID, store.Rows{Limit: 5})
	require.NoError(t, err)
	require.NotEmpty(t, told)
	assert.Equal(t, fleet.ToFinish, told[0].Kind)
	assert.Error(t, d.BookMakeup(towels, noor.StudentID, offers[0].StartsAt), "once")
	for _, m := range after.Makeups[w.Students[0].StudentID] {
		if m.StartsAt.Equal(offers[0].StartsAt) {
			assert.NotEqual(t, offers[0].Machine.ID, m.Machine.ID, "one machine, one student")
		}
	}
}

// No time to finish is offered that could not be booked: on a day on which the house is
// closed, or shorter than a booking may be.
func TestUnfinishedWorkKeepsTheRulesOfBooking(t *testing.T) {
	d := desks(t)[store.Owner]
	offers := func() []wrapup.Makeup {
		w, err := d.Wrap(towels)
		require.NoError(t, err)
		return w.Makeups[w.Students[3].StudentID]
	}
	before := offers()
	require.NotEmpty(t, before)
	in, err := d.BookingRules()
	require.NoError(t, err)
	in.Closed = before[0].StartsAt.In(d.Who.Zone).Format(time.DateOnly) + " counting hoops"
	in.Figures["least"] = "75"
	require.NoError(t, d.SaveBookingRules(in))
	after := offers()
	require.NotEmpty(t, after)
	for _, m := range after {
		assert.NotEqual(t, before[0].StartsAt, m.StartsAt, "the house is closed")
		assert.GreaterOrEqual(t, m.EndsAt.Sub(m.StartsAt), 75*time.Minute)
	}
	in, err = d.BookingRules()
	require.NoError(t, err)
	for day := range in.From {
		in.From[day], in.To[day] = "", ""
	}
	require.NoError(t, d.SaveBookingRules(in))
	assert.Empty(t, offers(), "it is closed every day")
}

// Somebody has to stay with whoever is not cleared, so they are offered no time at which all who
// could are with others.
func TestUnfinishedWorkIsAccompanied(t *testing.T) {
	d := desks(t)[store.Owner]
	w, err := d.Wrap(towels)
	require.NoError(t, err)
	const kit, dee, wren = 2, 4, 14
	id := w.Students[kit].StudentID
	require.NoError(t, d.Save(towels, wrapup.SaveInput{Outcomes: []wrapup.OutcomeInput{{StudentID: id,
		Reached: string(live.ToFinish)}}}))
	offers := func() []wrapup.Makeup {
		w, err := d.Wrap(towels)
		require.NoError(t, err)
		require.NotEmpty(t, w.Makeups[id])
		return w.Makeups[id]
	}
	first := offers()[0]
	require.True(t, first.Accompanied)
	for student, machine := range map[int64]int64{dee: lantern, wren: pigeon} {
		_, err := d.Workshop.Book(fleet.Booking{Machine: fleet.Named{ID: machine}, Student: &fleet.Named{ID: student},
			StartsAt: first.StartsAt, EndsAt: first.EndsAt, Accompanied: true}, d.Who.AccountID)
		require.NoError(t, err)
	}
	assert.NotEqual(t, first.StartsAt, offers()[0].StartsAt, "the owner and the instructor are taken")
}

// What was seen is marked in one go with the outcomes: those who did the step, once, and nobody else, at the
// level that what happened speaks for or that the instructor says.
func TestOneSaveWrapsAClassUp(t *testing.T) {
	d := desks(t)[store.Assistant]
	w, err := d.Wrap(towels)
	require.NoError(t, err)
	require.NotEmpty(t, w.Suggested)
	s := w.Suggested[0]
	assert.Equal(t, skill.Helped, s.Level, "with the instructor")
	mark := wrapup.MarkInput{StudentID: s.StudentID, Skill: s.Key, On: s.On, Level: skill.Alone}
	save := func(m wrapup.MarkInput) error {
		return d.Save(towels, wrapup.SaveInput{Marks: []wrapup.MarkInput{m},
			Outcomes: []wrapup.OutcomeInput{{StudentID: s.StudentID, Note: "hoops well"}}})
	}
	for name, change := range map[string]func(*wrapup.MarkInput){
		"somebody who did not do it":   func(m *wrapup.MarkInput) { m.StudentID = 99 },
		"a step nobody did":            func(m *wrapup.MarkInput) { m.Skill = skill.Joined },
		"a level nobody sees in class": func(m *wrapup.MarkInput) { m.Level = skill.Teaches },
		"no level":                     func(m *wrapup.MarkInput) { m.Level = "" },
	} {
		bad := mark
		change(&bad)
		assert.Error(t, save(bad), name)
	}
	after, err := d.Wrap(towels)
	require.NoError(t, err)
	assert.Empty(t, after.Said, "what is refused leaves nothing behind")
	require.NoError(t, save(mark))
	after, err = d.Wrap(towels)
	require.NoError(t, err)
	assert.Equal(t, "hoops well", after.Said[s.StudentID].Note)
	require.Len(t, after.Marked, 1)
	assert.Equal(t, skill.Alone, after.Marked[0].Level)
	assert.Len(t, after.Suggested, len(w.Suggested)-1)
	assert.Error(t, save(mark), "once")
}

// A note, a photo and an outcome are kept for each; two who write at once are told.
func TestWhatIsSaidOfAStudent(t *testing.T) {
	d := desks(t)[store.Assistant]
	const ana = 1
	save := func(in wrapup.OutcomeInput) error {
		return d.Save(towels, wrapup.SaveInput{Outcomes: []wrapup.OutcomeInput{in}})
	}
	in := wrapup.OutcomeInput{StudentID: ana, Note: " hoops well ", KitKept: true}
	require.NoError(t, save(in))
	require.NoError(t, d.SaveOutcomePhoto(towels, ana, aPhoto(t)))
	w, err := d.Wrap(towels)
	require.NoError(t, err)
	assert.Equal(t, live.Said{StudentID: ana, Note: "hoops well", KitKept: true, HasPhoto: true, Version: 1}, w.Said[ana])
	p, err := d.OutcomePhoto(towels, ana)
	require.NoError(t, err)
	assert.NotEmpty(t, p.Data)
	assert.LessOrEqual(t, len(p.Data), photo.MostBytes)
	in.Note = "something else"
	assert.Error(t, save(in), "somebody wrote meanwhile")
	in.Version = -1
	assert.Error(t, save(in), "no page was ever read so")
	in.Version, in.Reached = 1, string(live.Finished)
	require.NoError(t, save(in))
	w, err = d.Wrap(towels)
	require.NoError(t, err)
	assert.True(t, w.Said[ana].HasPhoto, "the photo stays")
	assert.Equal(t, live.Finished, w.Students[0].Reached)
	for name, bad := range map[string]wrapup.OutcomeInput{
		"no such outcome": {StudentID: ana, Version: 2, Reached: "famous"},
		"a long note":     {StudentID: ana, Version: 2, Note: string(bytes.Repeat([]byte("a"), 501))},
		"nobody":          {StudentID: 99},
	} {
		assert.Error(t, save(bad), name)
	}
	assert.Error(t, d.SaveOutcomePhoto(towels, ana, []byte("not a picture")))
	assert.Error(t, d.SaveOutcomePhoto(towels, ana, nil), "none is chosen")
	assert.Error(t, d.SaveOutcomePhoto(towels, 99, aPhoto(t)), "nobody")
	require.NoError(t, d.SaveOutcomePhoto(towels, w.Students[3].StudentID, aPhoto(t)), "before anything is said")
	require.NoError(t, save(wrapup.OutcomeInput{StudentID: w.Students[3].StudentID, Note: "later"}))
	pdf, err := d.WrapPDF(t.Context(), towels, "A4")
	require.NoError(t, err)
	assert.True(t, bytes.HasPrefix(pdf, []byte("%PDF-")))
}

// A class that nobody ran here is wrapped up by hand, in one go.
func TestAnUnrunClassIsWrappedUpByHand(t *testing.T) {
	d := desks(t)[store.Instructor]
	base := d.Actor
	c, err := d.Workshop.Class(badges)
	require.NoError(t, err)
	before := base
	before.Now = c.StartsAt.Add(-time.Hour)
	assert.Error(t, atWork(before).Save(badges, wrapup.SaveInput{}), "it has not begun")
	base.Now = c.EndsAt.AddDate(0, 0, 2)
	after := atWork(base)
	w, err := after.Wrap(badges)
	require.NoError(t, err)
	require.NotEmpty(t, w.Students)
	var in wrapup.SaveInput
	for i, s := range w.Students {
		one := wrapup.OutcomeInput{StudentID: s.StudentID, Reached: string(live.Finished)}
		if i == 0 {
			one.Reached = string(live.ToFinish)
		}
		in.Outcomes = append(in.Outcomes, one)
	}
	short := wrapup.SaveInput{Outcomes: []wrapup.OutcomeInput{{StudentID: w.Students[0].StudentID}}}
	assert.Error(t, after.Save(badges, short), "it is not said how far")
	require.NoError(t, after.Save(badges, in))
	w, err = after.Wrap(badges)
	require.NoError(t, err)
	assert.Equal(t, live.ToFinish, w.Students[0].Reached)
	assert.Equal(t, live.Finished, w.Students[1].Reached)
	assert.NotEmpty(t, w.Makeups[w.Students[0].StudentID], "there is something to finish")
}

// A machine fails: it is offered where those sit who were to sit there, and when it failed is when it
// failed.
func TestAMachineFailsInAClass(t *testing.T) {
	d := desks(t)[store.Instructor]
	at := func(minute float64) person { return atMinute(t, d, badges, minute) }
	require.NoError(t, at(0).Happen(badges, applive.HappenInput{Kind: "started"}))
	page, err := at(1).Run(badges)
	require.NoError(t, err)
	for _, s := range page.Standings {
		require.NoError(t, at(1).Happen(badges, applive.HappenInput{Kind: "here", StudentID: s.StudentID}))
	}
	failed := page.Plan.Class.Machines[0]
	when := page.Plan.Class.StartsAt.Add(3 * time.Minute)
	clock := when.In(d.Who.Zone).Format("15:04")
	assert.Error(t, at(5).Happen(badges, applive.HappenInput{Kind: "failed", MachineID: failed.ID, At: "23:59"}),
		"it is not then yet")
	assert.Error(t, at(5).Happen(badges, applive.HappenInput{Kind: "failed", MachineID: failed.ID, At: "soon"}), "no time")
	require.NoError(t, at(5).Happen(badges, applive.HappenInput{Kind: "failed", MachineID: failed.ID, At: clock}))
	page, err = at(6).Run(badges)
	require.NoError(t, err)
	assert.True(t, page.Out["1"].Equal(when) || len(page.Out) == 1)
	require.NotEmpty(t, page.Stranded(), "nobody is moved before somebody says so")
	require.NotEmpty(t, page.Offers)
	offered := applive.HappenInput{Kind: string(live.Rearranged), Offer: page.Offers[0].Key()}
	require.NoError(t, at(6).Happen(badges, offered))
	assert.Error(t, at(6).Happen(badges, offered), "once")
	page, err = at(6).Run(badges)
	require.NoError(t, err)
	assert.Empty(t, page.Stranded(), "all are seated elsewhere")
	for _, placed := range page.Forecast.Steps {
		m, _ := page.Plan.Machine(placed.Machine)
		assert.NotEqual(t, failed.ID, m.ID)
	}
	require.NoError(t, at(20).Happen(badges, applive.HappenInput{Kind: "mended", MachineID: failed.ID}))
	require.NoError(t, at(21).Happen(badges, applive.HappenInput{Kind: "noted", Text: "  the belt was off "}))
	assert.Error(t, at(21).Happen(badges, applive.HappenInput{Kind: "noted", Text: " "}))
	page, err = at(22).Run(badges)
	require.NoError(t, err)
	assert.Empty(t, page.Out)
	assert.Equal(t, "the belt was off", page.Notes[0].Text)
	two := page.Standings[:2]
	one, _ := page.MachineOf(two[0].StudentID)
	for _, s := range page.Standings[1:] {
		if other, ok := page.MachineOf(s.StudentID); ok && other != one {
			if at(23).Happen(badges,
				applive.HappenInput{Kind: string(live.Swapped), StudentID: two[0].StudentID, WithID: s.StudentID}) != nil {
				continue
			}
			page, err = at(24).Run(badges)
			require.NoError(t, err)
			now, _ := page.MachineOf(two[0].StudentID)
			assert.Equal(t, other, now)
			now, _ = page.MachineOf(s.StudentID)
			assert.Equal(t, one, now)
			return
		}
	}
	assert.Fail(t, "nobody changed places")
}

// Machines are put where they stand, each at a place of its own.
func TestWhereMachinesStand(t *testing.T) {
	all := desks(t)
	d := all[store.Instructor]
	assert.ErrorIs(t, all[store.Assistant].Arrange(nil), actor.ErrMayNot)
	require.NoError(t, d.Arrange(map[int64]string{heron: "1", kettle: "6", pigeon: ""}))
	var problems form.Problems
	require.ErrorAs(t, d.Arrange(map[int64]string{wharf: "6"}), &problems)
	assert.Contains(t, problems["place-5"], "Kettle stands there")
	for _, wrong := range []string{"25", "-1", "left", "1.5"} {
		assert.Error(t, d.Arrange(map[int64]string{wharf: wrong}), wrong)
	}
	require.NoError(t, d.Arrange(map[int64]string{heron: "6", kettle: "1"}), "they change places")
	page, err := d.Machines()
	require.NoError(t, err)
	places := map[int64]int{}
	for _, m := range page.Machines {
		places[m.ID] = m.Place
	}
	assert.Equal(t, map[int64]int{heron: 6, kettle: 1, lantern: 0, pigeon: 0, wharf: 0}, places)
}
