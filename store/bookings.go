package store

import (
	"time"

	"gorm.io/gorm/clause"

	"chalkstep/core/booking"
	"chalkstep/core/classday"
	"chalkstep/core/fleet"
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
	Purpose     string
	Note        string
	Overrode    string
	BookedBy    *int64
	SatAt       *time.Time
	MakesUp     *int64
}

// What a machine is booked for.
const (
	forPractice = "practice"
	forCare     = "care"
)

// BookingsBetween lists a stretch of what touches a time, by start, and how
// many there are in all.
func (w Workshop) BookingsBetween(from, to time.Time, stretch Rows) ([]fleet.Booking, int, error) {
	var rows []struct {
		Row         bookingRow `gorm:"embedded"`
		MachineName string
		StudentName *string
		ClassName   *string
		Total       int
	}
	err := w.db.Raw(`SELECT b.id, b.workshop_id, b.machine_id, b.student_id, b.class_id, b.starts_at, b.ends_at,
		b.accompanied, b.note, b.overrode, b.sat_at, b.makes_up,
			m.name AS machine_name, s.name AS student_name, c.name AS class_name, count(*) OVER () AS total
		FROM bookings b JOIN machines m ON m.id = b.machine_id LEFT JOIN students s ON s.id = b.student_id LEFT
		JOIN classes c ON c.id = b.class_id
		WHERE b.workshop_id = ? AND b.starts_at < ? AND b.ends_at > ? ORDER BY b.starts_at, b.id OFFSET ? LIMIT ?`, w.id, to,
		from, stretch.From, stretch.Limit).Scan(&rows).Error
	if err != nil || len(rows) == 0 {
		return nil, 0, explain("listing the bookings", err)
	}
	bookings := make([]fleet.Booking, len(rows))
	for i, r := range rows {
		row := r.Row
		b := fleet.Booking{ID: row.ID, Machine: fleet.Named{ID: row.MachineID, Name: r.MachineName}, StartsAt: row.StartsAt,
			EndsAt: row.EndsAt, Accompanied: row.Accompanied, Note: row.Note, Overrode: row.Overrode, SatAt: row.SatAt}
		if row.MakesUp != nil {
			b.MakesUpID = *row.MakesUp
		}
		if r.StudentName != nil {
			b.Student = &fleet.Named{ID: *row.StudentID, Name: *r.StudentName}
		}
		if r.ClassName != nil {
			b.Class = &fleet.Named{ID: *row.ClassID, Name: *r.ClassName}
		}
		bookings[i] = b
	}
	return bookings, rows[0].Total, nil
}

// Booking finds one that is no class's.
func (w Workshop) Booking(id int64) (fleet.Booking, error) {
	var r struct {
		Row     bookingRow `gorm:"embedded"`
		Machine string
		Student string
	}
	result := w.db.Raw(`SELECT b.*, m.name AS machine, coalesce(s.name, '') AS student FROM bookings b
		JOIN machines m ON m.id = b.machine_id LEFT JOIN students s ON s.id = b.student_id
		WHERE b.workshop_id = ? AND b.id = ? AND b.class_id IS NULL`, w.id, id).Scan(&r)
	b := fleet.Booking{ID: r.Row.ID, Machine: fleet.Named{ID: r.Row.MachineID, Name: r.Machine}, StartsAt: r.Row.StartsAt,
		EndsAt: r.Row.EndsAt, Accompanied: r.Row.Accompanied, SatAt: r.Row.SatAt}
	if r.Row.StudentID != nil {
		b.Student = &fleet.Named{ID: *r.Row.StudentID, Name: r.Student}
	}
	return b, found("finding the booking", result)
}

// Book gives a machine to a student, or to whoever cares for it, by somebody of the staff
// (0 for the student), and gives the booking's ID.
func (w Workshop) Book(b fleet.Booking, byID int64) (int64, error) {
	row := bookingRow{
		MachineID: b.Machine.ID, Purpose: forCare, StartsAt: b.StartsAt, EndsAt: b.EndsAt, Accompanied: b.Accompanied,
		Note: b.Note, Overrode: b.Overrode, SatAt: b.SatAt,
	}
	if byID != 0 {
		row.BookedBy = &byID
	}
	if b.MakesUpID != 0 {
		row.MakesUp = &b.MakesUpID
	}
	if b.Student != nil {
		row.Purpose, row.StudentID = forPractice, &b.Student.ID
	}
	err := w.InTx(func(tx Workshop) error {
		if err := tx.lockMachines(row.MachineID); err != nil {
			return err
		}
		return explain("booking the machine", tx.db.Create(&row).Error)
	})
	return row.ID, err
}

// BookedMinutes are those of a student's own bookings in a stretch of time.
func (w Workshop) BookedMinutes(studentID int64, within booking.Span) (minutes float64, err error) {
	err = w.db.Raw(`SELECT coalesce(sum(extract(epoch FROM ends_at - starts_at)) / 60, 0) FROM bookings
		WHERE workshop_id = ? AND student_id = ? AND starts_at >= ? AND starts_at < ?`, w.id, studentID, within.From,
		within.To).Scan(&minutes).Error
	return minutes, explain("adding up what a student has booked", err)
}

