package store

import (
	"context"

	"gorm.io/gorm"

	"chalkstep/core/photo"
)

// withoutPhoto reads rows without their photos, which only their own requests
// need.
func withoutPhoto(db *gorm.DB) *gorm.DB { return db.Omit("Photo") }

// columns of a photo, for an update.
func columnsOf(p photo.Photo) map[string]any {
	return map[string]any{"photo": p.Data, "photo_type": photo.MediaType, "photo_width": p.Width, "photo_height": p.Height}
}

// fitToShow leaves out photos that were handed in before photos were made
// anew, and have not been yet, or cannot be.
const fitToShow = "photo IS NOT NULL AND photo_width > 0"

// SavePhoto puts a photo to a project.
func (w Workshop) SavePhoto(id int64, p photo.Photo) error {
	return found("saving the project's photo", w.db.Model(&projectRow{}).Where("id = ?", id).Updates(columnsOf(p)))
}

// ProjectPhoto finds a project's photo.
func (w Workshop) ProjectPhoto(id int64) (photo.Photo, error) {
	var p projectRow
	err := w.db.Select("id", "photo", "photo_width", "photo_height").Where(fitToShow).First(&p, id).Error
	return photo.Photo{Data: p.Photo, Width: p.PhotoWidth, Height: p.PhotoHeight},
		explain("finding the project's photo", err)
}

// StitchOutPhoto finds a stitch-out's photo.
func (w Workshop) StitchOutPhoto(designID, id int64) (photo.Photo, error) {
	var run stitchOutRow
	err := w.db.Select("id", "photo", "photo_width", "photo_height").Where("design_id = ?",
		designID).Where(fitToShow).First(&run, id).Error
	return photo.Photo{Data: run.Photo, Width: run.PhotoWidth, Height: run.PhotoHeight}, explain("finding the photo", err)
}

// oldPhotos are the statements for one old photo: to find it while nobody else
// makes it anew, to put the new one in its place, and to put it away.
var oldPhotos = []struct{ find, replace, putAway string }{
	{
		"SELECT id, photo FROM projects WHERE photo IS NOT NULL AND photo_width = 0 ORDER BY id LIMIT 1 FOR UPDATE SKIP " +
			"LOCKED",
		"UPDATE projects SET photo = ?, photo_type = ?, photo_width = ?, photo_height = ? WHERE id = ?",
		"UPDATE projects SET photo_width = -1 WHERE id = ?",
	},
	{
		"SELECT id, photo FROM stitch_outs WHERE photo IS NOT NULL AND photo_width = 0 ORDER BY id LIMIT 1 FOR UPDATE " +
			"SKIP LOCKED",
		"UPDATE stitch_outs SET photo = ?, photo_type = ?, photo_width = ?, photo_height = ? WHERE id = ?",
		"UPDATE stitch_outs SET photo_width = -1 WHERE id = ?",
	},
}

// RemakePhotos lets every photo of every workshop that was handed in before
// photos were made anew be made so, each in a transaction of its own. One that
// cannot be is kept, and shown to nobody.
func (s *Store) RemakePhotos(ctx context.Context, remake func(old []byte) (photo.Photo, error)) (made, kept int,
	err error) {
	for _, statements := range oldPhotos {
		for more := true; more && err == nil; {
			err = s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
				var old struct {
					ID    int64
					Photo []byte
				}
				if err := tx.Raw(statements.find).Scan(&old).Error; err != nil {
					return err
				}
				if more = old.ID != 0; !more {
					return nil
				}
				p, err := remake(old.Photo)
				if err != nil {
					kept++
					return tx.Exec(statements.putAway, old.ID).Error
				}
				made++
				return tx.Exec(statements.replace, p.Data, photo.MediaType, p.Width, p.Height, old.ID).Error
			})
		}
	}
	return made, kept, explain("making old photos anew", err)
}
