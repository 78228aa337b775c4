package live_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/classday"
	"chalkstep/core/classday/classdaytest"
	"chalkstep/core/live"
	"chalkstep/core/pace"
)

// Gull and Tern of the class.
const gull, tern = 1, 2

// twoGulls is a class with two machines that both take both hoops.
func twoGulls() classday.Class {
	class := classdaytest.Class()
	class.Machines[1] = classdaytest.Gull()
	class.Machines[1].ID, class.Machines[1].Name = tern, "Tern"
	return class
}

// at is who has a machine, empty for nobody.
func at(s live.State, machineID int64) string {
	who, _ := s.At(classday.StationID(machineID))
	return who.Name
}

// Of a sewing it is known which stop goes on; the last ends the step.
func TestStopByStop(t *testing.T) {
	l := begun(t, classdaytest.Class())
	s := l.until(t, 17, ann, pace.StepSew)
	sewing, _ := s.Standing(ann)
	require.Len(t, sewing.Stops, 2)
	whole := sewing.LeftMinutes(l.events[len(l.events)-1].At)
	assert.InDelta(t, sewing.Stops[0].Minutes+sewing.Stops[1].Minutes, whole, 1e-9)

	second := live.Event{Kind: live.StopDone, StudentID: ann, Step: pace.StepSew, Stop: 2}
	assert.False(t, s.Accepts(second), "the first is not sewn")
	s = l.add(20, live.Event{Kind: live.StopDone, StudentID: ann, Step: pace.StepSew, Stop: 1})
	sewing, _ = s.Standing(ann)
	assert.Equal(t, 1, sewing.Stop)
	assert.InDelta(t, sewing.Stops[1].Minutes, sewing.LeftMinutes(l.plan.At(20)), 1e-9,
		"faster than said: the second is left, whole")
	assert.False(t, s.Accepts(second), "the last stop is the end of the step")
	s = l.done(t, 25, ann)
	sewing, _ = s.Standing(ann)
	assert.Zero(t, sewing.Stop)
	assert.Empty(t, sewing.Stops)
}

// A machine that sews on had nothing more that held it up.
func TestSewingOnSettlesABreak(t *testing.T) {
	for reason, settles := range map[live.Reason]bool{live.Break: true, live.Bobbin: true, live.Piece: true,
		live.Smoke: false, live.Question: false} {
		l := begun(t, classdaytest.Class())
		l.until(t, 17, ann, pace.StepSew)
		l.add(18, live.Event{Kind: live.HandUp, StudentID: ann, Reason: reason})
		s := l.add(21, live.Event{Kind: live.StopDone, StudentID: ann, Step: pace.StepSew, Stop: 1})
		assert.Equal(t, settles, len(s.Hands) == 0, reason)
		assert.Equal(t, settles, !s.Calls[0].Settled.IsZero(), reason)
	}
}

// Nothing is heard of a machine for half as long again as its stop takes: it is asked.
// Whoever says that all goes well, or has a hand up, is not.
func TestSilenceIsAskedAbout(t *testing.T) {
	l := begun(t, classdaytest.Class())
	s := l.until(t, 17, ann, pace.StepSew)
	sewing, _ := s.Standing(ann)
	due := l.plan.At(17).Add(time.Duration(1.5 * sewing.Stops[0].Minutes * float64(time.Minute)))
	assert.Zero(t, s.Quiet(sewing, due.Add(-time.Second)))
	assert.Equal(t, due, s.Quiet(sewing, due.Add(time.Second)))
	up := l.add(18, live.Event{Kind: live.HandUp, StudentID: ann, Reason: live.Question})
	sewing, _ = up.Standing(ann)
	assert.Zero(t, up.Quiet(sewing, due.Add(time.Hour)), "a hand is up")
	l.add(19, live.Event{Kind: live.Settled, StudentID: ann})
	s = l.add(30, live.Event{Kind: live.Going, StudentID: ann})
	sewing, _ = s.Standing(ann)
	assert.Zero(t, s.Quiet(sewing, due.Add(time.Minute)), "all goes well, she said")
	assert.NotZero(t, s.Quiet(sewing, due.Add(time.Hour)), "asked again later")
	bench, _ := s.Standing(ben)
	assert.Zero(t, s.Quiet(bench, due.Add(time.Hour)), "nobody is asked at the bench")
}

