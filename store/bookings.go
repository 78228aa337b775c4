package store

import (
	"time"

	"gorm.io/gorm/clause"

	"chalkstep/core/room"
)

// A bookingRow gives a machine to a student or a class for a stretch of time.
// The database lets no two of one machine overlap.
type bookingRow struct {
	ID          int64
	WorkshopID  int64
	MachineID   int64
	StudentID   *int64
	ClassID     *int64
	StartsAt    time.Time
	EndsAt      time.Time
	Accompanied bool
}

// BookingsBetween lists a stretch of what touches a time, by start, and how
// many there are in all.
func (w Workshop) BookingsBetween(from, to time.Time, stretch Stretch) ([]room.Booking, int, error) {
	var rows []struct {
		Row         bookingRow `gorm:"embedded"`
		MachineName string
		StudentName *string
		ClassName   *string
		Total       int
	}
	err := w.db.Raw(`SELECT b.id, b.workshop_id, b.machine_id, b.student_id, b.class_id, b.starts_at, b.ends_at, b.accompanied,
			m.name AS machine_name, s.name AS student_name, c.name AS class_name, count(*) OVER () AS total
		FROM bookings b JOIN machines m ON m.id = b.machine_id LEFT JOIN students s ON s.id = b.student_id LEFT JOIN classes c ON c.id = b.class_id
		WHERE b.workshop_id = ? AND b.starts_at < ? AND b.ends_at > ? ORDER BY b.starts_at, b.id OFFSET ? LIMIT ?`, w.id, to, from, stretch.From, stretch.Limit).Scan(&rows).Error
	if err != nil || len(rows) == 0 {
		return nil, 0, explain("listing the bookings", err)
	}
	bookings := make([]room.Booking, len(rows))
	for i, r := range rows {
		row := r.Row
		b := room.Booking{ID: row.ID, Machine: room.Named{ID: row.MachineID, Name: r.MachineName}, StartsAt: row.StartsAt, EndsAt: row.EndsAt, Accompanied: row.Accompanied}
		if r.StudentName != nil {
			b.Student = &room.Named{ID: *row.StudentID, Name: *r.StudentName}
		}
		if r.ClassName != nil {
			b.Class = &room.Named{ID: *row.ClassID, Name: *r.ClassName}
		}
		bookings[i] = b
	}
	return bookings, rows[0].Total, nil
}

// Book gives a machine to a student, and gives the booking's ID.
func (w Workshop) Book(b room.Booking) (int64, error) {
	row := bookingRow{MachineID: b.Machine.ID, StudentID: &b.Student.ID, StartsAt: b.StartsAt, EndsAt: b.EndsAt, Accompanied: b.Accompanied}
	err := w.InTx(func(tx Workshop) error {
		if err := tx.lockMachines(row.MachineID); err != nil {
			return err
		}
		return explain("booking the machine", tx.db.Create(&row).Error)
	})
	return row.ID, err
}

// lockMachines lets one transaction at a time book these machines. Without
// it, two that insert overlapping bookings at once wait for each other inside
// the exclusion constraint, and the database ends one as a deadlock instead
// of as an overlap. Everyone locks in the order of the ids.
func (w Workshop) lockMachines(ids ...int64) error {
	var locked []machineRow
	err := w.db.Clauses(clause.Locking{Strength: "NO KEY UPDATE"}).Select("id").Where("id IN ?", ids).Order("id").Find(&locked).Error
	return explain("locking the machines", err)
}

// CancelBooking removes a student's booking. A class's machines are changed
// with the class.
func (w Workshop) CancelBooking(id int64) error {
	return found("cancelling the booking", w.db.Where("id = ? AND class_id IS NULL", id).Delete(&bookingRow{}))
}
