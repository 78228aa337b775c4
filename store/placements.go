package store

import (
	"time"

	"gorm.io/gorm/clause"
)

// A Placement is where a design lies on a machine, and at what size.
type Placement struct {
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
	OverriddenBy   *Account
}

// Placement finds where a design lies on a machine.
func (w Workshop) Placement(designID, machineID int64) (Placement, error) {
	var p Placement
	return p, explain("finding the placement", w.db.Preload("OverriddenBy").Where("design_id = ? AND machine_id = ?", designID, machineID).First(&p).Error)
}

// SavePlacement adds a placement (version 0) or changes it. A second person's
// first placement is a change meanwhile, too.
func (w Workshop) SavePlacement(p *Placement) error {
	const doing = "saving the placement"
	if p.Version == 0 {
		p.Version = 1
		return updated(doing, w.db.Omit("OverriddenBy").Clauses(clause.OnConflict{DoNothing: true}).Create(p))
	}
	was := p.Version
	p.Version++
	result := w.db.Model(&Placement{}).Where("design_id = ? AND machine_id = ? AND version = ?", p.DesignID, p.MachineID, was).
		Select("HoopID", "Turn", "XMM", "YMM", "Percent", "Basted", "OverriddenByID", "OverriddenAt", "OverrideReason", "Version").Updates(p)
	return updated(doing, result)
}