// LockStudents lets one transaction at a time decide where these students are.
// Everyone locks in the order of the ids.
func (w Workshop) LockStudents(ids ...int64) error {
	var locked []int64
	err := w.db.Raw("SELECT id FROM students WHERE workshop_id = ? AND id IN ? ORDER BY id FOR NO KEY UPDATE", w.id,
		ids).Scan(&locked).Error
	return explain("locking the students", err)
}

// Elsewhere lists where students are in a stretch of time, beside one class (0
// for none): at a machine they booked, or in a class that they do not miss. Of
// those in a class it knows no machine.
func (w Workshop) Elsewhere(studentIDs []int64, from, to time.Time, classID int64) ([]fleet.Booking, error) {
	const most = 100
	var rows []struct {
		ID, StudentID, ClassID  int64
		Student, Class, Machine string
		StartsAt, EndsAt        time.Time
		SatAt                   *time.Time
	}
	err := w.db.Raw(`SELECT b.id, s.id AS student_id, s.name AS student, 0 AS class_id, '' AS class, m.name AS machine,
		b.starts_at, b.ends_at, b.sat_at
			FROM bookings b JOIN students s ON s.id = b.student_id JOIN machines m ON m.id = b.machine_id
			WHERE b.workshop_id = ? AND b.student_id IN ? AND b.starts_at < ? AND b.ends_at > ?
		UNION ALL SELECT 0, s.id, s.name, c.id, c.name, '', c.starts_at, least(c.ends_at, c.free_from), NULL
			FROM class_students cs JOIN students s ON s.id = cs.student_id JOIN classes c ON c.id = cs.class_id
			WHERE cs.workshop_id = ? AND cs.student_id IN ? AND cs.attendance <> ? AND c.id <> ? AND c.cancelled_at IS NULL
			AND c.starts_at < ? AND least(c.ends_at, c.free_from) > ?
		ORDER BY student, starts_at LIMIT ?`, w.id, studentIDs, to, from, w.id, studentIDs, classday.Absent, classID, to,
		from, most).Scan(&rows).Error
	all := make([]fleet.Booking, len(rows))
	for i, r := range rows {
		all[i] = fleet.Booking{ID: r.ID, Machine: fleet.Named{Name: r.Machine},
			Student: &fleet.Named{ID: r.StudentID, Name: r.Student}, StartsAt: r.StartsAt, EndsAt: r.EndsAt, SatAt: r.SatAt}
		if r.ClassID != 0 {
			all[i].Class = &fleet.Named{ID: r.ClassID, Name: r.Class}
		}
	}
	return all, explain("looking where students are", err)
}

// LockInstructors lets one transaction at a time decide who is taught by whom, and tells what
// Instructors does.
func (w Workshop) LockInstructors(from, to time.Time, classID int64) (fleet.Instructors, error) {
	if err := w.db.Exec("SELECT pg_advisory_xact_lock(hashtextextended('chalkstep: instructors', ?))",
		w.id).Error; err != nil {
		return fleet.Instructors{}, explain("locking the instructors", err)
	}
	return w.Instructors(from, to, classID)
}

// Instructors tells how many can teach, and what takes them in a stretch of time beside
// one class (0 for none): other classes, and who is accompanied.
func (w Workshop) Instructors(from, to time.Time, classID int64) (fleet.Instructors, error) {
	const doing, most = "looking which instructors are free", 500
	var i fleet.Instructors
	if err := w.db.Raw("SELECT count(*) FROM accounts WHERE workshop_id = ? AND role IN ? AND removed_at IS NULL", w.id,
		[]Role{Owner, Instructor}).Scan(&i.Staff).Error; err != nil {
		return i, explain(doing, err)
	}
	err := w.db.Raw(`SELECT c.name, c.starts_at, least(c.ends_at, c.free_from) AS ends_at, c.instructors FROM classes c
			WHERE c.workshop_id = ? AND c.id <> ? AND c.cancelled_at IS NULL AND c.starts_at < ?
			AND least(c.ends_at, c.free_from) > ?
		UNION ALL SELECT s.name, b.starts_at, b.ends_at, 1 FROM bookings b JOIN students s ON s.id = b.student_id
			WHERE b.workshop_id = ? AND b.accompanied AND b.starts_at < ? AND b.ends_at > ?
		ORDER BY starts_at, name LIMIT ?`, w.id, classID, to, from, w.id, to, from, most).Scan(&i.Busy).Error
	return i, explain(doing, err)
}

// lockMachines lets one transaction at a time book these machines. Without
// it, two that insert overlapping bookings at once wait for each other inside
// the exclusion constraint, and the database ends one as a deadlock instead
// of as an overlap. Everyone locks in the order of the ids.
func (w Workshop) lockMachines(ids ...int64) error {
	var locked []machineRow
	err := w.db.Clauses(clause.Locking{Strength: "NO KEY UPDATE"}).Select("id").Where("id IN ?",
		ids).Order("id").Find(&locked).Error
	return explain("locking the machines", err)
}

// CancelBooking removes a student's booking. A class's machines are changed
// with the class.
func (w Workshop) CancelBooking(id int64) error {
	return found("cancelling the booking", w.db.Where("id = ? AND class_id IS NULL", id).Delete(&bookingRow{}))
}

// CancelOwn removes a booking of a student that has not begun yet.
func (w Workshop) CancelOwn(id, studentID int64, now time.Time) error {
	return found("cancelling the booking",
		w.db.Where("id = ? AND student_id = ? AND starts_at > ?", id, studentID, now).Delete(&bookingRow{}))
}
