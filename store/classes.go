package store

import (
	"bytes"
	"errors"
	"slices"
	"time"

	"gorm.io/gorm/clause"

	"chalkstep/core/floor"
)

// A Class is a project made by students at machines in a window of time.
type Class struct {
	ID         int64
	WorkshopID int64
	Name       string
	ProjectID  int64
	// ProjectVersion is what the project was when the class was planned.
	ProjectVersion int
	StartsAt       time.Time
	EndsAt         time.Time
	Instructors    int
	Irons          int
	Version        int
	Project        Project
	Students       []ClassStudent
	// Bookings are the class's machines.
	Bookings []Booking
}

// A ClassStudent is a place on the roster.
type ClassStudent struct {
	WorkshopID int64
	ClassID    int64 `gorm:"primaryKey"`
	StudentID  int64 `gorm:"primaryKey"`
	// ProjectID is what they make instead of what the class makes.
	ProjectID      *int64
	ProjectVersion *int
	// Project is that, nil for the class's.
	Project *Project `gorm:"-"`
	// Attendance is Expected, Late by LateMinutes, or Absent.
	Attendance  string `gorm:"default:expected"`
	LateMinutes int
	// KitState says how far the kit is; KitPacked are the lines in the bag.
	KitState   string `gorm:"default:to cut"`
	KitPacked  Texts  `gorm:"type:text[]"`
	KitVersion int    `gorm:"default:1"`
	Student    Student
}

// How a student attends, and how far a kit is.
const (
	Expected = "expected"
	Late     = "late"
	Absent   = "absent"

	KitToCut     = "to cut"
	KitCut       = "cut"
	KitPacked    = "packed"
	KitHandedOut = "handed out"
	KitReturned  = "returned"
)

// KitStates in the order a kit goes through them.
var KitStates = []string{KitToCut, KitCut, KitPacked, KitHandedOut, KitReturned}

// A ClassPlan is a plan and the hash of what it was made from.
type ClassPlan struct {
	WorkshopID int64
	ClassID    int64 `gorm:"primaryKey"`
	InputHash  []byte
	Result     floor.Result `gorm:"serializer:json"`
}

// Classes lists the classes by time, with project, roster and machines.
func (w Workshop) Classes() ([]Class, error) {
	var classes []Class
	err := w.db.Preload("Project", withoutPhoto).Preload("Students").Preload("Bookings").Order("starts_at, id").Find(&classes).Error
	return classes, explain("listing the classes", err)
}

// Class finds one with all a plan needs.
func (w Workshop) Class(id int64) (Class, error) {
	var c Class
	err := w.db.Preload("Students.Student.SignOffs").Preload("Bookings.Machine.Hoops.Hoop").First(&c, id).Error
	slices.SortFunc(c.Students, func(a, b ClassStudent) int { return compareText(a.Student.Name, b.Student.Name) })
	slices.SortFunc(c.Bookings, func(a, b Booking) int { return compareText(a.Machine.Name, b.Machine.Name) })
	if err != nil {
		return c, explain("finding the class", err)
	}
	if c.Project, err = w.ProjectAt(c.ProjectID, c.ProjectVersion); err != nil {
		return c, err
	}
	others := map[[2]int64]*Project{}
	for i := range c.Students {
		s := &c.Students[i]
		if s.ProjectID == nil {
			continue
		}
		key := [2]int64{*s.ProjectID, int64(*s.ProjectVersion)}
		if others[key] == nil {
			p, err := w.ProjectAt(*s.ProjectID, *s.ProjectVersion)
			if err != nil {
				return c, err
			}
			others[key] = &p
		}
		s.Project = others[key]
	}
	return c, nil
}

// SavePlace changes a student's place in a class: project and attendance.
func (w Workshop) SavePlace(p ClassStudent) error {
	return w.changePlace(p, "saving the student's place", "ProjectID", "ProjectVersion", "Attendance", "LateMinutes")
}

