package store

import (
	"fmt"
	"slices"

	"gorm.io/gorm"

	"chalkstep/core/blank"
	"chalkstep/core/kit"
	"chalkstep/core/pace"
	"chalkstep/core/project"
	"chalkstep/core/recipe"
	"chalkstep/core/skill"
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
	PhotoWidth    int
	PhotoHeight   int
	Version       int
	Design        Design `gorm:"-"`
	// Again are the designs of Content.Hoopings, in their order.
	Again []Design `gorm:"-"`
}

// A ProjectContent is what a project is beside its first hooping: read and
// kept together, so it is one document.
type ProjectContent struct {
	// Version of the document; see contentVersion.
	Version int `json:"version"`
	// House is what the project does otherwise than the workshop.
	House recipe.House `json:"house"`
	// Level is 1 to 5, 0 while nobody has said; Teaches are keys of the ladder.
	Level   int         `json:"level"`
	Teaches []skill.Key `json:"teaches"`
	// Shape, size and spot of the blank, and what was moved by hand.
	Shape   blank.Shape `json:"shape"`
	Size    string      `json:"size"`
	Spot    blank.Spot  `json:"spot"`
	MoveXMM float64     `json:"move_xmm"`
	MoveYMM float64     `json:"move_ymm"`
	// InHoop is work built up in the hoop.
	InHoop bool `json:"in_hoop"`
	// Hoopings are those after the first.
	Hoopings []ProjectHooping `json:"hoopings"`
	Layers   []ProjectLayer   `json:"layers"`
	Parts    []ProjectPart    `json:"parts"`
	// Work is done off the machine, after the sewing.
	Work []ProjectWork `json:"work"`
	// Minutes are those of steps that a person set otherwise than they follow.
	Minutes map[pace.StepKey]float64 `json:"minutes"`
}

// contentVersion of the documents that are written now.
const contentVersion = 2

// A ProjectHooping is another hooping of the same thing.
type ProjectHooping struct {
	Title    string `json:"title"`
	DesignID int64  `json:"design_id"`
}

// A ProjectLayer is laid in the hoop, in order; see [project.Layer].
type ProjectLayer struct {
	What       kit.LayerKind `json:"what"`
	Fabric     recipe.Fabric `json:"fabric"`
	Under      bool          `json:"under"`
	Tape       string        `json:"tape"`
	BeforeStop int           `json:"before_stop"`
	WidthMM    float64       `json:"width_mm"`
	HeightMM   float64       `json:"height_mm"`
}

// A ProjectPart is something else each kit holds.
type ProjectPart struct {
	Name  string `json:"name"`
	Count int    `json:"count"`
}

// A ProjectWork is a step off the machine.
type ProjectWork struct {
	Title      string  `json:"title"`
	Minutes    float64 `json:"minutes"`
	Iron       bool    `json:"iron"`
	Instructor bool    `json:"instructor"`
}

// A ProjectVersion is what a project was at a version.
type ProjectVersion struct {
	WorkshopID int64
	ProjectID  int64           `gorm:"primaryKey"`
	Version    int             `gorm:"primaryKey"`
	Snapshot   projectSnapshot `gorm:"serializer:json"`
}

// A projectVersionDesign says that a version sews a design, which therefore
// stays.
type projectVersionDesign struct {
	WorkshopID int64
	ProjectID  int64 `gorm:"primaryKey"`
	Version    int   `gorm:"primaryKey"`
	Hooping    int   `gorm:"primaryKey"`
	DesignID   int64
}

// A projectSnapshot is all of a project that a class depends on.
type projectSnapshot struct {
	Name          string         `json:"name"`
	DesignID      int64          `json:"design_id"`
	Blank         string         `json:"blank"`
	BlankWidthMM  float64        `json:"blank_width_mm"`
	BlankHeightMM float64        `json:"blank_height_mm"`
	Fabric        string         `json:"fabric"`
	Uses          Texts          `json:"uses"`
	Content       ProjectContent `json:"content"`
}

// A ProjectAt names a project as it was at a version.
type ProjectAt struct {
	ID      int64
	Version int
}

// ProjectAt is a project as it was at a version, with its designs as they are.
func (w Workshop) ProjectAt(id int64, version int) (Project, error) {
	at := ProjectAt{id, version}
	projects, err := w.ProjectsAt(at)
	if err != nil {
		return Project{}, err
	}
	p, found := projects[at]
	if !found {
		return p, fmt.Errorf("finding the project's version: %w", ErrNotFound)
	}
	return p, nil
}

