package store

import (
	"cmp"
	"database/sql/driver"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"time"

	"gorm.io/gorm/clause"

	"chalkstep/core/classday"
	"chalkstep/core/fleet"
	"chalkstep/core/kit"
	"chalkstep/core/live"
	"chalkstep/core/project"
	"chalkstep/core/schedule"
	"chalkstep/core/skill"
)

// A classRow is a project made by students at machines in a window of time.
type classRow struct {
	ID         int64
	WorkshopID int64
	Name       string
	ProjectID  int64
	// ProjectVersion is what the project was when the class was planned.
	ProjectVersion int
	StartsAt       time.Time
	EndsAt         time.Time
	Instructors    int
	Assistants     int
	// AssistantMinutes is 0 for all of the class.
	AssistantMinutes int
	Adopted          texts `gorm:"type:text[]"`
	Benches          int
	BreakAt          int
	BreakMinutes     int
	OpeningMinutes   int
	ClosingMinutes   int
	Irons            int
	Version          int
	// OffAt is when it was called off, and by whom; CancelledAt when its slots
	// were freed.
	OffAt       *time.Time
	OffBy       *int64
	CancelledAt *time.Time
}

// A classStudentRow is a place on the roster.
type classStudentRow struct {
	WorkshopID int64
	ClassID    int64 `gorm:"primaryKey"`
	StudentID  int64 `gorm:"primaryKey"`
	// ProjectID is what they make instead of what the class makes.
	ProjectID      *int64
	ProjectVersion *int
	// Attendance and KitState are keys of the core; KitPacked are the lines in
	// the bag.
	Attendance  string `gorm:"default:expected"`
	LateMinutes int
	Size        string
	HoopedAhead bool
	KitState    string         `gorm:"default:to cut"`
	KitPacked   texts          `gorm:"type:text[]"`
	KitVersion  int            `gorm:"default:1"`
	Pins        []classday.Pin `gorm:"serializer:json"`
}

func placeOf(classID int64, p classday.Place) classStudentRow {
	row := classStudentRow{ClassID: classID, StudentID: p.Student.ID, Attendance: string(p.Attendance),
		LateMinutes: p.LateMinutes, Size: p.Size, KitState: string(p.Kit), KitPacked: texts{}, KitVersion: p.Version + 1,
		Pins: p.Pins, HoopedAhead: p.HoopedAhead}
	if row.Pins == nil {
		row.Pins = []classday.Pin{}
	}
	if p.Makes != nil {
		row.ProjectID, row.ProjectVersion = &p.Makes.ID, &p.Makes.Version
	}
	for _, id := range p.Packed {
		row.KitPacked = append(row.KitPacked, string(id))
	}
	return row
}

// A classMachineRow is a machine chosen for a class.
type classMachineRow struct {
	WorkshopID int64
	ClassID    int64 `gorm:"primaryKey"`
	MachineID  int64 `gorm:"primaryKey"`
}

// A classPlanRow is a plan and the hash of what it was made from.
type classPlanRow struct {
	WorkshopID int64
	ClassID    int64 `gorm:"primaryKey"`
	InputHash  []byte
	Result     schedule.Plan `gorm:"serializer:json"`
	// Basis is nil in plans of before it was kept.
	Basis     *classday.Basis `gorm:"serializer:json"`
	CostCents *float64
	FeeCents  *float64
}

// overAt is when a class is over, beside whether it has begun: one that runs when its students are done, or
// an hour after its time.
const overAt = `CROSS JOIN LATERAL (SELECT EXISTS (SELECT FROM class_events_effective e
		WHERE e.class_id = c.id AND e.kind = @started) AS begun) b
	CROSS JOIN LATERAL (SELECT CASE WHEN b.begun THEN least(c.free_from, c.ends_at + CAST(@late AS interval))
		ELSE c.ends_at END AS over_at) o`

