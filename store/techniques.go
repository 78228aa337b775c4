package store

import "chalkstep/core/technique"

// A techniqueRow is one that the workshop wrote.
type techniqueRow struct {
	ID         int64
	WorkshopID int64
	Version    int
	Name       string
	Document   technique.Written `gorm:"serializer:json"`
}

func (t techniqueRow) value() technique.Written {
	w := t.Document
	w.ID, w.Version, w.Name = t.ID, t.Version, t.Name
	return w
}

// Techniques lists those that the workshop wrote, by name.
func (w Workshop) Techniques() ([]technique.Written, error) {
	var rows []techniqueRow
	err := w.db.Order("name").Limit(MostTechniques).Find(&rows).Error
	return valuesOf(rows, techniqueRow.value), explain("listing the techniques", err)
}

// MostTechniques is how many techniques a workshop may write.
const MostTechniques = 100

// Technique finds one that the workshop wrote.
func (w Workshop) Technique(id int64) (technique.Written, error) {
	var row techniqueRow
	err := w.db.First(&row, id).Error
	return row.value(), explain("finding the technique", err)
}

// SaveTechnique adds one (ID 0) or changes it, and gives its ID.
func (w Workshop) SaveTechnique(t technique.Written) (int64, error) {
	row := techniqueRow{ID: t.ID, Version: t.Version + 1, Name: t.Name, Document: t}
	if t.ID == 0 {
		err := w.db.Create(&row).Error
		return row.ID, explain("adding the technique "+t.Name, err)
	}
	result := w.db.Model(&techniqueRow{}).Where("id = ? AND version = ?", t.ID, t.Version).Select("Name", "Document",
		"Version").Updates(row)
	return t.ID, updated("saving the technique "+t.Name, result)
}

// RemoveTechnique deletes one; projects that are made by it keep their copies.
func (w Workshop) RemoveTechnique(id int64) error {
	return found("removing the technique", w.db.Where("id = ?", id).Delete(&techniqueRow{}))
}
