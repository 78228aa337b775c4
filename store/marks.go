package store

import (
	"slices"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"chalkstep/core/photo"
	"chalkstep/core/skill"
)

// A markRow says how a student did a step of the ladder.
type markRow struct {
	ID          int64
	WorkshopID  int64
	StudentID   int64
	Skill       skill.Key
	MachineKind skill.Kind
	Level       skill.Level
	MarkedOn    time.Time `gorm:"type:date"`
	AssessorID  int64
	Note        string
	ClassID     *int64
	Clean       bool
	TakenBackAt *time.Time
	TakenBackBy *int64
}

func (m markRow) value() skill.Mark {
	v := skill.Mark{ID: m.ID, StudentID: m.StudentID, Skill: m.Skill, On: m.MachineKind, Level: m.Level, Date: m.MarkedOn,
		Note: m.Note, Clean: m.Clean}
	if m.ClassID != nil {
		v.ClassID = *m.ClassID
	}
	return v
}

// Mark writes down how a student did a step, which an assessor saw.
func (w Workshop) Mark(m skill.Mark, assessorID int64) (int64, error) {
	row := markRow{StudentID: m.StudentID, Skill: m.Skill, MachineKind: m.On, Level: m.Level, MarkedOn: m.Date,
		AssessorID: assessorID, Note: m.Note, Clean: m.Clean}
	if m.ClassID != 0 {
		row.ClassID = &m.ClassID
	}
	err := w.InTx(func(tx Workshop) error {
		if err := tx.LockStudents(m.StudentID); err != nil { // two at once wait for each other
			return err
		}
		if err := tx.db.Create(&row).Error; err != nil {
			return err
		}
		return tx.sign(m.StudentID, m.Skill, m.On)
	})
	return row.ID, explain("marking "+string(m.Skill), err)
}

// sign keeps beside the marks of a step what they come to, which is what plans and lists read.
func (w Workshop) sign(studentID int64, key skill.Key, on skill.Kind) error {
	of := w.db.Where("student_id = ? AND skill = ? AND machine_kind = ?", studentID, key, on)
	var rows []markRow
	err := of.Session(&gorm.Session{}).Where("taken_back_at IS NULL").Order("marked_on, id").Find(&rows).Error
	if err != nil {
		return err
	}
	if err := of.Session(&gorm.Session{}).Delete(&signOffRow{}).Error; err != nil {
		return err
	}
	standing := skill.StandingOf(valuesOf(rows, markRow.value))
	if !standing.Reached() {
		return nil
	}
	by := rows[slices.IndexFunc(rows, func(r markRow) bool { return r.ID == standing.By.ID })]
	return w.db.Omit("Assessor").Create(&signOffRow{StudentID: studentID, Skill: string(key), MachineKind: string(on),
		SignedOn: by.MarkedOn, AssessorID: by.AssessorID, Alone: !standing.Best.Less(skill.Alone)}).Error
}

// A markPhotoRow is a photo of what a mark was given for.
type markPhotoRow struct {
	WorkshopID  int64
	MarkID      int64 `gorm:"primaryKey"`
	Photo       []byte
	PhotoType   string
	PhotoWidth  int
	PhotoHeight int
}

// PutMarkPhoto keeps a photo of what a mark was given for.
func (w Workshop) PutMarkPhoto(markID int64, p photo.Photo) error {
	row := markPhotoRow{MarkID: markID, Photo: p.Data, PhotoType: photo.MediaType, PhotoWidth: p.Width,
		PhotoHeight: p.Height}
	return explain("keeping the photo of a mark", w.db.Create(&row).Error)
}

// MarkPhoto finds the photo of a mark of a student.
func (w Workshop) MarkPhoto(studentID, markID int64) (photo.Photo, error) {
	var row markPhotoRow
	err := w.db.Where("mark_id = (SELECT id FROM marks WHERE id = ? AND student_id = ?)", markID,
		studentID).First(&row).Error
	return photo.Photo{Data: row.Photo, Width: row.PhotoWidth, Height: row.PhotoHeight},
		explain("finding the photo of a mark", err)
}

// MostMarks of a student are read: more than anybody is given in years.
const MostMarks = 1000

// MarksOf lists what students were marked, in the order in which it was given.
func (w Workshop) MarksOf(studentIDs ...int64) ([]skill.Mark, error) {
	if len(studentIDs) == 0 {
		return nil, nil
	}
	var rows []struct {
		Row      markRow `gorm:"embedded"`
		Assessor string
		HasPhoto bool
	}
	err := w.db.Raw(`SELECT m.*, a.name AS assessor, EXISTS (SELECT 1 FROM mark_photos p
		WHERE p.mark_id = m.id) AS has_photo FROM marks m JOIN accounts a ON a.id = m.assessor_id
		WHERE m.workshop_id = ? AND m.student_id IN ? AND m.taken_back_at IS NULL ORDER BY m.marked_on, m.id LIMIT ?`, w.id,
		studentIDs, MostMarks*len(studentIDs)).Scan(&rows).Error
	marks := make([]skill.Mark, len(rows))
	for i, r := range rows {
		marks[i] = r.Row.value()
		marks[i].Assessor, marks[i].HasPhoto = r.Assessor, r.HasPhoto
	}
	return marks, explain("reading the marks", err)
}

// TakeMarkBack takes a mark of a student back that was given by mistake.
func (w Workshop) TakeMarkBack(studentID, markID, byID int64, at time.Time) error {
	return w.InTx(func(tx Workshop) error {
		if err := tx.LockStudents(studentID); err != nil {
			return err
		}
		var row markRow
		err := tx.db.Model(&row).Clauses(clause.Returning{}).
			Where("id = ? AND student_id = ? AND taken_back_at IS NULL", markID, studentID).
			Updates(map[string]any{"taken_back_at": at, "taken_back_by": byID}).Error
		if err == nil && row.ID == 0 {
			err = ErrNotFound
		}
		if err == nil {
			err = tx.sign(studentID, row.Skill, row.MachineKind)
		}
		return explain("taking the mark back", err)
	})
}