// SaveKit changes how far a kit is and what is in its bag.
func (w Workshop) SaveKit(p ClassStudent) error {
	return w.changePlace(p, "saving the kit", "KitState", "KitPacked")
}

// changePlace changes some of a place, unless someone else changed any of it
// since it was read: what a kit holds depends on what its student makes.
func (w Workshop) changePlace(p ClassStudent, doing string, fields ...any) error {
	was := p.KitVersion
	p.KitVersion++
	result := w.db.Model(&ClassStudent{}).Where("class_id = ? AND student_id = ? AND kit_version = ?", p.ClassID, p.StudentID, was).
		Select("KitVersion", fields...).Updates(p)
	return updated(doing, result)
}

func compareText(a, b string) int { return bytes.Compare([]byte(a), []byte(b)) }

// SaveClass adds a class (ID 0) or changes it, with its roster, and books its
// machines for its window. A machine that is booked meanwhile fails the whole.
func (w Workshop) SaveClass(c *Class, studentIDs, machineIDs []int64) error {
	return w.InTx(func(tx Workshop) error {
		if err := tx.lockMachines(machineIDs...); err != nil {
			return err
		}
		if c.ID == 0 {
			c.Version = 1
			if err := tx.db.Omit(clause.Associations).Create(c).Error; err != nil {
				return explain("adding the class "+c.Name, err)
			}
		} else {
			was := c.Version
			c.Version++
			result := tx.db.Model(&Class{}).Where("id = ? AND version = ?", c.ID, was).
				Select("Name", "ProjectID", "ProjectVersion", "StartsAt", "EndsAt", "Instructors", "Irons", "Version").Updates(c)
			if err := updated("saving the class "+c.Name, result); err != nil {
				c.Version = was
				return err
			}
			// Who stays keeps attendance and kit.
			if err := tx.db.Where("class_id = ? AND student_id NOT IN ?", c.ID, studentIDs).Delete(&ClassStudent{}).Error; err != nil {
				return explain("saving the roster of "+c.Name, err)
			}
			if err := tx.db.Where("class_id = ?", c.ID).Delete(&Booking{}).Error; err != nil {
				return explain("saving the machines of "+c.Name, err)
			}
		}
		for _, id := range studentIDs {
			place := ClassStudent{ClassID: c.ID, StudentID: id, Attendance: Expected, KitState: KitToCut, KitVersion: 1}
			if err := tx.db.Omit("Student").Clauses(clause.OnConflict{DoNothing: true}).Create(&place).Error; err != nil {
				return explain("saving the roster of "+c.Name, err)
			}
		}
		for _, id := range machineIDs {
			booking := Booking{MachineID: id, ClassID: &c.ID, StartsAt: c.StartsAt, EndsAt: c.EndsAt}
			if err := tx.db.Omit(clause.Associations).Create(&booking).Error; err != nil {
				return explain("booking the machines of "+c.Name, err)
			}
		}
		return nil
	})
}

// ClassPlan finds the plan of a class if it was made from this input.
func (w Workshop) ClassPlan(classID int64, inputHash []byte) (floor.Result, bool, error) {
	var p ClassPlan
	err := explain("finding the plan", w.db.Where("class_id = ? AND input_hash = ?", classID, inputHash).First(&p).Error)
	if errors.Is(err, ErrNotFound) {
		return floor.Result{}, false, nil
	}
	return p.Result, err == nil, err
}

// KeepPlan keeps a plan in place of an earlier one.
func (w Workshop) KeepPlan(classID int64, inputHash []byte, r floor.Result) error {
	plan := ClassPlan{ClassID: classID, InputHash: inputHash, Result: r}
	err := w.db.Clauses(clause.OnConflict{Columns: []clause.Column{{Name: "class_id"}}, DoUpdates: clause.AssignmentColumns([]string{"input_hash", "result"})}).Create(&plan).Error
	return explain("keeping the plan", err)
}
