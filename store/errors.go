package store

import (
	"errors"
	"fmt"

	"github.com/jackc/pgx/v5/pgconn"
	"gorm.io/gorm"
)

// What can go wrong that a person can do something about.
var (
	ErrNotFound = errors.New("not found")
	// ErrChanged means someone else changed the row since it was read.
	ErrChanged = errors.New("changed by someone else meanwhile")
	// ErrTaken means a name or content that has to be the only one is there already.
	ErrTaken = errors.New("taken already")
	// ErrOverlap means the machine is booked at that time.
	ErrOverlap = errors.New("booked at that time")
	// ErrInUse means the row cannot go, or does not exist, because of another.
	ErrInUse = errors.New("in use, or refers to something that is gone")
)

// PostgreSQL's codes for broken constraints.
const (
	uniqueViolation    = "23505"
	exclusionViolation = "23P01"
	foreignViolation   = "23503"
)

// explain puts a database error into this package's errors, and says what
// was being done.
func explain(doing string, err error) error {
	if err == nil {
		return nil
	}
	var pg *pgconn.PgError
	switch {
	case errors.Is(err, gorm.ErrRecordNotFound):
		return fmt.Errorf("%s: %w", doing, ErrNotFound)
	case errors.As(err, &pg) && pg.Code == uniqueViolation:
		return fmt.Errorf("%s: %w (%s)", doing, ErrTaken, pg.ConstraintName)
	case errors.As(err, &pg) && pg.Code == exclusionViolation:
		return fmt.Errorf("%s: %w", doing, ErrOverlap)
	case errors.As(err, &pg) && pg.Code == foreignViolation:
		return fmt.Errorf("%s: %w (%s)", doing, ErrInUse, pg.ConstraintName)
	}
	return fmt.Errorf("%s: %w", doing, err)
}

// updated checks the outcome of an update guarded by a version.
func updated(doing string, result *gorm.DB) error {
	if result.Error != nil {
		return explain(doing, result.Error)
	}
	if result.RowsAffected == 0 {
		return fmt.Errorf("%s: %w", doing, ErrChanged)
	}
	return nil
}