// A machine fails at 10:20 while Ann sews there: she goes on at the other, from her stop,
// and nobody is sent to the one that is out until it works.
func TestAMachineFails(t *testing.T) {
	l := begun(t, twoGulls())
	s := l.until(t, 17, ann, pace.StepSew)
	home := int64(gull)
	if at(s, tern) == "Ann" {
		home = tern
	}
	other := gull + tern - home
	l.add(20, live.Event{Kind: live.StopDone, StudentID: ann, Step: pace.StepSew, Stop: 1})
	s = l.add(21, live.Event{Kind: live.Failed, MachineID: home})
	stranded := s.Stranded()
	require.NotEmpty(t, stranded)
	sewing, _ := s.Standing(ann)
	assert.False(t, sewing.Begun)
	assert.Contains(t, s.MayBeSeated(sewing), other)
	assert.False(t, s.Accepts(live.Event{Kind: live.Failed, MachineID: home}), "it is out already")
	assert.False(t, s.Accepts(live.Event{Kind: live.Seated, StudentID: ann, MachineID: home}), "it is out")
	f := s.Forecast(l.plan.At(21))
	for _, placed := range f.Steps {
		assert.NotEqual(t, classday.StationID(home), placed.Machine)
	}

	s = l.add(22, live.Event{Kind: live.Seated, StudentID: ann, MachineID: other})
	assert.Equal(t, "Ann", at(s, other))
	sewing, _ = s.Standing(ann)
	assert.True(t, sewing.Begun)
	assert.Equal(t, 1, sewing.Stop, "the first stop stays sewn")
	s = l.done(t, 30, ann)
	sewing, _ = s.Standing(ann)
	assert.False(t, sewing.Real[len(sewing.Real)-1].Timed(), "how long it took is not known")
	s = l.add(40, live.Event{Kind: live.Mended, MachineID: home})
	assert.Empty(t, s.Out)
	assert.Empty(t, s.Stranded())
}

// twoSew is a class in which Ann and Cat sew, at two machines that both take both hoops.
func twoSew(t *testing.T) (*log, live.State) {
	t.Helper()
	l := begun(t, twoGulls())
	l.until(t, 17, ann, pace.StepSew)
	return l, l.until(t, 27, cat, pace.StepSew)
}

// Two change places while both sew.
func TestTwoChangePlaces(t *testing.T) {
	l, s := twoSew(t)
	was := map[int64]string{gull: at(s, gull), tern: at(s, tern)}
	require.ElementsMatch(t, []string{"Ann", "Cat"}, []string{was[gull], was[tern]})
	home, _ := s.Standing(ann)
	place, _ := home.Step()
	first, second := int64(gull), int64(tern)
	if place.Machine == classday.StationID(gull) {
		first, second = tern, gull
	}
	l.add(28, live.Event{Kind: live.Seated, StudentID: ann, MachineID: first})
	s = l.add(28, live.Event{Kind: live.Seated, StudentID: cat, MachineID: second})
	assert.Equal(t, map[int64]string{gull: was[tern], tern: was[gull]},
		map[int64]string{gull: at(s, gull), tern: at(s, tern)})
}

// Whoever is seated where somebody sits waits for them, and their own machine is free.
func TestWhoeverIsSeatedAtATakenMachineWaits(t *testing.T) {
	l, s := twoSew(t)
	home, others := int64(gull), int64(tern)
	if at(s, tern) == "Ann" {
		home, others = tern, gull
	}
	require.Equal(t, "Cat", at(s, others))
	s = l.add(28, live.Event{Kind: live.Seated, StudentID: ann, MachineID: others})
	waiting, _ := s.Standing(ann)
	assert.False(t, waiting.Begun)
	assert.Equal(t, "Cat", at(s, others))
	assert.NotEqual(t, "Ann", at(s, home))
	s = l.done(t, 45, cat)
	waiting, _ = s.Standing(ann)
	assert.True(t, waiting.Begun)
	assert.Equal(t, "Ann", at(s, others))
}

// Whoever cannot take what they have to another machine is not seated there.
func TestAHoopThatDoesNotGoOnStays(t *testing.T) {
	l := begun(t, classdaytest.Class())
	s := l.until(t, 14, ann, pace.StepLoad)
	loading, _ := s.Standing(ann)
	hooped := loading.Steps[loading.Next-1].Took
	if assert.Equal(t, []string{"hoop-2"}, hooped, "the large hoop goes on Gull alone") {
		assert.Empty(t, s.MayBeSeated(loading))
		assert.False(t, s.Accepts(live.Event{Kind: live.Seated, StudentID: ann, MachineID: tern}))
	}
}

