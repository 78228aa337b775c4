package classday_test

import (
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/classday"
	"chalkstep/core/classday/classdaytest"
	"chalkstep/core/fleet"
	"chalkstep/core/policy"
	"chalkstep/core/project"
	"chalkstep/core/schedule"
	"chalkstep/core/stitch"
	"chalkstep/core/supply"
)

// tight is a class that does not fit, so that every lever which helps is offered.
func tight(t *testing.T, change func(*classday.Class)) classday.Plan {
	t.Helper()
	class := crowded(false)
	class.EndsAt = class.StartsAt.Add(75 * time.Minute)
	if change != nil {
		change(&class)
	}
	plan := classdaytest.Plan(t, class)
	require.False(t, plan.Result.Fits)
	return plan
}

// stops gives the class's design stops of some colours, each beside the others.
func stops(class *classday.Class, colors ...stitch.RGB) {
	d := &class.Project.Hoopings[0].Design
	one := d.Stops[0]
	d.Stops = nil
	for i, c := range colors {
		s := one
		s.N, s.Color = i+1, c
		left := float64(-30 + 60*i/len(colors))
		s.Bounds = stitch.Bounds{Left: left, Bottom: -20, Right: left + 60/float64(len(colors)) - 2, Top: 20}
		s.Stitches, s.Role = 1000, stitch.Satin
		d.Stops = append(d.Stops, s)
	}
	class.Project.Hoopings = append([]project.Hooping(nil), class.Project.Hoopings...)
}

// plover is a machine whose hoop the badge of 60 × 40 mm is a little too large for.
func plover() fleet.Machine {
	small := classdaytest.Tern()
	small.ID, small.Name = 7, "Plover"
	small.Hoops = []fleet.Held{{Hoop: fleet.Hoop{ID: 9, Name: "Tiny", Field: classdaytest.Small.Field, Count: 1}}}
	small.Hoops[0].Field.WidthMM, small.Hoops[0].Field.HeightMM = 58, 39
	return small
}

func TestWhatElseIsOffered(t *testing.T) {
	nearRed := stitch.RGB{R: classdaytest.Red.R + 4, G: classdaytest.Red.G, B: classdaytest.Red.B}
	small := plover()
	simpler := classdaytest.Badges()
	simpler.ID, simpler.Name = 8, "Dot"
	simpler.Work, simpler.Parts = nil, nil
	d := simpler.Hoopings[0].Design
	d.Stops = d.Stops[1:]
	d.Stitches = 1000
	simpler.Hoopings = []project.Hooping{{Design: d}}
	for name, c := range map[string]struct {
		key    classday.LeverKey
		change func(*classday.Class)
		beside classday.Beside
		says   string
		adopts bool
	}{
		"an assistant": {"assistant:0", func(c *classday.Class) {
			c.Places = nil
			*c = withFirst(*c)
		}, classday.Beside{}, "an assistant", true},
		"an assistant for some": {"assistant:60", func(c *classday.Class) {
			c.Places = nil
			*c = withFirst(*c)
		}, classday.Beside{}, "first hour", true},
		"hooped before": {"hooped:1", nil, classday.Beside{}, "hooped before class", true},
		"one thread for two": {"threads:1", func(c *classday.Class) {
			stops(c, classdaytest.Red, nearRed)
		}, classday.Beside{}, "neighbouring stops in one thread, 1 change less", false},
		"thread by thread": {"sorted:1", func(c *classday.Class) {
			stops(c, classdaytest.Red, classdaytest.Blue, classdaytest.Red)
		}, classday.Beside{}, "thread by thread, 1 change less", false},
		"a smaller size": {"smaller:7", nil, classday.Beside{Machines: []fleet.Machine{small}}, "which Plover takes",
			false},
		"something simpler": {"simpler:8", nil,
			classday.Beside{Projects: []project.Project{simpler, classdaytest.Badges()}}, "make “Dot”", true},
		"another instructor": {"instructor:1", func(c *classday.Class) {
			c.Places = nil
			*c = withFirst(*c)
		}, classday.Beside{}, "another instructor", true},
	} {
		t.Run(name, func(t *testing.T) {
			plan := tight(t, c.change)
			each, _ := plan.Levers(c.beside, []classday.LeverKey{c.key}, tried)
			l, offered := keysOf(each)[c.key]
			require.True(t, offered)
			assert.Contains(t, l.Name.String(), c.says)
			assert.Equal(t, c.adopts, l.Adopts)
			assert.False(t, l.Cost.Silent() || l.Because.Silent())
			then, refused := plan.With(c.beside, []classday.LeverKey{c.key})
			assert.Equal(t, c.adopts, len(refused) == 0)
			if c.adopts {
				assert.Equal(t, []classday.LeverKey{c.key}, then.Adopted)
				assert.NotEqual(t, "something else", then.LeverName(c.key).String())
				assert.Empty(t, plan.Class.Adopted, "the class itself is as it was")
			}
		})
	}
}

