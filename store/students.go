package store

import (
	"time"

	"gorm.io/gorm/clause"
)

// A Student of the workshop.
type Student struct {
	ID         int64
	WorkshopID int64
	Name       string
	FirstTimer bool
	Version    int
	SignOffs   []SignOff
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
func (s Student) Signed(kinds ...string) map[string]bool {
	signed := map[string]bool{}
	for _, o := range s.SignOffs {
		for _, kind := range kinds {
			if o.MachineKind == kind {
				signed[o.Skill] = true
			}
		}
	}
	return signed
}

// Students lists the students by name, with their sign-offs.
func (w Workshop) Students() ([]Student, error) {
	var students []Student
	return students, explain("listing the students", w.db.Preload("SignOffs").Order("name").Find(&students).Error)
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
	result := w.db.Model(&Student{}).Where("id = ? AND version = ?", s.ID, was).Select("Name", "FirstTimer", "Version").Updates(s)
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
