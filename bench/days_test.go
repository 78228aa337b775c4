//go:build bench

package bench

import (
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"chalkstep/core/classday"
	"chalkstep/core/classday/classdaytest"
	"chalkstep/core/fleet"
	"chalkstep/core/live"
	"chalkstep/core/pace"
	"chalkstep/core/policy"
	"chalkstep/core/schedule/search"
	"chalkstep/core/skill"
)

// A playedDay is a class that is played through: how everybody really is that day, and what came of it.
type playedDay struct {
	plan   classday.Plan
	paces  live.Paces
	rng    *rand.Rand
	events []live.Event
	absent map[int64]bool
	// fails is the machine that fails at a minute, 0 for none.
	fails  int64
	failAt float64

	due   map[string]float64
	looks []look
	taken []live.Move
	end   float64
	// later is by what share all are done later, at the paces of the day, than by planning freely when the
	// machine failed; compared tells that both could be planned.
	later    float64
	compared bool
}

// A look is what was forecast at a minute, by today's paces and by who is told them.
type look struct{ minute, finish, told float64 }

// randomDay is a class of 3 to 12 people on 2 to 5 machines.
func randomDay(t *testing.T, seed uint64) *playedDay {
	rng := rand.New(rand.NewPCG(seed, 33))
	class := classdaytest.Class()
	class.Places, class.Machines = nil, nil
	people, machines := 3+rng.IntN(10), 2+rng.IntN(4)
	for i := range int64(people) {
		s := classdaytest.Practised(i+1, fmt.Sprintf("Student %02d", i+1))
		if rng.IntN(4) == 0 {
			s = skill.Student{ID: i + 1, Name: s.Name, FirstTimer: true}
		}
		class.Places = append(class.Places, classdaytest.Places(s)...)
	}
	for i := range int64(machines) {
		m := classdaytest.Gull()
		if rng.IntN(3) == 0 {
			m = classdaytest.Tern()
		}
		m.ID, m.Name, m.TopSpeedSPM = i+1, fmt.Sprintf("Machine %d", i+1), 400+100*rng.IntN(6)
		m.Hoops = slices.Clone(m.Hoops)
		for h := range m.Hoops {
			m.Hoops[h].Count = 2 + machines/2
		}
		class.Machines = append(class.Machines, m)
	}
	class.Instructors = 1 + people/5
	if rng.IntN(3) == 0 {
		class.BreakAt, class.BreakMinutes = 60+5*rng.IntN(12), 15
	}
	class.EndsAt = class.StartsAt.Add(8 * time.Hour)
	plan := planned(t, class)
	class.EndsAt = class.StartsAt.Add(time.Duration(plan.FinishMinutes*1.15) * time.Minute)
	plan = planned(t, class)
	d := &playedDay{plan: plan, rng: rng, paces: live.Paces{}, absent: map[int64]bool{}, due: map[string]float64{}}
	for _, p := range class.Places {
		d.paces[p.ID] = math.Exp((2*rng.Float64() - 1) * math.Log(1.3))
	}
	for range rng.IntN(3) {
		if people > 4 {
			d.absent[1+rng.Int64N(int64(people))] = true
		}
	}
	if rng.IntN(3) == 0 {
		d.fails, d.failAt = 1+rng.Int64N(int64(machines)), plan.Result.MakespanMinutes*(0.1+0.4*rng.Float64())
	}
	return d
}

func planned(t *testing.T, c classday.Class) classday.Plan {
	t.Helper()
	d := classday.Open(c, fleet.Learn(c.Machines, policy.Defaults()))
	require.True(t, d.Why.Silent(), d.Why.String())
	result, err := search.Solve(d.Problem, search.Options{Iterations: 3000, Seed: 1})
	require.NoError(t, err)
	return d.Take(result)
}

func (d *playedDay) at(minute float64) time.Time {
	return d.plan.Class.StartsAt.Add(time.Duration(minute * float64(time.Minute)))
}

func (d *playedDay) note(minute float64, e live.Event) {
	e.At = d.at(minute)
	for _, one := range d.state(minute).Written(e) {
		one.Seq = int64(len(d.events) + 1)
		d.events = append(d.events, one)
	}
}

func (d *playedDay) state(minute float64) live.State {
	return live.Of(d.plan, d.events).Until(d.at(minute))
}

// play has everybody sit where the board says, and take every offer.
func (d *playedDay) play(t *testing.T) {
	t.Helper()
	d.note(0, live.Event{Kind: live.Started})
	for _, p := range d.plan.Class.Places {
		if !d.absent[p.ID] {
			d.note(0, live.Event{Kind: live.Here, StudentID: p.ID})
		}
	}
	failed := false
	for minute := 0.0; minute < 1500; minute++ {
		d.work(minute)
		if d.fails != 0 && !failed && minute >= d.failAt {
			d.note(minute, live.Event{Kind: live.Failed, MachineID: d.fails})
			failed = true
		}
		s := d.state(minute)
		f := s.Forecast(d.at(minute))
		for _, o := range s.Offers(d.at(minute), f) {
			if len(o.Moves) > 0 {
				d.taken = append(d.taken, o.Moves...)
				d.note(minute, live.Event{Kind: live.Rearranged, Moves: o.Moves})
				s = d.state(minute)
				f = s.Forecast(d.at(minute))
				break
			}
		}
		told := s.ForecastAt(d.at(minute), d.paces)
		if failed && !d.compared && d.later == 0 {
			d.later = math.NaN()
			best, ok := freely(s, minute, d.paces, 3000)
			if ok && len(told.Stuck) == 0 {
				d.later, d.compared = told.Finish.Sub(d.at(0)).Minutes()/best-1, true
			}
		}
		d.looks = append(d.looks, look{minute, f.Finish.Sub(d.at(0)).Minutes(), told.Finish.Sub(d.at(0)).Minutes()})
		if !slices.ContainsFunc(s.Standings, func(at live.Standing) bool {
			return at.Presence == live.Present && !at.Finished()
		}) {
			return
		}
	}
	t.Fatalf("the day does not end: %v", d.state(1500).Forecast(d.at(1500)).Stuck)
}

