package store

import (
	"gorm.io/gorm"
)

// A Project is a design on a blank, with the steps that make it.
type Project struct {
	ID            int64
	WorkshopID    int64
	Name          string
	DesignID      int64
	Blank         string
	BlankWidthMM  float64 `gorm:"column:blank_width_mm"`
	BlankHeightMM float64 `gorm:"column:blank_height_mm"`
	Fabric        string
	Uses          Texts `gorm:"type:text[]"`
	Version       int
	Design        Design
	Steps         []ProjectStep
}

// A ProjectStep is one step at bench or machine, with a practised person's
// minutes.
type ProjectStep struct {
	WorkshopID int64
	ProjectID  int64 `gorm:"primaryKey"`
	N          int   `gorm:"primaryKey"`
	Key        string
	Title      string
	Place      string
	Minutes    float64
	Instructor bool
	Skills     Texts `gorm:"type:text[]"`
	Caution    string
}

func withoutFile(db *gorm.DB) *gorm.DB { return db.Omit("Original") }

func inOrder(db *gorm.DB) *gorm.DB { return db.Order("n") }

// Projects lists the projects by name, with design and steps.
func (w Workshop) Projects() ([]Project, error) {
	var projects []Project
	err := w.db.Preload("Design", withoutFile).Preload("Design.Stops", inOrder).Preload("Design.Files", withoutFile).Preload("Steps", inOrder).Order("name").Find(&projects).Error
	return projects, explain("listing the projects", err)
}

// Project finds one, with design and steps.
func (w Workshop) Project(id int64) (Project, error) {
	var p Project
	err := w.db.Preload("Design", withoutFile).Preload("Design.Stops", inOrder).Preload("Design.Files", withoutFile).Preload("Steps", inOrder).First(&p, id).Error
	return p, explain("finding the project", err)
}

// ProjectsOf lists the names of the projects that use a design.
func (w Workshop) ProjectsOf(designID int64) ([]Project, error) {
	var projects []Project
	return projects, explain("listing a design's projects", w.db.Where("design_id = ?", designID).Order("name").Find(&projects).Error)
}

// SaveProject adds a project (ID 0) or changes it, with its steps.
func (w Workshop) SaveProject(p *Project) error {
	return w.InTx(func(tx Workshop) error {
		steps := p.Steps
		if p.ID == 0 {
			p.Version = 1
			if err := tx.db.Omit("Design", "Steps").Create(p).Error; err != nil {
				return explain("adding the project "+p.Name, err)
			}
		} else {
			was := p.Version
			p.Version++
			result := tx.db.Model(&Project{}).Where("id = ? AND version = ?", p.ID, was).
				Select("Name", "DesignID", "Blank", "BlankWidthMM", "BlankHeightMM", "Fabric", "Uses", "Version").Updates(p)
			if err := updated("saving the project "+p.Name, result); err != nil {
				p.Version = was
				return err
			}
			if err := tx.db.Where("project_id = ?", p.ID).Delete(&ProjectStep{}).Error; err != nil {
				return explain("saving the steps of "+p.Name, err)
			}
		}
		for i := range steps {
			steps[i].ProjectID, steps[i].N = p.ID, i+1
		}
		return explain("saving the steps of "+p.Name, tx.db.Create(&steps).Error)
	})
}