// Classes lists a stretch of the classes, those not over at a moment first, by
// time, then those that are, the latest first; and how many there are of each.
func (w Workshop) Classes(now time.Time, stretch Rows) (lines []classday.Line, coming, over int, err error) {
	var rows []struct {
		classday.Line `gorm:"embedded"`
		Coming        int
		Total         int
	}
	err = w.db.Raw(`SELECT c.id, c.name, c.starts_at, c.ends_at, p.name AS project_name,
			c.off_at, (SELECT count(*) FROM class_students s WHERE s.class_id = c.id) AS students, (SELECT count(*)
			FROM class_machines m WHERE m.class_id = c.id) AS machines, b.begun, o.over_at,
			count(*) FILTER (WHERE o.over_at >= @now AND c.off_at IS NULL) OVER () AS coming, count(*) OVER () AS total
		FROM classes c JOIN projects p ON p.id = c.project_id `+overAt+` WHERE c.workshop_id = @w
		ORDER BY o.over_at < @now OR c.off_at IS NOT NULL, CASE WHEN o.over_at >= @now
		THEN c.starts_at END, c.starts_at DESC, c.id OFFSET @from LIMIT @limit`,
		map[string]any{"now": now, "w": w.id, "started": live.Started, "late": live.EndsAfter.String(), "from": stretch.From,
			"limit": stretch.Limit}).Scan(&rows).Error
	for _, r := range rows {
		lines, coming, over = append(lines, r.Line), r.Coming, r.Total-r.Coming
	}
	return lines, coming, over, explain("listing the classes", err)
}

// Class finds one with all a plan needs, but for its machines: of these it
// knows the names, see [day.Class.In].
func (w Workshop) Class(id int64) (classday.Class, error) {
	classes, err := w.classesWhere("c.id = ?", []any{id}, 1)
	if err == nil && len(classes) == 0 {
		err = fmt.Errorf("finding the class: %w", ErrNotFound)
	}
	if err != nil {
		return classday.Class{}, err
	}
	return classes[0], nil
}

// ComingClasses finds the next classes that are not over at a moment, by
// time, each as [Workshop.Class] does.
func (w Workshop) ComingClasses(now time.Time, limit int) ([]classday.Class, error) {
	return w.classesWhere("c.ends_at >= ? AND c.off_at IS NULL", []any{now}, limit)
}

// classesWhere finds classes with roster, machines and projects, in as many
// statements however many they are.
func (w Workshop) classesWhere(condition string, values []any, limit int) ([]classday.Class, error) {
	var rows []struct {
		Row         classRow `gorm:"embedded"`
		MachineID   *int64
		MachineName string
		Booked      bool
	}
	err := w.db.Raw(`SELECT c.*, cm.machine_id, m.name AS machine_name, b.id IS NOT NULL AS booked
		FROM (SELECT c.* FROM classes c WHERE c.workshop_id = ? AND `+condition+` ORDER BY c.starts_at, c.id LIMIT ?) AS c
		LEFT JOIN class_machines cm ON cm.class_id = c.id LEFT JOIN machines m ON m.id = cm.machine_id
		LEFT JOIN bookings b ON b.class_id = c.id AND b.machine_id = cm.machine_id ORDER BY c.starts_at, c.id, m.name`,
		slices.Concat([]any{w.id}, values, []any{limit})...).Scan(&rows).Error
	if err != nil || len(rows) == 0 {
		return nil, explain("finding classes", err)
	}
	var classes []classday.Class
	for _, r := range rows {
		row := r.Row
		if n := len(classes); n == 0 || classes[n-1].ID != row.ID {
			classes = append(classes, classday.Class{
				ID: row.ID, Version: row.Version, Name: row.Name,
				Project:  project.Project{ID: row.ProjectID, Version: row.ProjectVersion},
				StartsAt: row.StartsAt, EndsAt: row.EndsAt, Instructors: row.Instructors, Irons: row.Irons,
				Assistants: row.Assistants, AssistantMinutes: row.AssistantMinutes, Benches: row.Benches, BreakAt: row.BreakAt,
				BreakMinutes:   row.BreakMinutes,
				OpeningMinutes: row.OpeningMinutes, ClosingMinutes: row.ClosingMinutes, OffAt: row.OffAt, FreedAt: row.CancelledAt,
			})
			for _, key := range row.Adopted {
				classes[len(classes)-1].Adopted = append(classes[len(classes)-1].Adopted, classday.LeverKey(key))
			}
		}
		if r.MachineID != nil {
			c := &classes[len(classes)-1]
			c.Machines = append(c.Machines, fleet.Machine{ID: *r.MachineID, Name: r.MachineName})
			if !r.Booked && row.CancelledAt == nil {
				c.Unbooked = append(c.Unbooked, *r.MachineID)
			}
		}
	}
	if err := w.loadRosters(classes); err != nil {
		return nil, err
	}
	return classes, w.loadProjects(classes)
}

