package store

import (
	"fmt"
	"slices"
	"strings"
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
	Project        Project `gorm:"-"`
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

// A ClassLine is a class as a list shows it.
type ClassLine struct {
	ID                 int64
	Name               string
	StartsAt, EndsAt   time.Time
	ProjectName        string
	Students, Machines int
}

// Classes lists a stretch of the classes, those not over at a moment first, by
// time, then those that are, the latest first; and how many there are of each.
func (w Workshop) Classes(now time.Time, stretch Stretch) (lines []ClassLine, coming, over int, err error) {
	var rows []struct {
		ClassLine `gorm:"embedded"`
		Coming    int
		Total     int
	}
	err = w.db.Raw(`SELECT c.id, c.name, c.starts_at, c.ends_at, p.name AS project_name,
			(SELECT count(*) FROM class_students s WHERE s.class_id = c.id) AS students, (SELECT count(*) FROM bookings b WHERE b.class_id = c.id) AS machines,
			count(*) FILTER (WHERE c.ends_at >= ?) OVER () AS coming, count(*) OVER () AS total
		FROM classes c JOIN projects p ON p.id = c.project_id WHERE c.workshop_id = ?
		ORDER BY c.ends_at < ?, CASE WHEN c.ends_at >= ? THEN c.starts_at END, c.starts_at DESC, c.id OFFSET ? LIMIT ?`,
		now, w.id, now, now, stretch.From, stretch.Limit).Scan(&rows).Error
	for _, r := range rows {
		lines, coming, over = append(lines, r.ClassLine), r.Coming, r.Total-r.Coming
	}
	return lines, coming, over, explain("listing the classes", err)
}

// Class finds one with all a plan needs.
func (w Workshop) Class(id int64) (Class, error) {
	classes, err := w.classesWhere("c.id = ?", []any{id}, 1)
	if err == nil && len(classes) == 0 {
		err = fmt.Errorf("finding the class: %w", ErrNotFound)
	}
	if err != nil {
		return Class{}, err
	}
	return classes[0], nil
}

// ComingClasses finds the next classes that are not over at a moment, by
// time, with all their plans need.
func (w Workshop) ComingClasses(now time.Time, limit int) ([]Class, error) {
	return w.classesWhere("c.ends_at >= ?", []any{now}, limit)
}

// classesWhere finds classes with roster, machines and projects, in as many
// statements however many they are. The machines of a booking have no more
// than their id and name.
func (w Workshop) classesWhere(condition string, values []any, limit int) ([]Class, error) {
	const doing = "finding classes"
	var rows []struct {
		Class       `gorm:"embedded"`
		BookingID   *int64
		MachineID   int64
		MachineName string
	}
	err := w.db.Raw(`SELECT c.*, b.id AS booking_id, b.machine_id, m.name AS machine_name
		FROM (SELECT c.* FROM classes c WHERE c.workshop_id = ? AND `+condition+` ORDER BY c.starts_at, c.id LIMIT ?) AS c
		LEFT JOIN bookings b ON b.class_id = c.id LEFT JOIN machines m ON m.id = b.machine_id ORDER BY c.starts_at, c.id, m.name`,
		slices.Concat([]any{w.id}, values, []any{limit})...).Scan(&rows).Error
	if err != nil || len(rows) == 0 {
		return nil, explain(doing, err)
	}
	var classes []Class
	for _, r := range rows {
		if n := len(classes); n == 0 || classes[n-1].ID != r.ID {
			classes = append(classes, r.Class)
		}
		if r.BookingID == nil {
			continue
		}
		c := &classes[len(classes)-1]
		classID := c.ID
		c.Bookings = append(c.Bookings, Booking{ID: *r.BookingID, WorkshopID: w.id, MachineID: r.MachineID, ClassID: &classID, StartsAt: c.StartsAt, EndsAt: c.EndsAt, Machine: Machine{ID: r.MachineID, Name: r.MachineName}})
	}
	if err := w.loadRosters(classes); err != nil {
		return nil, err
	}
	return classes, w.loadProjects(classes)
}

// loadRosters puts their rosters to classes, by name.
func (w Workshop) loadRosters(classes []Class) error {
	at := map[int64]int{}
	ids := make([]int64, len(classes))
	for i, c := range classes {
		at[c.ID], ids[i] = i, c.ID
	}
	var rows []struct {
		ClassStudent   `gorm:"embedded"`
		Name           string
		FirstTimer     bool
		StudentUnits   string
		StudentVersion int
		Signed         Texts `gorm:"type:text[]"`
	}
	err := w.db.Raw(`SELECT cs.*, s.name, s.first_timer, s.units AS student_units, s.version AS student_version,
			coalesce((SELECT array_agg(o.machine_kind || '/' || o.skill ORDER BY o.skill, o.machine_kind) FROM sign_offs o WHERE o.student_id = s.id), '{}') AS signed
		FROM class_students cs JOIN students s ON s.id = cs.student_id WHERE cs.workshop_id = ? AND cs.class_id IN ? ORDER BY s.name COLLATE "C", s.id`, w.id, ids).Scan(&rows).Error
	if err != nil {
		return explain("reading rosters", err)
	}
	for _, r := range rows {
		place := r.ClassStudent
		place.Student = Student{ID: place.StudentID, WorkshopID: w.id, Name: r.Name, FirstTimer: r.FirstTimer, Units: r.StudentUnits, Version: r.StudentVersion}
		for _, text := range r.Signed {
			kind, skill, _ := strings.Cut(text, "/")
			place.Student.SignOffs = append(place.Student.SignOffs, SignOff{StudentID: place.StudentID, Skill: skill, MachineKind: kind})
		}
		c := &classes[at[place.ClassID]]
		c.Students = append(c.Students, place)
	}
	return nil
}

// loadProjects puts what is made to classes and to those who make something
// else.
func (w Workshop) loadProjects(classes []Class) error {
	var wanted []ProjectAt
	want := func(at ProjectAt) {
		if !slices.Contains(wanted, at) {
			wanted = append(wanted, at)
		}
	}
	for _, c := range classes {
		want(ProjectAt{c.ProjectID, c.ProjectVersion})
		for _, s := range c.Students {
			if s.ProjectID != nil {
				want(ProjectAt{*s.ProjectID, *s.ProjectVersion})
			}
		}
	}
	projects, err := w.ProjectsAt(wanted...)
	if err != nil {
		return err
	}
	for i := range classes {
		c := &classes[i]
		c.Project = projects[ProjectAt{c.ProjectID, c.ProjectVersion}]
		for j := range c.Students {
			if s := &c.Students[j]; s.ProjectID != nil {
				p := projects[ProjectAt{*s.ProjectID, *s.ProjectVersion}]
				s.Project = &p
			}
		}
	}
	return nil
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
		var places []ClassStudent
		for _, id := range studentIDs {
			places = append(places, ClassStudent{ClassID: c.ID, StudentID: id, Attendance: Expected, KitState: KitToCut, KitVersion: 1})
		}
		if len(places) > 0 {
			if err := tx.db.Omit("Student").Clauses(clause.OnConflict{DoNothing: true}).Create(&places).Error; err != nil {
				return explain("saving the roster of "+c.Name, err)
			}
		}
		var bookings []Booking
		for _, id := range machineIDs {
			bookings = append(bookings, Booking{MachineID: id, ClassID: &c.ID, StartsAt: c.StartsAt, EndsAt: c.EndsAt})
		}
		if len(bookings) > 0 {
			if err := tx.db.Omit(clause.Associations).Create(&bookings).Error; err != nil {
				return explain("booking the machines of "+c.Name, err)
			}
		}
		return nil
	})
}

