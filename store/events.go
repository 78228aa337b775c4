package store

import (
	"time"

	"chalkstep/core/live"
	"chalkstep/core/pace"
)

// A classEventRow is one line of the log of a class.
type classEventRow struct {
	WorkshopID int64
	ClassID    int64
	Seq        int64
	Kind       live.Kind
	HappenedAt time.Time
	NotedAt    time.Time
	StudentID  int64
	MachineID  int64
	Step       pace.StepKey
	Stop       int
	Reason     live.Reason
	Until      *time.Time
	Note       string
	Speed      float64
	Undoes     *int64
	StationID  int64
	Sender     string
	PartOf     int64
	SaidBy     int64
}

func (r classEventRow) event(by string) live.Event {
	e := live.Event{Seq: r.Seq, Kind: r.Kind, At: r.HappenedAt, NotedAt: r.NotedAt, StudentID: r.StudentID,
		MachineID: r.MachineID, Step: r.Step, Stop: r.Stop, Reason: r.Reason, Text: r.Note, Speed: r.Speed,
		StationID: r.StationID, Sender: r.Sender, PartOf: r.PartOf, By: by}
	if r.Until != nil {
		e.Until = *r.Until
	}
	if r.Undoes != nil {
		e.Undoes = *r.Undoes
	}
	return e
}

// MostEvents of one class: more than thirty people press in a long day.
const MostEvents = 5000

// Events are what happened in a class, in order.
func (w Workshop) Events(classID int64) ([]live.Event, error) {
	var rows []struct {
		Row classEventRow `gorm:"embedded"`
		By  string
	}
	err := w.db.Raw(`SELECT e.*, coalesce(a.name, m.name, '') AS by FROM class_events e
			LEFT JOIN accounts a ON a.id = e.said_by AND a.workshop_id = e.workshop_id LEFT
			JOIN machines m ON m.id = e.station_id AND m.workshop_id = e.workshop_id
		WHERE e.workshop_id = ? AND e.class_id = ? ORDER BY e.seq LIMIT ?`, w.id, classID, MostEvents).Scan(&rows).Error
	events := make([]live.Event, len(rows))
	for i, r := range rows {
		events[i] = r.Row.event(r.By)
	}
	return events, explain("reading what happened in the class", err)
}

// AddEvent writes an event down as the next of its class, which has to be locked, as
// somebody says; 0 for the phone of a station. One that is not whole is refused.
func (w Workshop) AddEvent(classID int64, e live.Event, byID int64) error {
	if err := e.Check(); err != nil {
		return err
	}
	row := classEventRow{
		ClassID: classID, Seq: e.Seq, Kind: e.Kind, HappenedAt: e.At, NotedAt: e.NotedAt, StudentID: e.StudentID,
		MachineID: e.MachineID, Step: e.Step, Stop: e.Stop, Reason: e.Reason,
		Note: e.Text, Speed: e.Speed, StationID: e.StationID, Sender: e.Sender, PartOf: e.PartOf, SaidBy: byID,
	}
	if row.NotedAt.IsZero() {
		row.NotedAt = e.At
	}
	if !e.Until.IsZero() {
		row.Until = &e.Until
	}
	if e.Undoes != 0 {
		row.Undoes = &e.Undoes
	}
	return explain("noting what happened in the class", w.db.Create(&row).Error)
}

// Leave keeps the rows that an event of a class leaves behind, as somebody says. They count as long
// as the event is not taken back.
func (w Workshop) Leave(classID int64, e live.Event, t live.Trace, byID int64) error {
	if t.StruckID != 0 {
		row := machineStrikeRow{ClassID: classID, Seq: e.Seq, MachineID: t.StruckID, StruckAt: e.At}
		if err := w.db.Create(&row).Error; err != nil {
			return explain("noting a needle that struck", err)
		}
	}
	if t.CaredID != 0 {
		row := machineCareRow{MachineID: t.CaredID, Kind: t.Care, DoneAt: e.At.Truncate(time.Second), DoneBy: byID,
			ClassID: &classID, Seq: &e.Seq}
		if err := w.db.Create(&row).Error; err != nil {
			return explain("noting the care of a machine", err)
		}
	}
	if err := w.freeClass(classID, t.FreeFrom); err != nil {
		return err
	}
	if t.Observed != nil {
		return w.Observe(e.Seq, *t.Observed)
	}
	return nil
}

// freeClass has the machines and people of a class free from a moment on, zero for not yet: it has them
// again where that is taken back, unless somebody else has them meanwhile.
func (w Workshop) freeClass(classID int64, from time.Time) error {
	var free *time.Time
	if !from.IsZero() {
		free = &from
	}
	done := w.db.Exec("UPDATE classes SET free_from = ? WHERE workshop_id = ? AND id = ? AND free_from IS DISTINCT FROM ?",
		free, w.id, classID, free)
	err := done.Error
	if err == nil && done.RowsAffected > 0 {
		err = w.db.Exec(`UPDATE bookings b
			SET ends_at = greatest(least(c.ends_at, c.free_from), b.starts_at + interval '1 minute')
			FROM classes c WHERE c.id = b.class_id AND b.workshop_id = ? AND c.id = ?`, w.id, classID).Error
	}
	return explain("freeing what a class has", err)
}
