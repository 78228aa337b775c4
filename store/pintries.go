package store

import (
	"time"
)

// ClaimPINTry counts a try at a student's PIN before it is looked at, so that of many at once
// no more are looked at than of many in a row. A try that comes too soon does not count, and
// until says when the next may come. Tries before forget are forgotten; wait is how long the
// next one waits after so many.
func (w Workshop) ClaimPINTry(studentID int64, now, forget time.Time,
	wait func(tries int) time.Duration) (until time.Time, ok bool, err error) {
	const doing = "counting a try at a PIN"
	err = w.InTx(func(tx Workshop) error {
		err := tx.db.Exec("INSERT INTO pin_tries (workshop_id, student_id, last_at, wait_until) VALUES (?, ?, ?, ?) ON "+
			"CONFLICT DO NOTHING", w.id, studentID, now, now).Error
		if err != nil {
			return explain(doing, err)
		}
		var row struct {
			Tries             int
			LastAt, WaitUntil time.Time
		}
		if err := tx.db.Raw("SELECT tries, last_at, wait_until FROM pin_tries WHERE workshop_id = ? AND student_id = ? "+
			"FOR UPDATE", w.id, studentID).Scan(&row).Error; err != nil {
			return explain(doing, err)
		}
		if row.WaitUntil.After(now) {
			until = row.WaitUntil
			return nil
		}
		if row.LastAt.Before(forget) {
			row.Tries = 0
		}
		ok, until = true, now.Add(wait(row.Tries+1))
		return explain(doing,
			tx.db.Exec("UPDATE pin_tries SET tries = ?, last_at = ?, wait_until = ? WHERE student_id = ?", row.Tries+1, now,
				until, studentID).Error)
	})
	return until, ok, err
}

// RightPIN forgets the tries at a student's PIN.
func (w Workshop) RightPIN(studentID int64) error {
	return explain("forgetting the tries at a PIN",
		w.db.Exec("DELETE FROM pin_tries WHERE workshop_id = ? AND student_id = ?", w.id, studentID).Error)
}

// WrongPINs lists at whose links so many PINs or more were wrong since a moment, the last first.
func (w Workshop) WrongPINs(since time.Time, least int) ([]WrongPINs, error) {
	const most = 20
	var all []WrongPINs
	err := w.db.Raw(`SELECT p.student_id, s.name, p.tries, p.last_at, p.wait_until FROM pin_tries p
		JOIN students s ON s.id = p.student_id
		WHERE p.workshop_id = ? AND p.last_at > ? AND p.tries >= ? AND s.retired_at IS NULL ORDER BY p.last_at DESC LIMIT ?`,
		w.id, since, least, most).Scan(&all).Error
	return all, explain("listing wrong PINs", err)
}
