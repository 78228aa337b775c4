package store

import (
	"time"

	"chalkstep/core/fleet"
)

// A machineOutageRow is a time in which a machine cannot be used.
type machineOutageRow struct {
	ID         int64
	WorkshopID int64
	MachineID  int64
	StartsAt   time.Time
	EndsAt     *time.Time
	Reason     string
	SaidBy     int64
}

func (o machineOutageRow) value(machine string) fleet.Outage {
	return fleet.Outage{ID: o.ID, Machine: fleet.Named{ID: o.MachineID, Name: machine}, StartsAt: o.StartsAt,
		EndsAt: o.EndsAt, Reason: o.Reason}
}

// Outages lists when machines cannot be used, of what is not over at a moment,
// by start.
func (w Workshop) Outages(now time.Time) ([]fleet.Outage, error) {
	const most = 500
	var rows []struct {
		Row  machineOutageRow `gorm:"embedded"`
		Name string
	}
	err := w.db.Raw(`SELECT o.*, m.name FROM machine_outages o JOIN machines m ON m.id = o.machine_id
		WHERE o.workshop_id = ? AND (o.ends_at IS NULL OR o.ends_at > ?) ORDER BY o.starts_at, o.id LIMIT ?`, w.id, now,
		most).Scan(&rows).Error
	outages := make([]fleet.Outage, len(rows))
	for i, r := range rows {
		outages[i] = r.Row.value(r.Name)
	}
	return outages, explain("listing what is out of order", err)
}

// AddOutage notes that a machine cannot be used, as somebody says.
func (w Workshop) AddOutage(o fleet.Outage, byID int64) error {
	row := machineOutageRow{MachineID: o.Machine.ID, StartsAt: o.StartsAt, EndsAt: o.EndsAt, Reason: o.Reason,
		SaidBy: byID}
	return explain("noting that the machine is out of order", w.db.Create(&row).Error)
}

// EndOutage notes that a machine can be used again from a moment on; one that
// had not begun is as if it had never been said.
func (w Workshop) EndOutage(machineID, id int64, now time.Time) error {
	return w.InTx(func(tx Workshop) error {
		const doing = "noting that the machine works again"
		gone := tx.db.Where("id = ? AND machine_id = ? AND starts_at >= ?", id, machineID, now).Delete(&machineOutageRow{})
		if gone.Error != nil || gone.RowsAffected > 0 {
			return explain(doing, gone.Error)
		}
		return found(doing, tx.db.Model(&machineOutageRow{}).Where(
			"id = ? AND machine_id = ? AND (ends_at IS NULL OR ends_at > ?)", id, machineID, now).Update("ends_at", now))
	})
}
