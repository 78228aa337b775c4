package store

import (
	"context"
	"fmt"
	"time"

	"chalkstep/core/live"
	"chalkstep/core/policy"
)

// An Access is how a student opens their own pages.
type Access struct {
	StudentID int64
	Name      string
	// Units they measure in, empty where nobody said.
	Units    string
	Key      []byte
	Version  int
	PINHash  string
	Workshop policy.Workshop
	Revision int64
}

// accessRow is an Access as it is read.
type accessRow struct {
	StudentID int64
	Name      string
	Units     string
	Key       []byte
	Version   int
	PINHash   string      `gorm:"column:pin_hash"`
	Workshop  workshopRow `gorm:"embedded;embeddedPrefix:workshop_"`
	Revision  int64
}

const accessColumns = `s.id AS student_id, s.name, s.units, w.feed_key AS key, coalesce(a.version, 1) AS version,
	coalesce(a.pin_hash, '') AS pin_hash, ` + workshopColumns

const accessTables = `students s JOIN workshops w ON w.id = s.workshop_id LEFT
	JOIN revisions r ON r.workshop_id = w.id LEFT JOIN student_access a ON a.student_id = s.id`

func (s *Store) access(ctx context.Context, sql string, args ...any) (Access, error) {
	const doing = "finding a student's own pages"
	var row accessRow
	result := s.db.WithContext(ctx).Raw(sql, args...).Scan(&row)
	if result.Error == nil && result.RowsAffected == 0 {
		return Access{}, fmt.Errorf("%s: %w", doing, ErrNotFound)
	}
	return Access{row.StudentID, row.Name, row.Units, row.Key, row.Version, row.PINHash, row.Workshop.value(),
		row.Revision}, explain(doing, result.Error)
}

// Access finds what a student's link says: whose it is, is known only then.
func (s *Store) Access(ctx context.Context, workshopID, studentID int64) (Access, error) {
	return s.access(ctx, `SELECT `+accessColumns+` FROM `+accessTables+
		` WHERE s.workshop_id = ? AND s.id = ? AND s.retired_at IS NULL`, workshopID, studentID)
}

// AccessBy finds whose pages are open by the hash of a session's token, begun since a
// moment.
func (s *Store) AccessBy(ctx context.Context, tokenHash []byte, since time.Time) (Access, error) {
	return s.access(ctx, `SELECT `+accessColumns+` FROM student_sessions o JOIN `+accessTables+` ON s.id = o.student_id
		WHERE o.token_hash = ? AND o.began_at > ? AND s.retired_at IS NULL`, tokenHash, since)
}

// SetPIN keeps the PIN that a student chose, where there is none of that version yet.
func (w Workshop) SetPIN(studentID int64, version int, hash string) error {
	result := w.db.Exec(`INSERT INTO student_access AS a (workshop_id, student_id, version, pin_hash) VALUES (?, ?, ?, ?)
		ON CONFLICT (student_id) DO UPDATE SET pin_hash = excluded.pin_hash WHERE a.pin_hash = ''
		AND a.version = excluded.version`, w.id, studentID, version, hash)
	return updated("keeping a PIN", result)
}

// BeginAccess opens a student's own pages for whoever has the token.
func (w Workshop) BeginAccess(studentID int64, tokenHash []byte, agent string, now time.Time) error {
	return explain("opening a student's own pages",
		w.db.Exec(`INSERT INTO student_sessions (workshop_id, student_id, token_hash, agent, began_at)
			VALUES (?, ?, ?, ?, ?)`, w.id, studentID, tokenHash, agent, now).Error)
}

// Accesses lists where a student's own pages are open, begun since a moment, the newest
// first.
func (w Workshop) Accesses(studentID int64, since time.Time) ([]Session, error) {
	const most = 50
	var open []Session
	err := w.db.Raw("SELECT id, began_at, began_at AS seen_at, agent FROM student_sessions WHERE workshop_id = ? AND "+
		"student_id = ? AND began_at > ? ORDER BY began_at DESC, id DESC LIMIT ?", w.id, studentID, since,
		most).Scan(&open).Error
	return open, explain("listing where a student's own pages are open", err)
}

// EndAccessOf closes a student's own pages where they are open.
func (w Workshop) EndAccessOf(studentID, id int64) error {
	return found("closing a student's own pages",
		w.db.Exec("DELETE FROM student_sessions WHERE workshop_id = ? AND student_id = ? AND id = ?", w.id, studentID, id))
}

// EndAccess closes them for whoever has the token.
func (s *Store) EndAccess(ctx context.Context, tokenHash []byte) error {
	return explain("closing a student's own pages",
		s.db.WithContext(ctx).Exec("DELETE FROM student_sessions WHERE token_hash = ?", tokenHash).Error)
}

// AccessKey is what a student's link is signed with, its version, and whether they chose a
// PIN.
func (w Workshop) AccessKey(studentID int64) (key []byte, version int, hasPIN bool, err error) {
	var rows []accessRow
	err = w.db.Raw(`SELECT s.id AS student_id, w.feed_key AS key, coalesce(a.version, 1) AS version, coalesce(a.pin_hash,
		'') AS pin_hash
		FROM students s JOIN workshops w ON w.id = s.workshop_id LEFT JOIN student_access a ON a.student_id = s.id
		WHERE s.workshop_id = ? AND s.id = ? AND s.retired_at IS NULL`, w.id, studentID).Scan(&rows).Error
	if err == nil && len(rows) == 0 {
		err = fmt.Errorf("finding a student's link: %w", ErrNotFound)
	}
	if err != nil {
		return nil, 0, false, explain("finding a student's link", err)
	}
	return rows[0].Key, rows[0].Version, rows[0].PINHash != "", nil
}

// RenewAccess gives a student another link: that of before, the PIN and what is open end.
func (w Workshop) RenewAccess(studentID int64) error {
	return w.InTx(func(tx Workshop) error {
		err := tx.db.Exec(`INSERT INTO student_access (workshop_id, student_id, version) VALUES (?, ?, 2)
			ON CONFLICT (student_id) DO UPDATE SET version = student_access.version + 1, pin_hash = ''`, w.id, studentID).Error
		if err == nil {
			err = tx.db.Exec("DELETE FROM student_sessions WHERE workshop_id = ? AND student_id = ?", w.id, studentID).Error
		}
		if err == nil {
			err = tx.RightPIN(studentID)
		}
		return explain("renewing a student's link", err)
	})
}

// NextClassOf is the class that a student comes to next, or is in; ok is false for none.
func (w Workshop) NextClassOf(studentID int64, now time.Time) (classID int64, ok bool, err error) {
	var ids []int64
	err = w.db.Raw(`SELECT c.id FROM class_students cs JOIN classes c ON c.id = cs.class_id `+overAt+`
		WHERE cs.workshop_id = @w AND cs.student_id = @student AND cs.attendance <> 'absent' AND c.off_at IS NULL
			AND o.over_at > @now
		ORDER BY c.starts_at, c.id LIMIT 1`, map[string]any{"w": w.id, "student": studentID, "now": now,
		"started": live.Started, "late": live.EndsAfter.String()}).Scan(&ids).Error
	if err != nil || len(ids) == 0 {
		return 0, false, explain("finding a student's next class", err)
	}
	return ids[0], true, nil
}
