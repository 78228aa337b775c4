package classday_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/classday"
	"chalkstep/core/classday/classdaytest"
	"chalkstep/core/design"
	"chalkstep/core/fleet"
	"chalkstep/core/kit"
	"chalkstep/core/pace"
	"chalkstep/core/policy"
	"chalkstep/core/project"
	"chalkstep/core/schedule"
	"chalkstep/core/skill"
	"chalkstep/core/supply"
	"chalkstep/core/technique"
)

// person finds somebody in the planner's problem.
func person(t *testing.T, p schedule.Problem, id int64) map[string]schedule.Operation {
	t.Helper()
	for _, who := range p.Jobs {
		if who.ID == classday.PersonID(id) {
			steps := map[string]schedule.Operation{}
			for _, s := range who.Operations {
				steps[s.ID] = s
			}
			return steps
		}
	}
	require.Fail(t, "nobody", "student %d is not in the plan", id)
	return nil
}

// What a class comes to for the planner: the hoops, the hands, the irons, and
// everyone's steps.
func TestAClassIsAFloorProblem(t *testing.T) {
	d := classday.Open(classdaytest.Class(), policy.Defaults())
	require.True(t, d.Why.Silent(), d.Why)
	p := d.Problem
	require.NoError(t, p.Check())
	assert.Equal(t, 180.0, p.WindowMinutes)
	spread := 0.12
	assert.Equal(t, []schedule.Machine{{ID: "1", Spread: &spread, BreakFactor: 1},
		{ID: "2", Spread: &spread, BreakFactor: 1}}, p.Machines)
	assert.Equal(t, []schedule.Resource{{ID: "hoop-2", Count: 2}, {ID: "hoop-1", Count: 1},
		{ID: classday.Instructor, Count: 1}, {ID: classday.Iron, Count: 1}}, p.Resources)
	require.Len(t, p.Jobs, 3)

	ann, cat := person(t, p, 1), person(t, p, 3)
	assert.NotContains(t, ann["hoop"].Needs, classday.Instructor, "Ann has shown that she can hoop")
	assert.Equal(t, 1, cat["hoop"].Needs[classday.Instructor], "Cat has not")
	assert.Equal(t, 1, cat["load"].Needs[classday.Instructor])
	assert.InDelta(t, *ann["hoop"].Minutes*policy.Defaults().Pace.FirstTimer, *cat["hoop"].Minutes, 0.1,
		"a first-timer takes longer")
	assert.Equal(t, 1, ann["press"].Needs[classday.Iron])
	assert.True(t, ann["load"].KeepMachine, "who has loaded stays at the machine")
	assert.Equal(t, map[string]schedule.Choice{"1": {"hoop-2", "hoop-1"}, "2": {"hoop-1"}}, ann["hoop"].TakeFor,
		"the one the house prefers first, and any that fits")
	assert.ElementsMatch(t, []string{"hoop-1", "hoop-2"}, ann["unhoop"].Release)
	assert.InDelta(t, ann["sew"].On["1"], ann["sew"].On["2"], 0.01)
}

// Two machines want the one small hoop: the one that takes no other gets it,
// the other takes the next size up.
func TestTheMachineWithTheLeastChoiceGetsTheHoop(t *testing.T) {
	d := classday.Open(classdaytest.Class(), policy.Defaults())
	seats := d.Works[0].Sewing[0].Seats
	assert.Equal(t, []string{"Large", "Small"}, []string{seats[0].Hoop.Name, seats[1].Hoop.Name})
}

func TestWhoIsNotReadyIsSaid(t *testing.T) {
	d := classday.Open(classdaytest.Class(), policy.Defaults())
	require.Len(t, d.NotReady, 1)
	assert.Equal(t, "Cat", d.NotReady[0].Student.Name)
	assert.Equal(t, skill.SafeStart, d.NotReady[0].Missing[0].Key)
}

// banner is a project that no machine of the class can sew.
func banner() *project.Project {
	huge := classdaytest.Badge()
	huge.WidthMM, huge.HeightMM = 400, 400
	other := classdaytest.Badges()
	other.ID, other.Name, other.Hoopings = 2, "Banner", []project.Hooping{{Design: huge}}
	return &other
}

