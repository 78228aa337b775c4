package store

import (
	"cmp"
	"fmt"
	"maps"
	"slices"

	"gorm.io/gorm"

	"chalkstep/core/blank"
	"chalkstep/core/design"
	"chalkstep/core/kit"
	"chalkstep/core/pace"
	"chalkstep/core/pattern"
	"chalkstep/core/project"
	"chalkstep/core/recipe"
	"chalkstep/core/skill"
	"chalkstep/core/stitch"
	"chalkstep/core/technique"
)

// A projectRow is a design on a blank, with the steps that make it.
type projectRow struct {
	ID            int64
	WorkshopID    int64
	Name          string
	DesignID      int64
	Blank         string
	BlankWidthMM  float64 `gorm:"column:blank_width_mm"`
	BlankHeightMM float64 `gorm:"column:blank_height_mm"`
	Fabric        string
	Uses          texts          `gorm:"type:text[]"`
	Content       projectContent `gorm:"serializer:json"`
	Photo         []byte
	PhotoType     string
	PhotoWidth    int
	PhotoHeight   int
	Version       int
}

// value of the row, with the designs it sews; one that went before the database
// kept it leaves its place empty: see [design.Design.Gone].
func (p projectRow) value(designs map[int64]design.Design) project.Project {
	c := p.Content
	v := project.Project{
		ID: p.ID, Version: p.Version, Name: p.Name, Fabric: recipe.Fabric(p.Fabric), House: c.House, Level: c.Level,
		Teaches: c.Teaches, InHoop: c.InHoop, Photo: p.PhotoType != "",
		Blank: project.Blank{Name: p.Blank, WidthMM: p.BlankWidthMM, HeightMM: p.BlankHeightMM, Shape: c.Shape,
			Size: c.Size, Spot: c.Spot, MoveXMM: c.MoveXMM, MoveYMM: c.MoveYMM, Piece: c.Piece},
		Hoopings: []project.Hooping{{Design: designs[p.DesignID]}}, Minutes: maps.Clone(c.Minutes),
	}
	for _, u := range p.Uses {
		v.Uses = append(v.Uses, recipe.Use(u))
	}
	for _, h := range c.Hoopings {
		v.Hoopings = append(v.Hoopings, project.Hooping{Title: h.Title, Design: designs[h.DesignID]})
	}
	for _, l := range c.Layers {
		v.Layers = append(v.Layers,
			project.Layer{As: l.What, Fabric: l.Fabric, Under: l.Under, Tape: l.Tape, BeforeStop: l.BeforeStop,
				SizeMM: [2]float64{l.WidthMM, l.HeightMM}})
	}
	for _, part := range c.Parts {
		v.Parts = append(v.Parts, project.Part(part))
	}
	for _, w := range c.Work {
		v.Work = append(v.Work, project.Work(w))
	}
	v.Blocks = c.Blocks
	for _, t := range c.Threads {
		if v.Threads == nil {
			v.Threads = map[project.Thread]stitch.RGB{}
		}
		v.Threads[project.Thread{Hooping: t.Hooping, Stop: t.Stop}] = t.Color
	}
	for _, t := range c.Techniques {
		if made, known := t.value(); known {
			v.Techniques = append(v.Techniques, made)
		}
	}
	return v
}

// A projectContent is what a project is beside its first hooping: read and
// kept together, so it is one document.
type projectContent struct {
	// Version of the document; see contentVersion.
	Version int `json:"version"`
	// House is what the project does otherwise than the workshop.
	House recipe.Rules `json:"house"`
	// Level is 1 to 5, 0 while nobody has said; Teaches are keys of the ladder.
	Level   int         `json:"level"`
	Teaches []skill.Key `json:"teaches"`
	// Shape, size and spot of the blank, and what was moved by hand.
	Shape   blank.Shape `json:"shape"`
	Size    string      `json:"size"`
	Spot    blank.Spot  `json:"spot"`
	MoveXMM float64     `json:"move_xmm"`
	MoveYMM float64     `json:"move_ymm"`
	// Piece is the outline of a pattern piece.
	Piece *pattern.Piece `json:"piece,omitempty"`
	// InHoop is work built up in the hoop.
	InHoop bool `json:"in_hoop"`
	// Hoopings are those after the first.
	Hoopings []projectHooping `json:"hoopings"`
	Layers   []projectLayer   `json:"layers"`
	Parts    []projectPart    `json:"parts"`
	// Work is done off the machine, after the sewing.
	Work []projectWork `json:"work"`
	// Techniques are the ways in which it is made; Blocks is how many blocks a
	// sheet serves that is cut out as a window.
	Techniques []projectTechnique `json:"techniques,omitempty"`
	Blocks     int                `json:"blocks,omitempty"`
	// Threads are those taken for stops instead of what the library says.
	Threads []projectThread `json:"threads,omitempty"`
	// Minutes are those of steps that a person set otherwise than they follow.
	Minutes map[pace.StepKey]float64 `json:"minutes"`
}