// ProjectsAt finds projects as they were at versions, with their designs as
// they are. A version never changes, so it is read once. A design that went
// before the database kept it leaves its place empty: see [Design.Gone].
func (w Workshop) ProjectsAt(wanted ...ProjectAt) (map[ProjectAt]Project, error) {
	const doing = "finding the projects' versions"
	snapshots := map[ProjectAt]projectSnapshot{}
	var missing [][]any
	for _, at := range wanted {
		if s, ok := w.cache.projects.Get(versioned{w.id, at.ID, at.Version}); ok {
			snapshots[at] = s
		} else {
			missing = append(missing, []any{at.ID, at.Version})
		}
	}
	if len(missing) > 0 {
		var read []ProjectVersion
		if err := w.db.Where("(project_id, version) IN ?", missing).Find(&read).Error; err != nil {
			return nil, explain(doing, err)
		}
		for _, v := range read {
			snapshots[ProjectAt{v.ProjectID, v.Version}] = v.Snapshot
			if !w.inTx {
				w.cache.projects.Add(versioned{w.id, v.ProjectID, v.Version}, v.Snapshot)
			}
		}
	}
	var projects []Project
	for at, s := range snapshots {
		projects = append(projects, Project{
			ID: at.ID, WorkshopID: w.id, Version: at.Version, Name: s.Name, DesignID: s.DesignID, Blank: s.Blank, BlankWidthMM: s.BlankWidthMM, BlankHeightMM: s.BlankHeightMM,
			Fabric: s.Fabric, Uses: s.Uses, Content: s.Content,
		})
	}
	if err := w.loadDesigns(projects); err != nil {
		return nil, err
	}
	by := map[ProjectAt]Project{}
	for _, p := range projects {
		by[ProjectAt{p.ID, p.Version}] = p
	}
	return by, nil
}

// loadDesigns puts their designs to projects: the first hooping's, and those
// of the hoopings after it.
func (w Workshop) loadDesigns(projects []Project) error {
	var ids []int64
	for _, p := range projects {
		ids = append(ids, p.DesignID)
		for _, h := range p.Content.Hoopings {
			ids = append(ids, h.DesignID)
		}
	}
	slices.Sort(ids)
	designs, err := w.DesignsByID(slices.Compact(ids)...)
	if err != nil {
		return err
	}
	for i := range projects {
		p := &projects[i]
		p.Design, p.Again = designs[p.DesignID], nil
		for _, h := range p.Content.Hoopings {
			p.Again = append(p.Again, designs[h.DesignID])
		}
	}
	return nil
}

// NewestVersion tells which version a project is at.
func (w Workshop) NewestVersion(id int64) (int, error) {
	var p Project
	return p.Version, explain("finding the project's version", w.db.Select("version").First(&p, id).Error)
}

func withoutFile(db *gorm.DB) *gorm.DB { return db.Omit("Original") }

func inOrder(db *gorm.DB) *gorm.DB { return db.Order("n") }

// Projects lists a stretch of the projects whose names hold words, by name,
// with designs, and how many there are in all.
func (w Workshop) Projects(words string, stretch Stretch) ([]Project, int, error) {
	const doing = "listing the projects"
	var rows []counted
	err := w.db.Model(&Project{}).Select("id, version, count(*) OVER () AS total").Where("name ILIKE ?", "%"+escapeLike(words)+"%").
		Order("name, id").Offset(stretch.From).Limit(stretch.Limit).Scan(&rows).Error
	if err != nil || len(rows) == 0 {
		return nil, 0, explain(doing, err)
	}
	ids := make([]int64, len(rows))
	for i, r := range rows {
		ids[i] = r.ID
	}
	var projects []Project
	if err := withoutPhoto(w.db).Where("id IN ?", ids).Order("name, id").Find(&projects).Error; err != nil {
		return nil, 0, explain(doing, err)
	}
	return projects, total(rows), w.loadDesigns(projects)
}

// ProjectNames suggests names of projects that begin or go on with words.
func (w Workshop) ProjectNames(words string, limit int) ([]string, error) {
	return w.names(w.db.Model(&Project{}), words, limit)
}

// ProjectNamed finds the id and version of the project of a name.
func (w Workshop) ProjectNamed(name string) (ProjectAt, error) {
	var p Project
	err := w.db.Select("id", "version").Where("name = ?", name).First(&p).Error
	return ProjectAt{p.ID, p.Version}, explain("finding the project by name", err)
}

// Project finds one, with designs.
func (w Workshop) Project(id int64) (Project, error) {
	projects := make([]Project, 1)
	if err := withoutPhoto(w.db).First(&projects[0], id).Error; err != nil {
		return Project{}, explain("finding the project", err)
	}
	err := w.loadDesigns(projects)
	return projects[0], err
}