// One whose work fits no machine spoils nobody else's day: the plan is without
// them, and says so.
func TestWhatFitsNoMachineIsOneStudentsTrouble(t *testing.T) {
	whole := classdaytest.Class()
	whole.Places = whole.Places[1:]
	class := classdaytest.Class()
	class.Places[0].Makes = banner()
	p := classdaytest.Plan(t, class)
	assert.Equal(t, classdaytest.Plan(t, whole).FinishMinutes, p.FinishMinutes, "as if only the others came")
	require.Len(t, p.LeftOut, 1)
	assert.Equal(t, "Ann", p.LeftOut[0].Student.Name)
	assert.Equal(t, "None of the class's machines can sew “Banner”.", p.LeftOut[0].Why.String())
	packing, err := p.Pack(shelfWidth)
	require.NoError(t, err)
	assert.Len(t, packing.Bags, 2, "nothing is cut for what cannot be sewn")
	assert.Equal(t, 2+1+1, packing.Kit.Sets)
	_, sits := p.MachineOf(1)
	assert.False(t, sits)

	gone := classdaytest.Class()
	other := classdaytest.Badges()
	other.ID, other.Hoopings = 3, []project.Hooping{{}}
	gone.Places[2].Makes = &other
	d := classday.Open(gone, policy.Defaults())
	assert.True(t, d.Why.Silent())
	assert.Contains(t, d.LeftOut[0].Why.String(), "gone from the workshop")
	assert.Empty(t, d.NotReady, "Cat has nothing here to be ready for")
}

// Who does not come is not asked what they can do.
func TestTheAbsentAreNotUnready(t *testing.T) {
	class := classdaytest.Class()
	require.NotEmpty(t, classday.Open(class, policy.Defaults()).NotReady)
	class.Places[2].Attendance = classday.Absent
	assert.Empty(t, classday.Open(class, policy.Defaults()).NotReady)
}

// What is in the way of a plan is said in so many words.
func TestWhatIsInTheWayOfAPlan(t *testing.T) {
	huge := classdaytest.Badge()
	huge.WidthMM, huge.HeightMM = 400, 400
	for name, c := range map[string]struct {
		change func(*classday.Class)
		says   string
	}{
		"nobody comes": {func(c *classday.Class) {
			for i := range c.Places {
				c.Places[i].Attendance = classday.Absent
			}
		}, "Everyone is absent."},
		"too large": {func(c *classday.Class) {
			c.Project.Hoopings[0].Design = huge
		}, "None of the class's machines can sew “Badges”."},
		"the design is gone": {func(c *classday.Class) { c.Project.Hoopings[0].Design = design.Design{} },
			"A design of “Badges” is gone from the workshop: give the class a project that has its designs."},
		"each one's own work is too large": {func(c *classday.Class) {
			for i := range c.Places {
				c.Places[i].Makes = banner()
			}
		}, "None of the class's machines can sew “Banner”."},
	} {
		t.Run(name, func(t *testing.T) {
			class := classdaytest.Class()
			c.change(&class)
			d := classday.Open(class, policy.Defaults())
			assert.Equal(t, c.says, d.Why.String())
			assert.Empty(t, d.Problem.Jobs)
		})
	}
}

// Who is late is ready later; who makes something else has steps of their own.
func TestTheRosterOfTheDay(t *testing.T) {
	class := classdaytest.Class()
	class.Places[1].Attendance, class.Places[1].LateMinutes = classday.Late, 20
	class.Places[2].Attendance = classday.Absent
	twice := classdaytest.Badges()
	twice.ID, twice.Name = 2, "Badge, front and back"
	twice.Hoopings = append(twice.Hoopings, project.Hooping{Title: "the back", Design: classdaytest.Badge()})
	twice.Work = []project.Work{{Title: "Pin it", Minutes: 3}}
	class.Places[0].Makes = &twice
	d := classday.Open(class, policy.Defaults())
	require.True(t, d.Why.Silent(), d.Why)
	require.Len(t, d.Works, 2)
	require.Len(t, d.Problem.Jobs, 2)
	ann := person(t, d.Problem, 1)
	assert.Contains(t, ann, string(pace.StepSew.In(2)))
	assert.Contains(t, ann, string(pace.WorkKey(1, false)))
	assert.NotContains(t, person(t, d.Problem, 2), string(pace.StepSew.In(2)))
	for _, p := range d.Problem.Jobs {
		if p.ID == classday.PersonID(2) {
			assert.Equal(t, 20.0, p.Ready)
		}
	}
}