// contentVersion of the documents that are written now.
const contentVersion = 2

// A projectHooping is another hooping of the same thing.
type projectHooping struct {
	Title    string `json:"title"`
	DesignID int64  `json:"design_id"`
}

// A projectLayer is laid in the hoop, in order; see [project.Layer].
type projectLayer struct {
	What       kit.LayerKind `json:"what"`
	Fabric     recipe.Fabric `json:"fabric"`
	Under      bool          `json:"under"`
	Tape       string        `json:"tape"`
	BeforeStop int           `json:"before_stop"`
	WidthMM    float64       `json:"width_mm"`
	HeightMM   float64       `json:"height_mm"`
}

// A projectPart is something else each kit holds.
type projectPart struct {
	Name  string `json:"name"`
	Count int    `json:"count"`
}

// A projectWork is a step off the machine.
type projectWork struct {
	Title      string  `json:"title"`
	Minutes    float64 `json:"minutes"`
	Iron       bool    `json:"iron"`
	Instructor bool    `json:"instructor"`
}

// A projectThread is the thread of a stop, its hooping counted from 0.
type projectThread struct {
	Hooping int        `json:"hooping,omitempty"`
	Stop    int        `json:"stop"`
	Color   stitch.RGB `json:"color"`
}

// A projectTechnique is one of ours by its key, or a copy of one that the
// workshop wrote as it was when it was chosen.
type projectTechnique struct {
	Key technique.Key      `json:"key,omitempty"`
	Own *technique.Written `json:"own,omitempty"`
}

func (t projectTechnique) value() (technique.Technique, bool) {
	if t.Own != nil {
		return t.Own.Technique(), true
	}
	return technique.ByKey(t.Key)
}

// A projectVersionRow is what a project was at a version.
type projectVersionRow struct {
	WorkshopID int64
	ProjectID  int64           `gorm:"primaryKey"`
	Version    int             `gorm:"primaryKey"`
	Snapshot   projectSnapshot `gorm:"serializer:json"`
}

// A projectVersionDesignRow says that a version sews a design, which therefore
// stays.
type projectVersionDesignRow struct {
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
	Uses          texts          `json:"uses"`
	Content       projectContent `json:"content"`
}

// ProjectAt is a project as it was at a version, with its designs as they are.
func (w Workshop) ProjectAt(at project.At) (project.Project, error) {
	projects, err := w.ProjectsAt(at)
	if err != nil {
		return project.Project{}, err
	}
	p, found := projects[at]
	if !found {
		return p, fmt.Errorf("finding the project's version: %w", ErrNotFound)
	}
	return p, nil
}

// ProjectsAt finds projects as they were at versions, with their designs as
// they are. A version never changes, so it is read once.
func (w Workshop) ProjectsAt(wanted ...project.At) (map[project.At]project.Project, error) {
	const doing = "finding the projects' versions"
	snapshots := map[project.At]projectSnapshot{}
	var missing [][]any
	for _, at := range wanted {
		if s, ok := w.cache.projects.Get(versioned{w.id, at.ID, at.Version}); ok {
			snapshots[at] = s
		} else {
			missing = append(missing, []any{at.ID, at.Version})
		}
	}
	if len(missing) > 0 {
		var read []projectVersionRow
		if err := w.db.Where("(project_id, version) IN ?", missing).Find(&read).Error; err != nil {
			return nil, explain(doing, err)
		}
		for _, v := range read {
			snapshots[project.At{ID: v.ProjectID, Version: v.Version}] = v.Snapshot
			if !w.inTx {
				w.cache.projects.Add(versioned{w.id, v.ProjectID, v.Version}, v.Snapshot)
			}
		}
	}
	var rows []projectRow
	for at, s := range snapshots {
		rows = append(rows, projectRow{
			ID: at.ID, Version: at.Version, Name: s.Name, DesignID: s.DesignID, Blank: s.Blank, BlankWidthMM: s.BlankWidthMM,
			BlankHeightMM: s.BlankHeightMM,
			Fabric:        s.Fabric, Uses: s.Uses, Content: s.Content,
		})
	}
	projects, err := w.withDesigns(rows)
	by := map[project.At]project.Project{}
	for _, p := range projects {
		by[p.At()] = p
	}
	return by, err
}

