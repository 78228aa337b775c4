package store

import (
	"errors"
	"time"
)

// A sentFormRow remembers that a form has done its work.
type sentFormRow struct {
	WorkshopID int64
	Key        []byte `gorm:"primaryKey"`
	MadeID     int64
	SentAt     time.Time
}

// Once runs f in one transaction and remembers, in the same transaction, what
// it made. When the key has been there before, f is not run, and the answer is
// what was made then. A second one that comes while the first runs waits for
// it. Without a key it is a transaction and no more.
func (w Workshop) Once(key []byte, now time.Time, f func(Workshop) (int64, error)) (made int64, err error) {
	if err := w.Room(); err != nil {
		return 0, err
	}
	work := func(tx Workshop) error {
		made, err = f(tx)
		return err
	}
	if len(key) == 0 {
		err = w.InTx(work)
		return made, err
	}
	err = w.InTx(func(tx Workshop) error {
		// The row is claimed first: whoever else brings the key waits here.
		if err := tx.db.Create(&sentFormRow{Key: key, SentAt: now}).Error; err != nil {
			return explain("noting the form", err)
		}
		if err := work(tx); err != nil {
			return err
		}
		return explain("noting what the form made",
			tx.db.Model(&sentFormRow{}).Where("key = ?", key).Update("made_id", made).Error)
	})
	if !errors.Is(err, ErrTaken) {
		return made, err
	}
	var sent sentFormRow
	if finding := w.db.Where("key = ?", key).Limit(1).Find(&sent).Error; finding != nil {
		return 0, explain("finding what the form made", finding)
	}
	if sent.Key == nil {
		return 0, err // it was taken by a name inside f, not by the form
	}
	return sent.MadeID, nil
}
