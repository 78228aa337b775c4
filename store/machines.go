package store

import (
	"cmp"
	"maps"
	"slices"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"chalkstep/core/fleet"
	"chalkstep/core/hoop"
	"chalkstep/core/pace"
)

// A machineRow of the workshop.
type machineRow struct {
	ID            int64
	WorkshopID    int64
	Name          string
	Formats       texts `gorm:"type:text[]"`
	TopSpeedSPM   int   `gorm:"column:top_speed_spm"`
	ChangeSeconds int
	Needles       int
	AutoTrim      bool
	BobbinStyle   string
	BobbinMetres  float64
	Sews          bool
	Pedal         bool
	Features      texts `gorm:"type:text[]"`
	Place         int   `gorm:"->"` // changed by itself
	Version       int
	Hoops         []machineHoopRow `gorm:"foreignKey:MachineID"`
}

func (m machineRow) value() fleet.Machine {
	v := fleet.Machine{
		ID: m.ID, Version: m.Version, Name: m.Name, Formats: m.Formats, TopSpeedSPM: m.TopSpeedSPM,
		ChangeSeconds: m.ChangeSeconds, Needles: m.Needles,
		AutoTrim: m.AutoTrim, BobbinStyle: m.BobbinStyle, BobbinMetres: m.BobbinMetres, Sews: m.Sews, Pedal: m.Pedal,
		Place: m.Place,
	}
	for _, f := range m.Features {
		v.Features = append(v.Features, fleet.Feature(f))
	}
	for _, h := range m.Hoops {
		v.Hoops = append(v.Hoops, fleet.Held{Hoop: h.Hoop.value(), OffXMM: h.DXMM, OffYMM: h.DYMM, MeasuredOn: h.MeasuredOn})
	}
	return v
}

// A hoopRow is a number of like hoops.
type hoopRow struct {
	ID         int64
	WorkshopID int64
	Name       string
	WidthMM    float64 `gorm:"column:width_mm"`
	HeightMM   float64 `gorm:"column:height_mm"`
	Count      int
	Kind       hoop.Kind
	Version    int
}

func (h hoopRow) value() fleet.Hoop {
	return fleet.Hoop{ID: h.ID, Version: h.Version, Name: h.Name,
		Field: hoop.Field{WidthMM: h.WidthMM, HeightMM: h.HeightMM}, Count: h.Count, Kind: h.Kind}
}

// A machineHoopRow says that a machine takes a hoop, and how far the marks on
// the frame miss the true needle start there.
type machineHoopRow struct {
	WorkshopID int64
	MachineID  int64      `gorm:"primaryKey"`
	HoopID     int64      `gorm:"primaryKey"`
	DXMM       float64    `gorm:"column:dx_mm"`
	DYMM       float64    `gorm:"column:dy_mm"`
	MeasuredOn *time.Time `gorm:"type:date"`
	Hoop       hoopRow
}

// machineLine is a machine with one of the hoops it takes, if it takes any, and
// what was learned of it.
type machineLine struct {
	Row         machineRow `gorm:"embedded"`
	HoopID      *int64
	DXMM        float64 `gorm:"column:dx_mm"`
	DYMM        float64 `gorm:"column:dy_mm"`
	MeasuredOn  *time.Time
	HoopName    string
	HoopWidth   float64
	HoopHeight  float64
	HoopCount   int
	HoopVersion int
	HoopKind    hoop.Kind
	Runs        *int
	SewnMinutes float64
	SaidMinutes float64
	DrawnMM     float64 `gorm:"column:drawn_mm"`
	PathMM      float64 `gorm:"column:path_mm"`
	Ends        int
	Breaks      int
	// BreakStitches are those of runs whose breaks were counted; Off and OffSquares
	// tell how runs vary.
	BreakStitches   int
	Off, OffSquares float64
	// Outages are JSON.
	Outages []machineOutageRow `gorm:"serializer:json"`
}