// What is adopted does the same in whatever order it is named, and once.
func TestSeveralAreAdopted(t *testing.T) {
	newcomers := func(c *classday.Class) { c.Places = nil; *c = withFirst(*c) }
	for name, c := range map[string]struct {
		change  func(*classday.Class)
		keys    []classday.LeverKey
		adopted []classday.LeverKey
		hands   [3]int // instructors, assistants, and how long these stay
	}{
		"one, named twice": {newcomers, []classday.LeverKey{"instructor:1", "instructor:1"},
			[]classday.LeverKey{"instructor:1"}, [3]int{2, 0, 0}},
		"two": {newcomers, []classday.LeverKey{"iron:1", "instructor:1"},
			[]classday.LeverKey{"iron:1", "instructor:1"}, [3]int{2, 0, 0}},
		"whoever stays is there for the hour": {newcomers, []classday.LeverKey{"assistant:60", "assistant:0"},
			[]classday.LeverKey{"assistant:0", "assistant:60"}, [3]int{1, 1, 0}},
		"whoever would leave stays": {func(c *classday.Class) {
			newcomers(c)
			c.Assistants, c.AssistantMinutes = 1, 60
		}, []classday.LeverKey{"assistant:0"}, []classday.LeverKey{"assistant:0"}, [3]int{1, 1, 0}},
	} {
		t.Run(name, func(t *testing.T) {
			plan := tight(t, c.change)
			for range 2 {
				then, refused := plan.With(classday.Beside{}, c.keys)
				assert.Empty(t, refused)
				assert.Equal(t, c.adopted, then.Adopted)
				assert.Equal(t, c.hands, [3]int{then.Instructors, then.Assistants, then.AssistantMinutes})
				slices.Reverse(c.keys)
			}
		})
	}
}

// A smaller size leaves the other changes of a design that are tried with it.
func TestASmallerSizeIsTriedWithOthers(t *testing.T) {
	plan := tight(t, func(c *classday.Class) { stops(c, classdaytest.Red, classdaytest.Blue, classdaytest.Red) })
	each, all := plan.Levers(classday.Beside{Machines: []fleet.Machine{plover()}},
		[]classday.LeverKey{"smaller:7", "sorted:1"}, tried)
	require.NotNil(t, all)
	by := keysOf(each)
	assert.Less(t, all.FinishMinutes, by["smaller:7"].FinishMinutes)
	assert.Less(t, all.FinishMinutes, by["sorted:1"].FinishMinutes)
}

// withFirst fills a class with people who need the instructor at hooping and loading.
func withFirst(c classday.Class) classday.Class {
	c.Places = crowded(true).Places
	return c
}

// What does not help, or would break a rule, is not offered.
func TestWhatIsNotOffered(t *testing.T) {
	third := classdaytest.Gull()
	third.ID, third.Name = 7, "Plover"
	plan := tight(t, nil)
	each, _ := plan.Levers(classday.Beside{Machines: []fleet.Machine{third},
		Projects: []project.Project{classdaytest.Badges()}}, nil, tried)
	by := keysOf(each)
	assert.NotContains(t, by, classday.LeverKey("smaller:7"), "it takes the design as it is")
	assert.NotContains(t, by, classday.LeverKey("simpler:1"), "that is what they make")
	assert.NotContains(t, by, classday.LeverKey("threads:1"), "red and blue are two threads")
	assert.NotContains(t, by, classday.LeverKey("sorted:1"), "nothing is saved")
	_, refused := plan.With(classday.Beside{}, []classday.LeverKey{"machine:7", "pre-cut:1", "nonsense"})
	assert.Len(t, refused, 3)
}

// Whoever finds a blank hooped begins at the machine; staff have it to do before, and
// nobody else's steps change.
func TestHoopedBeforeClass(t *testing.T) {
	plan := tight(t, nil)
	then, _ := plan.With(classday.Beside{}, []classday.LeverKey{"hooped:1"})
	ahead := 0
	for _, place := range then.Places {
		if !place.HoopedAhead {
			continue
		}
		ahead++
		for _, s := range classdaytest.Plan(t, then).StepsOf(classday.PersonID(place.ID)) {
			if s.Operation == "hoop" || s.Operation == "mark" || s.Operation == "stabilise" {
				assert.Equal(t, s.Start, s.End, s.Operation)
			}
		}
	}
	require.Equal(t, 1, ahead, "one machine has one first")
	before := map[string]schedule.Operation{}
	for _, p := range plan.Problem.Jobs {
		for _, s := range p.Operations {
			before[p.ID+s.ID] = s
		}
	}
	d := classday.Open(then, policy.Defaults())
	for _, p := range d.Problem.Jobs {
		for _, place := range then.Places {
			if classday.PersonID(place.ID) != p.ID || place.HoopedAhead {
				continue
			}
			for _, s := range p.Operations {
				assert.Equal(t, before[p.ID+s.ID], s)
			}
		}
	}
	packing, err := classdaytest.Plan(t, then).Pack(func(supply.Key) float64 { return 1000 })
	require.NoError(t, err)
	require.Len(t, packing.Ahead, 1)
	assert.Contains(t, packing.Ahead[0].Text.String(), "Hoop the blanks of")
	assert.InDelta(t, 14, packing.Ahead[0].Minutes, 1e-9)
}
