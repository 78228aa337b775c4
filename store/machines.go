package store

// A Machine of the workshop.
type Machine struct {
	ID            int64
	WorkshopID    int64
	Name          string
	Formats       Texts `gorm:"type:text[]"`
	TopSpeedSPM   int   `gorm:"column:top_speed_spm"`
	ChangeSeconds int
	Needles       int
	AutoTrim      bool
	BobbinStyle   string
	BobbinMetres  float64
	Version       int
	Hoops         []MachineHoop
	// Learned is what its logged stitch-outs come to, Pace what follows from
	// that, 0 while there is none.
	Learned Learned `gorm:"-"`
	Pace    float64 `gorm:"-"`
}

// The kinds of machine a skill is signed off on.
const (
	SingleNeedle = "single-needle"
	MultiNeedle  = "multi-needle"
)

// Kind of machine: what is learned on one is known on all of its kind.
func (m Machine) Kind() string {
	if m.Needles > 1 {
		return MultiNeedle
	}
	return SingleNeedle
}

// A Hoop is a number of like hoops.
type Hoop struct {
	ID         int64
	WorkshopID int64
	Name       string
	WidthMM    float64 `gorm:"column:width_mm"`
	HeightMM   float64 `gorm:"column:height_mm"`
	Count      int
	Version    int
}

// A MachineHoop says that a machine takes a hoop, and how far the marks on
// the frame miss the true needle start there.
type MachineHoop struct {
	WorkshopID int64
	MachineID  int64   `gorm:"primaryKey"`
	HoopID     int64   `gorm:"primaryKey"`
	DXMM       float64 `gorm:"column:dx_mm"`
	DYMM       float64 `gorm:"column:dy_mm"`
	Hoop       Hoop
}

// machineRow is a machine with one of the hoops it takes, if it takes any, and
// what was learned of it.
type machineRow struct {
	Machine     `gorm:"embedded"`
	HoopID      *int64
	DXMM        float64 `gorm:"column:dx_mm"`
	DYMM        float64 `gorm:"column:dy_mm"`
	HoopName    string
	HoopWidth   float64
	HoopHeight  float64
	HoopCount   int
	HoopVersion int
	Runs        *int
	SewnMinutes float64
	SaidMinutes float64
	DrawnMM     float64 `gorm:"column:drawn_mm"`
	PathMM      float64 `gorm:"column:path_mm"`
	Ends        int
}

// Machines lists the machines by name, with the hoops each takes and what was
// learned of it.
func (w Workshop) Machines() ([]Machine, error) {
	var rows []machineRow
	err := w.db.Raw(`SELECT m.id, m.workshop_id, m.name, m.formats, m.top_speed_spm, m.change_seconds, m.needles, m.auto_trim, m.bobbin_style, m.bobbin_metres, m.version,
			mh.hoop_id, mh.dx_mm, mh.dy_mm, h.name AS hoop_name, h.width_mm AS hoop_width, h.height_mm AS hoop_height, h.count AS hoop_count, h.version AS hoop_version,
			l.runs, l.sewn_minutes, l.said_minutes, l.drawn_mm, l.path_mm, l.ends
		FROM machines m LEFT JOIN machine_hoops mh ON mh.machine_id = m.id LEFT JOIN hoops h ON h.id = mh.hoop_id LEFT JOIN learned l ON l.machine_id = m.id
		WHERE m.workshop_id = ? ORDER BY m.name, m.id, h.width_mm * h.height_mm, h.name`, w.id).Scan(&rows).Error
	var machines []Machine
	for _, r := range rows {
		if n := len(machines); n == 0 || machines[n-1].ID != r.ID {
			m := r.Machine
			if r.Runs != nil {
				m.Learned = Learned{MachineID: m.ID, Runs: *r.Runs, SewnMinutes: r.SewnMinutes, SaidMinutes: r.SaidMinutes, DrawnMM: r.DrawnMM, PathMM: r.PathMM, Ends: r.Ends}
			}
			machines = append(machines, m)
		}
		if r.HoopID == nil {
			continue
		}
		m := &machines[len(machines)-1]
		h := Hoop{ID: *r.HoopID, WorkshopID: w.id, Name: r.HoopName, WidthMM: r.HoopWidth, HeightMM: r.HoopHeight, Count: r.HoopCount, Version: r.HoopVersion}
		m.Hoops = append(m.Hoops, MachineHoop{WorkshopID: w.id, MachineID: m.ID, HoopID: h.ID, DXMM: r.DXMM, DYMM: r.DYMM, Hoop: h})
	}
	return machines, explain("listing the machines", err)
}

// CountMachines tells how many machines there are.
func (w Workshop) CountMachines() (n int64, err error) {
	return n, explain("counting the machines", w.db.Model(&Machine{}).Count(&n).Error)
}

// Machine finds one, with the hoops it takes.
func (w Workshop) Machine(id int64) (Machine, error) {
	var m Machine
	return m, explain("finding the machine", w.db.Preload("Hoops.Hoop").First(&m, id).Error)
}

// SaveMachine adds a machine (ID 0) or changes it, with the hoops it takes.
func (w Workshop) SaveMachine(m *Machine) error {
	return w.InTx(func(tx Workshop) error {
		hoops := m.Hoops
		if m.ID == 0 {
			m.Version = 1
			if err := tx.db.Omit("Hoops").Create(m).Error; err != nil {
				return explain("adding the machine "+m.Name, err)
			}
		} else {
			was := m.Version
			m.Version++
			result := tx.db.Model(&Machine{}).Where("id = ? AND version = ?", m.ID, was).
				Select("Name", "Formats", "TopSpeedSPM", "ChangeSeconds", "Needles", "AutoTrim", "BobbinStyle", "BobbinMetres", "Version").Updates(m)
			if err := updated("saving the machine "+m.Name, result); err != nil {
				m.Version = was
				return err
			}
			if err := tx.db.Where("machine_id = ?", m.ID).Delete(&MachineHoop{}).Error; err != nil {
				return explain("saving the hoops of "+m.Name, err)
			}
		}
		for i := range hoops {
			hoops[i].MachineID = m.ID
			if err := tx.db.Omit("Hoop").Create(&hoops[i]).Error; err != nil {
				return explain("saving the hoops of "+m.Name, err)
			}
		}
		return nil
	})
}

// Hoops lists the hoops, small ones first.
func (w Workshop) Hoops() ([]Hoop, error) {
	var hoops []Hoop
	return hoops, explain("listing the hoops", w.db.Order("width_mm * height_mm, name").Find(&hoops).Error)
}

// Hoop finds one.
func (w Workshop) Hoop(id int64) (Hoop, error) {
	var h Hoop
	return h, explain("finding the hoop", w.db.First(&h, id).Error)
}

// SaveHoop adds a hoop (ID 0) or changes it.
func (w Workshop) SaveHoop(h *Hoop) error {
	if h.ID == 0 {
		h.Version = 1
		return explain("adding the hoop "+h.Name, w.db.Create(h).Error)
	}
	was := h.Version
	h.Version++
	result := w.db.Model(&Hoop{}).Where("id = ? AND version = ?", h.ID, was).
		Select("Name", "WidthMM", "HeightMM", "Count", "Version").Updates(h)
	return updated("saving the hoop "+h.Name, result)
}