// Machines lists the machines by name, with the hoops each takes, what was
// logged of it, and its latest outages.
func (w Workshop) Machines() ([]fleet.Machine, error) {
	var rows []machineLine
	err := w.db.Raw(`SELECT m.id, m.workshop_id, m.name, m.formats, m.top_speed_spm, m.change_seconds, m.needles,
		m.auto_trim, m.bobbin_style, m.bobbin_metres, m.sews, m.pedal, m.features, m.place, m.version,
			mh.hoop_id, mh.dx_mm, mh.dy_mm, mh.measured_on, h.name AS hoop_name, h.width_mm AS hoop_width,
			h.height_mm AS hoop_height, h.count AS hoop_count, h.version AS hoop_version, h.kind AS hoop_kind,
			l.runs, l.sewn_minutes, l.said_minutes, l.drawn_mm, l.path_mm, l.ends, l.breaks, l.break_stitches, l.off,
			l.off_squares,
			coalesce((SELECT json_agg(json_build_object('ID', o.id, 'MachineID', o.machine_id, 'StartsAt', o.starts_at,
			'EndsAt', o.ends_at, 'Reason', o.reason))
				FROM (SELECT * FROM machine_outages o WHERE o.machine_id = m.id ORDER BY starts_at DESC
				LIMIT 30) AS o), '[]') AS outages
		FROM machines m LEFT JOIN (machine_hoops mh JOIN hoops h ON h.id = mh.hoop_id
		AND h.retired_at IS NULL) ON mh.machine_id = m.id LEFT JOIN learned l ON l.machine_id = m.id
		WHERE m.workshop_id = ? AND m.retired_at IS NULL ORDER BY m.name, m.id, h.width_mm * h.height_mm, h.name`,
		w.id).Scan(&rows).Error
	var machines []fleet.Machine
	for _, r := range rows {
		if n := len(machines); n == 0 || machines[n-1].ID != r.Row.ID {
			m := r.Row.value()
			if r.Runs != nil {
				m.Logged = fleet.Logged{
					Runs: pace.Runs{Count: *r.Runs, TookMinutes: r.SewnMinutes, SaidMinutes: r.SaidMinutes, Breaks: r.Breaks,
						BreakStitches: r.BreakStitches, Off: r.Off, OffSquares: r.OffSquares},
					Thread: pace.Drawn{RealMM: r.DrawnMM, PathMM: r.PathMM, Ends: r.Ends},
				}
			}
			for _, o := range r.Outages {
				m.Outages = append(m.Outages, o.value(m.Name))
			}
			machines = append(machines, m)
		}
		if r.HoopID == nil {
			continue
		}
		m := &machines[len(machines)-1]
		h := hoopRow{ID: *r.HoopID, Name: r.HoopName, WidthMM: r.HoopWidth, HeightMM: r.HoopHeight, Count: r.HoopCount,
			Kind: r.HoopKind, Version: r.HoopVersion}
		m.Hoops = append(m.Hoops, fleet.Held{Hoop: h.value(), OffXMM: r.DXMM, OffYMM: r.DYMM, MeasuredOn: r.MeasuredOn})
	}
	return machines, explain("listing the machines", err)
}

// CountMachines tells how many machines there are.
func (w Workshop) CountMachines() (n int64, err error) {
	return n, explain("counting the machines", w.db.Model(&machineRow{}).Where("retired_at IS NULL").Count(&n).Error)
}

// Machine finds one, with the hoops it takes.
func (w Workshop) Machine(id int64) (fleet.Machine, error) {
	var m machineRow
	err := w.db.Preload("Hoops.Hoop").First(&m, id).Error
	return m.value(), explain("finding the machine", err)
}

