package store

import (
	"strings"
	"time"

	"gorm.io/gorm"

	"chalkstep/core/skill"
)

// A studentRow of the workshop.
type studentRow struct {
	ID         int64
	WorkshopID int64
	Name       string
	FirstTimer bool
	Units      string
	Suspended  string
	Size       string
	Notes      string
	Photos     bool
	Seen       seen `gorm:"embedded"`
	Version    int
	SignOffs   []signOffRow `gorm:"foreignKey:StudentID"`
}

// A signOffRow says that a step of the ladder counts as reached by a student on a kind of
// machine, since when, and who saw it: what the marks of it come to.
type signOffRow struct {
	WorkshopID  int64
	StudentID   int64     `gorm:"primaryKey"`
	Skill       string    `gorm:"primaryKey"`
	MachineKind string    `gorm:"primaryKey"`
	SignedOn    time.Time `gorm:"type:date"`
	AssessorID  int64
	Assessor    accountRow
	Alone       bool
}

// seen is when a student was last marked on each kind of machine; the database says.
type seen struct {
	SeenSingleNeedle *time.Time `gorm:"->"`
	SeenMultiNeedle  *time.Time `gorm:"->"`
}

func (s seen) value() map[skill.Kind]time.Time {
	at := map[skill.Kind]time.Time{}
	for kind, day := range map[skill.Kind]*time.Time{skill.SingleNeedle: s.SeenSingleNeedle,
		skill.MultiNeedle: s.SeenMultiNeedle} {
		if day != nil {
			at[kind] = *day
		}
	}
	return at
}

func (s studentRow) value() skill.Student {
	v := skill.Student{ID: s.ID, Version: s.Version, Name: s.Name, FirstTimer: s.FirstTimer, Units: s.Units,
		Suspended: s.Suspended, Seen: s.Seen.value(), Size: s.Size, Notes: s.Notes, Photos: s.Photos}
	for _, o := range s.SignOffs {
		v.SignOffs = append(v.SignOffs,
			skill.SignOff{Skill: skill.Key(o.Skill), On: skill.Kind(o.MachineKind), Date: o.SignedOn, Assessor: o.Assessor.Name,
				Alone: o.Alone})
	}
	return v
}

// signedColumn is what a student s has reached, as machine-kind/skill, and ! after what
// they did alone.
const signedColumn = `coalesce((SELECT array_agg(o.machine_kind || '/' || o.skill || CASE WHEN o.alone THEN '!'
	ELSE '' END ORDER BY o.skill, o.machine_kind) FROM sign_offs o WHERE o.student_id = s.id), '{}') AS signed`

// signOffsOf reads a signedColumn; when, and to whom, it does not tell.
func signOffsOf(signed texts) []skill.SignOff {
	var offs []skill.SignOff
	for _, text := range signed {
		kind, key, _ := strings.Cut(text, "/")
		key, alone := strings.CutSuffix(key, "!")
		offs = append(offs, skill.SignOff{Skill: skill.Key(key), On: skill.Kind(kind), Alone: alone})
	}
	return offs
}

// Students lists a stretch of the students whose names hold words, by name,
// with what they have signed off, and how many there are in all.
func (w Workshop) Students(words string, stretch Rows) ([]skill.Student, int, error) {
	return w.studentsWhere("retired_at IS NULL AND name ILIKE ?", "%"+escapeLike(words)+"%", stretch)
}

// StudentsByID finds students, by name, with what they have signed off.
func (w Workshop) StudentsByID(ids ...int64) ([]skill.Student, error) {
	if len(ids) == 0 {
		return nil, nil
	}
	students, _, err := w.studentsWhere("id IN ?", ids, Rows{Limit: len(ids)})
	return students, err
}

