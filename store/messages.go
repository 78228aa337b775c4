package store

import (
	"time"

	"chalkstep/core/booking"
	"chalkstep/core/fleet"
)

// A messageRow is what a student was told.
type messageRow struct {
	ID         int64
	WorkshopID int64
	StudentID  int64
	Kind       fleet.MessageKind
	MachineID  int64
	StartsAt   time.Time
	EndsAt     time.Time
	ToMachine  *int64
	ToStart    *time.Time
	ToEnd      *time.Time
	ToldAt     time.Time
	ReadAt     *time.Time
}

// Tell leaves a message for a student.
func (w Workshop) Tell(m fleet.Message) error {
	row := messageRow{StudentID: m.Student.ID, Kind: m.Kind, MachineID: m.Machine.ID, StartsAt: m.From, EndsAt: m.Span.To,
		ToldAt: m.ToldAt}
	if m.Kind == fleet.Moved {
		row.ToMachine, row.ToStart, row.ToEnd = &m.ToMachine.ID, &m.To.From, &m.To.To
	}
	return explain("leaving a message", w.db.Create(&row).Error)
}

// Messages lists what students were told, the newest first, and how many there are; of one
// student and not read where they are named.
func (w Workshop) Messages(studentID int64, stretch Rows) ([]fleet.Message, int, error) {
	var rows []struct {
		Row       messageRow `gorm:"embedded"`
		Student   string
		Machine   string
		OnMachine string
		Total     int
	}
	err := w.db.Raw(`SELECT x.*, s.name AS student, m.name AS machine, coalesce(o.name, '') AS on_machine,
		count(*) OVER () AS total
		FROM messages x JOIN students s ON s.id = x.student_id JOIN machines m ON m.id = x.machine_id LEFT
		JOIN machines o ON o.id = x.to_machine
		WHERE x.workshop_id = @w AND (@student = 0 OR x.student_id = @student AND x.read_at IS NULL)
		ORDER BY x.id DESC OFFSET @from LIMIT @limit`,
		map[string]any{"w": w.id, "student": studentID, "from": stretch.From, "limit": stretch.Limit}).Scan(&rows).Error
	total := 0
	all := make([]fleet.Message, len(rows))
	for i, r := range rows {
		m := fleet.Message{
			ID: r.Row.ID, Student: fleet.Named{ID: r.Row.StudentID, Name: r.Student}, Kind: r.Row.Kind,
			Machine: fleet.Named{ID: r.Row.MachineID, Name: r.Machine},
			Span:    booking.Span{From: r.Row.StartsAt, To: r.Row.EndsAt}, ToldAt: r.Row.ToldAt, ReadAt: r.Row.ReadAt,
		}
		if r.Row.ToMachine != nil {
			m.ToMachine, m.To = fleet.Named{ID: *r.Row.ToMachine, Name: r.OnMachine},
				booking.Span{From: *r.Row.ToStart, To: *r.Row.ToEnd}
		}
		all[i], total = m, r.Total
	}
	return all, total, explain("reading the messages", err)
}

// ReadMessages notes that a student has read what they were told up to a message.
func (w Workshop) ReadMessages(studentID, upTo int64, now time.Time) error {
	return explain("noting what was read",
		w.db.Model(&messageRow{}).Where("student_id = ? AND id <= ? AND read_at IS NULL", studentID, upTo).Update("read_at",
			now).Error)
}
