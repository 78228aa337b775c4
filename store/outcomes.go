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

// SaveOutcome writes down what is said of a student, unless someone else did meanwhile. A
// photo is kept where none comes.
func (w Workshop) SaveOutcome(classID int64, s live.Said, p photo.Photo) error {
	const doing = "saving how the class ended"
	row := classOutcomeRow{ClassID: classID, StudentID: s.StudentID, Reached: s.Reached, Note: s.Note, KitKept: s.KitKept,
		Version: s.Version + 1}
	columns := []string{"Reached", "Note", "KitKept", "Version"}
	if p.Data != nil {
		row.Photo, row.PhotoType, row.PhotoWidth, row.PhotoHeight = p.Data, photo.MediaType, p.Width, p.Height
		columns = append(columns, "Photo", "PhotoType", "PhotoWidth", "PhotoHeight")
	}
	if s.Version == 0 {
		result := w.db.Clauses(clause.OnConflict{DoNothing: true}).Create(&row)
		return updated(doing, result)
	}
	return updated(doing,
		w.db.Model(&classOutcomeRow{}).Where("class_id = ? AND student_id = ? AND version = ?", classID, s.StudentID,
			s.Version).Select(columns).Updates(row))
}

// OutcomePhoto finds the photo of what a student made.
func (w Workshop) OutcomePhoto(classID, studentID int64) (photo.Photo, error) {
	var row classOutcomeRow
	err := w.db.Where("class_id = ? AND student_id = ?", classID, studentID).Where(fitToShow).First(&row).Error
	return photo.Photo{Data: row.Photo, Width: row.PhotoWidth, Height: row.PhotoHeight}, explain("finding the photo", err)
}