// Who says that they are late is planned for when they come.
func TestSomebodyIsLate(t *testing.T) {
	l := &log{plan: classdaytest.Plan(t, classdaytest.Class())}
	l.add(0, live.Event{Kind: live.Started})
	assert.False(t, l.state().Accepts(live.Event{Kind: live.Late, StudentID: ann, At: l.plan.At(5), Until: l.plan.At(4)}),
		"it is over")
	s := l.add(1, live.Event{Kind: live.Late, StudentID: ann, Until: l.plan.At(45)})
	f := s.Forecast(l.plan.At(1))
	for _, placed := range f.Steps {
		if placed.Job == classday.PersonID(ann) {
			assert.GreaterOrEqual(t, placed.Start, 45.0)
		}
	}
	s = l.add(50, live.Event{Kind: live.Here, StudentID: ann})
	here, _ := s.Standing(ann)
	assert.Equal(t, live.Present, here.Presence)
}

// The clock of a class goes as that on the wall, until somebody sets it for a rehearsal.
func TestTheClockOfAClass(t *testing.T) {
	l := begun(t, classdaytest.Class())
	wall := l.plan.At(10)
	assert.Equal(t, wall, l.state().Clock.Of(wall))
	for _, speed := range []float64{0, 0.5, -1, 5000} {
		assert.False(t, l.state().Accepts(live.Event{Kind: live.Clocked, Speed: speed}), speed)
	}
	s := l.add(10, live.Event{Kind: live.Clocked, Speed: 60, NotedAt: wall.Add(time.Hour)})
	assert.True(t, s.Clock.Rehearses())
	assert.Equal(t, l.plan.At(70), s.Clock.Of(wall.Add(time.Hour+time.Minute)),
		"a minute on the wall is an hour of the class")
}

// Notes are kept with who wrote them; nothing written is no note.
func TestNotes(t *testing.T) {
	l := begun(t, classdaytest.Class())
	assert.False(t, l.state().Accepts(live.Event{Kind: live.Noted}))
	assert.False(t, l.state().Accepts(live.Event{Kind: live.Noted, StudentID: 99, Text: "nobody"}))
	l.add(3, live.Event{Kind: live.Noted, Text: "the iron trips the fuse", By: "Ola"})
	s := l.add(4, live.Event{Kind: live.Noted, StudentID: ann, Text: "hoops well", By: "Ola"})
	require.Len(t, s.Notes, 2)
	assert.Equal(t, "Ann", s.Notes[1].Name)
	assert.Empty(t, s.Notes[0].Name)
}

// An event keeps what its kind says and nothing else.
func TestAnEventSaysWhatItsKindSays(t *testing.T) {
	all := live.Event{
		Seq: 3, StudentID: ann, MachineID: gull, Step: pace.StepSew, Stop: 1, Reason: live.Nest, Until: time.Unix(1, 0),
		Text: "text", Speed: 2, Undoes: 1, Sender: "x", StationID: tern, By: "Ola",
	}
	for kind, want := range map[live.Kind]live.Event{
		live.Started:  {},
		live.Here:     {StudentID: ann},
		live.StopDone: {StudentID: ann, Step: pace.StepSew, Stop: 1},
		live.Seated:   {StudentID: ann, MachineID: gull},
		live.Failed:   {MachineID: gull},
		live.HandUp:   {StudentID: ann, Reason: live.Nest},
		live.Noted:    {StudentID: ann, Text: "text"},
		live.Clocked:  {Speed: 2},
		live.Undone:   {Undoes: 1},
	} {
		e := all
		e.Kind = kind
		want.Seq, want.Kind, want.Sender, want.StationID, want.By = 3, kind, "x", tern, "Ola"
		assert.Equal(t, want, e.Plain(), kind)
		assert.True(t, kind.Is())
	}
	assert.False(t, live.Kind("sang").Is())
}

// Whoever's turn it is and who is not ready is passed over at the same machine, and comes after: the board names
// them, and nobody has moved.
func TestWhoIsPassedOverIsNamed(t *testing.T) {
	class := classdaytest.Class()
	class.Machines = class.Machines[:1]
	l := begun(t, class)
	gull := classday.StationID(class.Machines[0].ID)
	first, _ := l.state().Standing(l.state().Planned(gull)[0].StudentID)
	second := l.state().Planned(gull)[1]
	assert.Empty(t, l.state().PassedOver(gull), "nobody sits there")
	l.until(t, 12, second.StudentID, pace.StepLoad)
	s := l.state().Until(l.plan.At(first.Steps[len(first.Steps)-1].Start))
	who, taken := s.At(gull)
	require.True(t, taken)
	require.Equal(t, second.StudentID, who.StudentID)
	over := s.PassedOver(gull)
	require.Len(t, over, 1)
	assert.Equal(t, first.StudentID, over[0].StudentID)
	for _, at := range s.Standings {
		assert.Equal(t, l.plan.StepsOf(classday.PersonID(at.StudentID))[0].Machine, at.Steps[0].Machine)
	}
}
