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

// BookingsBetween lists what touches a stretch of time, by start.
func (w Workshop) BookingsBetween(from, to time.Time) ([]Booking, error) {
	var bookings []Booking
	err := w.db.Preload("Machine").Preload("Student").Preload("Class").
		Where("starts_at < ? AND ends_at > ?", to, from).Order("starts_at, id").Find(&bookings).Error
	return bookings, explain("listing the bookings", err)
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
	result := w.db.Where("id = ? AND class_id IS NULL", id).Delete(&Booking{})
	if result.Error == nil && result.RowsAffected == 0 {
		return explain("cancelling the booking", ErrNotFound)
	}
	return explain("cancelling the booking", result.Error)
}