// work has everybody be done with what they are at who is, up to a minute.
func (d *playedDay) work(until float64) {
	for range 1000 {
		s := d.state(until)
		first, when := live.Standing{}, math.Inf(1)
		for _, at := range s.Standings {
			step, more := at.Step()
			if !more || !at.Begun || at.Presence != live.Present {
				continue
			}
			key := fmt.Sprint(at.StudentID, step.Operation, at.Since.Unix())
			if _, known := d.due[key]; !known {
				length := at.LeftMinutes(at.Since) * d.paces[at.StudentID] * math.Exp(0.1*d.rng.NormFloat64())
				d.due[key] = at.Since.Sub(d.at(0)).Minutes() + length
			}
			if d.due[key] < when {
				first, when = at, d.due[key]
			}
		}
		if when > until {
			return
		}
		step, _ := first.Step()
		d.note(when, live.Event{Kind: live.Done, StudentID: first.StudentID, Step: pace.StepKey(step.Operation)})
		d.end = max(d.end, when)
	}
}

// TestRunningDays plays 300 random days: how true what is forecast is, and how many move.
func TestRunningDays(t *testing.T) {
	days := 300
	if n := os.Getenv("DAYS"); n != "" {
		fmt.Sscan(n, &days)
	}
	type errs struct{ mine, told []float64 }
	var half, most errs
	moved, movedDays, others := 0, 0, 0
	changed := 0
	var later []float64
	for seed := range days {
		d := randomDay(t, uint64(seed))
		d.play(t)
		for share, into := range map[float64]*errs{0.5: &half, 0.75: &most} {
			for _, l := range d.looks {
				if l.minute >= share*d.end {
					into.mine, into.told = append(into.mine, l.finish-d.end), append(into.told, l.told-d.end)
					break
				}
			}
		}
		s := d.state(d.end)
		for _, at := range s.Standings {
			for k, step := range d.plan.StepsOf(classday.PersonID(at.StudentID)) {
				if at.Steps[k].Machine != step.Machine {
					if d.fails == 0 && len(d.taken) == 0 {
						changed++
					}
					break
				}
			}
		}
		if d.compared {
			later = append(later, d.later)
		}
		if d.fails != 0 {
			movedDays++
			was := map[int64]bool{}
			for _, m := range d.taken {
				if was[m.StudentID] {
					continue
				}
				was[m.StudentID] = true
				moved++
				if home, _ := d.plan.MachineOf(m.StudentID); home.ID != d.fails {
					others++
				}
			}
		}
	}
	row(fmt.Sprintf("%d days: changes of machine nobody chose", days), fmt.Sprint(changed), "0")
	if len(later) > 0 {
		slices.Sort(later)
		sum := 0.0
		for _, share := range later {
			sum += share
		}
		row(fmt.Sprintf("%d failures: later than planned freely", len(later)),
			fmt.Sprintf("mean %.1f %%, p90 %.1f %%", 100*sum/float64(len(later)), 100*later[len(later)*9/10]), "3 %")
	}
	if movedDays > 0 {
		row(fmt.Sprintf("%d days with a failure: moved besides its own", movedDays),
			fmt.Sprintf("%.2f a day (%d moved)", float64(others)/float64(movedDays), moved), "1.5")
	}
	for _, one := range []struct {
		name, bar string
		errs
	}{{"at 50 % of the day", "5, 12, 2, 1.4 ×", half}, {"at 75 % of the day", "3, 8, 1.4 ×", most}} {
		m, p, b := spread(one.mine)
		tm, tp, _ := spread(one.told)
		row("forecast "+one.name,
			fmt.Sprintf("median %.1f, p90 %.1f, bias %.1f; told %.1f and %.1f, on average %.2f ×", m, p, b, tm, tp,
				meanError(one.mine)/meanError(one.told)), one.bar)
	}
}

// meanError is the mean of errors, whichever way.
func meanError(errs []float64) float64 {
	sum := 0.0
	for _, e := range errs {
		sum += math.Abs(e)
	}
	return sum / float64(len(errs))
}

// spread is the median and the 90th percentile of errors, whichever way, and their mean.
func spread(errs []float64) (median, p90, bias float64) {
	abs := make([]float64, len(errs))
	for i, e := range errs {
		abs[i], bias = math.Abs(e), bias+e/float64(len(errs))
	}
	slices.Sort(abs)
	return abs[len(abs)/2], abs[len(abs)*9/10], bias
}
