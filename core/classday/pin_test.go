package classday_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/classday"
	"chalkstep/core/classday/classdaytest"
	"chalkstep/core/fleet"
	"chalkstep/core/policy"
	"chalkstep/core/schedule"
	"chalkstep/core/schedule/search"
)

func at(minute int) *int { return &minute }

// load is where and when somebody sits down with their first hooping.
func load(t *testing.T, plan classday.Plan, studentID int64) schedule.Assignment {
	t.Helper()
	for _, s := range plan.StepsOf(classday.PersonID(studentID)) {
		if s.Operation == "load" {
			return s
		}
	}
	require.Fail(t, "nobody sits")
	return schedule.Assignment{}
}

// Who is pinned sits there and then, and all others are planned round them.
func TestPinnedSittings(t *testing.T) {
	class := classdaytest.Class()
	for name, pin := range map[string]classday.Pin{
		"at a machine":         {Hooping: 1, MachineID: 2},
		"at the other":         {Hooping: 1, MachineID: 1},
		"at a time":            {Hooping: 1, Minute: at(40)},
		"at a machine, a time": {Hooping: 1, MachineID: 2, Minute: at(35)},
	} {
		t.Run(name, func(t *testing.T) {
			for _, place := range class.Places {
				pinned := class.WithPin(place.ID, pin)
				require.True(t, classday.Open(pinned, policy.Defaults()).CheckPin(place.ID, pin).Silent())
				plan := classdaytest.Plan(t, pinned)
				sits := load(t, plan, place.ID)
				if pin.MachineID != 0 {
					assert.Equal(t, classday.StationID(pin.MachineID), sits.Machine)
				}
				if pin.Minute != nil {
					assert.InDelta(t, float64(*pin.Minute), sits.Start, 0.01)
				}
				for i, why := range plan.Whys() {
					if s := plan.Result.Assignments[i]; pin.Minute != nil && s.Job == sits.Job && s.Operation == sits.Operation {
						assert.Contains(t, why.Text.String(), "pinned")
					}
				}
			}
		})
	}
	assert.Empty(t, class.Places[0].Pins, "the class itself is as it was")
	released := class.WithPin(1, classday.Pin{Hooping: 1, MachineID: 2}).WithPin(1, classday.Pin{Hooping: 1})
	assert.Empty(t, released.Places[0].Pins)
}

// What breaks a rule is refused, and the rule is said.
func TestPinsThatBreakARule(t *testing.T) {
	back := func(c classday.Class, minutes int) *time.Time {
		when := c.StartsAt.Add(time.Duration(minutes) * time.Minute)
		return &when
	}
	for name, c := range map[string]struct {
		change func(*classday.Class)
		who    int64
		pin    classday.Pin
		says   string
	}{
		"nobody of the class":   {nil, 99, classday.Pin{Hooping: 1}, "in the plan"},
		"no such hooping":       {nil, 1, classday.Pin{Hooping: 2}, "has 1 hooping"},
		"a machine of the room": {nil, 1, classday.Pin{Hooping: 1, MachineID: 77}, "not one of the class's"},
		"a machine it is not for": {func(c *classday.Class) {
			c.Machines[1].Formats = []string{"pes"}
			c.Machines[1].Hoops = nil
		}, 1, classday.Pin{Hooping: 1, MachineID: 2}, "Tern cannot sew it"},
		"before they are ready": {nil, 1, classday.Pin{Hooping: 1, Minute: at(3)}, "not ready for it before"},
		"before they come": {func(c *classday.Class) {
			c.Places[0].Attendance, c.Places[0].LateMinutes = classday.Late, 60
		}, 1, classday.Pin{Hooping: 1, Minute: at(45)}, "not ready for it before"},
		"after the class": {nil, 1, classday.Pin{Hooping: 1, Minute: at(175)}, "over"},
		"over the break": {func(c *classday.Class) {
			c.BreakAt, c.BreakMinutes = 60, 15
		}, 1, classday.Pin{Hooping: 1, Minute: at(55)}, "break from"},
		"while it is out": {func(c *classday.Class) {
			c.Machines[0].Outages = []fleet.Outage{{StartsAt: *back(*c, 60), EndsAt: back(*c, 90), Reason: "belt"}}
		}, 1, classday.Pin{Hooping: 1, MachineID: 1, Minute: at(55)}, "out of order"},
		"where somebody is": {func(c *classday.Class) {
			*c = c.WithPin(2, classday.Pin{Hooping: 1, MachineID: 1, Minute: at(40)})
		}, 1, classday.Pin{Hooping: 1, MachineID: 1, Minute: at(45)}, "is pinned there from"},
	} {
		t.Run(name, func(t *testing.T) {
			class := classdaytest.Class()
			if c.change != nil {
				c.change(&class)
			}
			says := classday.Open(class.WithPin(c.who, c.pin), policy.Defaults()).CheckPin(c.who, c.pin)
			assert.Contains(t, says.String(), c.says)
		})
	}
}

