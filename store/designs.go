package store

import (
	"fmt"
	"slices"
	"time"

	"gorm.io/gorm"
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
	// RetiredAt is when it was taken off the list, nil while it is on it.
	RetiredAt *time.Time
	Version   int
	Stops     []DesignStop
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
}

// A DesignPicture is a design as it is seen at a size, made once.
type DesignPicture struct {
	WorkshopID int64
	DesignID   int64  `gorm:"primaryKey"`
	Kind       string `gorm:"primaryKey"`
	MediaType  string
	Picture    []byte
}

// The kinds of picture.
const (
	Thumb   = "thumb"
	Drawing = "drawing"
)

// Gone tells that there is no such design any more: one from before what
// refers to a design kept it.
func (d Design) Gone() bool { return d.ID == 0 }

// A DesignFilter narrows the list of designs down. Its zero value keeps all.
type DesignFilter struct {
	// Words have to be found in the name, the file's name or what a stop sews.
	Words []string
	// RoomMM is a field it has to fit, either way round; 0 for any.
	RoomMM [2]float64
	// MostStops, MostMM (of the longer side), Level and Tag; zero for any.
	MostStops int
	MostMM    float64
	Level     int
	Tag       string
}

// Designs lists a stretch of the designs that pass a filter, by name, and how
// many pass in all.
func (w Workshop) Designs(filter DesignFilter, stretch Stretch) ([]Design, int, error) {
	const doing = "listing the designs"
	q := w.db.Model(&Design{}).Where("retired_at IS NULL")
	for _, word := range filter.Words {
		like := "%" + escapeLike(word) + "%"
		q = q.Where("name ILIKE ? OR file_name ILIKE ? OR EXISTS (SELECT 1 FROM design_stops s WHERE s.design_id = designs.id AND s.sews ILIKE ?)", like, like, like)
	}
	if x, y := filter.RoomMM[0], filter.RoomMM[1]; x > 0 && y > 0 {
		q = q.Where("(width_mm <= ? AND height_mm <= ?) OR (width_mm <= ? AND height_mm <= ?)", x, y, y, x)
	}
	if filter.MostStops > 0 {
		q = q.Where("(SELECT count(*) FROM design_stops s WHERE s.design_id = designs.id) <= ?", filter.MostStops)
	}
	if filter.MostMM > 0 {
		q = q.Where("greatest(width_mm, height_mm) <= ?", filter.MostMM)
	}
	if filter.Level > 0 {
		q = q.Where("level = ?", filter.Level)
	}
	if filter.Tag != "" {
		q = q.Where("? = ANY(tags)", filter.Tag)
	}
	var rows []counted
	if err := q.Select("id, version, count(*) OVER () AS total").Order("name, id").Offset(stretch.From).Limit(stretch.Limit).Scan(&rows).Error; err != nil {
		return nil, 0, explain(doing, err)
	}
	designs, err := w.designsOf(rows)
	return designs, total(rows), err
}

// DesignTags lists the tags in use.
func (w Workshop) DesignTags() ([]string, error) {
	var tags []string
	const most = 100
	err := w.db.Raw("SELECT DISTINCT unnest(tags) AS tag FROM designs WHERE workshop_id = ? AND retired_at IS NULL ORDER BY tag LIMIT ?", w.id, most).Scan(&tags).Error
	return tags, explain("listing the tags", err)
}

// CountDesigns tells how many designs there are.
func (w Workshop) CountDesigns() (n int64, err error) {
	return n, explain("counting the designs", w.db.Model(&Design{}).Where("retired_at IS NULL").Count(&n).Error)
}

// Design finds one, without its bytes, also one that is off the list.
func (w Workshop) Design(id int64) (Design, error) {
	designs, err := w.DesignsByID(id)
	if err != nil {
		return Design{}, err
	}
	d, found := designs[id]
	if !found {
		return d, fmt.Errorf("finding the design: %w", ErrNotFound)
	}
	return d, nil
}

// DesignNamed finds the design of a name that is on the list.
func (w Workshop) DesignNamed(name string) (Design, error) {
	var d Design
	if err := w.db.Select("id").Where("name = ? AND retired_at IS NULL", name).First(&d).Error; err != nil {
		return d, explain("finding the design by name", err)
	}
	return w.Design(d.ID)
}

// DesignNames suggests names of designs that begin or go on with words.
func (w Workshop) DesignNames(words string, limit int) ([]string, error) {
	return w.names(w.db.Model(&Design{}).Where("retired_at IS NULL"), words, limit)
}

