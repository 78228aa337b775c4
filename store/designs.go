package store

import (
	"fmt"
	"slices"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"chalkstep/core/design"
	"chalkstep/core/stitch"
)

// A designRow is a stitch file and what was found in it.
type designRow struct {
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
	Warnings    texts   `gorm:"type:text[]"`
	// Level is 1 for the first lesson to 5, 0 while nobody has said.
	Level   int
	Tags    texts `gorm:"type:text[]"`
	AddedAt time.Time
	// RetiredAt is when it was taken off the list, nil while it is on it.
	RetiredAt *time.Time
	Version   int
	Stops     []designStopRow `gorm:"foreignKey:DesignID"`
	// Files are the same design in other formats, Charts its colour charts.
	Files  []designFileRow  `gorm:"foreignKey:DesignID"`
	Charts []designChartRow `gorm:"foreignKey:DesignID"`
}

// A designFileRow is a design's file in another format than the one drawn.
type designFileRow struct {
	WorkshopID int64
	DesignID   int64  `gorm:"primaryKey"`
	Format     string `gorm:"primaryKey"`
	FileName   string
	Original   []byte
}

// A designChartRow is a colour chart that came with a design.
type designChartRow struct {
	WorkshopID int64
	DesignID   int64 `gorm:"primaryKey"`
	N          int   `gorm:"primaryKey"`
	FileName   string
	Original   []byte
}

// A designStopRow is one stop, with the thread and the words a person chose.
type designStopRow struct {
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
	Pieces     int
	ThreadMM   float64 `gorm:"column:thread_mm"`
	Coverage   float64
	LeftMM     float64 `gorm:"column:left_mm"`
	BottomMM   float64 `gorm:"column:bottom_mm"`
	RightMM    float64 `gorm:"column:right_mm"`
	TopMM      float64 `gorm:"column:top_mm"`
}

// A designPictureRow is a design as it is seen at a size, made once.
type designPictureRow struct {
	WorkshopID int64
	DesignID   int64  `gorm:"primaryKey"`
	Kind       string `gorm:"primaryKey"`
	MediaType  string
	Picture    []byte
}

// value of the row. Colours are as the database holds them to be.
func (d designRow) value() design.Design {
	v := design.Design{
		ID: d.ID, Version: d.Version, Name: d.Name, FileName: d.FileName, Format: d.Format, WidthMM: d.WidthMM,
		HeightMM: d.HeightMM,
		Stitches: d.Stitches, Jumps: d.Jumps, Trims: d.Trims, ColourChanges: d.ColorChanges, Coverage: d.Coverage,
		Lengths:     stitch.Lengths{Short: d.ShortStitches, Long: d.LongStitches, NarrowestSatinMM: d.NarrowestSatinMM},
		LetteringMM: d.LetteringMM,
		Warnings:    d.Warnings, Level: d.Level, Tags: d.Tags, AddedAt: d.AddedAt, RetiredAt: d.RetiredAt,
	}
	for _, f := range d.Files {
		v.Files = append(v.Files, design.File{Format: f.Format, Name: f.FileName})
	}
	for _, c := range d.Charts {
		v.Charts = append(v.Charts, c.FileName)
	}
	for _, s := range d.Stops {
		color, _ := stitch.ParseRGB(s.Color)
		v.Stops = append(v.Stops, design.Stop{
			Stop: stitch.Stop{
				N: s.N, Role: stitch.Role(s.Role), Stitches: s.Stitches, Jumps: s.Jumps, Trims: s.Trims, Snips: s.Snips,
				Pieces: s.Pieces, ThreadMM: s.ThreadMM,
				Bounds: stitch.Bounds{Left: s.LeftMM, Bottom: s.BottomMM, Right: s.RightMM, Top: s.TopMM},
			},
			Color: color, Sews: s.Sews, Coverage: s.Coverage,
		})
	}
	return v
}

