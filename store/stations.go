package store

import (
	"context"
	"fmt"

	"chalkstep/core/policy"
)

// Stations are what the links of a class's phones are signed with, and where it is.
type Stations struct {
	Key      []byte
	Workshop policy.Workshop
	Revision int64
}

// StationsOf finds a class by what a link says: whose it is, is known only then.
func (s *Store) StationsOf(ctx context.Context, classID int64) (Stations, error) {
	var row struct {
		Key      []byte
		Workshop workshopRow `gorm:"embedded;embeddedPrefix:workshop_"`
		Revision int64
	}
	result := s.db.WithContext(ctx).Raw(`SELECT c.station_key AS key, `+workshopColumns+`
		FROM classes c JOIN workshops w ON w.id = c.workshop_id LEFT JOIN revisions r ON r.workshop_id = w.id WHERE c.id = ?`,
		classID).Scan(&row)
	if result.Error == nil && result.RowsAffected == 0 {
		return Stations{}, fmt.Errorf("finding the station: %w", ErrNotFound)
	}
	return Stations{row.Key, row.Workshop.value(), row.Revision}, explain("finding the station", result.Error)
}

// StationKey is what the links of a class's phones are signed with.
func (w Workshop) StationKey(classID int64) ([]byte, error) {
	var keys [][]byte
	err := w.db.Raw("SELECT station_key FROM classes WHERE workshop_id = ? AND id = ?", w.id, classID).Scan(&keys).Error
	if err == nil && len(keys) == 0 {
		return nil, fmt.Errorf("finding the stations: %w", ErrNotFound)
	}
	if err != nil {
		return nil, explain("finding the stations", err)
	}
	return keys[0], nil
}

// RenewStations gives a class another key for the links of its phones.
func (w Workshop) RenewStations(classID int64) error {
	result := w.db.Exec("UPDATE classes SET station_key = decode(replace(gen_random_uuid()::text || "+
		"gen_random_uuid()::text, '-', ''), 'hex') WHERE workshop_id = ? AND id = ?", w.id, classID)
	if result.Error == nil && result.RowsAffected == 0 {
		return fmt.Errorf("renewing the links of the stations: %w", ErrNotFound)
	}
	return explain("renewing the links of the stations", result.Error)
}