// An assistant helps at hooping and loading, and where the house says so at what the
// instructor judges; benches are few where they are said to be; all stop for a break.
func TestAssistantsBenchesAndBreaks(t *testing.T) {
	class := crowded(true)
	class.Assistants, class.Benches, class.BreakAt, class.BreakMinutes = 1, 2, 60, 20
	helped := map[string]bool{}
	plan := classdaytest.Plan(t, class)
	for _, s := range plan.Result.Assignments {
		assert.True(t, s.End <= 60.001 || s.Start >= 79.999, "%v is over before the break or begins after it", s)
		if s.With == classday.Assistant {
			helped[s.Operation] = true
		}
	}
	assert.NotEmpty(t, helped)
	assert.NotContains(t, helped, "sign-off", "that is the instructor's")
	for _, w := range plan.Waits {
		assert.True(t, w.End <= 60.001 || w.Start >= 79.999, "a break is no wait")
	}
	at := func(minute float64) int {
		n := 0
		for _, use := range plan.Uses(classday.Bench) {
			if use.Start <= minute && minute < use.End {
				n++
			}
		}
		return n
	}
	for minute := range 180 {
		assert.LessOrEqual(t, at(float64(minute)+0.5), 2)
	}

	rules := policy.Defaults()
	rules.House.Assistants = "sign-off"
	d := classday.Open(class, rules)
	for _, person := range d.Problem.Jobs {
		for _, s := range person.Operations {
			if s.ID == "sign-off" {
				assert.Equal(t, []string{classday.Assistant, classday.Instructor}, s.NeedsOneOf)
			}
		}
	}
}

// The house plans for people, unless it wants the earliest finish.
func TestThePlanTheHouseWants(t *testing.T) {
	class := crowded(false)
	fair := classdaytest.Plan(t, class)
	rules := policy.Defaults()
	rules.House.Plan = "shortest"
	d := classday.Open(class, rules)
	assert.Nil(t, d.Problem.Weights)
	result, err := search.Solve(d.Problem, search.Options{Seed: 1})
	require.NoError(t, err)
	shortest := d.Take(result)
	assert.LessOrEqual(t, shortest.Result.MakespanMinutes, fair.Result.MakespanMinutes+1e-9)
	assert.LessOrEqual(t, fair.LongestWait, shortest.LongestWait+1e-9)
	assert.True(t, shortest.Fairness().Silent())
	costly := fair
	costly.Result.MakespanMinutes, costly.Result.ShortestMinutes = 104, 100
	costly.Result.LongestWaitMinutes, costly.Result.ShortestWaitMinutes = 20, 47
	assert.Equal(t, "Ending 4 minutes sooner would have somebody wait 47 minutes with nothing to do.",
		costly.Fairness().String())
	costly.Result.ShortestWaitMinutes = 20
	assert.Contains(t, costly.Fairness().String(), "first stitch")
}
