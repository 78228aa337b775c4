package store

import (
	"gorm.io/gorm/clause"

	"chalkstep/core/pace"
)

// A classThreadRow is what thread of a class was measured.
type classThreadRow struct {
	WorkshopID int64
	ClassID    int64   `gorm:"primaryKey"`
	RealMM     float64 `gorm:"column:real_mm"`
	PathMM     float64 `gorm:"column:path_mm"`
	Ends       int
}

// SaveThread writes down what thread of a class was measured, in place of what was said
// before; what was not is left out.
func (w Workshop) SaveThread(classID int64, d pace.Drawn) error {
	if !d.Measured() {
		return nil
	}
	row := classThreadRow{ClassID: classID, RealMM: d.RealMM, PathMM: d.PathMM, Ends: d.Ends}
	return explain("noting the thread of a class",
		w.db.Clauses(clause.OnConflict{Columns: []clause.Column{{Name: "class_id"}},
			DoUpdates: clause.AssignmentColumns([]string{"real_mm", "path_mm", "ends"})}).Create(&row).Error)
}

// ThreadUsed is what all classes used of what was measured.
func (w Workshop) ThreadUsed() (pace.Thread, error) {
	var sum struct {
		Row     classThreadRow `gorm:"embedded"`
		Classes int
	}
	err := w.db.Raw(`SELECT coalesce(sum(real_mm), 0) AS real_mm, coalesce(sum(path_mm), 0) AS path_mm,
		coalesce(sum(ends), 0) AS ends, count(*) AS classes
		FROM class_threads WHERE workshop_id = ?`, w.id).Scan(&sum).Error
	return pace.Thread{Drawn: pace.Drawn{RealMM: sum.Row.RealMM, PathMM: sum.Row.PathMM, Ends: sum.Row.Ends},
		Classes: sum.Classes}, explain("reading what thread was used", err)
}