// ProjectsOf lists a few of the projects that use a design now, in any
// hooping, and how many do.
func (w Workshop) ProjectsOf(designID int64) ([]Project, int, error) {
	const doing, most = "listing a design's projects", 20
	var rows []struct {
		ID    int64
		Name  string
		Uses  Texts `gorm:"type:text[]"`
		Total int
	}
	err := w.db.Raw(`SELECT p.id, p.name, p.uses, count(*) OVER () AS total FROM projects p
		WHERE p.workshop_id = ? AND EXISTS (SELECT 1 FROM project_version_designs d WHERE d.project_id = p.id AND d.version = p.version AND d.design_id = ?)
		ORDER BY p.name LIMIT ?`, w.id, designID, most).Scan(&rows).Error
	if err != nil || len(rows) == 0 {
		return nil, 0, explain(doing, err)
	}
	var projects []Project
	for _, r := range rows {
		projects = append(projects, Project{ID: r.ID, Name: r.Name, Uses: r.Uses})
	}
	return projects, rows[0].Total, nil
}

// UsesFilm tells whether a project lays film under a design.
func (w Workshop) UsesFilm(designID int64) (uses bool, err error) {
	err = w.db.Raw(`SELECT EXISTS (SELECT 1 FROM projects p JOIN project_version_designs d ON d.project_id = p.id AND d.version = p.version
		WHERE p.workshop_id = ? AND d.design_id = ? AND ? = ANY(p.uses))`, w.id, designID, string(recipe.FilmOverlay)).Scan(&uses).Error
	return uses, explain("looking for film under the design", err)
}

// SaveProject adds a project (ID 0) or changes it.
func (w Workshop) SaveProject(p *Project) error {
	return w.InTx(func(tx Workshop) error {
		p.Content.Version = contentVersion
		if p.ID == 0 {
			p.Version = 1
			if err := tx.db.Omit("Photo", "PhotoType", "PhotoWidth", "PhotoHeight").Create(p).Error; err != nil {
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
		}
		version := ProjectVersion{ProjectID: p.ID, Version: p.Version, Snapshot: projectSnapshot{p.Name, p.DesignID, p.Blank, p.BlankWidthMM, p.BlankHeightMM, p.Fabric, p.Uses, p.Content}}
		if err := tx.db.Create(&version).Error; err != nil {
			return explain("keeping the version of "+p.Name, err)
		}
		designs := []projectVersionDesign{{ProjectID: p.ID, Version: p.Version, Hooping: 1, DesignID: p.DesignID}}
		for i, h := range p.Content.Hoopings {
			designs = append(designs, projectVersionDesign{ProjectID: p.ID, Version: p.Version, Hooping: i + 2, DesignID: h.DesignID})
		}
		return explain("keeping the designs of "+p.Name, tx.db.Create(&designs).Error)
	})
}

// ProjectRow is the row of a project.
func ProjectRow(p project.Project) Project {
	row := Project{
		ID: p.ID, Version: p.Version, Name: p.Name, Blank: p.Blank.Name, BlankWidthMM: p.Blank.WidthMM, BlankHeightMM: p.Blank.HeightMM, Fabric: string(p.Fabric), DesignID: p.Design().ID, Design: Design{ID: p.Design().ID},
		Content: ProjectContent{
			House: p.House, Level: p.Level, Teaches: p.Teaches, Shape: p.Blank.Shape, Size: p.Blank.Size, Spot: p.Blank.Spot, MoveXMM: p.Blank.MoveXMM, MoveYMM: p.Blank.MoveYMM,
			InHoop: p.InHoop, Minutes: p.Minutes,
		},
	}
	for _, u := range p.Uses {
		row.Uses = append(row.Uses, string(u))
	}
	for i, h := range p.Hoopings {
		if i > 0 {
			row.Content.Hoopings = append(row.Content.Hoopings, ProjectHooping{h.Title, h.Design.ID})
		}
	}
	for _, l := range p.Layers {
		row.Content.Layers = append(row.Content.Layers, ProjectLayer{l.As, l.Fabric, l.Under, l.Tape, l.BeforeStop, l.SizeMM[0], l.SizeMM[1]})
	}
	for _, part := range p.Parts {
		row.Content.Parts = append(row.Content.Parts, ProjectPart(part))
	}
	for _, w := range p.Work {
		row.Content.Work = append(row.Content.Work, ProjectWork(w))
	}
	return row
}