// A plan tells when the class is done, in whole minutes and never too early.
func TestWhatFollowsFromAPlan(t *testing.T) {
	p := classdaytest.Plan(t, classdaytest.Class())
	assert.GreaterOrEqual(t, p.FinishMinutes, p.Result.MakespanMinutes-1e-6)
	assert.Less(t, p.FinishMinutes, p.Result.MakespanMinutes+1)
	assert.Equal(t, p.Class.StartsAt.Add(p.Finish().Sub(p.Class.StartsAt)), p.Finish())
	assert.InDelta(t, 180-p.FinishMinutes, p.SpareMinutes, 1e-9)
	assert.NotEmpty(t, p.Tight.String())
	sits := append(p.Sits(1), p.Sits(2)...)
	assert.Len(t, sits, 3, "everyone sews once")
	for _, s := range sits {
		shares := p.StopShares(s.Assignment)
		require.Len(t, shares, 2)
		assert.InDelta(t, 1, shares[0]+shares[1], 1e-9)
		assert.Greater(t, shares[0], shares[1], "the ground takes longer than the rim")
	}
	red := supply.Spool(supply.Polyester, classdaytest.Red)
	assert.Contains(t, []int{1, 2}, p.Spools[red], "no more machines sew red at once than there are")

	held := p.Uses("hoop-1")
	for i, u := range held {
		assert.Greater(t, u.End, u.Start)
		for k, other := range held {
			if k != i {
				assert.True(t, other.End <= u.Start || u.End <= other.Start, "there is one small hoop")
			}
		}
	}
}

func TestWhatIsTight(t *testing.T) {
	d := classday.Open(classdaytest.Class(), policy.Defaults())
	for bottleneck, says := range map[string]string{
		classday.Instructor: "The instructor is the tight spot.", classday.Iron: "The iron is the tight spot.",
		"hoop-1": "The one small hoop is the tight spot.",
		"hoop-2": "The 2 large hoops are the tight spot.", "1": "The machines are the tight spot.", "": "",
	} {
		assert.Equal(t, says, d.Take(schedule.Plan{Bottleneck: bottleneck}).Tight.String())
	}
	one := classdaytest.Class()
	one.Machines = one.Machines[:1]
	assert.Equal(t, "Gull is the tight spot.",
		classday.Open(one, policy.Defaults()).Take(schedule.Plan{Bottleneck: "1"}).Tight.String())
}

func shelfWidth(supply.Key) float64 { return 1000 }

// Three students, a test and a spare: five sets, each bag with what its
// owner's machine takes.
func TestKitsArePackedBySeat(t *testing.T) {
	class := classdaytest.Class()
	step := kit.Item{Key: supply.Key{Kind: supply.StepCard}, Count: 1}
	class.Places[0].Packed = []kit.ItemID{step.ID()}
	p := classdaytest.Plan(t, class)
	packing, err := p.Pack(shelfWidth)
	require.NoError(t, err)
	assert.Equal(t, 5, packing.Kit.Sets)
	require.Len(t, packing.Bags, 3)
	for i, b := range packing.Bags {
		assert.Equal(t, i+1, b.Sitting)
		seat, _ := p.MachineOf(b.ID)
		assert.Equal(t, seat.Name, b.Machine)
		assert.Contains(t, b.Items,
			classday.BagItem{Item: kit.Item{Key: supply.Named(supply.Part, "badge pin"), Count: 2, Name: "badge pin"}})
		want := len(b.Items)
		if b.Name == "Ann" {
			want--
		}
		assert.Equal(t, want, b.Missing, b.Name)
		hoop := classdaytest.Small
		if b.Machine == "Gull" {
			hoop = classdaytest.Large
		}
		margin := 25.0 // the house's, on every side
		assert.Equal(t, [2]float64{hoop.WidthMM + 2*margin, hoop.HeightMM + 2*margin}, b.Items[0].SizeMM)
	}
	cut := 0
	for _, line := range packing.Kit.Cuts {
		cut += int(line.Count)
	}
	assert.Equal(t, 5, cut, "a sheet for each set")
}