// loadRosters puts their rosters to classes, by name.
func (w Workshop) loadRosters(classes []classday.Class) error {
	at := map[int64]int{}
	ids := make([]int64, len(classes))
	for i, c := range classes {
		at[c.ID], ids[i] = i, c.ID
	}
	var rows []struct {
		Row            classStudentRow `gorm:"embedded"`
		Name           string
		FirstTimer     bool
		StudentUnits   string
		StudentVersion int
		Suspended      string
		StudentSize    string
		Photos         bool
		Seen           seen  `gorm:"embedded"`
		Signed         texts `gorm:"type:text[]"`
	}
	err := w.db.Raw(`SELECT cs.*, s.name, s.first_timer, s.units AS student_units, s.version AS student_version,
		s.suspended, s.size AS student_size, s.photos, s.seen_single_needle, s.seen_multi_needle, `+signedColumn+`
		FROM class_students cs JOIN students s ON s.id = cs.student_id WHERE cs.workshop_id = ? AND cs.class_id IN ?
		ORDER BY s.name COLLATE "C", s.id`, w.id, ids).Scan(&rows).Error
	if err != nil {
		return explain("reading rosters", err)
	}
	for _, r := range rows {
		row := r.Row
		place := classday.Place{
			Student: skill.Student{ID: row.StudentID, Version: r.StudentVersion, Name: r.Name, FirstTimer: r.FirstTimer,
				Units: r.StudentUnits, Suspended: r.Suspended, Size: r.StudentSize, Photos: r.Photos, Seen: r.Seen.value()},
			Attendance: classday.Attendance(row.Attendance), LateMinutes: row.LateMinutes, Size: row.Size,
			Kit: kit.State(row.KitState), Pins: row.Pins, HoopedAhead: row.HoopedAhead, Version: row.KitVersion,
		}
		place.SignOffs = signOffsOf(r.Signed)
		for _, text := range row.KitPacked {
			place.Packed = append(place.Packed, kit.ItemID(text))
		}
		if row.ProjectID != nil {
			place.Makes = &project.Project{ID: *row.ProjectID, Version: *row.ProjectVersion}
		}
		c := &classes[at[row.ClassID]]
		c.Places = append(c.Places, place)
	}
	return nil
}

// loadProjects puts what is made, which is told by ID and version so far, to
// classes and to those who make something else.
func (w Workshop) loadProjects(classes []classday.Class) error {
	var made []*project.Project
	for i := range classes {
		c := &classes[i]
		made = append(made, &c.Project)
		for _, p := range c.Places {
			if p.Makes != nil {
				made = append(made, p.Makes)
			}
		}
	}
	wanted := make([]project.At, len(made))
	for i, p := range made {
		wanted[i] = p.At()
	}
	slices.SortFunc(wanted, func(a, b project.At) int {
		return cmp.Or(cmp.Compare(a.ID, b.ID), cmp.Compare(a.Version, b.Version))
	})
	projects, err := w.ProjectsAt(slices.Compact(wanted)...)
	for _, p := range made {
		*p = projects[p.At()]
	}
	return err
}

// SavePlace changes a student's place in a class: project, attendance and where they
// sew.
func (w Workshop) SavePlace(classID int64, p classday.Place) error {
	return w.changePlace(placeOf(classID, p), "saving the student's place", "ProjectID", "ProjectVersion", "Attendance",
		"LateMinutes", "Size", "Pins", "HoopedAhead")
}

// SaveKit changes how far a kit is and what is in its bag.
func (w Workshop) SaveKit(classID int64, p classday.Place) error {
	return w.changePlace(placeOf(classID, p), "saving the kit", "KitState", "KitPacked")
}

