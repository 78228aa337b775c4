package card_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/card"
	"chalkstep/core/classday"
	"chalkstep/core/classday/classdaytest"
	"chalkstep/core/kit"
	"chalkstep/core/measure"
	"chalkstep/core/pace"
	"chalkstep/core/policy"
	"chalkstep/core/project"
	"chalkstep/core/recipe"
	"chalkstep/core/say"
	"chalkstep/core/stitch"
	"chalkstep/core/supply"
)

func spool(key supply.Key) say.Text { return say.Name("spool " + key.Color.String()) }

// step finds one of a card.
func step(t *testing.T, c card.Card, key pace.StepKey) card.Step {
	t.Helper()
	s, has := c.Step(key)
	require.True(t, has, "%s is not on the card", key)
	return s
}

// at is the machine at which a student of a plan sews.
func at(t *testing.T, p classday.Plan, id int64) string {
	t.Helper()
	m, ok := p.MachineOf(id)
	require.True(t, ok)
	return m.Name
}

// A card says when, where and with what; who has not shown a step does it with
// the instructor.
func TestACardFollowsThePlan(t *testing.T) {
	p := classdaytest.Plan(t, classdaytest.Class())
	cat, err := card.Of(p, 3, spool)
	require.NoError(t, err)
	assert.Equal(t, []string{"Cat", "Badges", "Saturday"}, []string{cat.Student, cat.Project, cat.Class})
	assert.Equal(t, at(t, p, 3), cat.Sheets[0].Machine)
	assert.Len(t, cat.Ask, 8, "a first-timer asks for everything the project needs")
	placed := p.StepsOf("3")
	require.Len(t, cat.Steps, len(placed))
	for i, s := range placed {
		assert.Equal(t, p.At(s.Start), cat.Steps[i].Start)
	}
	assert.True(t, step(t, cat, pace.StepHoop).WithInstructor)
	assert.True(t, step(t, cat, pace.StepSignOff).WithInstructor)
	assert.NotEmpty(t, step(t, cat, pace.StepLoad).Checks, "what is looked at before the start button")
	assert.NotEmpty(t, step(t, cat, pace.StepSignOff).Checks)
	assert.Equal(t, card.Manual, cat.Cautions[len(cat.Cautions)-1])

	ann, err := card.Of(p, 1, spool)
	require.NoError(t, err)
	assert.Empty(t, ann.Ask)
	assert.False(t, step(t, ann, pace.StepHoop).WithInstructor)
	stops := ann.Sheets[0].Stops
	require.Len(t, stops, 2)
	assert.Equal(t, "the ground", stops[0].Sews)
	assert.Contains(t, stops[0].Note.String(), "3,000 stitches, about ")
	assert.Contains(t, stops[0].Note.String(), "13.6 m of spool #c23b2a", "10 m of path × 1.35 and two ends of 40 mm")
	assert.False(t, stops[0].SameThread || stops[1].SameThread)
}

// What lies under the fabric is on the card in the reader's units.
func TestACardIsPrintedInTheReadersUnits(t *testing.T) {
	class := classdaytest.Class()
	class.Machines = class.Machines[:1]
	class.Places = class.Places[:1]
	p := classdaytest.Plan(t, class)
	c, err := card.Of(p, 1, spool)
	require.NoError(t, err)
	note := step(t, c, pace.StepStabilise).Note
	assert.Equal(t, "1 sheet of light tear-away, 150 × 150 mm.", note.String())
	assert.Equal(t, "1 sheet of light tear-away, 5 7/8 × 5 7/8 in.", say.Printer{Units: measure.Inches}.Say(note))
	assert.Equal(t, "The frame's marks lie 1.5 mm to the right of where the needle starts. Trace before you start.",
		step(t, c, pace.StepLoad).Note.String())
}

// Every hooping has its own sheet, its own loading and its own marks.
func TestAFurtherHoopingHasItsOwnOffset(t *testing.T) {
	class := classdaytest.Class()
	class.Project.Hoopings = append(class.Project.Hoopings,
		project.Hooping{Title: "the back", Design: classdaytest.Badge()})
	p := classdaytest.Plan(t, class)
	c, err := card.Of(p, 1, spool)
	require.NoError(t, err)
	require.Len(t, c.Sheets, 2)
	assert.Equal(t, "the back", c.Sheets[1].Title)
	second := step(t, c, pace.StepLoad.In(2))
	assert.Contains(t, second.Note.String(), "The frame's marks")
	assert.NotEmpty(t, second.Checks)
}

