package store

import (
	"context"
	"time"

	"chalkstep/core/booking"
	"chalkstep/core/classday"
	"chalkstep/core/fleet"
)

// A waitRow is somebody who waits for a machine that another has.
type waitRow struct {
	ID          int64
	WorkshopID  int64
	StudentID   int64
	MachineID   int64
	StartsAt    time.Time
	EndsAt      time.Time
	Accompanied bool
	AskedAt     time.Time
	AskedBy     *int64
	EndedAt     *time.Time
}

// MostWaits are open in a workshop.
const MostWaits = 200

// Waits lists who waits for what from a moment on, in the order in which they asked.
func (w Workshop) Waits(now time.Time) ([]fleet.Wait, error) {
	var rows []struct {
		Row     waitRow `gorm:"embedded"`
		Student string
		Machine string
	}
	err := w.db.Raw(`SELECT x.*, s.name AS student, m.name AS machine FROM waits x JOIN students s ON s.id = x.student_id
		JOIN machines m ON m.id = x.machine_id
		WHERE x.workshop_id = ? AND x.ended_at IS NULL AND x.starts_at > ? AND s.retired_at IS NULL AND m.retired_at IS NULL
		ORDER BY x.asked_at, x.id LIMIT ?`, w.id, now, MostWaits).Scan(&rows).Error
	waits := make([]fleet.Wait, len(rows))
	for i, r := range rows {
		waits[i] = fleet.Wait{
			ID: r.Row.ID, Student: fleet.Named{ID: r.Row.StudentID, Name: r.Student},
			Machine:  fleet.Named{ID: r.Row.MachineID, Name: r.Machine},
			StartsAt: r.Row.StartsAt, EndsAt: r.Row.EndsAt, Accompanied: r.Row.Accompanied,
		}
	}
	return waits, explain("listing who waits", err)
}

// Wait puts somebody on the waiting list, by somebody of the staff (0 for the student).
func (w Workshop) Wait(x fleet.Wait, byID int64, now time.Time) error {
	row := waitRow{StudentID: x.Student.ID, MachineID: x.Machine.ID, StartsAt: x.StartsAt, EndsAt: x.EndsAt,
		Accompanied: x.Accompanied, AskedAt: now}
	if byID != 0 {
		row.AskedBy = &byID
	}
	return explain("putting somebody on the waiting list", w.db.Create(&row).Error)
}

// EndWait takes somebody off the waiting list; of a student alone where one is named.
func (w Workshop) EndWait(id, studentID int64, now time.Time) error {
	open := w.db.Model(&waitRow{}).Where("id = ? AND ended_at IS NULL", id)
	if studentID != 0 {
		open = open.Where("student_id = ?", studentID)
	}
	return found("taking somebody off the waiting list", open.Update("ended_at", now))
}

// MoveBooking gives a student's booking another machine and time.
func (w Workshop) MoveBooking(id, machineID int64, to booking.Span) error {
	return w.InTx(func(tx Workshop) error {
		return found("moving the booking", tx.db.Model(&bookingRow{}).Where("id = ? AND student_id IS NOT NULL", id).
			Updates(map[string]any{"machine_id": machineID, "starts_at": to.From, "ends_at": to.To}))
	})
}

// SatDown notes when somebody sat down at what they had booked, if nobody has; of a student
// alone where one is named.
func (w Workshop) SatDown(id, studentID int64, now time.Time) error {
	open := w.db.Model(&bookingRow{}).Where("id = ? AND student_id IS NOT NULL AND starts_at < ? AND ends_at > ?", id,
		now.Add(time.Hour), now)
	if studentID != 0 {
		open = open.Where("student_id = ?", studentID)
	}
	return found("noting that somebody sat down", open.Update("sat_at", now))
}

// GiveUp frees the machines at which nobody has sat down since their time began before a
// moment, and that is not over; it gives what they were.
func (w Workshop) GiveUp(before, now time.Time) ([]fleet.Booking, error) {
	var rows []struct {
		Row     bookingRow `gorm:"embedded"`
		Student string
		Machine string
	}
	err := w.db.Raw(`DELETE FROM bookings b USING students s, machines m
		WHERE b.workshop_id = ? AND b.student_id = s.id AND b.machine_id = m.id AND b.class_id IS NULL AND b.sat_at IS NULL
		AND b.starts_at < ? AND b.ends_at > ?
		RETURNING b.*, s.name AS student, m.name AS machine`, w.id, before, now).Scan(&rows).Error
	all := make([]fleet.Booking, len(rows))
	for i, r := range rows {
		all[i] = fleet.Booking{ID: r.Row.ID, Machine: fleet.Named{ID: r.Row.MachineID, Name: r.Machine},
			Student: &fleet.Named{ID: *r.Row.StudentID, Name: r.Student}, StartsAt: r.Row.StartsAt, EndsAt: r.Row.EndsAt}
	}
	return all, explain("giving up what nobody came to", err)
}

// Watched are the workshops in which somebody waits for a machine, has one at which they are
// expected just now, or has called a class off whose slots are to be freed.
func (s *Store) Watched(ctx context.Context, now time.Time) ([]int64, error) {
	const most = 10_000
	var ids []int64
	err := s.db.WithContext(ctx).Raw(`SELECT workshop_id FROM waits WHERE ended_at IS NULL AND starts_at > @now
		UNION SELECT workshop_id FROM bookings WHERE student_id IS NOT NULL AND sat_at IS NULL AND starts_at <= @now
		AND ends_at > @now
		UNION SELECT workshop_id FROM classes WHERE off_at <= @held AND cancelled_at IS NULL
		ORDER BY workshop_id LIMIT @most`, map[string]any{"now": now, "held": now.Add(-classday.HeldFor), "most": most}).Scan(
		&ids).Error
	return ids, explain("looking where machines are waited for", err)
}
