package store

import (
	"time"

	"gorm.io/gorm/clause"

	"chalkstep/core/fleet"
	"chalkstep/core/hoop"
)

// A placementRow is where a design lies on a machine, and at what size.
type placementRow struct {
	WorkshopID int64
	DesignID   int64 `gorm:"primaryKey"`
	MachineID  int64 `gorm:"primaryKey"`
	HoopID     int64
	Turn       int
	XMM        float64 `gorm:"column:x_mm"`
	YMM        float64 `gorm:"column:y_mm"`
	Percent    int
	Basted     bool
	// OverriddenByID is who set a lock on resizing aside, nil while none was.
	OverriddenByID *int64 `gorm:"column:overridden_by"`
	OverriddenAt   *time.Time
	OverrideReason string
	Version        int
	OverriddenBy   *accountRow
}

// Placement finds where a design lies on a machine.
func (w Workshop) Placement(designID, machineID int64) (fleet.Placement, error) {
	var p placementRow
	err := w.db.Preload("OverriddenBy").Where("design_id = ? AND machine_id = ?", designID, machineID).First(&p).Error
	v := fleet.Placement{
		Version: p.Version, DesignID: p.DesignID, MachineID: p.MachineID, HoopID: p.HoopID,
		Placing: hoop.Placing{Turn: p.Turn, X: p.XMM, Y: p.YMM}, Percent: p.Percent, Basted: p.Basted,
	}
	if p.OverriddenBy != nil {
		v.Override = &fleet.Override{ByID: p.OverriddenBy.ID, By: p.OverriddenBy.Name, Reason: p.OverrideReason,
			At: *p.OverriddenAt}
	}
	return v, explain("finding the placement", err)
}

// SavePlacement adds a placement (version 0) or changes it. A second person's
// first placement is a change meanwhile, too.
func (w Workshop) SavePlacement(p fleet.Placement) error {
	const doing = "saving the placement"
	row := placementRow{DesignID: p.DesignID, MachineID: p.MachineID, HoopID: p.HoopID, Turn: p.Turn, XMM: p.X, YMM: p.Y,
		Percent: p.Percent, Basted: p.Basted, Version: p.Version + 1}
	if o := p.Override; o != nil {
		row.OverriddenByID, row.OverriddenAt, row.OverrideReason = &o.ByID, &o.At, o.Reason
	}
	if p.Version == 0 {
		return updated(doing, w.db.Omit("OverriddenBy").Clauses(clause.OnConflict{DoNothing: true}).Create(&row))
	}
	result := w.db.Model(&placementRow{}).Where("design_id = ? AND machine_id = ? AND version = ?", p.DesignID,
		p.MachineID, p.Version).
		Select("HoopID", "Turn", "XMM", "YMM", "Percent", "Basted", "OverriddenByID", "OverriddenAt", "OverrideReason",
			"Version").Updates(row)
	return updated(doing, result)
}