// Without a plan the kits are packed all the same, in the hoop that the room
// would choose.
func TestKitsArePackedWithoutAPlan(t *testing.T) {
	p := classday.Open(classdaytest.Class(), policy.Defaults()).Unplanned(classday.Day{}.PoolName(classday.Iron))
	packing, err := p.Pack(shelfWidth)
	require.NoError(t, err)
	assert.Equal(t, 5, packing.Kit.Sets)
	assert.Len(t, packing.Bags, 3)
	assert.Empty(t, packing.Bags[0].Machine)
}

// A seat says how a machine takes a hooping; one that is not there does not.
func TestSeats(t *testing.T) {
	w := classday.Open(classdaytest.Class(), policy.Defaults()).Works[0]
	assert.True(t, w.Fits(1))
	assert.False(t, w.Fits(9))
	_, ok := w.SeatAt(1, 2)
	assert.False(t, ok, "there is one hooping")
	seat, ok := w.SeatAt(2, 1)
	require.True(t, ok)
	assert.Equal(t, "dst", seat.Format())
	assert.Equal(t, []fleet.Hoop{classdaytest.Small, classdaytest.Large},
		fleet.HoopsOf([]fleet.Machine{classdaytest.Gull(), classdaytest.Tern()}))
}

// What another class has of the room at the same time, this one does not get: a
// machine takes another size, or says where its hoop is.
func TestHoopsAreSharedWithOtherClasses(t *testing.T) {
	assert.Equal(t, map[int64]int{classdaytest.Small.ID: 1, classdaytest.Large.ID: 2},
		classdaytest.Plan(t, classdaytest.Class()).HoopsTaken())
	class := classdaytest.Class()
	class.Lent = []classday.Lent{{HoopID: classdaytest.Small.ID, Count: 1, Class: "Ropes"}}
	d := classday.Open(class.In([]fleet.Machine{classdaytest.Gull(), classdaytest.Tern()}), policy.Defaults())
	assert.NotContains(t, classdaytest.Plan(t, d.Class).HoopsTaken(), classdaytest.Small.ID,
		"the one small hoop is with the other class")
	seat, _ := d.Works[0].SeatAt(2, 1)
	assert.Equal(t, "its Small hoop is with “Ropes” then", seat.Problem.String(), "Tern takes no other")
	require.Len(t, d.Loud(), 1)
	assert.Equal(t, "1 of the small hoops is with “Ropes” while the class runs.", d.Loud()[0].String())
	assert.Equal(t, 1, classdaytest.Tern().Hoops[0].Count, "the room itself stays as it is")
}

// A machine that is out of order while the class runs sits out.
func TestAnOutageKeepsAMachineOut(t *testing.T) {
	class := classdaytest.Class()
	later := class.EndsAt.Add(time.Hour)
	early, back := class.StartsAt.Add(-time.Hour), class.StartsAt.Add(90*time.Minute)
	for name, c := range map[string]struct {
		from time.Time
		to   *time.Time
		out  bool
	}{
		"all but twenty minutes":  {class.StartsAt.Add(20 * time.Minute), nil, true},
		"in the middle, open end": {class.StartsAt.Add(time.Hour), nil, false},
		"in the middle":           {class.StartsAt.Add(time.Hour), &back, false},
		"over before":             {class.StartsAt.Add(-2 * time.Hour), &early, false},
		"until it begins":         {early, &class.StartsAt, false},
		"after it":                {class.EndsAt, nil, false},
		"all day":                 {early, &later, true},
	} {
		t.Run(name, func(t *testing.T) {
			class := classdaytest.Class()
			class.Machines[0].Outages = []fleet.Outage{{StartsAt: c.from, EndsAt: c.to, Reason: "belt"}}
			d := classday.Open(class, policy.Defaults())
			assert.Equal(t, !c.out, d.Works[0].Fits(1))
			assert.True(t, d.Works[0].Fits(2))
			assert.Equal(t, c.out, len(d.Idle()) == 1)
			for _, sit := range classdaytest.Plan(t, class).Sits(1) {
				start := class.StartsAt.Add(time.Duration(sit.Start) * time.Minute)
				end := class.StartsAt.Add(time.Duration(sit.End) * time.Minute)
				assert.True(t, !end.After(c.from) || c.to != nil && !start.Before(*c.to), "nobody sews while it is out")
			}
		})
	}
}

