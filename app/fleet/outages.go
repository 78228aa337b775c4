package fleet

import (
	"strings"
	"time"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/fleet"
)

// An OutageInput is when a machine cannot be used, as a person says it: two
// moments as forms write them, the second may be empty.
type OutageInput struct{ From, To, Reason string }

// AddOutage notes that a machine cannot be used.
func (d UseCases) AddOutage(machineID int64, in OutageInput) error {
	if err := d.Need(actor.ChangeRoom); err != nil {
		return err
	}
	if _, err := d.Workshop.Machine(machineID); err != nil {
		return err
	}
	problems := form.Problems{}
	o := fleet.Outage{Machine: fleet.Named{ID: machineID}, StartsAt: d.Clock().Moment(problems, "outage-from", in.From)}
	if strings.TrimSpace(in.To) != "" {
		end := d.Clock().Moment(problems, "outage-to", in.To)
		o.EndsAt = &end
		if len(problems) == 0 && !end.After(o.StartsAt) {
			problems["outage-to"] = "The end has to be after the start. Leave it empty while nobody knows."
		}
		if len(problems) == 0 && !end.After(d.Now) {
			problems["outage-to"] = "That is over already: there is nothing to plan around."
		}
	}
	const longestReason = 200
	if o.Reason = strings.TrimSpace(form.Cleaned(in.Reason)); o.Reason == "" || len([]rune(o.Reason)) > longestReason {
		problems["outage-reason"] = "Say what is the matter with it, in up to 200 letters."
	}
	if err := problems.OrNil(); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error { return d.Workshop.AddOutage(o, d.Who.AccountID) })
}

// EndOutage notes that a machine can be used again from now on.
func (d UseCases) EndOutage(machineID, id int64) error {
	if err := d.Need(actor.ChangeRoom); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error {
		return d.Workshop.EndOutage(machineID, id, d.Now.Truncate(time.Second))
	})
}
