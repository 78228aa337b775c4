package fleet

import (
	"chalkstep/core/pace"
	"chalkstep/core/policy"
)

// A Logged is what the logged stitch-outs of a machine come to.
type Logged struct {
	pace.Runs
	// Thread that was measured.
	Thread pace.Drawn
}

// Learn puts what logged stitch-outs and classes tell into what is planned with: the pace
// of each machine, and the thread that a length on the face draws.
func Learn(machines []Machine, rules policy.Rules) policy.Rules {
	rules.Pace = rules.Pace.Taught(rules.Learned)
	thread := rules.Learned.Thread.Used()
	for i := range machines {
		m := &machines[i]
		if b := rules.Learned.Broken[m.ID]; b.Stitches > 0 {
			m.Logged.Breaks, m.Logged.BreakStitches = m.Logged.Breaks+b.Breaks, m.Logged.BreakStitches+b.Stitches
		}
		m.Pace = rules.Pace.Learned(m.Logged.Runs)
		thread = thread.And(m.Logged.Thread)
	}
	rules.Kit.DrawFactor = rules.Kit.LearnedDraw(thread)
	return rules
}
