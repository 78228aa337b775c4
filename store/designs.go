package store

import (
	"time"

	"gorm.io/gorm/clause"
)

// A Design is a stitch file and what was found in it.
type Design struct {
	ID         int64
	WorkshopID int64
	Name       string
	FileName   string
	Format     string
	Original   []byte
	SHA256     []byte `gorm:"column:sha256"`
	// StitchesSHA256 is of the stitches alone, whatever file they came in.
	StitchesSHA256 []byte  `gorm:"column:stitches_sha256"`
	WidthMM        float64 `gorm:"column:width_mm"`
	HeightMM       float64 `gorm:"column:height_mm"`
	Stitches       int
	Jumps          int
	Trims          int
	ColorChanges   int
	// Coverage is thread area over sewn area, 0 where it was not measured.
	Coverage         float64
	ShortStitches    int
	LongStitches     int
	NarrowestSatinMM float64 `gorm:"column:narrowest_satin_mm"`
	// LetteringMM is the height of the shortest letter found, 0 without lettering.
	LetteringMM float64 `gorm:"column:lettering_mm"`
	Warnings    Texts   `gorm:"type:text[]"`
	// Level is 1 for the first lesson to 5, 0 while nobody has said.
	Level   int
	Tags    Texts `gorm:"type:text[]"`
	AddedAt time.Time
	Version int
	Stops   []DesignStop
	// Files are the same design in other formats, Charts its colour charts.
	Files  []DesignFile
	Charts []DesignChart
}

// A DesignFile is a design's file in another format than the one drawn.
type DesignFile struct {
	WorkshopID int64
	DesignID   int64  `gorm:"primaryKey"`
	Format     string `gorm:"primaryKey"`
	FileName   string
	Original   []byte
}

// A DesignChart is a colour chart that came with a design.
type DesignChart struct {
	WorkshopID int64
	DesignID   int64 `gorm:"primaryKey"`
	N          int   `gorm:"primaryKey"`
	FileName   string
	Original   []byte
}

// Formats lists the formats a design has a file in, the drawn one first.
func (d Design) Formats() []string {
	formats := []string{d.Format}
	for _, f := range d.Files {
		formats = append(formats, f.Format)
	}
	return formats
}

// A DesignStop is one stop, with the thread and the words a person chose.
type DesignStop struct {
	WorkshopID int64
	DesignID   int64 `gorm:"primaryKey"`
	N          int   `gorm:"primaryKey"`
	Color      string
	Role       string
	Sews       string
	Stitches   int
	Jumps      int
	Trims      int
	Snips      int
	ThreadMM   float64 `gorm:"column:thread_mm"`
	Coverage   float64
	LeftMM     float64 `gorm:"column:left_mm"`
	BottomMM   float64 `gorm:"column:bottom_mm"`
	RightMM    float64 `gorm:"column:right_mm"`
	TopMM      float64 `gorm:"column:top_mm"`
	Path       string
}

// Designs lists the designs by name, without their bytes but with the stops
// and their drawings.
func (w Workshop) Designs() ([]Design, error) {
	var designs []Design
	err := w.db.Omit("Original").Preload("Stops", inOrder).Preload("Files", withoutFile).Order("name").Find(&designs).Error
	return designs, explain("listing the designs", err)
}

// CountDesigns tells how many designs there are.
func (w Workshop) CountDesigns() (n int64, err error) {
	return n, explain("counting the designs", w.db.Model(&Design{}).Count(&n).Error)
}

// Design finds one, without its bytes.
func (w Workshop) Design(id int64) (Design, error) {
	var d Design
	return d, explain("finding the design", w.db.Omit("Original").Preload("Stops", inOrder).Preload("Files", withoutFile).Preload("Charts", withoutFile).First(&d, id).Error)
}

// DesignFile finds a design's original bytes.
func (w Workshop) DesignFile(id int64) (Design, error) {
	var d Design
	return d, explain("finding the design's file", w.db.Select("id", "file_name", "original").First(&d, id).Error)
}

// FileInFormat finds the bytes of a design's file in another format.
func (w Workshop) FileInFormat(id int64, format string) (DesignFile, error) {
	var f DesignFile
	return f, explain("finding the design's file", w.db.Where("design_id = ? AND format = ?", id, format).First(&f).Error)
}

// Chart finds a colour chart of a design.
func (w Workshop) Chart(id int64, n int) (DesignChart, error) {
	var c DesignChart
	return c, explain("finding the colour chart", w.db.Where("design_id = ? AND n = ?", id, n).First(&c).Error)
}

// DesignByContent finds the design whose file has this hash.
func (w Workshop) DesignByContent(sha256 []byte) (Design, error) {
	var d Design
	return d, explain("finding the design by content", w.db.Omit("Original").Where("sha256 = ?", sha256).First(&d).Error)
}

// DesignByStitches finds a design that sews the same, with its files.
func (w Workshop) DesignByStitches(sha256 []byte) (Design, error) {
	var d Design
	return d, explain("finding the design by its stitches", w.db.Omit("Original").Preload("Files", withoutFile).Where("stitches_sha256 = ?", sha256).Order("id").First(&d).Error)
}

// AddDesignFile adds a design's file in another format.
func (w Workshop) AddDesignFile(f *DesignFile) error {
	return explain("adding a file to the design", w.db.Create(f).Error)
}

// AddDesign adds a design with its stops and all its files in one transaction.
func (w Workshop) AddDesign(d *Design) error {
	d.Version = 1
	return w.InTx(func(tx Workshop) error {
		if err := tx.db.Omit(clause.Associations).Create(d).Error; err != nil {
			return explain("adding the design "+d.Name, err)
		}
		for i := range d.Stops {
			d.Stops[i].DesignID = d.ID
		}
		if err := tx.db.CreateInBatches(d.Stops, 500).Error; err != nil {
			return explain("adding the stops of "+d.Name, err)
		}
		for i := range d.Files {
			d.Files[i].DesignID = d.ID
			if err := tx.db.Create(&d.Files[i]).Error; err != nil {
				return explain("adding the files of "+d.Name, err)
			}
		}
		for i := range d.Charts {
			d.Charts[i].DesignID, d.Charts[i].N = d.ID, i+1
			if err := tx.db.Create(&d.Charts[i]).Error; err != nil {
				return explain("adding the colour charts of "+d.Name, err)
			}
		}
		return nil
	})
}

// SaveDesign changes what a person says of a design: its name, level and tags,
// and each stop's colour, role and what it sews.
func (w Workshop) SaveDesign(d Design) error {
	return w.InTx(func(tx Workshop) error {
		result := tx.db.Model(&Design{}).Where("id = ? AND version = ?", d.ID, d.Version).
			Updates(map[string]any{"name": d.Name, "level": d.Level, "tags": d.Tags, "version": d.Version + 1})
		if err := updated("saving the design "+d.Name, result); err != nil {
			return err
		}
		for _, s := range d.Stops {
			err := tx.db.Model(&DesignStop{}).Where("design_id = ? AND n = ?", d.ID, s.N).
				Updates(map[string]any{"color": s.Color, "role": s.Role, "sews": s.Sews}).Error
			if err != nil {
				return explain("saving a stop of "+d.Name, err)
			}
		}
		return nil
	})
}

// DeleteDesign removes a design with its stops, unless a project uses it.
func (w Workshop) DeleteDesign(id int64) error {
	result := w.db.Where("id = ?", id).Delete(&Design{})
	if result.Error == nil && result.RowsAffected == 0 {
		return explain("deleting the design", ErrNotFound)
	}
	return explain("deleting the design", result.Error)
}