// DesignsByID finds designs, without their bytes; those that are not there are
// left out.
func (w Workshop) DesignsByID(ids ...int64) (map[int64]Design, error) {
	by := map[int64]Design{}
	if len(ids) == 0 {
		return by, nil
	}
	var rows []counted
	if err := w.db.Model(&Design{}).Select("id, version").Where("id IN ?", ids).Scan(&rows).Error; err != nil {
		return nil, explain("finding designs", err)
	}
	designs, err := w.designsOf(rows)
	for _, d := range designs {
		by[d.ID] = d
	}
	return by, err
}

// designsOf gives whole designs for rows of ids and versions, in their order.
// A design does not change without its version, so what was read of one
// before is not read again.
func (w Workshop) designsOf(rows []counted) ([]Design, error) {
	known := map[int64]Design{}
	var missing []int64
	for _, r := range rows {
		if d, ok := w.cache.designs.Get(versioned{w.id, r.ID, r.Version}); ok {
			known[r.ID] = d
		} else {
			missing = append(missing, r.ID)
		}
	}
	if len(missing) > 0 {
		var read []Design
		err := w.db.Omit("Original").Preload("Stops", inOrder).Preload("Files", withoutFile).Preload("Charts", withoutFile).Where("id IN ?", missing).Find(&read).Error
		if err != nil {
			return nil, explain("reading designs", err)
		}
		for _, d := range read {
			if !w.inTx {
				w.cache.designs.Add(versioned{w.id, d.ID, d.Version}, d)
			}
			known[d.ID] = d
		}
	}
	designs := make([]Design, 0, len(rows))
	for _, r := range rows {
		if d, ok := known[r.ID]; ok {
			d.Stops = slices.Clone(d.Stops) // of the caller's own, to change
			designs = append(designs, d)
		}
	}
	return designs, nil
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
	return w.InTx(func(tx Workshop) error {
		if err := tx.db.Create(f).Error; err != nil {
			return explain("adding a file to the design", err)
		}
		return found("adding a file to the design", tx.db.Model(&Design{}).Where("id = ?", f.DesignID).Update("version", gorm.Expr("version + 1")))
	})
}

// KeepPictures keeps a design's pictures in place of earlier ones.
func (w Workshop) KeepPictures(pictures ...DesignPicture) error {
	err := w.db.Clauses(clause.OnConflict{Columns: []clause.Column{{Name: "design_id"}, {Name: "kind"}}, DoUpdates: clause.AssignmentColumns([]string{"media_type", "picture"})}).Create(&pictures).Error
	return explain("keeping a design's pictures", err)
}

// DesignPicture finds a picture of a design.
func (w Workshop) DesignPicture(id int64, kind string) (DesignPicture, error) {
	var p DesignPicture
	return p, explain("finding the design's picture", w.db.Where("design_id = ? AND kind = ?", id, kind).First(&p).Error)
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
		if err := tx.db.CreateInBatches(d.Stops, 1000).Error; err != nil {
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
// and of the changed stops colour, role and what they sew.
func (w Workshop) SaveDesign(d Design, changed []DesignStop) error {
	return w.InTx(func(tx Workshop) error {
		result := tx.db.Model(&Design{}).Where("id = ? AND version = ?", d.ID, d.Version).
			Updates(map[string]any{"name": d.Name, "level": d.Level, "tags": d.Tags, "version": d.Version + 1})
		if err := updated("saving the design "+d.Name, result); err != nil {
			return err
		}
		for _, s := range changed {
			err := tx.db.Model(&DesignStop{}).Where("design_id = ? AND n = ?", d.ID, s.N).
				Updates(map[string]any{"color": s.Color, "role": s.Role, "sews": s.Sews}).Error
			if err != nil {
				return explain("saving a stop of "+d.Name, err)
			}
		}
		return nil
	})
}

// DeleteDesign removes a design with its stops. ErrInUse means that something
// refers to it, of now or of the past.
func (w Workshop) DeleteDesign(id int64) error {
	return w.InTx(func(tx Workshop) error {
		return found("deleting the design", tx.db.Where("id = ?", id).Delete(&Design{}))
	})
}

// RetireDesign takes a design off the list, or with nil puts it back.
func (w Workshop) RetireDesign(id int64, at *time.Time) error {
	result := w.db.Model(&Design{}).Where("id = ?", id).Updates(map[string]any{"retired_at": at, "version": gorm.Expr("version + 1")})
	return found("taking the design off the list", result)
}
