package store

import (
	"fmt"
	"maps"
	"slices"
	"time"

	"gorm.io/gorm"

	"chalkstep/core/classday"
	"chalkstep/core/stock"
)

// CallOff calls a class off that has not begun: it keeps its slots until they are
// freed. A class that is called off already is [ErrChanged], one that has begun or
// is over [ErrRefused].
func (w Workshop) CallOff(id int64, now time.Time, byID int64) error {
	result := w.db.Model(&classRow{}).Where("id = ? AND off_at IS NULL", id).
		Updates(map[string]any{"off_at": now, "off_by": byID, "version": gorm.Expr("version + 1")})
	return updated("calling the class off", result)
}

// calledOffNote stands in the ledger beside what a class that was called off gave back.
const calledOffNote = "called off"

// FreeCalledOff frees what the classes that were called off have held long enough: their
// machines, students and hoops, and what they had reserved. It does nothing within a
// transaction, so that nobody waits for two classes at once.
func (w Workshop) FreeCalledOff(now time.Time) error {
	if w.inTx {
		return nil
	}
	const doing = "freeing the slots of a class that was called off"
	var held []int64
	err := w.db.Raw("SELECT id FROM classes WHERE workshop_id = ? AND off_at <= ? AND cancelled_at IS NULL ORDER BY id",
		w.id, now.Add(-classday.HeldFor)).Scan(&held).Error
	for _, id := range held {
		if err == nil {
			err = w.InTx(func(tx Workshop) error { return tx.freeCalledOff(id, now) })
		}
	}
	return explain(doing, err)
}

func (w Workshop) freeCalledOff(id int64, now time.Time) error {
	if err := w.LockClass(id); err != nil {
		return err
	}
	var c classRow
	err := w.db.Where("id = ? AND off_at IS NOT NULL AND cancelled_at IS NULL", id).Limit(1).Find(&c).Error
	if err != nil || c.ID == 0 {
		return err // somebody took it back meanwhile, or was quicker
	}
	by, err := w.ReservedFor(id)
	if err != nil {
		return err
	}
	var moves []stock.Move
	for _, itemID := range slices.Sorted(maps.Keys(by[id])) { // everyone locks in one order
		moves = append(moves,
			stock.Move{ItemID: itemID, Kind: stock.Released, Reserved: -by[id][itemID], Note: calledOffNote, ClassID: id,
				ByID: *c.OffBy, At: now})
	}
	if err := w.Move(moves...); err != nil {
		return err
	}
	if err := w.db.Where("class_id = ?", id).Delete(&bookingRow{}).Error; err != nil {
		return err
	}
	if err := w.db.Exec("DELETE FROM class_hoops WHERE workshop_id = ? AND class_id = ?", w.id, id).Error; err != nil {
		return err
	}
	return w.db.Model(&classRow{}).Where("id = ?", id).Update("cancelled_at", now).Error
}

// GaveBack is what a class that was called off had reserved when its slots were freed, by
// item.
func (w Workshop) GaveBack(id int64, freedAt time.Time) (map[int64]float64, error) {
	var rows []struct {
		ItemID   int64
		Reserved float64
	}
	err := w.db.Raw("SELECT item_id, -sum(reserved) AS reserved FROM stock_movements WHERE workshop_id = ? AND "+
		"class_id = ? AND kind = ? AND note = ? AND moved_at = ? GROUP BY item_id",
		w.id, id, stock.Released, calledOffNote, freedAt).Scan(&rows).Error
	back := map[int64]float64{}
	for _, r := range rows {
		back[r.ItemID] = r.Reserved
	}
	return back, explain("finding what the class gave back", err)
}

// Reinstate takes back that a class was called off. Where its slots were freed meanwhile, it
// books the machines that are usable and free, and has no more those that are lost; students
// who are absent from now on are elsewhere.
func (w Workshop) Reinstate(c classday.Class, usable, lost, absent []int64) error {
	return w.InTx(func(tx Workshop) error {
		doing := fmt.Sprintf("taking back that %s was called off", c.Name)
		if len(lost) > 0 {
			if err := tx.db.Where("class_id = ? AND machine_id IN ?", c.ID, lost).Delete(&classMachineRow{}).Error; err != nil {
				return explain(doing, err)
			}
		}
		if len(absent) > 0 {
			err := tx.db.Model(&classStudentRow{}).Where("class_id = ? AND student_id IN ?", c.ID, absent).
				Updates(map[string]any{"attendance": classday.Absent, "kit_version": gorm.Expr("kit_version + 1")}).Error
			if err != nil {
				return explain(doing, err)
			}
		}
		var bookings []bookingRow
		for _, id := range usable {
			bookings = append(bookings,
				bookingRow{MachineID: id, ClassID: &c.ID, Purpose: forPractice, StartsAt: c.StartsAt, EndsAt: c.EndsAt})
		}
		if len(bookings) > 0 {
			if err := tx.lockMachines(usable...); err != nil {
				return err
			}
			if err := tx.db.Create(&bookings).Error; err != nil {
				return explain(doing, err)
			}
		}
		result := tx.db.Model(&classRow{}).Where("id = ? AND off_at IS NOT NULL", c.ID).
			Updates(map[string]any{"off_at": nil, "off_by": nil, "cancelled_at": nil, "version": gorm.Expr("version + 1")})
		return updated(doing, result)
	})
}
