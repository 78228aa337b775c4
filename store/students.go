package store

import (
	"time"

	"gorm.io/gorm/clause"

	"chalkstep/core/skill"
)

// A Student of the workshop.
type Student struct {
	ID         int64
	WorkshopID int64
	Name       string
	FirstTimer bool
	// Units are what their card is printed in, empty as for whoever prints it.
	Units    string
	Version  int
	SignOffs []SignOff
}

// A SignOff says that a student has shown a step of the ladder on a kind of
// machine, when, and to whom.
type SignOff struct {
	WorkshopID  int64
	StudentID   int64     `gorm:"primaryKey"`
	Skill       string    `gorm:"primaryKey"`
	MachineKind string    `gorm:"primaryKey"`
	SignedOn    time.Time `gorm:"type:date"`
	AssessorID  int64
	Assessor    Account
}

// Signed is the set of steps signed off on any of the kinds of machine.
func (s Student) Signed(kinds ...string) skill.Signed {
	signed := skill.Signed{}
	for _, o := range s.SignOffs {
		for _, kind := range kinds {
			if o.MachineKind == kind {
				signed[skill.Key(o.Skill)] = true
			}
		}
	}
	return signed
}

// Students lists a stretch of the students whose names hold words, by name,
// with their sign-offs, and how many there are in all.
func (w Workshop) Students(words string, stretch Stretch) ([]Student, int, error) {
	const doing = "listing the students"
	var rows []struct {
		Student `gorm:"embedded"`
		Total   int
	}
	err := w.db.Model(&Student{}).Select("*, count(*) OVER () AS total").Where("name ILIKE ?", "%"+escapeLike(words)+"%").
		Order("name, id").Offset(stretch.From).Limit(stretch.Limit).Scan(&rows).Error
	if err != nil || len(rows) == 0 {
		return nil, 0, explain(doing, err)
	}
	students := make([]Student, len(rows))
	for i, r := range rows {
		students[i] = r.Student
	}
	return students, rows[0].Total, w.loadSignOffs(students)
}

// StudentsByID finds students, by name, with their sign-offs.
func (w Workshop) StudentsByID(ids ...int64) ([]Student, error) {
	var students []Student
	if len(ids) == 0 {
		return nil, nil
	}
	if err := w.db.Where("id IN ?", ids).Order("name, id").Find(&students).Error; err != nil {
		return nil, explain("finding students", err)
	}
	return students, w.loadSignOffs(students)
}

// loadSignOffs puts their sign-offs to students.
func (w Workshop) loadSignOffs(students []Student) error {
	if len(students) == 0 {
		return nil
	}
	at := map[int64]int{}
	ids := make([]int64, len(students))
	for i, s := range students {
		at[s.ID], ids[i] = i, s.ID
	}
	var signed []SignOff
	if err := w.db.Where("student_id IN ?", ids).Order("student_id, skill").Find(&signed).Error; err != nil {
		return explain("reading sign-offs", err)
	}
	for _, o := range signed {
		s := &students[at[o.StudentID]]
		s.SignOffs = append(s.SignOffs, o)
	}
	return nil
}

// StudentNames suggests names of students that begin or go on with words.
func (w Workshop) StudentNames(words string, limit int) ([]string, error) {
	return w.names(w.db.Model(&Student{}), words, limit)
}

// StudentNamed finds the student of a name, with sign-offs.
func (w Workshop) StudentNamed(name string) (Student, error) {
	var s Student
	return s, explain("finding the student by name", w.db.Preload("SignOffs").Where("name = ?", name).First(&s).Error)
}

// Student finds one, with sign-offs and who gave them.
func (w Workshop) Student(id int64) (Student, error) {
	var s Student
	return s, explain("finding the student", w.db.Preload("SignOffs.Assessor").First(&s, id).Error)
}

// SaveStudent adds a student (ID 0) or changes them.
func (w Workshop) SaveStudent(s *Student) error {
	if s.ID == 0 {
		s.Version = 1
		return explain("adding the student "+s.Name, w.db.Omit("SignOffs").Create(s).Error)
	}
	was := s.Version
	s.Version++
	result := w.db.Model(&Student{}).Where("id = ? AND version = ?", s.ID, was).Select("Name", "FirstTimer", "Units", "Version").Updates(s)
	return updated("saving the student "+s.Name, result)
}

// SignOff records a step; one that is recorded already stays as it was.
func (w Workshop) SignOff(o SignOff) error {
	err := w.db.Omit("Assessor").Clauses(clause.OnConflict{DoNothing: true}).Create(&o).Error
	return explain("signing off "+o.Skill, err)
}

// TakeBack removes a sign-off given by mistake.
func (w Workshop) TakeBack(studentID int64, skill, machineKind string) error {
	err := w.db.Where("student_id = ? AND skill = ? AND machine_kind = ?", studentID, skill, machineKind).Delete(&SignOff{}).Error
	return explain("taking back "+skill, err)
}
