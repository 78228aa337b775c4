package classday

import (
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"slices"

	"chalkstep/core/schedule"
)

// mostOthers is the share of a roster that may be new, gone or otherwise for the others to be kept
// where they are.
const mostOthers = 0.4

// A Print tells whether the day a plan was made for is another one now: of its room and hands, of
// everybody's steps, and from when they are ready.
type Print struct {
	Room  string
	Jobs  map[string]string
	Ready map[string]float64
}

// Print of the day.
func (d Day) Print() Print {
	room := d.Problem
	room.Jobs = nil
	p := Print{Room: printOf(room), Jobs: map[string]string{}, Ready: map[string]float64{}}
	for _, job := range d.Problem.Jobs {
		p.Ready[job.ID] = job.Ready
		job.Ready = 0
		p.Jobs[job.ID] = printOf(job)
	}
	return p
}

func printOf(what any) string {
	text, err := json.Marshal(what)
	if err != nil {
		return "" // what cannot be told apart is planned anew
	}
	sum := sha256.Sum256(text)
	return hex.EncodeToString(sum[:12])
}

// Keeping is the problem of the day with everybody at the machine, with the hoop and at the time of an
// earlier plan who is ready as then. ok is false where more has changed than who comes and when, as what
// somebody does, or much of that.
func (d Day) Keeping(was schedule.Plan, print Print) (p schedule.Problem, ok bool) {
	now := d.Print()
	if now.Room == "" || now.Room != print.Room || len(now.Jobs) == 0 {
		return p, false
	}
	same := map[string]bool{}
	others := 0
	for id, job := range now.Jobs {
		was, there := print.Jobs[id]
		if there && (job == "" || was != job) {
			return p, false
		}
		if same[id] = there && print.Ready[id] == now.Ready[id]; !same[id] {
			others++
		}
	}
	for id := range print.Jobs {
		if _, still := now.Jobs[id]; !still {
			others++
		}
	}
	if others == 0 || float64(others) > mostOthers*float64(len(now.Jobs)) {
		return p, false
	}
	p = d.Problem
	p.Jobs = slices.Clone(p.Jobs)
	for i, job := range p.Jobs {
		if same[job.ID] {
			p.Jobs[i] = kept(job, was)
		}
	}
	return p, true
}

// kept is a job where and when an earlier plan has it.
func kept(job schedule.Job, was schedule.Plan) schedule.Job {
	placed := map[string]schedule.Assignment{}
	for _, a := range was.Assignments {
		if a.Job == job.ID {
			placed[a.Operation] = a
		}
	}
	job.Operations = slices.Clone(job.Operations)
	var left []string // what they could have taken otherwise
	station := ""     // of the operation that comes, from the last
	for k := len(job.Operations) - 1; k >= 0; k-- {
		one := &job.Operations[k]
		at, known := placed[one.ID]
		if !known {
			continue
		}
		if minutes, can := one.On[at.Machine]; can {
			station = at.Machine
			one.On = map[string]float64{station: minutes}
			if goesOn := k > 0 && job.Operations[k-1].KeepMachine; !goesOn && one.At == nil {
				start := at.Start
				one.At = &start
			}
		}
		if choice := one.TakeFor[station]; len(at.Took) > 0 && slices.Contains(choice, at.Took[0]) {
			for _, pool := range one.MayTake() {
				if pool != at.Took[0] {
					left = append(left, pool)
				}
			}
			one.TakeFor = map[string]schedule.Choice{station: {at.Took[0]}}
		}
	}
	for k := range job.Operations {
		job.Operations[k].Release = slices.DeleteFunc(slices.Clone(job.Operations[k].Release), func(pool string) bool {
			return slices.Contains(left, pool)
		})
	}
	return job
}