// ClassPlans finds the kept plans of classes.
func (w Workshop) ClassPlans(classIDs ...int64) (map[int64]ClassPlan, error) {
	var plans []ClassPlan
	by := map[int64]ClassPlan{}
	if len(classIDs) == 0 {
		return by, nil
	}
	if err := w.db.Where("class_id IN ?", classIDs).Find(&plans).Error; err != nil {
		return nil, explain("finding the plans", err)
	}
	for _, p := range plans {
		by[p.ClassID] = p
	}
	return by, nil
}

// KeepPlan keeps a plan in place of an earlier one.
func (w Workshop) KeepPlan(classID int64, inputHash []byte, r floor.Result) error {
	plan := ClassPlan{ClassID: classID, InputHash: inputHash, Result: r}
	err := w.db.Clauses(clause.OnConflict{Columns: []clause.Column{{Name: "class_id"}}, DoUpdates: clause.AssignmentColumns([]string{"input_hash", "result"})}).Create(&plan).Error
	return explain("keeping the plan", err)
}

// LockPlan lets one transaction at a time plan a class.
func (w Workshop) LockPlan(classID int64) error {
	return explain("waiting to plan the class", w.db.Exec("SELECT pg_advisory_xact_lock(hashtextextended('chalkstep: plan', ?))", classID).Error)
}