// changePlace changes some of a place, unless someone else changed any of it
// since it was read: what a kit holds depends on what its student makes.
func (w Workshop) changePlace(p classStudentRow, doing string, fields ...any) error {
	result := w.db.Model(&classStudentRow{}).Where("class_id = ? AND student_id = ? AND kit_version = ?", p.ClassID,
		p.StudentID, p.KitVersion-1).
		Select("KitVersion", fields...).Updates(p)
	return updated(doing, result)
}

// SaveClass adds a class (ID 0) or changes it, with what it makes and its
// roster, books those of its machines that it can use for its window, and gives
// its ID. A machine that is booked meanwhile fails the whole.
func (w Workshop) SaveClass(saved classday.Class, makes project.At, studentIDs, machineIDs, usable []int64) (int64,
	error) {
	c := classRow{
		ID: saved.ID, Version: saved.Version + 1, Name: saved.Name, ProjectID: makes.ID, ProjectVersion: makes.Version,
		StartsAt: saved.StartsAt, EndsAt: saved.EndsAt,
		Instructors: saved.Instructors, Irons: saved.Irons, Assistants: saved.Assistants,
		AssistantMinutes: saved.AssistantMinutes, Benches: saved.Benches, BreakAt: saved.BreakAt,
		BreakMinutes:   saved.BreakMinutes,
		OpeningMinutes: saved.OpeningMinutes, ClosingMinutes: saved.ClosingMinutes,
	}
	c.Adopted = texts{}
	for _, key := range saved.Adopted {
		c.Adopted = append(c.Adopted, string(key))
	}
	err := w.InTx(func(tx Workshop) error {
		if err := tx.lockMachines(machineIDs...); err != nil {
			return err
		}
		if c.ID == 0 {
			if err := tx.db.Create(&c).Error; err != nil {
				return explain("adding the class "+c.Name, err)
			}
		} else if err := tx.changeClass(c, saved.Version, studentIDs); err != nil {
			return err
		}
		if err := tx.fillRoster(c, studentIDs); err != nil {
			return err
		}
		return tx.takeMachines(c, machineIDs, usable)
	})
	return c.ID, err
}

// changeClass changes a class that is there; who stays keeps attendance and kit, who goes may be
// elsewhere when it moves.
func (w Workshop) changeClass(c classRow, readAt int, studentIDs []int64) error {
	if err := w.db.Where("class_id = ? AND student_id NOT IN ?", c.ID,
		studentIDs).Delete(&classStudentRow{}).Error; err != nil {
		return explain("saving the roster of "+c.Name, err)
	}
	result := w.db.Model(&classRow{}).Where("id = ? AND version = ?", c.ID, readAt).
		Select("Name", "ProjectID", "ProjectVersion", "StartsAt", "EndsAt", "Instructors", "Irons", "Assistants",
			"AssistantMinutes", "Adopted", "Benches", "BreakAt", "BreakMinutes", "OpeningMinutes", "ClosingMinutes", "Version",
			"OffAt", "OffBy", "CancelledAt").Updates(c)
	if err := updated("saving the class "+c.Name, result); err != nil {
		return err
	}
	if err := w.db.Where("class_id = ?", c.ID).Delete(&bookingRow{}).Error; err != nil {
		return explain("saving the machines of "+c.Name, err)
	}
	return explain("saving the machines of "+c.Name, w.db.Where("class_id = ?", c.ID).Delete(&classMachineRow{}).Error)
}

// fillRoster gives those a place in a class who have none yet.
func (w Workshop) fillRoster(c classRow, studentIDs []int64) error {
	var places []classStudentRow
	for _, id := range studentIDs {
		places = append(places,
			classStudentRow{ClassID: c.ID, StudentID: id, Attendance: string(classday.Expected), KitState: string(kit.ToCut),
				KitVersion: 1, Pins: []classday.Pin{}})
	}
	if len(places) == 0 {
		return nil
	}
	return explain("saving the roster of "+c.Name,
		w.db.Clauses(clause.OnConflict{DoNothing: true}).Create(&places).Error)
}

