package classload

import (
	"errors"
	"fmt"

	"chalkstep/app/form"
	"chalkstep/core/live"
	"chalkstep/store"
)

// OpenLog locks a class, so that what is read of its log is what is added to.
func (d Loader) OpenLog(classID int64) (*Log, error) {
	if err := d.Workshop.LockClass(classID); err != nil {
		return nil, err
	}
	n, err := d.ReadLog(classID)
	if err == nil && !n.Page.Why.Silent() {
		err = form.Problems{"": d.Say(n.Page.Why)}
	}
	return n, err
}

// Note writes down what somebody says, or what that stands for; it is false where it does not fit.
func (d Loader) Note(n *Log, e live.Event) (fits bool, err error) {
	for _, written := range n.Page.Written(e) {
		if err := d.write(n, written); err != nil {
			return true, err
		}
		fits = true
	}
	return fits, nil
}

// write adds an event that was accepted, and keeps what it leaves behind.
func (d Loader) write(n *Log, e live.Event) error {
	if n.Page.Seq >= store.MostEvents {
		return form.Problems{"": fmt.Sprintf("A class can have %d events, and this one has them.", store.MostEvents)}
	}
	e.Seq, e.NotedAt = n.Page.Seq+1, d.Now
	if err := d.Workshop.AddEvent(n.Plan.Class.ID, e, d.Who.AccountID); err != nil {
		return err
	}
	n.Events = append(n.Events, e)
	n.Page = d.RunPageOf(n.Plan, n.Events)
	err := d.Workshop.Leave(n.Plan.Class.ID, e, n.Page.Leaves(e), d.Who.AccountID)
	if errors.Is(err, store.ErrOverlap) || errors.Is(err, store.ErrElsewhere) {
		return form.Problems{"": "Somebody else has a machine or a student of the class meanwhile, so it stays ended."}
	}
	return err
}
