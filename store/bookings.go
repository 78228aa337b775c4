package store

import (
	"time"

	"gorm.io/gorm/clause"
)

// A Booking gives a machine to a student or a class for a stretch of time.
// The database lets no two of one machine overlap.
type Booking struct {
	ID          int64
	WorkshopID  int64
	MachineID   int64
	StudentID   *int64
	ClassID     *int64
	StartsAt    time.Time
	EndsAt      time.Time
	Accompanied bool
	Machine     Machine
	Student     *Student
	Class       *Class
}

// BookingsBetween lists a stretch of what touches a time, by start, and how
// many there are in all. Of machine, student and class it knows the names.
func (w Workshop) BookingsBetween(from, to time.Time, stretch Stretch) ([]Booking, int, error) {
	var rows []struct {
		Booking     `gorm:"embedded"`
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
	bookings := make([]Booking, len(rows))
	for i, r := range rows {
		b := r.Booking
		b.Machine = Machine{ID: b.MachineID, Name: r.MachineName}
		if r.StudentName != nil {
			b.Student = &Student{ID: *b.StudentID, Name: *r.StudentName}
		}
		if r.ClassName != nil {
			b.Class = &Class{ID: *b.ClassID, Name: *r.ClassName}
		}
		bookings[i] = b
	}
	return bookings, rows[0].Total, nil
}

// Book adds a booking.
func (w Workshop) Book(b *Booking) error {
	return w.InTx(func(tx Workshop) error {
		if err := tx.lockMachines(b.MachineID); err != nil {
			return err
		}
		return explain("booking the machine", tx.db.Omit(clause.Associations).Create(b).Error)
	})
}

// lockMachines lets one transaction at a time book these machines. Without
// it, two that insert overlapping bookings at once wait for each other inside
// the exclusion constraint, and the database ends one as a deadlock instead
// of as an overlap. Everyone locks in the order of the ids.
func (w Workshop) lockMachines(ids ...int64) error {
	var locked []Machine
	err := w.db.Clauses(clause.Locking{Strength: "NO KEY UPDATE"}).Select("id").Where("id IN ?", ids).Order("id").Find(&locked).Error
	return explain("locking the machines", err)
}

// CancelBooking removes a student's booking. A class's machines are changed
// with the class.
func (w Workshop) CancelBooking(id int64) error {
	return found("cancelling the booking", w.db.Where("id = ? AND class_id IS NULL", id).Delete(&Booking{}))
}