// takeMachines chooses machines for a class, and books those that can be used.
func (w Workshop) takeMachines(c classRow, machineIDs, usable []int64) error {
	var chosen []classMachineRow
	for _, id := range machineIDs {
		chosen = append(chosen, classMachineRow{ClassID: c.ID, MachineID: id})
	}
	if len(chosen) > 0 {
		if err := w.db.Create(&chosen).Error; err != nil {
			return explain("saving the machines of "+c.Name, err)
		}
	}
	var bookings []bookingRow
	for _, id := range usable {
		bookings = append(bookings,
			bookingRow{MachineID: id, ClassID: &c.ID, Purpose: forPractice, StartsAt: c.StartsAt, EndsAt: c.EndsAt})
	}
	if len(bookings) == 0 {
		return nil
	}
	return explain("booking the machines of "+c.Name, w.db.Create(&bookings).Error)
}

// DeleteClass removes a class as if it had never been. ErrInUse means that the
// ledger names it.
func (w Workshop) DeleteClass(id int64) error {
	return w.InTx(func(tx Workshop) error {
		return found("deleting the class", tx.db.Where("id = ?", id).Delete(&classRow{}))
	})
}

// A KeptPlan is a plan and the hash of what it was made from. What it holds is
// read when it is asked for: it is long, and mostly known already.
type KeptPlan struct {
	InputHash     []byte
	result, basis []byte
	// Begun tells that the class has begun: its plan stands.
	Begun bool
	// CostCents and FeeCents of the class by it, nil while nobody asked.
	CostCents, FeeCents *float64
	// Lent is what other classes have at the same time, Reserved what the class
	// has spoken for, by item.
	Lent     []classday.Lent
	Reserved map[int64]float64
}

// hashes are a list of them as the database reads one.
type hashes [][]byte

// Value of the list: gorm would write its parts one by one.
func (h hashes) Value() (driver.Value, error) {
	texts := make([]string, len(h))
	for i, hash := range h {
		texts[i] = `"\\x` + hex.EncodeToString(hash) + `"`
	}
	return "{" + strings.Join(texts, ",") + "}", nil
}

// Result is the plan; ok is false where it did not come along.
func (k KeptPlan) Result() (r schedule.Plan, ok bool, err error) {
	if len(k.result) == 0 {
		return r, false, nil
	}
	if err := json.Unmarshal(k.result, &r); err != nil {
		return r, false, fmt.Errorf("reading a kept plan: %w", err)
	}
	return r, true, nil
}

// Basis is what it was made from; ok is false where none was kept.
func (k KeptPlan) Basis() (b classday.Basis, ok bool, err error) {
	if len(k.basis) == 0 || string(k.basis) == "null" {
		return b, false, nil
	}
	if err := json.Unmarshal(k.basis, &b); err != nil {
		return b, false, fmt.Errorf("reading what a kept plan was made from: %w", err)
	}
	return b, true, nil
}