// withDesigns gives whole projects for rows, in their order.
func (w Workshop) withDesigns(rows []projectRow) ([]project.Project, error) {
	var ids []int64
	for _, p := range rows {
		ids = append(ids, p.DesignID)
		for _, h := range p.Content.Hoopings {
			ids = append(ids, h.DesignID)
		}
	}
	slices.Sort(ids)
	designs, err := w.DesignsByID(slices.Compact(ids)...)
	return valuesOf(rows, func(p projectRow) project.Project { return p.value(designs) }), err
}

// NewestVersion tells which version a project is at.
func (w Workshop) NewestVersion(id int64) (int, error) {
	var p projectRow
	return p.Version, explain("finding the project's version", w.db.Select("version").First(&p, id).Error)
}

func withoutFile(db *gorm.DB) *gorm.DB { return db.Omit("Original") }

func inOrder(db *gorm.DB) *gorm.DB { return db.Order("n") }

// NewestProjects finds projects that are not retired, by name, as they are now.
func (w Workshop) NewestProjects(limit int) ([]project.Project, error) {
	const doing = "finding the projects"
	var at []project.At
	if err := w.db.Model(&projectRow{}).Select("id, version").Where("retired_at IS NULL").Order("name, id").Limit(
		limit).Scan(&at).Error; err != nil {
		return nil, explain(doing, err)
	}
	found, err := w.ProjectsAt(at...)
	if err != nil {
		return nil, err
	}
	projects := make([]project.Project, 0, len(at))
	for _, a := range at {
		if p, is := found[a]; is {
			projects = append(projects, p)
		}
	}
	return projects, nil
}

// Projects lists a stretch of the projects whose names hold words, by name,
// with designs, and how many there are in all.
func (w Workshop) Projects(words string, stretch Rows) ([]project.Project, int, error) {
	const doing = "listing the projects"
	var rows []counted
	err := w.db.Model(&projectRow{}).Select("id, version, count(*) OVER () AS total").Where(
		"retired_at IS NULL AND name ILIKE ?", "%"+escapeLike(words)+"%").
		Order("name, id").Offset(stretch.From).Limit(stretch.Limit).Scan(&rows).Error
	if err != nil || len(rows) == 0 {
		return nil, 0, explain(doing, err)
	}
	ids := make([]int64, len(rows))
	for i, r := range rows {
		ids[i] = r.ID
	}
	var read []projectRow
	if err := withoutPhoto(w.db).Where("id IN ?", ids).Order("name, id").Find(&read).Error; err != nil {
		return nil, 0, explain(doing, err)
	}
	projects, err := w.withDesigns(read)
	return projects, total(rows), err
}

// ProjectNames suggests names of projects that begin or go on with words.
func (w Workshop) ProjectNames(words string, limit int) ([]string, error) {
	return w.names(w.db.Model(&projectRow{}).Where("retired_at IS NULL"), words, limit)
}

// ProjectNamed finds the newest version of the project of a name.
func (w Workshop) ProjectNamed(name string) (project.At, error) {
	var p projectRow
	err := w.db.Select("id", "version").Where("name = ? AND retired_at IS NULL", name).First(&p).Error
	return project.At{ID: p.ID, Version: p.Version}, explain("finding the project by name", err)
}

// Project finds one, with designs.
func (w Workshop) Project(id int64) (project.Project, error) {
	rows := make([]projectRow, 1)
	if err := withoutPhoto(w.db).First(&rows[0], id).Error; err != nil {
		return project.Project{}, explain("finding the project", err)
	}
	projects, err := w.withDesigns(rows)
	return projects[0], err
}

// ProjectsOf lists a few of the projects that use a design now, in any
// hooping, and how many do. Of each it knows the name.
func (w Workshop) ProjectsOf(designID int64) ([]project.Project, int, error) {
	const doing, most = "listing a design's projects", 20
	var rows []struct {
		ID    int64
		Name  string
		Total int
	}
	err := w.db.Raw(`SELECT p.id, p.name, count(*) OVER () AS total FROM projects p
		WHERE p.workshop_id = ? AND p.retired_at IS NULL AND EXISTS (SELECT 1 FROM project_version_designs d
		WHERE d.project_id = p.id AND d.version = p.version AND d.design_id = ?)
		ORDER BY p.name LIMIT ?`, w.id, designID, most).Scan(&rows).Error
	if err != nil || len(rows) == 0 {
		return nil, 0, explain(doing, err)
	}
	var projects []project.Project
	for _, r := range rows {
		projects = append(projects, project.Project{ID: r.ID, Name: r.Name})
	}
	return projects, rows[0].Total, nil
}

