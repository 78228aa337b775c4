package store

import (
	"time"

	"chalkstep/core/design"
	"chalkstep/core/photo"
)

// A stitchOutRow is one sewing of a design as it really went.
type stitchOutRow struct {
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
	// Breaks of the thread, nil where nobody counted; Stitches is how many it was.
	Breaks      *int
	Stitches    int
	Photo       []byte
	PhotoType   string
	PhotoWidth  int
	PhotoHeight int
	// ProjectID is that of which it is a test, MadeAs what the project was made by
	// then, Changed what was changed after it.
	ProjectID *int64
	MadeAs    string
	Changed   string
}

// StitchOutsOf lists the newest of a design's stitch-outs, without photos, and
// how many there are.
func (w Workshop) StitchOutsOf(designID int64, limit int) ([]design.StitchOut, int, error) {
	var rows []struct {
		Row         stitchOutRow `gorm:"embedded"`
		MachineName string
		PersonName  string
		Total       int
	}
	err := w.db.Raw(`SELECT s.id, s.workshop_id, s.design_id, s.machine_id, s.logged_by, s.sewn_on, s.fabric, s.recipe,
		s.minutes, s.thread_metres, s.went_wrong,
			s.estimated_minutes, s.estimated_sewing, s.sewn_minutes, s.path_mm, s.ends, s.breaks, s.stitches, s.photo_type,
			s.photo_width, s.photo_height,
			m.name AS machine_name, a.name AS person_name, count(*) OVER () AS total
		FROM stitch_outs s JOIN machines m ON m.id = s.machine_id JOIN accounts a ON a.id = s.logged_by
		WHERE s.workshop_id = ? AND s.design_id = ? ORDER BY s.sewn_on DESC, s.id DESC LIMIT ?`, w.id, designID,
		limit).Scan(&rows).Error
	if err != nil || len(rows) == 0 {
		return nil, 0, explain("listing a design's stitch-outs", err)
	}
	runs := make([]design.StitchOut, len(rows))
	for i, r := range rows {
		row := r.Row
		runs[i] = design.StitchOut{
			ID: row.ID, DesignID: row.DesignID, MachineID: row.MachineID, Machine: r.MachineName, By: r.PersonName,
			SewnOn: row.SewnOn, Fabric: row.Fabric, Recipe: row.Recipe, Minutes: row.Minutes,
			ThreadMetres: row.ThreadMetres, WentWrong: row.WentWrong, EstimatedMinutes: row.EstimatedMinutes,
			EstimatedSewing: row.EstimatedSewing, SewnMinutes: row.SewnMinutes, PathMM: row.PathMM, Ends: row.Ends,
			Breaks: row.Breaks, Stitches: row.Stitches,
			PhotoSize: [2]int{row.PhotoWidth, row.PhotoHeight},
		}
	}
	return runs, rows[0].Total, nil
}

// LogStitchOut adds a stitch-out that somebody logs, with its photo if it has
// any data, and gives its ID.
func (w Workshop) LogStitchOut(run design.StitchOut, p photo.Photo, byID int64) (int64, error) {
	row := stitchOutRow{
		DesignID: run.DesignID, MachineID: run.MachineID, LoggedByID: byID, SewnOn: run.SewnOn, Fabric: run.Fabric,
		Recipe: run.Recipe, Minutes: run.Minutes, ThreadMetres: run.ThreadMetres,
		WentWrong: run.WentWrong, EstimatedMinutes: run.EstimatedMinutes, EstimatedSewing: run.EstimatedSewing,
		SewnMinutes: run.SewnMinutes, PathMM: run.PathMM, Ends: run.Ends, Breaks: run.Breaks, Stitches: run.Stitches,
	}
	if len(p.Data) > 0 {
		row.Photo, row.PhotoType, row.PhotoWidth, row.PhotoHeight = p.Data, photo.MediaType, p.Width, p.Height
	}
	if run.Test != nil {
		row.ProjectID, row.MadeAs, row.Changed = &run.Test.ProjectID, run.Test.MadeAs, run.Test.Changed
	}
	err := w.db.Create(&row).Error
	return row.ID, explain("logging the stitch-out", err)
}

// TestsOf lists the newest tests of some projects, without photos, the newest
// first.
func (w Workshop) TestsOf(limit int, projectIDs ...int64) ([]design.StitchOut, error) {
	var rows []struct {
		Row         stitchOutRow `gorm:"embedded"`
		MachineName string
		PersonName  string
	}
	err := w.db.Raw(`SELECT s.id, s.workshop_id, s.design_id, s.machine_id, s.sewn_on, s.fabric, s.minutes, s.went_wrong,
		s.project_id, s.made_as, s.changed, s.photo_width, s.photo_height,
			s.estimated_minutes, m.name AS machine_name, a.name AS person_name
		FROM (SELECT *, row_number() OVER (PARTITION BY project_id ORDER BY sewn_on DESC, id DESC) AS n FROM stitch_outs
		WHERE workshop_id = ? AND project_id IN ?) AS s
		JOIN machines m ON m.id = s.machine_id JOIN accounts a ON a.id = s.logged_by WHERE s.n <= ?
		ORDER BY s.sewn_on DESC, s.id DESC`, w.id, projectIDs, limit).Scan(&rows).Error
	tests := make([]design.StitchOut, len(rows))
	for i, r := range rows {
		row := r.Row
		tests[i] = design.StitchOut{
			ID: row.ID, DesignID: row.DesignID, MachineID: row.MachineID, Machine: r.MachineName, By: r.PersonName,
			SewnOn: row.SewnOn, Fabric: row.Fabric, Minutes: row.Minutes, WentWrong: row.WentWrong,
			EstimatedMinutes: row.EstimatedMinutes, PhotoSize: [2]int{row.PhotoWidth, row.PhotoHeight},
			Test: &design.Test{ProjectID: *row.ProjectID, MadeAs: row.MadeAs, Changed: row.Changed},
		}
	}
	return tests, explain("listing the tests of a project", err)
}

// RemoveStitchOut takes back an entry made by mistake.
func (w Workshop) RemoveStitchOut(designID, id int64) error {
	return found("removing the stitch-out", w.db.Where("design_id = ? AND id = ?", designID, id).Delete(&stitchOutRow{}))
}