// SaveMachine adds a machine (ID 0) or changes it, with the hoops it takes, and
// gives its ID.
func (w Workshop) SaveMachine(m fleet.Machine) (int64, error) {
	row := machineRow{
		ID: m.ID, Version: m.Version + 1, Name: m.Name, Formats: m.Formats, TopSpeedSPM: m.TopSpeedSPM,
		ChangeSeconds: m.ChangeSeconds, Needles: m.Needles,
		AutoTrim: m.AutoTrim, BobbinStyle: m.BobbinStyle, BobbinMetres: m.BobbinMetres, Sews: m.Sews, Pedal: m.Pedal,
		Features: texts{},
	}
	for _, f := range m.Features {
		row.Features = append(row.Features, string(f))
	}
	err := w.InTx(func(tx Workshop) error {
		if m.ID == 0 {
			if err := tx.db.Omit("Hoops").Create(&row).Error; err != nil {
				return explain("adding the machine "+m.Name, err)
			}
		} else {
			result := tx.db.Model(&machineRow{}).Where("id = ? AND version = ?", m.ID, m.Version).
				Select("Name", "Formats", "TopSpeedSPM", "ChangeSeconds", "Needles", "AutoTrim", "BobbinStyle", "BobbinMetres",
					"Sews", "Pedal", "Features", "Version").Updates(row)
			if err := updated("saving the machine "+m.Name, result); err != nil {
				return err
			}
			kept := []int64{0}
			for _, h := range m.Hoops {
				kept = append(kept, h.ID)
			}
			if err := tx.db.Where("machine_id = ? AND hoop_id NOT IN ?", m.ID,
				kept).Delete(&machineHoopRow{}).Error; err != nil {
				return explain("saving the hoops of "+m.Name, err)
			}
		}
		var held []machineHoopRow
		for _, h := range m.Hoops {
			held = append(held, machineHoopRow{MachineID: row.ID, HoopID: h.ID, DXMM: h.OffXMM, DYMM: h.OffYMM})
		}
		if len(held) == 0 {
			return nil
		}
		// What was measured stays measured while nobody writes something else.
		there := clause.OnConflict{Columns: []clause.Column{{Name: "machine_id"}, {Name: "hoop_id"}},
			DoUpdates: clause.Assignments(map[string]any{
				"dx_mm": gorm.Expr("excluded.dx_mm"), "dy_mm": gorm.Expr("excluded.dy_mm"),
				"measured_on": gorm.Expr(
					"CASE WHEN machine_hoops.dx_mm = excluded.dx_mm AND machine_hoops.dy_mm = excluded.dy_mm THEN " +
						"machine_hoops.measured_on END"),
			})}
		return explain("saving the hoops of "+m.Name, tx.db.Clauses(there).Omit("Hoop").Create(&held).Error)
	})
	return row.ID, err
}

// MeasureHoop keeps how far the marks of a hoop were found to be off on a machine, which
// has a version, on a day.
func (w Workshop) MeasureHoop(machineID int64, version int, h fleet.Held, on time.Time) error {
	return w.InTx(func(tx Workshop) error {
		if err := updated("measuring a hoop",
			tx.db.Model(&machineRow{}).Where("id = ? AND version = ?", machineID, version).Update("version",
				version+1)); err != nil {
			return err
		}
		return found("measuring a hoop",
			tx.db.Model(&machineHoopRow{}).Where("machine_id = ? AND hoop_id = ?", machineID, h.ID).
				Updates(map[string]any{"dx_mm": h.OffXMM, "dy_mm": h.OffYMM, "measured_on": on}))
	})
}

// Hoops lists the hoops, small ones first.
func (w Workshop) Hoops() ([]fleet.Hoop, error) {
	var hoops []hoopRow
	err := w.db.Where("retired_at IS NULL").Order("width_mm * height_mm, name").Find(&hoops).Error
	return valuesOf(hoops, hoopRow.value), explain("listing the hoops", err)
}

// Hoop finds one.
func (w Workshop) Hoop(id int64) (fleet.Hoop, error) {
	var h hoopRow
	err := w.db.First(&h, id).Error
	return h.value(), explain("finding the hoop", err)
}

// SaveHoop adds a hoop (ID 0) or changes it, and gives its ID.
func (w Workshop) SaveHoop(h fleet.Hoop) (int64, error) {
	row := hoopRow{ID: h.ID, Version: h.Version + 1, Name: h.Name, WidthMM: h.WidthMM, HeightMM: h.HeightMM,
		Count: h.Count, Kind: cmp.Or(h.Kind, hoop.Screw)}
	if h.ID == 0 {
		err := w.db.Create(&row).Error
		return row.ID, explain("adding the hoop "+h.Name, err)
	}
	result := w.db.Model(&hoopRow{}).Where("id = ? AND version = ?", h.ID, h.Version).
		Select("Name", "WidthMM", "HeightMM", "Count", "Kind", "Version").Updates(row)
	return h.ID, updated("saving the hoop "+h.Name, result)
}

// Place puts machines where they stand.
func (w Workshop) Place(places map[int64]int) error {
	return w.InTx(func(tx Workshop) error {
		for _, id := range slices.Sorted(maps.Keys(places)) { // everyone locks in one order
			if err := found("placing a machine",
				tx.db.Exec("UPDATE machines SET place = ? WHERE workshop_id = ? AND id = ?", places[id], w.id, id)); err != nil {
				return err
			}
		}
		return nil
	})
}
