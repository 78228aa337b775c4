package store

import (
	"encoding/json"
	"fmt"
	"time"
)

// Acting says who does what a transaction does from here on, for what is written down of
// it: an account, or a student at their own page.
func (w Workshop) Acting(accountID, studentID int64) error {
	by := accountID
	if studentID != 0 {
		by = -studentID
	}
	return explain("saying who is at work", w.db.Exec("SELECT set_config('chalkstep.by', ?, true)", fmt.Sprint(by)).Error)
}

// Changes lists a stretch of what was changed, the newest first, and how many there are.
func (w Workshop) Changes(stretch Rows) ([]Change, int, error) {
	const doing = "reading what was changed"
	var total int64
	if err := w.db.Raw("SELECT count(*) FROM audit WHERE workshop_id = ?", w.id).Scan(&total).Error; err != nil {
		return nil, 0, explain(doing, err)
	}
	var rows []struct {
		At                 time.Time
		By, Student        string
		What, Action, Name string
		OfStudent, Machine string
		Class              string
		Changes            string
		RowID              int64
	}
	err := w.db.Raw(`SELECT u.at, coalesce(a.name, '') AS by, coalesce(p.name, '') AS student, u.what, u.action, u.name,
		coalesce(s.name, '') AS of_student,
			coalesce(m.name, '') AS machine, coalesce(c.name, '') AS class, u.changes::text AS changes, u.row_id
		FROM (SELECT * FROM audit WHERE workshop_id = ? ORDER BY id DESC OFFSET ? LIMIT ?) AS u
		LEFT JOIN accounts a ON a.id = u.account_id LEFT JOIN students p ON p.id = u.by_student LEFT
		JOIN students s ON s.id = u.student_id
		LEFT JOIN machines m ON m.id = u.machine_id LEFT JOIN classes c ON c.id = u.class_id ORDER BY u.id DESC`, w.id,
		stretch.From, stretch.Limit).Scan(&rows).Error
	changes := make([]Change, len(rows))
	for i, r := range rows {
		changes[i] = Change{At: r.At, By: r.By, ByStudent: r.Student, What: ChangedThing(r.What), Kind: ChangeKind(r.Action),
			ID: r.RowID, Name: r.Name, Student: r.OfStudent, Machine: r.Machine, Class: r.Class}
		if err := json.Unmarshal([]byte(r.Changes), &changes[i].Columns); err != nil {
			return nil, 0, fmt.Errorf("%s: %w", doing, err)
		}
	}
	return changes, int(total), explain(doing, err)
}
