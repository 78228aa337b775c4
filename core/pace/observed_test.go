package pace_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/pace"
)

// observe is somebody who takes so much longer over a bench step than said.
func observe(n int, step pace.StepKey, student int64, factor float64) []pace.Observation {
	all := make([]pace.Observation, n)
	for i := range all {
		all[i] = pace.Observation{ClassID: 1, Step: step, StudentID: student, SaidMinutes: 5, PlannedMinutes: 5,
			TookMinutes: 5 * factor}
	}
	return all
}

// One odd run moves little, many move all the way; whoever forgot to press moves nothing.
func TestLearningIsSlow(t *testing.T) {
	for name, c := range map[string]struct {
		observed    []pace.Observation
		least, most float64
	}{
		"nothing":               {nil, 1, 1},
		"once, 40 % longer":     {observe(1, pace.StepMark, 1, 1.4), 1.02, 1.13},
		"thirty, 40 % longer":   {observe(30, pace.StepMark, 1, 1.4), 1.3, 1.4},
		"thirty, 40 % shorter":  {observe(30, pace.StepMark, 1, 0.6), 0.6, 0.66},
		"an hour over lunch":    {observe(3, pace.StepMark, 1, 12), 1, 1},
		"four times as long":    {observe(400, pace.StepMark, 1, 4), 2.9, 3},
		"one of ten over lunch": {append(observe(9, pace.StepMark, 1, 1), observe(1, pace.StepMark, 1, 5.5)...), 1, 1.01},
	} {
		got := pace.Learn(c.observed, pace.Learned{}).Steps[pace.StepMark].Used()
		assert.True(t, got >= c.least-1e-9 && got <= c.most+1e-9, "%s: %v", name, got)
	}
}

// A slow student is told from a slow step, and a slow machine from a slow design.
func TestWhatIsSlowIsToldApart(t *testing.T) {
	var all []pace.Observation
	for student := range int64(8) {
		factor := 1.2
		if student == 3 {
			factor *= 1.5
		}
		all = append(all, observe(6, pace.StepHoop, student, factor)...)
	}
	for machine := range int64(3) {
		for design := int64(1); design <= 2; design++ {
			factor := 1.0
			if machine == 2 {
				factor *= 1.3
			}
			for range 12 {
				all = append(all, pace.Observation{Step: pace.StepSew, MachineID: machine, DesignID: design, SaidMinutes: 10,
					TookMinutes: 10 * factor, Stitches: 5000, Breaks: int(machine) / 2})
			}
		}
	}
	l := pace.Learn(all, pace.Learned{})
	assert.InDelta(t, 1.2, l.Steps[pace.StepHoop].Factor, 0.03)
	assert.Greater(t, l.Students[3].Factor, 1.2)
	assert.InDelta(t, 1, l.Students[1].Factor, 0.03)
	assert.InDelta(t, 1.3, l.Machines[2].Factor, 0.06)
	assert.InDelta(t, 1, l.Designs[1].Factor, 0.03)
	assert.Equal(t, pace.Broken{Breaks: 24, Stitches: 120_000}, l.Broken[2])
	assert.InDelta(t, l.Machines[2].Factor*l.Designs[1].Factor, l.Of(pace.StepSew, 3, 2, 1), 1e-9)
	assert.InDelta(t, l.Steps[pace.StepHoop].Factor*l.Students[3].Factor, l.Of(pace.StepHoop, 3, 0, 0), 1e-9)
	assert.InDelta(t, l.Students[3].Factor, l.Of("work:1", 3, 0, 0), 1e-9,
		"a project's own step has no figure of the house")
}

// What is set aside is not used, whatever is learned after.
func TestSetAside(t *testing.T) {
	l := pace.Learn(observe(30, pace.StepMark, 1, 1.4), pace.Learned{})
	l.Steps[pace.StepMark] = pace.Factor{Factor: 1.4, N: 30, Aside: "the template was lost"}
	again := pace.Learn(observe(40, pace.StepMark, 1, 1.4), l)
	assert.InDelta(t, 1, again.Steps[pace.StepMark].Used(), 1e-9)
	assert.Equal(t, "the template was lost", pace.Learn(nil, l).Steps[pace.StepMark].Aside)
	assert.InDelta(t, pace.Defaults().Mark, pace.Defaults().Taught(again).Mark, 1e-9)
	assert.Greater(t, pace.Defaults().Taught(pace.Learn(observe(40, pace.StepHoop, 1, 1.4), pace.Learned{})).HoopKnit,
		13.0)
}

// After five classes of a room that is 40 % slower, or faster, than the figures say, with
// days that vary as the handbook has it, estimates are within 15 %.
func TestFiveClassesTeachEnough(t *testing.T) {
	for _, truth := range []float64{0.6, 1.4} {
		rng := rand.New(rand.NewPCG(5, uint64(truth*10)))
		var all []pace.Observation
		l := pace.Learned{}
		steps := []pace.StepKey{pace.StepMark, pace.StepStabilise, pace.StepHoop, pace.StepLoad, pace.StepUnhoop,
			pace.StepCleanUp}
		for class := range int64(5) {
			for student := range int64(6) {
				id := class*6 + student // other students each time
				one := func(o pace.Observation, spread float64) {
					o.ClassID, o.StudentID = class, id
					o.PlannedMinutes = o.SaidMinutes * l.Of(o.Step, id, o.MachineID, o.DesignID)
					o.TookMinutes = o.SaidMinutes * truth * math.Exp(spread*rng.NormFloat64())
					all = append(all, o)
				}
				for _, step := range steps {
					one(pace.Observation{Step: step, SaidMinutes: 5}, 0.25)
				}
				one(pace.Observation{Step: pace.StepSew, MachineID: student % 3, DesignID: class%2 + 1, SaidMinutes: 18,
					Stitches: 9000}, 0.12)
			}
			l = pace.Learn(all, l)
		}
		for _, step := range steps {
			assert.InDelta(t, truth, l.Of(step, 99, 0, 0), 0.15*truth, "%s at %v", step, truth)
		}
		for machine := range int64(3) {
			for design := int64(1); design <= 2; design++ {
				assert.InDelta(t, truth, l.Of(pace.StepSew, 99, machine, design), 0.15*truth, "machine %d, design %d at %v",
					machine, design, truth)
			}
		}
		off := pace.OffBy(all)
		require.Len(t, off, 5)
		assert.InDelta(t, off[0].Said, off[0].Planned, 1e-9, "nothing was learned at first")
		assert.Less(t, off[4].Planned, 0.6*off[4].Said)
	}
}
