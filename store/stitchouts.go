package store

import (
	"time"

	"gorm.io/gorm/clause"
)

// A StitchOut is one sewing of a design as it really went.
type StitchOut struct {
	ID         int64
	WorkshopID int64
	DesignID   int64
	MachineID  int64
	LoggedByID int64     `gorm:"column:logged_by"`
	SewnOn     time.Time `gorm:"type:date"`
	Fabric     string
	Recipe     string
	Minutes    float64
	// ThreadMetres is top thread, 0 where nobody measured it.
	ThreadMetres float64
	WentWrong    string
	// EstimatedMinutes and EstimatedSewing are what the figures said when it
	// was logged; PathMM and Ends are what thread is estimated from.
	EstimatedMinutes float64
	EstimatedSewing  float64
	// SewnMinutes is what of the minutes was sewing, as far as can be told.
	SewnMinutes float64
	PathMM      float64 `gorm:"column:path_mm"`
	Ends        int
	Photo       []byte
	PhotoType   string
	PhotoWidth  int
	PhotoHeight int
	Machine     Machine
	LoggedBy    Account
}

// A Learned is what the stitch-outs of a machine come to.
type Learned struct {
	MachineID int64
	Runs      int
	// SewnMinutes and SaidMinutes are what sewing took and was said to take.
	SewnMinutes, SaidMinutes float64
	// DrawnMM is the top thread that PathMM of path and Ends drew, of the runs
	// whose thread was measured.
	DrawnMM float64 `gorm:"column:drawn_mm"`
	PathMM  float64 `gorm:"column:path_mm"`
	Ends    int
}

// StitchOutsOf lists the newest of a design's stitch-outs, without photos, and
// how many there are. Of machine and person it knows the names.
func (w Workshop) StitchOutsOf(designID int64, limit int) ([]StitchOut, int, error) {
	var rows []struct {
		StitchOut   `gorm:"embedded"`
		MachineName string
		PersonName  string
		Total       int
	}
	err := w.db.Raw(`SELECT s.id, s.workshop_id, s.design_id, s.machine_id, s.logged_by, s.sewn_on, s.fabric, s.recipe, s.minutes, s.thread_metres, s.went_wrong,
			s.estimated_minutes, s.estimated_sewing, s.sewn_minutes, s.path_mm, s.ends, s.photo_type, s.photo_width, s.photo_height,
			m.name AS machine_name, a.name AS person_name, count(*) OVER () AS total
		FROM stitch_outs s JOIN machines m ON m.id = s.machine_id JOIN accounts a ON a.id = s.logged_by
		WHERE s.workshop_id = ? AND s.design_id = ? ORDER BY s.sewn_on DESC, s.id DESC LIMIT ?`, w.id, designID, limit).Scan(&rows).Error
	if err != nil || len(rows) == 0 {
		return nil, 0, explain("listing a design's stitch-outs", err)
	}
	runs := make([]StitchOut, len(rows))
	for i, r := range rows {
		runs[i] = r.StitchOut
		runs[i].Machine = Machine{ID: r.MachineID, Name: r.MachineName}
		runs[i].LoggedBy = Account{ID: r.LoggedByID, Name: r.PersonName}
	}
	return runs, rows[0].Total, nil
}

// LogStitchOut adds a stitch-out.
func (w Workshop) LogStitchOut(run *StitchOut) error {
	return explain("logging the stitch-out", w.db.Omit(clause.Associations).Create(run).Error)
}

// RemoveStitchOut takes back an entry made by mistake.
func (w Workshop) RemoveStitchOut(designID, id int64) error {
	return found("removing the stitch-out", w.db.Where("design_id = ? AND id = ?", designID, id).Delete(&StitchOut{}))
}
