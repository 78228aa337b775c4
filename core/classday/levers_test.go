package classday_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/classday"
	"chalkstep/core/classday/classdaytest"
	"chalkstep/core/fleet"
	"chalkstep/core/skill"
)

var tried = classday.Trying{Iterations: 200, Days: 50, Seed: 1}

func keysOf(levers []classday.Lever) map[classday.LeverKey]classday.Lever {
	by := map[classday.LeverKey]classday.Lever{}
	for _, l := range levers {
		by[l.Key] = l
	}
	return by
}

// A class that does not fit is told what would bring it into its window, best
// first, each with what it takes and why; what changes nothing is left out.
func TestWhatWouldHelp(t *testing.T) {
	class := classdaytest.Class()
	class.EndsAt = class.StartsAt.Add(55 * time.Minute)
	plan := classdaytest.Plan(t, class)
	require.False(t, plan.Result.Fits)
	third := classdaytest.Gull()
	third.ID, third.Name = 3, "Skua"
	useless := fleet.Machine{ID: 4, Name: "Hoopless", Formats: []string{"dst"}, TopSpeedSPM: 600, Needles: 1}
	each, all := plan.Levers(classday.Beside{Machines: []fleet.Machine{third, useless}}, nil, tried)
	assert.Nil(t, all)
	by := keysOf(each)
	require.Contains(t, by, classday.LeverKey("machine:3"))
	assert.NotContains(t, by, classday.LeverKey("machine:4"), "a machine that could sew nothing of it is none")
	require.Contains(t, by, classday.LeverKey("earlier:30"))
	assert.True(t, by["earlier:30"].Fits)
	assert.InDelta(t, 30, by["earlier:30"].SoonerMinutes, 8, "it ends about as much sooner as it begins")
	assert.True(t, by["longer:30"].Fits)
	assert.InDelta(t, 0, by["longer:30"].SoonerMinutes, 8, "with more time, less is done for an early end")
	for i, l := range each {
		assert.False(t, l.Name.Silent() || l.Cost.Silent() || l.Because.Silent(), l.Key)
		assert.True(t, l.Fits || l.SoonerMinutes >= 1 || l.Waits, "%s helps", l.Key)
		if i > 0 && each[i-1].Fits == l.Fits && each[i-1].Surely() == l.Surely() {
			if l.Fits && !l.Surely() {
				assert.GreaterOrEqual(t, each[i-1].FitsShare, l.FitsShare, "what just fits, by the days on which it does")
			} else {
				assert.GreaterOrEqual(t, each[i-1].SoonerMinutes, l.SoonerMinutes)
			}
		}
		if l.Fits && i > 0 {
			assert.True(t, each[i-1].Fits, "those that fit come first")
			assert.True(t, each[i-1].Surely() || !l.Surely(), "and of them those that fit on nine days of ten")
		}
		assert.True(t, l.FitsShare >= 0 && l.FitsShare <= 1)
	}
	again, _ := plan.Levers(classday.Beside{Machines: []fleet.Machine{third, useless}}, nil, tried)
	assert.Equal(t, len(each), len(again))
	for i := range each {
		assert.Equal(t, each[i].FinishMinutes, again[i].FinishMinutes, "the same is said again")
	}
}

// Several together are planned as one day, and are no worse than the better of
// them.
func TestLeversTogether(t *testing.T) {
	class := classdaytest.Class()
	class.EndsAt = class.StartsAt.Add(50 * time.Minute)
	plan := classdaytest.Plan(t, class)
	each, all := plan.Levers(classday.Beside{}, []classday.LeverKey{"instructor:1", "earlier:30"}, tried)
	require.NotNil(t, all)
	by := keysOf(each)
	assert.LessOrEqual(t, all.FinishMinutes, min(by["instructor:1"].FinishMinutes, by["earlier:30"].FinishMinutes)+1)
	assert.Equal(t, 1, class.Instructors, "the class itself is as it was")
	none, _ := classday.Plan{}.Levers(classday.Beside{}, nil, tried)
	assert.Empty(t, none)
}

func TestKeysOfLevers(t *testing.T) {
	assert.Equal(t, "machine", classday.LeverKey("machine:5").Kind())
	assert.EqualValues(t, 5, classday.LeverKey("machine:5").Value())
	assert.Zero(t, classday.LeverKey("machine:x").Value())
	assert.Zero(t, classday.LeverKey("").Value())
}

// Who would only wait may come later: just before they hoop, less what they do
// before and what they practise. They are asked for no more than five minutes of waiting by that, and
// nobody ends later.
func TestWhoMayComeLater(t *testing.T) {
	class := classdaytest.Class()
	class.Machines = class.Machines[:1]
	class.Machines[0].Hoops = class.Machines[0].Hoops[:1] // one hoop for four people
	for i, name := range []string{"Cat", "Dan"} {         // who have nothing left to practise
		practised := class.Places[0]
		practised.ID, practised.Name = int64(3+i), name
		class.Places = append(class.Places[:2+i], practised)
	}
	plan := classdaytest.Plan(t, class)
	arrivals := plan.Arrivals()
	require.NotEmpty(t, arrivals)
	for _, a := range arrivals {
		assert.Zero(t, a.Minutes%5)
		var before, hoops float64
		for _, s := range plan.StepsOf(classday.PersonID(a.StudentID)) {
			if s.Operation == "hoop" {
				hoops = s.Start
				break
			}
			before += s.End - s.Start
		}
		for _, w := range plan.WaitsOf(a.StudentID) {
			if w.End <= hoops {
				before += w.Minutes() - w.Unfilled()
			}
		}
		assert.InDelta(t, hoops-before, a.Minutes, 5)
		assert.LessOrEqual(t, float64(a.Minutes), hoops-before)
	}
	each, _ := plan.Levers(classday.Beside{}, nil, tried)
	l, offered := keysOf(each)["arrivals:1"]
	require.True(t, offered)
	assert.Less(t, l.LongestWait, plan.LongestWait)
	assert.GreaterOrEqual(t, l.SoonerMinutes, -0.001)
	assert.Contains(t, l.Because.String(), "nobody waits over")
}

// What makes a day later is no help, and why something helps is so: earlier is earlier, and somebody is waited for
// less only where people wait less.
func TestLeversSayWhatTheyDo(t *testing.T) {
	said := map[string]bool{}
	for seed := range 12 {
		class := classdaytest.Class()
		for id := range int64(3 + seed%5) {
			class.Places = append(class.Places,
				classdaytest.Places(skill.Student{ID: 10 + id, Name: "New", FirstTimer: seed%2 == 0})...)
		}
		class.OpeningMinutes = 5 * (seed % 3)
		class.EndsAt = class.StartsAt.Add(time.Duration(60+10*seed) * time.Minute)
		plan := classdaytest.Plan(t, class)
		each, _ := plan.Levers(classday.Beside{}, nil, classday.Trying{Iterations: 200, Days: 20, Seed: 1})
		for _, l := range each {
			assert.LessOrEqual(t, l.FinishMinutes, plan.FinishMinutes+1e-6, "%s of class %d", l.Key, seed)
			because := l.Because.String()
			if l.Key.Kind() == classday.LeverEarlier {
				assert.Equal(t, "all of it is 30 minutes earlier", because)
			}
			said[l.Key.Kind()] = true
		}
	}
	assert.True(t, said[classday.LeverEarlier] && said[classday.LeverLonger] && said[classday.LeverInstructor], "%v", said)
}
