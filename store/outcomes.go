package store

import (
	"gorm.io/gorm/clause"

	"chalkstep/core/live"
	"chalkstep/core/photo"
)

// A classOutcomeRow is what staff say of a student after a class.
type classOutcomeRow struct {
	WorkshopID  int64
	ClassID     int64 `gorm:"primaryKey"`
	StudentID   int64 `gorm:"primaryKey"`
	Reached     live.Reached
	Note        string
	KitKept     bool
	Photo       []byte
	PhotoType   string
	PhotoWidth  int
	PhotoHeight int
	Version     int
}

// Outcomes are what is said of the students of a class, by student.
func (w Workshop) Outcomes(classID int64) (map[int64]live.Said, error) {
	var rows []classOutcomeRow
	err := w.db.Omit("Photo").Where("class_id = ?", classID).Find(&rows).Error
	said := map[int64]live.Said{}
	for _, r := range rows {
		said[r.StudentID] = live.Said{StudentID: r.StudentID, Reached: r.Reached, Note: r.Note, KitKept: r.KitKept,
			HasPhoto: r.PhotoWidth > 0, Version: r.Version}
	}
	return said, explain("reading how the class ended", err)
}

// SaveOutcome writes down what is said of a student, unless someone else did meanwhile. A photo stays.
func (w Workshop) SaveOutcome(classID int64, s live.Said) error {
	if s.Version < 0 {
		return explain("saving how the class ended", ErrChanged)
	}
	row := classOutcomeRow{ClassID: classID, StudentID: s.StudentID, Reached: s.Reached, Note: s.Note, KitKept: s.KitKept,
		Version: s.Version + 1}
	return updated("saving how the class ended", w.db.Clauses(clause.OnConflict{
		Columns:   []clause.Column{{Name: "class_id"}, {Name: "student_id"}},
		DoUpdates: clause.AssignmentColumns([]string{"reached", "note", "kit_kept", "version"}),
		Where: clause.Where{Exprs: []clause.Expression{
			clause.Eq{Column: clause.Column{Table: "class_outcomes", Name: "workshop_id"}, Value: w.id},
			clause.Eq{Column: clause.Column{Table: "class_outcomes", Name: "version"}, Value: s.Version}}},
	}).Create(&row))
}

// PutOutcomePhoto keeps a photo of what a student made, in the place of another.
func (w Workshop) PutOutcomePhoto(classID, studentID int64, p photo.Photo) error {
	row := classOutcomeRow{ClassID: classID, StudentID: studentID, Photo: p.Data, PhotoType: photo.MediaType,
		PhotoWidth: p.Width, PhotoHeight: p.Height}
	return explain("keeping the photo of what was made", w.db.Clauses(clause.OnConflict{
		Columns:   []clause.Column{{Name: "class_id"}, {Name: "student_id"}},
		DoUpdates: clause.AssignmentColumns([]string{"photo", "photo_type", "photo_width", "photo_height"}),
		Where: clause.Where{Exprs: []clause.Expression{
			clause.Eq{Column: clause.Column{Table: "class_outcomes", Name: "workshop_id"}, Value: w.id}}},
	}).Create(&row).Error)
}

// OutcomePhoto finds the photo of what a student made.
func (w Workshop) OutcomePhoto(classID, studentID int64) (photo.Photo, error) {
	var row classOutcomeRow
	err := w.db.Where("class_id = ? AND student_id = ?", classID, studentID).Where(fitToShow).First(&row).Error
	return photo.Photo{Data: row.Photo, Width: row.PhotoWidth, Height: row.PhotoHeight}, explain("finding the photo", err)
}
