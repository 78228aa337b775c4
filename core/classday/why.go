package classday

import (
	"strings"

	"chalkstep/core/say"
	"chalkstep/core/schedule"
)

// A Why says of a step of the plan why it does not begin sooner.
type Why struct {
	Text say.Text
	// Critical tells that the class ends as late as it does because of it.
	Critical bool
}

// Whys are those of the steps of the result, in its order.
func (p Plan) Whys() []Why {
	whys := make([]Why, len(p.Result.Assignments))
	for i, c := range schedule.Why(p.Problem, p.Result) {
		whys[i] = Why{p.why(p.Result.Assignments[i], c), c.Critical}
	}
	return whys
}

func (p Plan) why(placed schedule.Assignment, c schedule.Cause) say.Text {
	switch c.Kind {
	case schedule.FollowsArrival:
		return say.T("It is the first thing they do.")
	case schedule.FollowsPin:
		return say.T("It is pinned to begin then.")
	case schedule.FollowsClosed:
		return say.T("It begins when the break is over, or what was out is back.")
	case schedule.FollowsOther:
		return say.T("It waits for %s, which %s has until %s.", p.thing(c.Resource), p.doing(c),
			say.Clock(p.At(placed.Start)))
	case schedule.FollowsNext:
		if c.Job != "" {
			return say.T("It is done just before %s comes free of %s.", p.thing(c.Resource), p.doing(c))
		}
		return say.T("It is done just before what follows.")
	}
	return say.T("It follows their own step before.")
}

// thing is what somebody waits for.
func (p Plan) thing(resource string) say.Text {
	if m, is := p.Machine(resource); is {
		return say.T("%s", m.Name)
	}
	if strings.HasPrefix(resource, hoopPrefix) {
		return say.T("a %s hoop", say.Name(strings.ToLower(p.PoolName(resource).String())))
	}
	return say.T("the %s", say.Name(strings.ToLower(p.PoolName(resource).String())))
}

// doing is who has it.
func (p Plan) doing(c schedule.Cause) say.Text {
	w, place, ok := p.Maker(c.Job)
	step, has := w.Step(c.Operation)
	if !ok || !has {
		return say.T("somebody else")
	}
	return say.T("%s (%s)", place.Name, say.Name(strings.ToLower(step.Title.String())))
}