// designOf is the row of a design as it arrives.
func designOf(u design.Upload) designRow {
	row := designRow{
		Name: u.Name, FileName: u.FileName, Format: u.Format, Original: u.Data, SHA256: u.SHA256[:],
		StitchesSHA256: u.StitchesSHA256[:], AddedAt: u.AddedAt, Version: 1,
		WidthMM: u.WidthMM, HeightMM: u.HeightMM, Stitches: u.Stitches, Jumps: u.Jumps, Trims: u.Trims,
		ColorChanges: u.ColourChanges, Coverage: u.Coverage,
		ShortStitches: u.Lengths.Short, LongStitches: u.Lengths.Long, NarrowestSatinMM: u.Lengths.NarrowestSatinMM,
		LetteringMM: u.LetteringMM,
		Warnings:    u.Warnings, Level: u.Level, Tags: u.Tags,
	}
	for _, s := range u.Stops {
		row.Stops = append(row.Stops, designStopRow{
			N: s.N, Color: s.Color.String(), Role: string(s.Role), Sews: s.Sews, Stitches: s.Stitches, Jumps: s.Jumps,
			Trims: s.Trims, Snips: s.Snips, Pieces: s.Pieces, ThreadMM: s.ThreadMM, Coverage: s.Coverage,
			LeftMM: s.Bounds.Left, BottomMM: s.Bounds.Bottom, RightMM: s.Bounds.Right, TopMM: s.Bounds.Top,
		})
	}
	for _, f := range u.Others {
		row.Files = append(row.Files, designFileRow{Format: f.Format, FileName: f.Name, Original: f.Data})
	}
	for i, c := range u.Papers {
		row.Charts = append(row.Charts, designChartRow{N: i + 1, FileName: c.Name, Original: c.Data})
	}
	return row
}

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
func (w Workshop) Designs(filter DesignFilter, stretch Rows) ([]design.Design, int, error) {
	const doing = "listing the designs"
	q := w.db.Model(&designRow{}).Where("retired_at IS NULL")
	for _, word := range filter.Words {
		like := "%" + escapeLike(word) + "%"
		q = q.Where("name ILIKE ? OR file_name ILIKE ? OR EXISTS (SELECT 1 FROM design_stops s WHERE s.design_id = "+
			"designs.id AND s.sews ILIKE ?)", like, like, like)
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
	if err := q.Select("id, version, count(*) OVER () AS total").Order("name, id").Offset(stretch.From).Limit(
		stretch.Limit).Scan(&rows).Error; err != nil {
		return nil, 0, explain(doing, err)
	}
	designs, err := w.designsOf(rows)
	return designs, total(rows), err
}

// DesignTags lists the tags in use.
func (w Workshop) DesignTags() ([]string, error) {
	var tags []string
	const most = 100
	err := w.db.Raw("SELECT DISTINCT unnest(tags) AS tag FROM designs WHERE workshop_id = ? AND retired_at IS NULL "+
		"ORDER BY tag LIMIT ?", w.id, most).Scan(&tags).Error
	return tags, explain("listing the tags", err)
}

// CountDesigns tells how many designs there are.
func (w Workshop) CountDesigns() (n int64, err error) {
	return n, explain("counting the designs", w.db.Model(&designRow{}).Where("retired_at IS NULL").Count(&n).Error)
}

// Design finds one, also one that is off the list.
func (w Workshop) Design(id int64) (design.Design, error) {
	designs, err := w.DesignsByID(id)
	if err != nil {
		return design.Design{}, err
	}
	d, found := designs[id]
	if !found {
		return d, fmt.Errorf("finding the design: %w", ErrNotFound)
	}
	return d, nil
}

// DesignNamed finds the design of a name that is on the list.
func (w Workshop) DesignNamed(name string) (design.Design, error) {
	var d designRow
	if err := w.db.Select("id").Where("name = ? AND retired_at IS NULL", name).First(&d).Error; err != nil {
		return design.Design{}, explain("finding the design by name", err)
	}
	return w.Design(d.ID)
}

// DesignNames suggests names of designs that begin or go on with words.
func (w Workshop) DesignNames(words string, limit int) ([]string, error) {
	return w.names(w.db.Model(&designRow{}).Where("retired_at IS NULL"), words, limit)
}

// DesignsByID finds designs; those that are not there are left out.
func (w Workshop) DesignsByID(ids ...int64) (map[int64]design.Design, error) {
	by := map[int64]design.Design{}
	if len(ids) == 0 {
		return by, nil
	}
	var rows []counted
	if err := w.db.Model(&designRow{}).Select("id, version").Where("id IN ?", ids).Scan(&rows).Error; err != nil {
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
func (w Workshop) designsOf(rows []counted) ([]design.Design, error) {
	known := map[int64]design.Design{}
	var missing []int64
	for _, r := range rows {
		if d, ok := w.cache.designs.Get(versioned{w.id, r.ID, r.Version}); ok {
			known[r.ID] = d
		} else {
			missing = append(missing, r.ID)
		}
	}
	if len(missing) > 0 {
		var read []designRow
		err := w.db.Omit("Original").Preload("Stops", inOrder).Preload("Files", withoutFile).Preload("Charts",
			withoutFile).Where("id IN ?", missing).Find(&read).Error
		if err != nil {
			return nil, explain("reading designs", err)
		}
		for _, row := range read {
			d := row.value()
			if !w.inTx {
				w.cache.designs.Add(versioned{w.id, d.ID, d.Version}, d)
			}
			known[d.ID] = d
		}
	}
	designs := make([]design.Design, 0, len(rows))
	for _, r := range rows {
		if d, ok := known[r.ID]; ok {
			d.Stops = slices.Clone(d.Stops) // of the caller's own, to change
			designs = append(designs, d)
		}
	}
	return designs, nil
}

// DesignFile finds a design's file as it came.
func (w Workshop) DesignFile(id int64) (design.Original, error) {
	var d designRow
	err := w.db.Select("id", "format", "file_name", "original").First(&d, id).Error
	return design.Original{Format: d.Format, Name: d.FileName, Data: d.Original}, explain("finding the design's file", err)
}

// Originals finds all files of designs, the one that is drawn first.
func (w Workshop) Originals(ids ...int64) (map[int64][]design.Original, error) {
	var rows []struct {
		ID               int64
		Format, FileName string
		Original         []byte
	}
	err := w.db.Raw(`SELECT id, format, file_name, original, 1 AS place FROM designs WHERE workshop_id = ? AND id IN ?
		UNION ALL SELECT design_id, format, file_name, original, 2 FROM design_files WHERE workshop_id = ? AND design_id IN ?
		ORDER BY place, format`, w.id, ids, w.id, ids).Scan(&rows).Error
	by := map[int64][]design.Original{}
	for _, r := range rows {
		by[r.ID] = append(by[r.ID], design.Original{Format: r.Format, Name: r.FileName, Data: r.Original})
	}
	return by, explain("finding designs' files", err)
}

// Chart finds a colour chart of a design, counted from 1.
func (w Workshop) Chart(id int64, n int) (design.Original, error) {
	var c designChartRow
	err := w.db.Where("design_id = ? AND n = ?", id, n).First(&c).Error
	return design.Original{Name: c.FileName, Data: c.Original}, explain("finding the colour chart", err)
}

// DesignByContent finds the design whose file has this hash, without its stops.
func (w Workshop) DesignByContent(sha256 [32]byte) (design.Design, error) {
	var d designRow
	err := w.db.Omit("Original").Where("sha256 = ?", sha256[:]).First(&d).Error
	return d.value(), explain("finding the design by content", err)
}

// DesignByStitches finds a design that sews the same, with its files and
// without its stops.
func (w Workshop) DesignByStitches(sha256 [32]byte) (design.Design, error) {
	var d designRow
	err := w.db.Omit("Original").Preload("Files", withoutFile).Where("stitches_sha256 = ?",
		sha256[:]).Order("id").First(&d).Error
	return d.value(), explain("finding the design by its stitches", err)
}

// AddDesignFile adds a design's file in another format.
func (w Workshop) AddDesignFile(id int64, f design.Original) error {
	row := designFileRow{DesignID: id, Format: f.Format, FileName: f.Name, Original: f.Data}
	return w.InTx(func(tx Workshop) error {
		if err := tx.db.Create(&row).Error; err != nil {
			return explain("adding a file to the design", err)
		}
		return found("adding a file to the design",
			tx.db.Model(&designRow{}).Where("id = ?", id).Update("version", gorm.Expr("version + 1")))
	})
}

// KeepPictures keeps a design's pictures in place of earlier ones.
func (w Workshop) KeepPictures(id int64, pictures ...design.Picture) error {
	rows := make([]designPictureRow, len(pictures))
	for i, p := range pictures {
		rows[i] = designPictureRow{DesignID: id, Kind: string(p.Kind), MediaType: p.MediaType, Picture: p.Data}
	}
	err := w.db.Clauses(clause.OnConflict{Columns: []clause.Column{{Name: "design_id"}, {Name: "kind"}},
		DoUpdates: clause.AssignmentColumns([]string{"media_type", "picture"})}).Create(&rows).Error
	return explain("keeping a design's pictures", err)
}

// DesignPicture finds a picture of a design.
func (w Workshop) DesignPicture(id int64, kind design.PictureKind) (design.Picture, error) {
	var p designPictureRow
	err := w.db.Where("design_id = ? AND kind = ?", id, kind).First(&p).Error
	return design.Picture{Kind: kind, MediaType: p.MediaType, Data: p.Picture},
		explain("finding the design's picture", err)
}

// AddDesign adds a design with its stops and all its files in one transaction,
// and gives its ID.
func (w Workshop) AddDesign(u design.Upload) (int64, error) {
	row := designOf(u)
	err := w.InTx(func(tx Workshop) error {
		if err := tx.db.Omit(clause.Associations).Create(&row).Error; err != nil {
			return explain("adding the design "+row.Name, err)
		}
		for i := range row.Stops {
			row.Stops[i].DesignID = row.ID
		}
		for i := range row.Files {
			row.Files[i].DesignID = row.ID
		}
		for i := range row.Charts {
			row.Charts[i].DesignID = row.ID
		}
		if err := tx.db.CreateInBatches(row.Stops, 1000).Error; err != nil {
			return explain("adding the stops of "+row.Name, err)
		}
		if err := tx.db.CreateInBatches(row.Files, 1).Error; err != nil {
			return explain("adding the files of "+row.Name, err)
		}
		return explain("adding the colour charts of "+row.Name, tx.db.CreateInBatches(row.Charts, 1).Error)
	})
	return row.ID, err
}

// SaveDesign changes what a person says of a design: its name, level and tags,
// and of the changed stops colour, role and what they sew.
func (w Workshop) SaveDesign(d design.Design, changed []design.Stop) error {
	return w.InTx(func(tx Workshop) error {
		result := tx.db.Model(&designRow{}).Where("id = ? AND version = ?", d.ID, d.Version).
			Updates(map[string]any{"name": d.Name, "level": d.Level, "tags": texts(d.Tags), "version": d.Version + 1})
		if err := updated("saving the design "+d.Name, result); err != nil {
			return err
		}
		for _, s := range changed {
			err := tx.db.Model(&designStopRow{}).Where("design_id = ? AND n = ?", d.ID, s.N).
				Updates(map[string]any{"color": s.Color.String(), "role": s.Role, "sews": s.Sews}).Error
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
		return found("deleting the design", tx.db.Where("id = ?", id).Delete(&designRow{}))
	})
}

// RetireDesign takes a design off the list, or with nil puts it back.
func (w Workshop) RetireDesign(id int64, at *time.Time) error {
	result := w.db.Model(&designRow{}).Where("id = ?",
		id).Updates(map[string]any{"retired_at": at, "version": gorm.Expr("version + 1")})
	return found("taking the design off the list", result)
}
