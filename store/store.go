// Package store keeps a workshop's data in PostgreSQL through GORM. Every
// query on a workshop's rows is bound to that workshop: [Store.For] gives a
// [Workshop], and a callback refuses any statement on such rows that did not
// come through one.
package store

import (
	"context"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"strconv"
	"strings"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/stdlib"
	"github.com/pressly/goose/v3"
	"github.com/pressly/goose/v3/lock"
	"gorm.io/driver/postgres"
	"gorm.io/gorm"
	"gorm.io/gorm/logger"
	"gorm.io/gorm/schema"
)

//go:embed migrations/*.sql
var migrations embed.FS

// A Store is a connection to the database.
type Store struct {
	db     *gorm.DB
	config *pgx.ConnConfig
	cache  *cache
	disk   *disk
	inTx   bool
}

// Limits of one process's use of the database.
const (
	connections = 16
	// idle connections are given back: a rush is over soon.
	idle = 15 * time.Second
	// A statement that takes longer, or waits longer for somebody's lock, is
	// given up; requests set shorter limits of their own.
	longestStatement = 30 * time.Second
	longestLock      = 10 * time.Second
	// A transaction that does nothing for so long has lost its program.
	longestIdle  = time.Minute
	longestHello = 5 * time.Second
)

// An Option changes how a store is opened.
type Option func(*options)

type options struct {
	onStatement func(sql string)
	room        func() error
}

// OnStatement calls f for every statement that is sent to the database.
func OnStatement(f func(sql string)) Option { return func(o *options) { o.onStatement = f } }

// tables names the table of a row: a designRow is kept in designs.
type tables struct{ schema.NamingStrategy }

// TableName implements [schema.Namer].
func (t tables) TableName(row string) string {
	return t.NamingStrategy.TableName(strings.TrimSuffix(row, "Row"))
}

// Open connects to the database at url and brings its tables up to date.
// Several processes may do so at once.
func Open(ctx context.Context, url string, set ...Option) (*Store, error) {
	config, err := pgx.ParseConfig(url)
	if err != nil {
		return nil, fmt.Errorf("reading the database's address: %w", err)
	}
	if config.ConnectTimeout == 0 {
		config.ConnectTimeout = longestHello
	}
	if err := migrate(ctx, config); err != nil {
		return nil, err
	}
	for setting, limit := range map[string]time.Duration{
		"statement_timeout": longestStatement, "lock_timeout": longestLock,
		"idle_in_transaction_session_timeout": longestIdle,
	} {
		config.RuntimeParams[setting] = strconv.FormatInt(limit.Milliseconds(), 10)
	}
	chosen := options{room: func() error { return nil }}
	for _, o := range set {
		o(&chosen)
	}
	known := &disk{room: chosen.room}
	config.Tracer = tracer{chosen.onStatement, known}
	pool := stdlib.OpenDB(*config)
	pool.SetMaxOpenConns(connections)
	pool.SetMaxIdleConns(connections)
	pool.SetConnMaxIdleTime(idle)
	db, err := gorm.Open(postgres.New(postgres.Config{Conn: pool}), &gorm.Config{
		// Errors are returned, and logged once by whoever handles them.
		Logger: logger.Discard,
		// One statement is a transaction of its own already.
		SkipDefaultTransaction: true,
		NamingStrategy:         tables{},
	})
	if err != nil {
		return nil, errors.Join(fmt.Errorf("connecting to the database: %w", err), pool.Close())
	}
	if err := bindToWorkshop(db); err != nil {
		return nil, errors.Join(err, pool.Close())
	}
	cache, err := newCache()
	if err != nil {
		return nil, errors.Join(fmt.Errorf("making the cache: %w", err), pool.Close())
	}
	return &Store{db: db, config: config, cache: cache, disk: known}, nil
}

// migrate runs the forward-only migrations, one process at a time: the others
// wait until it is done. A migration may take as long as it has to.
func migrate(ctx context.Context, config *pgx.ConnConfig) (err error) {
	pool := stdlib.OpenDB(*config)
	defer func() { err = errors.Join(err, pool.Close()) }()
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return fmt.Errorf("reading the migrations: %w", err)
	}
	const everySeconds, tries = 1, 600
	one, err := lock.NewPostgresSessionLocker(lock.WithLockTimeout(everySeconds, tries))
	if err != nil {
		return fmt.Errorf("locking the migrations: %w", err)
	}
	provider, err := goose.NewProvider(goose.DialectPostgres, pool, files, goose.WithSessionLocker(one),
		goose.WithGoMigrations(carryKeys), goose.WithDisableGlobalRegistry(true))
	if err != nil {
		return fmt.Errorf("reading the migrations: %w", err)
	}
	if _, err := provider.Up(ctx); err != nil {
		return fmt.Errorf("bringing the database up to date: %w", err)
	}
	return nil
}

// Close ends the connections.
func (s *Store) Close() error {
	pool, err := s.db.DB()
	if err != nil {
		return fmt.Errorf("closing the database: %w", err)
	}
	return pool.Close()
}

// Ping tells whether the database answers, and has room for more.
func (s *Store) Ping(ctx context.Context) error {
	pool, err := s.db.DB()
	if err != nil {
		return fmt.Errorf("reaching the database: %w", err)
	}
	// A ping of the pool may be answered by a connection that only looks
	// alive; a statement is not.
	if _, err := pool.ExecContext(ctx, "SELECT 1"); err != nil {
		return explain("reaching the database", err)
	}
	return s.probe(ctx)
}

// A Workshop is the store as one workshop sees it: nothing of any other.
type Workshop struct {
	db    *gorm.DB
	id    int64
	cache *cache
	disk  *disk
	// inTx tells that what is read may yet be undone, and is not to be
	// remembered.
	inTx bool
}

// For binds the store to a workshop.
func (s *Store) For(ctx context.Context, workshopID int64) Workshop {
	return Workshop{db: s.db.WithContext(ctx).Set(boundKey, workshopID).Session(&gorm.Session{}), id: workshopID,
		cache: s.cache, disk: s.disk, inTx: s.inTx}
}

// InTx runs f in one transaction, which is undone when f fails.
func (w Workshop) InTx(f func(Workshop) error) error {
	return inTx(w.db.Transaction(func(tx *gorm.DB) error {
		return f(Workshop{db: tx, id: w.id, cache: w.cache, disk: w.disk, inTx: true})
	}))
}

// InTx runs f on a store whose every statement is part of one transaction.
func (s *Store) InTx(ctx context.Context, f func(*Store) error) error {
	return inTx(s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		return f(&Store{db: tx, cache: s.cache, disk: s.disk, inTx: true})
	}))
}

// inTx explains what ends a transaction beside what is done in it: that the
// database is gone when it begins or ends.
func inTx(err error) error {
	if err != nil && unavailable(err) && !errors.Is(err, ErrUnavailable) {
		return explain("in a transaction", err)
	}
	return err
}

// Alone is InTx for what only one process may do at a time, by name: another
// that wants to waits until this one is done.
func (s *Store) Alone(ctx context.Context, name string, f func(*Store) error) error {
	return s.InTx(ctx, func(tx *Store) error {
		if err := tx.db.Exec("SELECT pg_advisory_xact_lock(hashtextextended(?, 0))", "chalkstep: "+name).Error; err != nil {
			return explain("waiting to be alone at "+name, err)
		}
		return f(tx)
	})
}
