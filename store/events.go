package store

import (
	"time"

	"chalkstep/core/pace"
	"chalkstep/core/run"
)

// A classEventRow is one line of the log of a class.
type classEventRow struct {
	WorkshopID int64
	ClassID    int64
	Seq        int64
	Kind       run.Kind
	HappenedAt time.Time
	StudentID  int64
	Step       pace.StepKey
	Reason     run.Reason
	Undoes     *int64
	SaidBy     int64
}

// MostEvents of one class: more than thirty people press in a long day.
const MostEvents = 5000

// Events are what happened in a class, in order.
func (w Workshop) Events(classID int64) ([]run.Event, error) {
	var rows []struct {
		Row classEventRow `gorm:"embedded"`
		By  string
	}
	err := w.db.Raw(`SELECT e.*, coalesce(a.name, '') AS by FROM class_events e LEFT JOIN accounts a ON a.id = e.said_by AND a.workshop_id = e.workshop_id
		WHERE e.workshop_id = ? AND e.class_id = ? ORDER BY e.seq LIMIT ?`, w.id, classID, MostEvents).Scan(&rows).Error
	events := make([]run.Event, len(rows))
	for i, r := range rows {
		e := r.Row
		events[i] = run.Event{Seq: e.Seq, Kind: e.Kind, At: e.HappenedAt, StudentID: e.StudentID, Step: e.Step, Reason: e.Reason, By: r.By}
		if e.Undoes != nil {
			events[i].Undoes = *e.Undoes
		}
	}
	return events, explain("reading what happened in the class", err)
}

// AddEvent writes an event down as the next of its class, which has to be locked, as
// somebody says.
func (w Workshop) AddEvent(classID int64, e run.Event, byID int64) error {
	row := classEventRow{ClassID: classID, Seq: e.Seq, Kind: e.Kind, HappenedAt: e.At, StudentID: e.StudentID, Step: e.Step, Reason: e.Reason, SaidBy: byID}
	if e.Undoes != 0 {
		row.Undoes = &e.Undoes
	}
	return explain("noting what happened in the class", w.db.Create(&row).Error)
}