// UsesFilm tells whether a project lays film under a design.
func (w Workshop) UsesFilm(designID int64) (uses bool, err error) {
	err = w.db.Raw(`SELECT EXISTS (SELECT 1 FROM projects p JOIN project_version_designs d ON d.project_id = p.id
		AND d.version = p.version
		WHERE p.workshop_id = ? AND d.design_id = ? AND ? = ANY(p.uses))`, w.id, designID,
		string(recipe.FilmOverlay)).Scan(&uses).Error
	return uses, explain("looking for film under the design", err)
}

// SaveProject adds a project (ID 0) or changes it, and gives its ID.
func (w Workshop) SaveProject(saved project.Project) (int64, error) {
	p := projectOf(saved)
	p.Version++
	err := w.InTx(func(tx Workshop) error {
		if p.ID == 0 {
			if err := tx.db.Omit("Photo", "PhotoType", "PhotoWidth", "PhotoHeight").Create(&p).Error; err != nil {
				return explain("adding the project "+p.Name, err)
			}
		} else {
			result := tx.db.Model(&projectRow{}).Where("id = ? AND version = ?", p.ID, saved.Version).
				Select("Name", "DesignID", "Blank", "BlankWidthMM", "BlankHeightMM", "Fabric", "Uses", "Content",
					"Version").Updates(p)
			if err := updated("saving the project "+p.Name, result); err != nil {
				return err
			}
		}
		version := projectVersionRow{ProjectID: p.ID, Version: p.Version,
			Snapshot: projectSnapshot{p.Name, p.DesignID, p.Blank, p.BlankWidthMM, p.BlankHeightMM, p.Fabric, p.Uses, p.Content}}
		if err := tx.db.Create(&version).Error; err != nil {
			return explain("keeping the version of "+p.Name, err)
		}
		designs := []projectVersionDesignRow{{ProjectID: p.ID, Version: p.Version, Hooping: 1, DesignID: p.DesignID}}
		for i, h := range p.Content.Hoopings {
			designs = append(designs,
				projectVersionDesignRow{ProjectID: p.ID, Version: p.Version, Hooping: i + 2, DesignID: h.DesignID})
		}
		return explain("keeping the designs of "+p.Name, tx.db.Create(&designs).Error)
	})
	return p.ID, err
}

func projectOf(p project.Project) projectRow {
	row := projectRow{
		ID: p.ID, Version: p.Version, Name: p.Name, Blank: p.Blank.Name, BlankWidthMM: p.Blank.WidthMM,
		BlankHeightMM: p.Blank.HeightMM, Fabric: string(p.Fabric), DesignID: p.Design().ID,
		Content: projectContent{
			Version: contentVersion, House: p.House, Level: p.Level, Teaches: p.Teaches, Shape: p.Blank.Shape,
			Size: p.Blank.Size, Spot: p.Blank.Spot, MoveXMM: p.Blank.MoveXMM, MoveYMM: p.Blank.MoveYMM, Piece: p.Blank.Piece,
			InHoop: p.InHoop, Minutes: p.Minutes,
		},
	}
	for _, u := range p.Uses {
		row.Uses = append(row.Uses, string(u))
	}
	for i, h := range p.Hoopings {
		if i > 0 {
			row.Content.Hoopings = append(row.Content.Hoopings, projectHooping{h.Title, h.Design.ID})
		}
	}
	for _, l := range p.Layers {
		row.Content.Layers = append(row.Content.Layers,
			projectLayer{l.As, l.Fabric, l.Under, l.Tape, l.BeforeStop, l.SizeMM[0], l.SizeMM[1]})
	}
	for _, part := range p.Parts {
		row.Content.Parts = append(row.Content.Parts, projectPart(part))
	}
	for _, w := range p.Work {
		row.Content.Work = append(row.Content.Work, projectWork(w))
	}
	row.Content.Blocks = p.Blocks
	for at, color := range p.Threads {
		row.Content.Threads = append(row.Content.Threads, projectThread{at.Hooping, at.Stop, color})
	}
	slices.SortFunc(row.Content.Threads, func(a, b projectThread) int {
		return cmp.Or(a.Hooping-b.Hooping, a.Stop-b.Stop)
	})
	for _, t := range p.Techniques {
		if t.Own != nil {
			row.Content.Techniques = append(row.Content.Techniques, projectTechnique{Own: t.Own})
		} else {
			row.Content.Techniques = append(row.Content.Techniques, projectTechnique{Key: t.Key})
		}
	}
	return row
}
