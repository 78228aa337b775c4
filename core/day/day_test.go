package day_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/day"
	"chalkstep/core/day/daytest"
	"chalkstep/core/design"
	"chalkstep/core/house"
	"chalkstep/core/kit"
	"chalkstep/core/pace"
	"chalkstep/core/project"
	"chalkstep/core/room"
	"chalkstep/core/schedule"
	"chalkstep/core/skill"
	"chalkstep/core/supply"
	"chalkstep/core/technique"
)

// person finds somebody in the planner's problem.
func person(t *testing.T, p schedule.Problem, id int64) map[string]schedule.Operation {
	t.Helper()
	for _, who := range p.Jobs {
		if who.ID == day.PersonID(id) {
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
	d := day.Open(daytest.Class(), house.Defaults())
	require.True(t, d.Why.Silent(), d.Why)
	p := d.Problem
	require.NoError(t, p.Check())
	assert.Equal(t, 180.0, p.WindowMinutes)
	spread := 0.12
	assert.Equal(t, []schedule.Machine{{ID: "1", Spread: &spread, BreakFactor: 1}, {ID: "2", Spread: &spread, BreakFactor: 1}}, p.Machines)
	assert.Equal(t, []schedule.Resource{{ID: "hoop-2", Count: 2}, {ID: "hoop-1", Count: 1}, {ID: day.Instructor, Count: 1}, {ID: day.Iron, Count: 1}}, p.Resources)
	require.Len(t, p.Jobs, 3)

	ann, cat := person(t, p, 1), person(t, p, 3)
	assert.NotContains(t, ann["hoop"].Needs, day.Instructor, "Ann has shown that she can hoop")
	assert.Equal(t, 1, cat["hoop"].Needs[day.Instructor], "Cat has not")
	assert.Equal(t, 1, cat["load"].Needs[day.Instructor])
	assert.InDelta(t, *ann["hoop"].Minutes*house.Defaults().Pace.FirstTimer, *cat["hoop"].Minutes, 0.1, "a first-timer takes longer")
	assert.Equal(t, 1, ann["press"].Needs[day.Iron])
	assert.True(t, ann["load"].KeepMachine, "who has loaded stays at the machine")
	assert.Equal(t, map[string]schedule.Choice{"1": {"hoop-2", "hoop-1"}, "2": {"hoop-1"}}, ann["hoop"].TakeFor, "the one the house prefers first, and any that fits")
	assert.ElementsMatch(t, []string{"hoop-1", "hoop-2"}, ann["unhoop"].Release)
	assert.InDelta(t, ann["sew"].On["1"], ann["sew"].On["2"], 0.01)
}

// Two machines want the one small hoop: the one that takes no other gets it,
// the other takes the next size up.
func TestTheMachineWithTheLeastChoiceGetsTheHoop(t *testing.T) {
	d := day.Open(daytest.Class(), house.Defaults())
	seats := d.Works[0].Sewing[0].Seats
	assert.Equal(t, []string{"Large", "Small"}, []string{seats[0].Hoop.Name, seats[1].Hoop.Name})
}

func TestWhoIsNotReadyIsSaid(t *testing.T) {
	d := day.Open(daytest.Class(), house.Defaults())
	require.Len(t, d.NotReady, 1)
	assert.Equal(t, "Cat", d.NotReady[0].Student.Name)
	assert.Equal(t, skill.SafeStart, d.NotReady[0].Missing[0].Key)
}

// banner is a project that no machine of the class can sew.
func banner() *project.Project {
	huge := daytest.Badge()
	huge.WidthMM, huge.HeightMM = 400, 400
	other := daytest.Badges()
	other.ID, other.Name, other.Hoopings = 2, "Banner", []project.Hooping{{Design: huge}}
	return &other
}

// One whose work fits no machine spoils nobody else's day: the plan is without
// them, and says so.
func TestWhatFitsNoMachineIsOneStudentsTrouble(t *testing.T) {
	whole := daytest.Class()
	whole.Places = whole.Places[1:]
	class := daytest.Class()
	class.Places[0].Makes = banner()
	p := daytest.Plan(t, class)
	assert.Equal(t, daytest.Plan(t, whole).FinishMinutes, p.FinishMinutes, "as if only the others came")
	require.Len(t, p.LeftOut, 1)
	assert.Equal(t, "Ann", p.LeftOut[0].Student.Name)
	assert.Equal(t, "None of the class's machines can sew “Banner”.", p.LeftOut[0].Why.String())
	packing, err := p.Pack(shelfWidth)
	require.NoError(t, err)
	assert.Len(t, packing.Bags, 2, "nothing is cut for what cannot be sewn")
	assert.Equal(t, 2+1+1, packing.Kit.Sets)
	_, sits := p.MachineOf(1)
	assert.False(t, sits)

	gone := daytest.Class()
	other := daytest.Badges()
	other.ID, other.Hoopings = 3, []project.Hooping{{}}
	gone.Places[2].Makes = &other
	d := day.Open(gone, house.Defaults())
	assert.True(t, d.Why.Silent())
	assert.Contains(t, d.LeftOut[0].Why.String(), "gone from the workshop")
	assert.Empty(t, d.NotReady, "Cat has nothing here to be ready for")
}

// Who does not come is not asked what they can do.
func TestTheAbsentAreNotUnready(t *testing.T) {
	class := daytest.Class()
	require.NotEmpty(t, day.Open(class, house.Defaults()).NotReady)
	class.Places[2].Attendance = day.Absent
	assert.Empty(t, day.Open(class, house.Defaults()).NotReady)
}

// What is in the way of a plan is said in so many words.
func TestWhatIsInTheWayOfAPlan(t *testing.T) {
	huge := daytest.Badge()
	huge.WidthMM, huge.HeightMM = 400, 400
	for name, c := range map[string]struct {
		change func(*day.Class)
		says   string
	}{
		"nobody comes": {func(c *day.Class) {
			for i := range c.Places {
				c.Places[i].Attendance = day.Absent
			}
		}, "Everyone is absent."},
		"too large":          {func(c *day.Class) { c.Project.Hoopings[0].Design = huge }, "None of the class's machines can sew “Badges”."},
		"the design is gone": {func(c *day.Class) { c.Project.Hoopings[0].Design = design.Design{} }, "A design of “Badges” is gone from the workshop: give the class a project that has its designs."},
		"each one's own work is too large": {func(c *day.Class) {
			for i := range c.Places {
				c.Places[i].Makes = banner()
			}
		}, "None of the class's machines can sew “Banner”."},
	} {
		t.Run(name, func(t *testing.T) {
			class := daytest.Class()
			c.change(&class)
			d := day.Open(class, house.Defaults())
			assert.Equal(t, c.says, d.Why.String())
			assert.Empty(t, d.Problem.Jobs)
		})
	}
}

// Who is late is ready later; who makes something else has steps of their own.
func TestTheRosterOfTheDay(t *testing.T) {
	class := daytest.Class()
	class.Places[1].Attendance, class.Places[1].LateMinutes = day.Late, 20
	class.Places[2].Attendance = day.Absent
	twice := daytest.Badges()
	twice.ID, twice.Name = 2, "Badge, front and back"
	twice.Hoopings = append(twice.Hoopings, project.Hooping{Title: "the back", Design: daytest.Badge()})
	twice.Work = []project.Work{{Title: "Pin it", Minutes: 3}}
	class.Places[0].Makes = &twice
	d := day.Open(class, house.Defaults())
	require.True(t, d.Why.Silent(), d.Why)
	require.Len(t, d.Works, 2)
	require.Len(t, d.Problem.Jobs, 2)
	ann := person(t, d.Problem, 1)
	assert.Contains(t, ann, string(pace.StepSew.In(2)))
	assert.Contains(t, ann, string(pace.WorkKey(1, false)))
	assert.NotContains(t, person(t, d.Problem, 2), string(pace.StepSew.In(2)))
	for _, p := range d.Problem.Jobs {
		if p.ID == day.PersonID(2) {
			assert.Equal(t, 20.0, p.Ready)
		}
	}
}

// A plan tells when the class is done, in whole minutes and never too early.
func TestWhatFollowsFromAPlan(t *testing.T) {
	p := daytest.Plan(t, daytest.Class())
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
	red := supply.Spool(supply.Polyester, daytest.Red)
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
	d := day.Open(daytest.Class(), house.Defaults())
	for bottleneck, says := range map[string]string{
		day.Instructor: "The instructor is the tight spot.", day.Iron: "The iron is the tight spot.", "hoop-1": "The one small hoop is the tight spot.",
		"hoop-2": "The 2 large hoops are the tight spot.", "1": "The machines are the tight spot.", "": "",
	} {
		assert.Equal(t, says, d.Take(schedule.Plan{Bottleneck: bottleneck}).Tight.String())
	}
	one := daytest.Class()
	one.Machines = one.Machines[:1]
	assert.Equal(t, "Gull is the tight spot.", day.Open(one, house.Defaults()).Take(schedule.Plan{Bottleneck: "1"}).Tight.String())
}

func shelfWidth(supply.Key) float64 { return 1000 }

// Three students, a test and a spare: five sets, each bag with what its
// owner's machine takes.
func TestKitsArePackedBySeat(t *testing.T) {
	class := daytest.Class()
	step := kit.Item{Key: supply.Key{Kind: supply.StepCard}, Count: 1}
	class.Places[0].Packed = []kit.ItemID{step.ID()}
	p := daytest.Plan(t, class)
	packing, err := p.Pack(shelfWidth)
	require.NoError(t, err)
	assert.Equal(t, 5, packing.Kit.Sets)
	require.Len(t, packing.Bags, 3)
	for i, b := range packing.Bags {
		assert.Equal(t, i+1, b.Sitting)
		seat, _ := p.MachineOf(b.ID)
		assert.Equal(t, seat.Name, b.Machine)
		assert.Contains(t, b.Items, day.BagItem{Item: kit.Item{Key: supply.Named(supply.Part, "badge pin"), Count: 2, Name: "badge pin"}})
		want := len(b.Items)
		if b.Name == "Ann" {
			want--
		}
		assert.Equal(t, want, b.Missing, b.Name)
		hoop := daytest.Small
		if b.Machine == "Gull" {
			hoop = daytest.Large
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
	p := day.Open(daytest.Class(), house.Defaults()).Unplanned(day.Day{}.PoolName(day.Iron))
	packing, err := p.Pack(shelfWidth)
	require.NoError(t, err)
	assert.Equal(t, 5, packing.Kit.Sets)
	assert.Len(t, packing.Bags, 3)
	assert.Empty(t, packing.Bags[0].Machine)
}

// A seat says how a machine takes a hooping; one that is not there does not.
func TestSeats(t *testing.T) {
	w := day.Open(daytest.Class(), house.Defaults()).Works[0]
	assert.True(t, w.Fits(1))
	assert.False(t, w.Fits(9))
	_, ok := w.SeatAt(1, 2)
	assert.False(t, ok, "there is one hooping")
	seat, ok := w.SeatAt(2, 1)
	require.True(t, ok)
	assert.Equal(t, "dst", seat.Format())
	assert.Equal(t, []room.Hoop{daytest.Small, daytest.Large}, room.HoopsOf([]room.Machine{daytest.Gull(), daytest.Tern()}))
}

// What another class has of the room at the same time, this one does not get: a
// machine takes another size, or says where its hoop is.
func TestHoopsAreSharedWithOtherClasses(t *testing.T) {
	assert.Equal(t, map[int64]int{daytest.Small.ID: 1, daytest.Large.ID: 2}, daytest.Plan(t, daytest.Class()).HoopsTaken())
	class := daytest.Class()
	class.Lent = []day.Lent{{HoopID: daytest.Small.ID, Count: 1, Class: "Ropes"}}
	d := day.Open(class.In([]room.Machine{daytest.Gull(), daytest.Tern()}), house.Defaults())
	assert.NotContains(t, daytest.Plan(t, d.Class).HoopsTaken(), daytest.Small.ID, "the one small hoop is with the other class")
	seat, _ := d.Works[0].SeatAt(2, 1)
	assert.Equal(t, "its Small hoop is with “Ropes” then", seat.Problem.String(), "Tern takes no other")
	require.Len(t, d.Loud(), 1)
	assert.Equal(t, "1 of the small hoops is with “Ropes” while the class runs.", d.Loud()[0].String())
	assert.Equal(t, 1, daytest.Tern().Hoops[0].Count, "the room itself stays as it is")
}

// A machine that is out of order while the class runs sits out.
func TestAnOutageKeepsAMachineOut(t *testing.T) {
	class := daytest.Class()
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
			class := daytest.Class()
			class.Machines[0].Outages = []room.Outage{{StartsAt: c.from, EndsAt: c.to, Reason: "belt"}}
			d := day.Open(class, house.Defaults())
			assert.Equal(t, !c.out, d.Works[0].Fits(1))
			assert.True(t, d.Works[0].Fits(2))
			assert.Equal(t, c.out, len(d.Idle()) == 1)
			for _, sit := range daytest.Plan(t, class).Sits(1) {
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
	class := daytest.Class()
	perforated, _ := technique.ByKey("perforated")
	class.Project.Techniques = []technique.Technique{perforated}
	plan := daytest.Plan(t, class)
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
		for _, s := range plan.StepsOf(day.PersonID(place.ID)) {
			if s.Operation == "sew" {
				assert.Equal(t, s.Machine, day.StationID(m.ID))
			}
		}
	}
}

// A seam in sewing mode needs a machine that sews, which may be one that could not
// embroider the work.
func TestASeamInSewingMode(t *testing.T) {
	class := daytest.Class()
	turned, _ := technique.ByKey("turned-by-machine")
	class.Project.Techniques = []technique.Technique{turned}
	d := day.Open(class, house.Defaults())
	assert.Contains(t, d.Why.String(), "none of the class's machines sews")
	class.Machines = append(class.Machines, room.Machine{ID: 9, Name: "Seamer", Formats: []string{"dst"}, TopSpeedSPM: 600, Needles: 1, Sews: true})
	plan := daytest.Plan(t, class)
	assert.Len(t, plan.Errands(9), 3)
	for _, idle := range plan.Idle() {
		assert.NotEqual(t, "Seamer", idle.Name, "it is booked for the seams")
	}
}

// What everyone does together at the beginning comes before anybody's first step,
// what is done at the end after everybody's last; a class has to fit with both.
func TestWhatIsDoneTogether(t *testing.T) {
	class := daytest.Class()
	alone := daytest.Plan(t, class)
	class.OpeningMinutes, class.ClosingMinutes = 20, 15
	plan := daytest.Plan(t, class)
	for _, s := range plan.Result.Assignments {
		assert.GreaterOrEqual(t, s.Start, 20.0)
		assert.LessOrEqual(t, s.End, 165.0)
	}
	assert.InDelta(t, alone.FinishMinutes+35, plan.FinishMinutes, 1)
	assert.InDelta(t, alone.SpareMinutes-35, plan.SpareMinutes, 1)
	assert.InDelta(t, alone.LongestWait, plan.LongestWait, 1e-9, "what is done together is no wait")
	class.EndsAt = class.StartsAt.Add(time.Duration(plan.Result.LowerBoundMinutes+14) * time.Minute)
	assert.False(t, daytest.Plan(t, class).Result.Fits)
}
