package store

import (
	"gorm.io/gorm"

	"chalkstep/core/blank"
	"chalkstep/core/recipe"
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
	Uses          Texts          `gorm:"type:text[]"`
	Content       ProjectContent `gorm:"serializer:json"`
	Photo         []byte
	PhotoType     string
	Version       int
	Design        Design
	Steps         []ProjectStep
	// Again are the designs of Content.Hoopings, in their order.
	Again []Design `gorm:"-"`
}

// A ProjectContent is what a project is beside its first hooping: read and
// kept together, so it is one document.
type ProjectContent struct {
	// House is what the project does otherwise than the workshop.
	House recipe.House
	// Level is 1 to 5, 0 while nobody has said; Teaches are keys of the ladder.
	Level   int
	Teaches []string
	// Shape, size and spot of the blank, and what was moved by hand.
	Shape            blank.Shape
	Size             string
	Spot             blank.Spot
	MoveXMM, MoveYMM float64
	// InHoop is work built up in the hoop.
	InHoop bool
	// Hoopings are those after the first.
	Hoopings []ProjectHooping
	Layers   []ProjectLayer
	Parts    []ProjectPart
	// Work is done off the machine, after the sewing.
	Work []ProjectWork
}

// A ProjectHooping is another hooping of the same thing.
type ProjectHooping struct {
	Title    string
	DesignID int64
}

// A ProjectLayer is laid in the hoop, in order: what, which side, and how it
// is held.
type ProjectLayer struct {
	What   string
	Fabric string
	// Under is laid on the underside of the hoop.
	Under bool
	Tape  string
	// BeforeStop is the stop it is laid before, 0 for the start.
	BeforeStop int
	// WidthMM and HeightMM as cut; 0 takes them from the rules.
	WidthMM, HeightMM float64
}

// A ProjectPart is something else each kit holds.
type ProjectPart struct {
	Name  string
	Count int
}

// A ProjectWork is a step off the machine.
type ProjectWork struct {
	Title      string
	Minutes    float64
	Iron       bool
	Instructor bool
}

// A ProjectVersion is what a project was at a version.
type ProjectVersion struct {
	WorkshopID int64
	ProjectID  int64           `gorm:"primaryKey"`
	Version    int             `gorm:"primaryKey"`
	Snapshot   projectSnapshot `gorm:"serializer:json"`
}

// A projectSnapshot is all of a project that a class depends on.
type projectSnapshot struct {
	Name                        string
	DesignID                    int64
	Blank                       string
	BlankWidthMM, BlankHeightMM float64
	Fabric                      string
	Uses                        Texts
	Content                     ProjectContent
	Steps                       []ProjectStep
}

// ProjectAt is a project as it was at a version, with its design as it is.
func (w Workshop) ProjectAt(id int64, version int) (Project, error) {
	const doing = "finding the project's version"
	var v ProjectVersion
	if err := w.db.Where("project_id = ? AND version = ?", id, version).First(&v).Error; err != nil {
		return Project{}, explain(doing, err)
	}
	s := v.Snapshot
	p := Project{
		ID: id, WorkshopID: v.WorkshopID, Version: version, Name: s.Name, DesignID: s.DesignID, Blank: s.Blank, BlankWidthMM: s.BlankWidthMM, BlankHeightMM: s.BlankHeightMM,
		Fabric: s.Fabric, Uses: s.Uses, Content: s.Content, Steps: s.Steps,
	}
	var err error
	if p.Design, err = w.Design(s.DesignID); err != nil {
		return p, err
	}
	return p, w.loadAgain(&p)
}

// loadAgain finds the designs of the hoopings after the first.
func (w Workshop) loadAgain(p *Project) error {
	for _, h := range p.Content.Hoopings {
		d, err := w.Design(h.DesignID)
		if err != nil {
			return err
		}
		p.Again = append(p.Again, d)
	}
	return nil
}

// NewestVersion tells which version a project is at.
func (w Workshop) NewestVersion(id int64) (int, error) {
	var p Project
	return p.Version, explain("finding the project's version", w.db.Select("version").First(&p, id).Error)
}

// SavePhoto puts a photo to a project.
func (w Workshop) SavePhoto(id int64, photo []byte, kind string) error {
	result := w.db.Model(&Project{}).Where("id = ?", id).Updates(map[string]any{"photo": photo, "photo_type": kind})
	return updated("saving the project's photo", result)
}

// ProjectPhoto finds a project's photo.
func (w Workshop) ProjectPhoto(id int64) (Project, error) {
	var p Project
	return p, explain("finding the project's photo", w.db.Select("id", "photo", "photo_type").Where("photo IS NOT NULL").First(&p, id).Error)
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
	err := withoutPhoto(w.db).Preload("Design", withoutFile).Preload("Design.Stops", inOrder).Preload("Design.Files", withoutFile).Preload("Steps", inOrder).Order("name").Find(&projects).Error
	return projects, explain("listing the projects", err)
}

// Project finds one, with design and steps.
func (w Workshop) Project(id int64) (Project, error) {
	var p Project
	err := withoutPhoto(w.db).Preload("Design", withoutFile).Preload("Design.Stops", inOrder).Preload("Design.Files", withoutFile).Preload("Steps", inOrder).First(&p, id).Error
	if err != nil {
		return p, explain("finding the project", err)
	}
	return p, w.loadAgain(&p)
}

// ProjectsOf lists the names of the projects that use a design.
func (w Workshop) ProjectsOf(designID int64) ([]Project, error) {
	var projects []Project
	return projects, explain("listing a design's projects", withoutPhoto(w.db).Where("design_id = ?", designID).Order("name").Find(&projects).Error)
}

// SaveProject adds a project (ID 0) or changes it, with its steps.
func (w Workshop) SaveProject(p *Project) error {
	return w.InTx(func(tx Workshop) error {
		steps := p.Steps
		if p.ID == 0 {
			p.Version = 1
			if err := tx.db.Omit("Design", "Steps", "Photo", "PhotoType").Create(p).Error; err != nil {
				return explain("adding the project "+p.Name, err)
			}
		} else {
			was := p.Version
			p.Version++
			result := tx.db.Model(&Project{}).Where("id = ? AND version = ?", p.ID, was).
				Select("Name", "DesignID", "Blank", "BlankWidthMM", "BlankHeightMM", "Fabric", "Uses", "Content", "Version").Updates(p)
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
		if err := tx.db.Create(&steps).Error; err != nil {
			return explain("saving the steps of "+p.Name, err)
		}
		version := ProjectVersion{ProjectID: p.ID, Version: p.Version, Snapshot: projectSnapshot{p.Name, p.DesignID, p.Blank, p.BlankWidthMM, p.BlankHeightMM, p.Fabric, p.Uses, p.Content, steps}}
		return explain("keeping the version of "+p.Name, tx.db.Create(&version).Error)
	})
}
