package store

import (
	"time"

	"gorm.io/gorm"
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
	PathMM           float64 `gorm:"column:path_mm"`
	Ends             int
	Photo            []byte
	PhotoType        string
	Machine          Machine
	LoggedBy         Account
}

func withoutPhoto(db *gorm.DB) *gorm.DB { return db.Omit("Photo") }

// StitchOuts lists all stitch-outs, without photos, for the figures that
// learn from them.
func (w Workshop) StitchOuts() ([]StitchOut, error) {
	var runs []StitchOut
	return runs, explain("listing the stitch-outs", withoutPhoto(w.db).Order("sewn_on, id").Find(&runs).Error)
}

// StitchOutsOf lists a design's stitch-outs, newest first, without photos.
func (w Workshop) StitchOutsOf(designID int64) ([]StitchOut, error) {
	var runs []StitchOut
	err := withoutPhoto(w.db).Preload("Machine").Preload("LoggedBy").Where("design_id = ?", designID).Order("sewn_on DESC, id DESC").Find(&runs).Error
	return runs, explain("listing a design's stitch-outs", err)
}

// StitchOutPhoto finds a stitch-out's photo.
func (w Workshop) StitchOutPhoto(designID, id int64) (StitchOut, error) {
	var run StitchOut
	err := w.db.Select("id", "photo", "photo_type").Where("design_id = ? AND photo IS NOT NULL", designID).First(&run, id).Error
	return run, explain("finding the photo", err)
}

// LogStitchOut adds a stitch-out.
func (w Workshop) LogStitchOut(run *StitchOut) error {
	return explain("logging the stitch-out", w.db.Omit(clause.Associations).Create(run).Error)
}

// RemoveStitchOut takes back an entry made by mistake.
func (w Workshop) RemoveStitchOut(designID, id int64) error {
	result := w.db.Where("design_id = ? AND id = ?", designID, id).Delete(&StitchOut{})
	if result.Error == nil && result.RowsAffected == 0 {
		return explain("removing the stitch-out", ErrNotFound)
	}
	return explain("removing the stitch-out", result.Error)
}