// ClassPlans finds the kept plans of classes, what other classes at the same
// time have of the room's hoops, and what each has spoken for. A plan whose hash
// is known comes without its result, and only what has begun, or is over at a moment, with
// what it was made from: both are long.
func (w Workshop) ClassPlans(known [][]byte, now time.Time, classIDs ...int64) (map[int64]KeptPlan, error) {
	by := map[int64]KeptPlan{}
	if len(classIDs) == 0 {
		return by, nil
	}
	var rows []struct {
		ID                       int64
		InputHash, Result, Basis []byte
		Begun                    bool
		CostCents, FeeCents      *float64
		Lent                     []classday.Lent   `gorm:"serializer:json"`
		Reserved                 map[int64]float64 `gorm:"serializer:json"`
	}
	err := w.db.Raw(`SELECT c.id, p.input_hash, CASE WHEN p.input_hash = ANY(?) THEN NULL
		ELSE p.result::text END AS result, CASE WHEN c.ends_at <= ? OR b.begun
		THEN p.basis::text END AS basis, b.begun, p.cost_cents, p.fee_cents,
			coalesce((SELECT json_agg(json_build_object('HoopID', h.hoop_id, 'Count', h.count, 'Class', o.name)
			ORDER BY o.starts_at, o.id, h.hoop_id)
			FROM `+hoopsOfOthers("c.workshop_id", "c.id", "c.starts_at", "c.ends_at")+`), '[]') AS lent,
			coalesce((SELECT json_object_agg(s.item_id, s.reserved) FROM class_stock s WHERE s.class_id = c.id
			AND s.reserved > 1e-6), '{}') AS reserved
		FROM classes c LEFT JOIN class_plans p ON p.class_id = c.id,
			LATERAL (SELECT EXISTS (SELECT FROM class_events_effective e WHERE e.class_id = c.id AND e.kind = ?) AS begun) b
		WHERE c.workshop_id = ? AND c.id IN ?`, hashes(known),
		now, live.Started, w.id, classIDs).Scan(&rows).Error
	for _, r := range rows {
		by[r.ID] = KeptPlan{r.InputHash, r.Result, r.Basis, r.Begun, r.CostCents, r.FeeCents, r.Lent, r.Reserved}
	}
	return by, explain("finding the plans", err)
}

// hoopsOfOthers is what classes o other than one have of the room's hoops h in a stretch of
// time, for a query that says which workshop, class and stretch.
func hoopsOfOthers(workshop, class, from, to string) string {
	return `classes o JOIN class_hoops h ON h.class_id = o.id
			WHERE o.workshop_id = ` + workshop + ` AND o.id <> ` + class + ` AND o.cancelled_at IS NULL AND o.starts_at < ` +
		to + ` AND least(o.ends_at, o.free_from) > ` + from
}

// Lent is what classes other than one have of the room's hoops in a stretch of time, by
// their plans.
func (w Workshop) Lent(from, to time.Time, besideClassID int64) ([]classday.Lent, error) {
	var lent []classday.Lent
	err := w.db.Raw(`SELECT h.hoop_id, h.count, o.name AS class FROM `+
		hoopsOfOthers("@workshop", "@class", "@from", "@to")+`
		ORDER BY o.starts_at, o.id, h.hoop_id`,
		map[string]any{"workshop": w.id, "class": besideClassID, "from": from, "to": to}).Scan(&lent).Error
	return lent, explain("finding the hoops that other classes have", err)
}

// KeepPlan keeps a plan in place of an earlier one, with the hoops that the
// class has by it.
func (w Workshop) KeepPlan(classID int64, inputHash []byte, r schedule.Plan, basis classday.Basis,
	hoops map[int64]int) error {
	if err := w.db.Exec("DELETE FROM class_hoops WHERE workshop_id = ? AND class_id = ?", w.id,
		classID).Error; err != nil {
		return explain("keeping the plan", err)
	}
	for hoopID, n := range hoops {
		if err := w.db.Exec("INSERT INTO class_hoops (workshop_id, class_id, hoop_id, count) VALUES (?, ?, ?, ?)", w.id,
			classID, hoopID, n).Error; err != nil {
			return explain("keeping the hoops of the plan", err)
		}
	}
	plan := classPlanRow{ClassID: classID, InputHash: inputHash, Result: r, Basis: &basis}
	err := w.db.Clauses(clause.OnConflict{Columns: []clause.Column{{Name: "class_id"}},
		DoUpdates: clause.AssignmentColumns([]string{"input_hash", "result", "basis"})}).Create(&plan).Error
	return explain("keeping the plan", err)
}

// KeepCost keeps what a class costs by its plan.
func (w Workshop) KeepCost(classID int64, costCents, feeCents float64) error {
	result := w.db.Model(&classPlanRow{}).Where("class_id = ?",
		classID).Updates(map[string]any{"cost_cents": costCents, "fee_cents": feeCents})
	return explain("keeping what the class costs", result.Error)
}

// LockPlan lets one transaction at a time plan a class.
func (w Workshop) LockPlan(classID int64) error {
	return explain("waiting to plan the class",
		w.db.Exec("SELECT pg_advisory_xact_lock(hashtextextended('chalkstep: plan', ?))", classID).Error)
}
