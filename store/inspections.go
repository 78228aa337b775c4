package store

import (
	"time"

	"gorm.io/gorm/clause"

	"chalkstep/core/day"
	"chalkstep/core/pace"
	"chalkstep/core/recipe"
	"chalkstep/core/run"
	"chalkstep/core/skill"
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
func (w Workshop) Inspections(classID int64) (map[int64]run.Inspection, error) {
	var rows []struct {
		Row inspectionRow `gorm:"embedded"`
		By  string
	}
	err := w.db.Raw(`SELECT i.*, a.name AS by FROM inspections i JOIN accounts a ON a.id = i.inspected_by WHERE i.workshop_id = ? AND i.class_id = ?`, w.id, classID).Scan(&rows).Error
	all := map[int64]run.Inspection{}
	for _, r := range rows {
		all[r.Row.StudentID] = run.Inspection{StudentID: r.Row.StudentID, Good: keysOf(r.Row.Good), Bad: keysOf(r.Row.Bad), Note: r.Row.Note, At: r.Row.InspectedAt, By: r.By, Version: r.Row.Version}
	}
	return all, explain("reading what was inspected", err)
}

// SaveInspection writes down what was looked at, unless somebody else did meanwhile.
func (w Workshop) SaveInspection(classID int64, i run.Inspection, byID int64) error {
	const doing = "saving what was inspected"
	row := inspectionRow{ClassID: classID, StudentID: i.StudentID, Good: textsOf(i.Good), Bad: textsOf(i.Bad), Note: i.Note, InspectedAt: i.At, InspectedBy: byID, Version: i.Version + 1}
	if i.Version == 0 {
		return updated(doing, w.db.Clauses(clause.OnConflict{DoNothing: true}).Create(&row))
	}
	return updated(doing, w.db.Model(&inspectionRow{}).Where("class_id = ? AND student_id = ? AND version = ?", classID, i.StudentID, i.Version).
		Select("Good", "Bad", "Note", "InspectedAt", "InspectedBy", "Version").Updates(row))
}

// Made lists what a student made in classes that have begun, the newest first.
func (w Workshop) Made(studentID int64, now time.Time, limit int) ([]skill.Made, error) {
	var rows []struct {
		ClassID  int64
		Class    string
		Project  string
		At       time.Time
		Reached  string
		Note     string
		HasPhoto bool
		Version  int
		Bad      *int
		Signed   bool
		Missed   bool
	}
	err := w.db.Raw(`SELECT c.id AS class_id, c.name AS class, p.name AS project, c.starts_at AS at, coalesce(o.reached, '') AS reached, coalesce(o.note, '') AS note,
			coalesce(o.photo_width, 0) > 0 AS has_photo, coalesce(o.version, 0) AS version, cardinality(i.bad) AS bad, s.attendance = @absent AS missed,
			EXISTS (SELECT 1 FROM class_events e WHERE e.class_id = c.id AND e.student_id = s.student_id AND e.kind = 'done' AND e.step = @last
				AND NOT EXISTS (SELECT 1 FROM class_events u WHERE u.class_id = e.class_id AND u.undoes = e.seq)) AS signed
		FROM class_students s JOIN classes c ON c.id = s.class_id JOIN projects p ON p.id = coalesce(s.project_id, c.project_id)
		LEFT JOIN class_outcomes o ON o.class_id = c.id AND o.student_id = s.student_id
		LEFT JOIN inspections i ON i.class_id = c.id AND i.student_id = s.student_id
		WHERE s.workshop_id = @w AND s.student_id = @student AND c.cancelled_at IS NULL AND c.starts_at <= @now ORDER BY c.starts_at DESC, c.id DESC LIMIT @limit`,
		map[string]any{"w": w.id, "student": studentID, "now": now, "limit": limit, "absent": day.Absent, "last": pace.StepSignOff}).Scan(&rows).Error
	made := make([]skill.Made, len(rows))
	for i, r := range rows {
		m := skill.Made{ClassID: r.ClassID, Class: r.Class, Project: r.Project, At: r.At, Note: r.Note, HasPhoto: r.HasPhoto, Version: r.Version, Inspected: r.Bad != nil}
		m.Finished = r.Reached == string(run.Finished) || r.Reached == "" && r.Signed
		m.Missed = r.Reached == string(run.Missing) || r.Reached == "" && r.Missed
		if r.Bad != nil {
			m.ToPutRight = *r.Bad
		}
		made[i] = m
	}
	return made, explain("listing what a student made", err)
}