// Perforating is done at a machine before anything is hooped: it keeps the machine
// for itself, takes no hoop, and does not decide where somebody sews.
func TestAnErrandAtAMachine(t *testing.T) {
	class := classdaytest.Class()
	perforated, _ := technique.ByKey("perforated")
	class.Project.Techniques = []technique.Technique{perforated}
	plan := classdaytest.Plan(t, class)
	errands := 0
	for _, m := range class.Machines {
		for _, e := range plan.Errands(m.ID) {
			errands++
			assert.Equal(t, "perforate", e.Operation)
			for _, other := range plan.Result.Assignments {
				if other.Machine == e.Machine && (other.Job != e.Job || other.Operation != e.Operation) {
					assert.True(t, other.End <= e.Start+1e-9 || other.Start >= e.End-1e-9, "%v while %v", other, e)
				}
			}
		}
	}
	assert.Equal(t, 3, errands)
	for _, place := range class.Places {
		m, ok := plan.MachineOf(place.ID)
		require.True(t, ok)
		for _, s := range plan.StepsOf(classday.PersonID(place.ID)) {
			if s.Operation == "sew" {
				assert.Equal(t, s.Machine, classday.StationID(m.ID))
			}
		}
	}
}

// A seam in sewing mode needs a machine that sews, which may be one that could not
// embroider the work.
func TestASeamInSewingMode(t *testing.T) {
	class := classdaytest.Class()
	turned, _ := technique.ByKey("turned-by-machine")
	class.Project.Techniques = []technique.Technique{turned}
	d := classday.Open(class, policy.Defaults())
	assert.Contains(t, d.Why.String(), "none of the class's machines sews")
	class.Machines = append(class.Machines,
		fleet.Machine{ID: 9, Name: "Seamer", Formats: []string{"dst"}, TopSpeedSPM: 600, Needles: 1, Sews: true})
	plan := classdaytest.Plan(t, class)
	assert.Len(t, plan.Errands(9), 3)
	for _, idle := range plan.Idle() {
		assert.NotEqual(t, "Seamer", idle.Name, "it is booked for the seams")
	}
}

// What everyone does together at the beginning comes before anybody's first step,
// what is done at the end after everybody's last; a class has to fit with both.
func TestWhatIsDoneTogether(t *testing.T) {
	class := classdaytest.Class()
	alone := classdaytest.Plan(t, class)
	class.OpeningMinutes, class.ClosingMinutes = 20, 15
	plan := classdaytest.Plan(t, class)
	for _, s := range plan.Result.Assignments {
		assert.GreaterOrEqual(t, s.Start, 20.0)
		assert.LessOrEqual(t, s.End, 165.0)
	}
	assert.InDelta(t, alone.FinishMinutes+35, plan.FinishMinutes, 1)
	assert.InDelta(t, alone.SpareMinutes-35, plan.SpareMinutes, 1)
	assert.InDelta(t, alone.LongestWait, plan.LongestWait, 1e-9, "what is done together is no wait")
	class.EndsAt = class.StartsAt.Add(time.Duration(plan.Result.LowerBoundMinutes+14) * time.Minute)
	assert.False(t, classdaytest.Plan(t, class).Result.Fits)
}