// Layers are laid before their stops, those of the start before the first;
// pieces are laid on their line and trimmed in the hoop.
func TestWhatIsDoneAroundAStop(t *testing.T) {
	class := classdaytest.Class()
	d := classdaytest.Badge()
	d.Stops[0].Role, d.Stops[1].Role = stitch.Placement, stitch.TackDown
	class.Project.Hoopings[0].Design = d
	class.Project.Layers = []project.Layer{{As: kit.Batting},
		{As: kit.PieceLayer, Fabric: recipe.Linen, BeforeStop: 2, Tape: "tape two sides"},
		{As: kit.Backing, Under: true, BeforeStop: 2}}
	c, err := card.Of(classdaytest.Plan(t, class), 1, spool)
	require.NoError(t, err)
	stops := c.Sheets[0].Stops
	assert.Equal(t, []string{"Lay the batting on top, tape all sides it could flap."}, say.Plain.Lines(stops[0].Before))
	assert.Equal(t, []string{"Lay the piece so that it covers the line."}, say.Plain.Lines(stops[0].After))
	assert.Equal(t, []string{"Lay the piece on top, tape two sides.", "Lay the backing from below, tape the corners."},
		say.Plain.Lines(stops[1].Before))
	assert.Contains(t, stops[1].After[0].String(), "trim to 1 mm to 2 mm outside the line")
}

// A design that takes more than a bobbin names the stop before which a fresh
// one is fitted.
func TestABobbinIsSwappedBetweenStops(t *testing.T) {
	class := classdaytest.Class()
	for i := range class.Machines {
		class.Machines[i].BobbinMetres = 5
	}
	c, err := card.Of(classdaytest.Plan(t, class), 1, spool)
	require.NoError(t, err)
	assert.Empty(t, c.Sheets[0].Stops[0].Before)
	assert.Equal(t, "Fit a fresh bobbin.", c.Sheets[0].Stops[1].Before[0].String())
}

func TestWhyThereIsNoCard(t *testing.T) {
	class := classdaytest.Class()
	class.Places[1].Attendance = classday.Absent
	p := classdaytest.Plan(t, class)
	_, err := card.Of(p, 2, spool)
	assert.EqualError(t, err, "Ben is absent: there is no card.")
	_, err = card.Of(p, 99, spool)
	assert.EqualError(t, err, "the plan has no machine for this student")
	for i := range class.Places {
		class.Places[i].Attendance = classday.Absent
	}
	_, err = card.Of(classday.Open(class, policy.Defaults()).Unplanned(say.T("Everyone is absent.")), 1, spool)
	assert.EqualError(t, err, "Ann is absent: there is no card.")
	class.Places[0].Attendance = classday.Expected
	_, err = card.Of(classday.Open(class, policy.Defaults()).Unplanned(say.T("The day cannot be planned.")), 1, spool)
	assert.EqualError(t, err, "The day cannot be planned. Without a plan there are no step cards.")
}

// What stands at the head of a card and of a stop, with names as they are and as paper writes them.
func TestTitles(t *testing.T) {
	c := card.Card{Student: "Cat", Project: "Badges", Sheets: []card.Sheet{{N: 1, Machine: "Heron", Stops: []card.Stop{
		{N: 1, Sews: "outline"}, {N: 2}}}, {N: 2, Title: "the back", Machine: "Kettle"}}}
	set := c.Called(func(name string) string { return "<" + name + ">" })
	for _, said := range []struct {
		title say.Text
		want  string
	}{
		{c.Title(0), "Cat: Badges on Heron"},
		{c.Title(1), "Cat: Badges on Kettle, the back"},
		{set.Title(1), "<Cat>: <Badges> on <Kettle>, <the back>"},
		{c.Sheets[0].Stops[0].Title(), "Stop 1: outline"},
		{c.Sheets[0].Stops[1].Title(), "Stop 2"},
		{c.Sheets[0].Stops[0].TitleOf(2), "Stop 1 of 2: outline"},
		{set.Sheets[0].Stops[0].Title(), "Stop 1: <outline>"},
	} {
		assert.Equal(t, said.want, said.title.String())
	}
	_, has := c.Sheet(3)
	assert.False(t, has)
	second, has := c.Sheet(2)
	assert.True(t, has)
	assert.Equal(t, "Kettle", second.Machine)
}
