package store

import (
	"errors"
	"fmt"
	"time"
)

// lists are the tables of what can be taken off a list, and what still needs a
// row: a class or booking that is not over, or a reservation.
var lists = map[Listed]struct{ table, uses string }{
	ListedMachine: {"machines", `SELECT coalesce(c.name, s.name) AS name, b.starts_at FROM bookings b LEFT
		JOIN classes c ON c.id = b.class_id LEFT JOIN students s ON s.id = b.student_id
		WHERE b.workshop_id = @workshop AND b.machine_id = @id AND b.ends_at > @now`},
	ListedHoop: {"hoops", `SELECT m.name, NULL::timestamptz AS starts_at FROM machine_hoops h
		JOIN machines m ON m.id = h.machine_id
		WHERE h.workshop_id = @workshop AND h.hoop_id = @id AND m.retired_at IS NULL`},
	ListedItem: {"stock_items", `SELECT c.name, c.starts_at FROM class_stock s JOIN classes c ON c.id = s.class_id
		WHERE s.workshop_id = @workshop AND s.item_id = @id AND s.reserved > 1e-6`},
	ListedStudent: {"students", `SELECT c.name, c.starts_at FROM class_students p JOIN classes c ON c.id = p.class_id
		WHERE p.workshop_id = @workshop AND p.student_id = @id AND c.ends_at > @now AND c.off_at IS NULL
		UNION ALL SELECT m.name, b.starts_at FROM bookings b JOIN machines m ON m.id = b.machine_id
		WHERE b.workshop_id = @workshop AND b.student_id = @id AND b.ends_at > @now`},
	ListedProject: {"projects", `SELECT c.name, c.starts_at FROM classes c WHERE c.workshop_id = @workshop
		AND c.ends_at > @now AND c.off_at IS NULL
		AND (c.project_id = @id OR EXISTS (SELECT 1 FROM class_students p WHERE p.class_id = c.id AND p.project_id = @id))`},
}

// StillNeeds lists a few of what still needs a thing at a moment, in order.
func (w Workshop) StillNeeds(kind Listed, id int64, now time.Time) ([]StillNeeded, error) {
	const most = 4
	var uses []StillNeeded
	err := w.db.Raw("SELECT * FROM ("+lists[kind].uses+") AS u ORDER BY starts_at, name LIMIT @most",
		map[string]any{"workshop": w.id, "id": id, "now": now, "most": most}).Scan(&uses).Error
	return uses, explain("looking what still needs the "+string(kind), err)
}

// Remove deletes a thing that nothing refers to, or takes it off its list.
func (w Workshop) Remove(kind Listed, id int64, now time.Time) (kept bool, err error) {
	doing := "removing the " + string(kind)
	err = w.InTx(func(tx Workshop) error { // a savepoint: a refusal does not end the whole
		result := tx.db.Exec(fmt.Sprintf("DELETE FROM %s WHERE workshop_id = ? AND id = ?", lists[kind].table), w.id, id)
		return found(doing, result)
	})
	if !errors.Is(err, ErrInUse) {
		return false, err
	}
	return true, w.retire(kind, id, &now)
}

// PutBack puts a thing on its list again. ErrTaken means that another has its
// name now.
func (w Workshop) PutBack(kind Listed, id int64) error { return w.retire(kind, id, nil) }

func (w Workshop) retire(kind Listed, id int64, at *time.Time) error {
	result := w.db.Exec(fmt.Sprintf("UPDATE %s SET retired_at = ?, version = version + 1 WHERE workshop_id = ? AND id = ?",
		lists[kind].table), at, w.id, id)
	return found("keeping the "+string(kind), result)
}

// Removed lists a stretch of what is off its list, the latest first, and how
// much there is in all.
func (w Workshop) Removed(stretch Rows) ([]Removed, int, error) {
	union, values := "", []any{}
	for i, kind := range AllListed {
		if i > 0 {
			union += " UNION ALL "
		}
		union += fmt.Sprintf(
			"SELECT '%s' AS kind, id, name, retired_at AS at FROM %s WHERE workshop_id = ? AND retired_at IS NOT NULL", kind,
			lists[kind].table)
		values = append(values, w.id)
	}
	var rows []struct {
		Removed `gorm:"embedded"`
		Total   int
	}
	err := w.db.Raw("SELECT *, count(*) OVER () AS total FROM ("+union+") AS r ORDER BY at DESC, name OFFSET ? LIMIT ?",
		append(values, stretch.From, stretch.Limit)...).Scan(&rows).Error
	if err != nil || len(rows) == 0 {
		return nil, 0, explain("listing what was removed", err)
	}
	removed := make([]Removed, len(rows))
	for i, r := range rows {
		removed[i] = r.Removed
	}
	return removed, rows[0].Total, nil
}