func (w Workshop) studentsWhere(condition string, value any, stretch Rows) ([]skill.Student, int, error) {
	var rows []struct {
		Row    studentRow `gorm:"embedded"`
		Signed texts      `gorm:"type:text[]"`
		Total  int
	}
	err := w.db.Raw(`SELECT s.*, `+signedColumn+
		` FROM (SELECT *, count(*) OVER () AS total FROM students WHERE workshop_id = ? AND `+condition+`
		ORDER BY name, id OFFSET ? LIMIT ?) AS s ORDER BY s.name, s.id`, w.id, value, stretch.From,
		stretch.Limit).Scan(&rows).Error
	if err != nil || len(rows) == 0 {
		return nil, 0, explain("listing the students", err)
	}
	students := make([]skill.Student, len(rows))
	for i, r := range rows {
		students[i] = r.Row.value()
		students[i].SignOffs = signOffsOf(r.Signed)
	}
	return students, rows[0].Total, nil
}

// StudentNames suggests names of students that begin or go on with words.
func (w Workshop) StudentNames(words string, limit int) ([]string, error) {
	return w.names(w.db.Model(&studentRow{}).Where("retired_at IS NULL"), words, limit)
}

// StudentNamed finds the student of a name, with sign-offs.
func (w Workshop) StudentNamed(name string) (skill.Student, error) {
	var s studentRow
	err := w.db.Preload("SignOffs").Where("name = ? AND retired_at IS NULL", name).First(&s).Error
	return s.value(), explain("finding the student by name", err)
}

// Student finds one, with sign-offs and who gave them.
func (w Workshop) Student(id int64) (skill.Student, error) {
	var s studentRow
	err := w.db.Preload("SignOffs.Assessor").First(&s, id).Error
	return s.value(), explain("finding the student", err)
}

// SaveStudent adds a student (ID 0) or changes them, but for their sign-offs,
// and gives their ID.
func (w Workshop) SaveStudent(s skill.Student) (int64, error) {
	row := studentRow{ID: s.ID, Version: s.Version + 1, Name: s.Name, FirstTimer: s.FirstTimer, Units: s.Units,
		Size: s.Size, Notes: s.Notes, Photos: s.Photos}
	if s.ID == 0 {
		err := w.db.Omit("SignOffs").Create(&row).Error
		return row.ID, explain("adding the student "+s.Name, err)
	}
	result := w.db.Model(&studentRow{}).Where("id = ? AND version = ?", s.ID, s.Version).Select("Name", "FirstTimer",
		"Units", "Size", "Notes", "Photos", "Version").Updates(row)
	return s.ID, updated("saving the student "+s.Name, result)
}

// Suspend keeps a student from having a machine alone, for a reason; none lifts it.
func (w Workshop) Suspend(studentID int64, reason string) error {
	return found("suspending a student",
		w.db.Model(&studentRow{}).Where("id = ? AND retired_at IS NULL", studentID).Update("suspended", reason))
}

// NamesThere tells which of some names are those of students, in small letters.
func (w Workshop) NamesThere(names []string) (map[string]bool, error) {
	var found []string
	err := w.db.Model(&studentRow{}).Where(
		"retired_at IS NULL AND lower(name) IN (SELECT lower(n) FROM unnest(?::text[]) AS n)", texts(names)).Pluck("name",
		&found).Error
	there := map[string]bool{}
	for _, name := range found {
		there[strings.ToLower(name)] = true
	}
	return there, explain("looking who is a student", err)
}

// StudentsIn are the numbers of the students of a class, and what it is called.
func (w Workshop) StudentsIn(classID int64) (ids []int64, name string, err error) {
	var rows []struct {
		Name      string
		StudentID *int64
	}
	err = w.db.Raw(`SELECT c.name, s.student_id FROM classes c LEFT JOIN class_students s ON s.class_id = c.id
		WHERE c.workshop_id = ? AND c.id = ? ORDER BY s.student_id`, w.id, classID).Scan(&rows).Error
	if err == nil && len(rows) == 0 {
		err = gorm.ErrRecordNotFound
	}
	for _, r := range rows {
		name = r.Name
		if r.StudentID != nil {
			ids = append(ids, *r.StudentID)
		}
	}
	return ids, name, explain("finding the students of the class", err)
}
