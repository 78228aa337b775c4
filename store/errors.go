package store

import (
	"context"
	"database/sql"
	"database/sql/driver"
	"errors"
	"fmt"
	"io"
	"net"
	"strings"

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
	// ErrElsewhere means a student is at another machine or in another class then.
	ErrElsewhere = errors.New("somewhere else at that time")
	// ErrInUse means the row cannot go, or does not exist, because of another.
	ErrInUse = errors.New("in use, or refers to something that is gone")
	// ErrUnavailable means that the database did not answer, or not in time:
	// nothing was changed, and the same may work a little later.
	ErrUnavailable = errors.New("the database does not answer")
	// ErrLastOwner means that nobody would be left to run the workshop.
	ErrLastOwner = errors.New("the only owner")
	// ErrRefused means that a value broke a rule the database holds to.
	ErrRefused = errors.New("a value the database refuses")
)

// PostgreSQL's codes for broken constraints.
const (
	uniqueViolation    = "23505"
	exclusionViolation = "23P01"
	foreignViolation   = "23503"
	checkViolation     = "23514"
	lockNotAvailable   = "55P03"
	tooManyConnections = "53300"
	// Classes of codes, by their first two letters.
	connectionClass   = "08"
	interventionClass = "57" // shutting down, starting up, cancelled
	dataClass         = "22" // a value that its type cannot hold
)

// onePlace is the constraint that keeps a student from being in two places.
const onePlace = "one_place_at_a_time"

// unavailable tells an error of the database that does not answer from one it
// answered with.
func unavailable(err error) bool {
	var pg *pgconn.PgError
	if errors.As(err, &pg) {
		class := pg.Code[:min(2, len(pg.Code))]
		return class == connectionClass || class == interventionClass || pg.Code == lockNotAvailable ||
			pg.Code == tooManyConnections
	}
	var connecting *pgconn.ConnectError
	var network net.Error
	return errors.As(err, &connecting) || errors.As(err, &network) || errors.Is(err, context.DeadlineExceeded) ||
		errors.Is(err, context.Canceled) ||
		errors.Is(err, io.EOF) || errors.Is(err, io.ErrUnexpectedEOF) || errors.Is(err, net.ErrClosed) ||
		errors.Is(err, driver.ErrBadConn) || errors.Is(err, sql.ErrConnDone) ||
		pgconn.SafeToRetry(err)
}

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
	case errors.As(err, &pg) && pg.Code == exclusionViolation && pg.ConstraintName == onePlace:
		return fmt.Errorf("%s: %w", doing, ErrElsewhere)
	case errors.As(err, &pg) && pg.Code == exclusionViolation:
		return fmt.Errorf("%s: %w", doing, ErrOverlap)
	case errors.As(err, &pg) && pg.Code == foreignViolation:
		return fmt.Errorf("%s: %w (%s)", doing, ErrInUse, pg.ConstraintName)
	case errors.As(err, &pg) && (pg.Code == checkViolation || strings.HasPrefix(pg.Code, dataClass)):
		return fmt.Errorf("%s: %w: %w", doing, ErrRefused, err)
	case errors.As(err, &pg) && pg.Code == diskFull:
		return fmt.Errorf("%s: %w: %w", doing, ErrFull, err)
	case unavailable(err):
		return fmt.Errorf("%s: %w: %w", doing, ErrUnavailable, err)
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

// found checks that a change met its row.
func found(doing string, result *gorm.DB) error {
	if result.Error == nil && result.RowsAffected == 0 {
		return fmt.Errorf("%s: %w", doing, ErrNotFound)
	}
	return explain(doing, result.Error)
}
