package store

import (
	"time"

	"gorm.io/gorm/clause"

	"chalkstep/core/live"
	"chalkstep/core/recipe"
)

// An inspectionRow is what was looked at of what somebody made in a class.
type inspectionRow struct {
	WorkshopID  int64
	ClassID     int64 `gorm:"primaryKey"`
	StudentID   int64 `gorm:"primaryKey"`
	Good        texts `gorm:"type:text[]"`
	Bad         texts `gorm:"type:text[]"`
	Note        string
	InspectedAt time.Time
	InspectedBy int64
	Version     int
}

func keysOf(of texts) []recipe.CheckKey {
	keys := make([]recipe.CheckKey, len(of))
	for i, k := range of {
		keys[i] = recipe.CheckKey(k)
	}
	return keys
}

func textsOf(keys []recipe.CheckKey) texts {
	of := texts{}
	for _, k := range keys {
		of = append(of, string(k))
	}
	return of
}

// Inspections are what was looked at in a class, by student.
func (w Workshop) Inspections(classID int64) (map[int64]live.Inspection, error) {
	var rows []struct {
		Row inspectionRow `gorm:"embedded"`
		By  string
	}
	err := w.db.Raw(`SELECT i.*, a.name AS by FROM inspections i JOIN accounts a ON a.id = i.inspected_by
		WHERE i.workshop_id = ? AND i.class_id = ?`, w.id, classID).Scan(&rows).Error
	all := map[int64]live.Inspection{}
	for _, r := range rows {
		all[r.Row.StudentID] = live.Inspection{StudentID: r.Row.StudentID, Good: keysOf(r.Row.Good), Bad: keysOf(r.Row.Bad),
			Note: r.Row.Note, At: r.Row.InspectedAt, By: r.By, Version: r.Row.Version}
	}
	return all, explain("reading what was inspected", err)
}

// SaveInspection writes down what was looked at, unless somebody else did meanwhile.
func (w Workshop) SaveInspection(classID int64, i live.Inspection, byID int64) error {
	const doing = "saving what was inspected"
	row := inspectionRow{ClassID: classID, StudentID: i.StudentID, Good: textsOf(i.Good), Bad: textsOf(i.Bad),
		Note: i.Note, InspectedAt: i.At, InspectedBy: byID, Version: i.Version + 1}
	if i.Version == 0 {
		return updated(doing, w.db.Clauses(clause.OnConflict{DoNothing: true}).Create(&row))
	}
	return updated(doing,
		w.db.Model(&inspectionRow{}).Where("class_id = ? AND student_id = ? AND version = ?", classID, i.StudentID,
			i.Version).
			Select("Good", "Bad", "Note", "InspectedAt", "InspectedBy", "Version").Updates(row))
}
