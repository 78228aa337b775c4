// Package store keeps a workshop's data in PostgreSQL through GORM. Every
// query on a workshop's rows is bound to that workshop: [Store.For] gives a
// [Workshop], and a callback refuses any statement on such rows that did not
// come through one.
package store

import (
	"context"
	"database/sql"
	"embed"
	"fmt"
	"io/fs"

	"github.com/pressly/goose/v3"
	"gorm.io/driver/postgres"
	"gorm.io/gorm"
	"gorm.io/gorm/logger"
)

//go:embed migrations/*.sql
var migrations embed.FS

// A Store is a connection to the database.
type Store struct{ db *gorm.DB }

// Open connects to the database at url and brings its tables up to date.
func Open(ctx context.Context, url string) (*Store, error) {
	db, err := gorm.Open(postgres.Open(url), &gorm.Config{
		// Errors are returned, and logged once by whoever handles them.
		Logger: logger.Discard,
	})
	if err != nil {
		return nil, fmt.Errorf("connecting to the database: %w", err)
	}
	pool, err := db.DB()
	if err != nil {
		return nil, fmt.Errorf("connecting to the database: %w", err)
	}
	const connections = 16
	pool.SetMaxOpenConns(connections)
	pool.SetMaxIdleConns(connections)
	if err := migrate(ctx, pool); err != nil {
		pool.Close()
		return nil, err
	}
	if err := bindToWorkshop(db); err != nil {
		pool.Close()
		return nil, err
	}
	return &Store{db: db}, nil
}

// migrate runs the forward-only migrations, one process at a time.
func migrate(ctx context.Context, pool *sql.DB) error {
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return fmt.Errorf("reading the migrations: %w", err)
	}
	provider, err := goose.NewProvider(goose.DialectPostgres, pool, files)
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

// Ping tells whether the database answers.
func (s *Store) Ping(ctx context.Context) error {
	pool, err := s.db.DB()
	if err != nil {
		return fmt.Errorf("reaching the database: %w", err)
	}
	if err := pool.PingContext(ctx); err != nil {
		return fmt.Errorf("reaching the database: %w", err)
	}
	return nil
}

// A Workshop is the store as one workshop sees it: nothing of any other.
type Workshop struct {
	db *gorm.DB
	id int64
}

// For binds the store to a workshop.
func (s *Store) For(ctx context.Context, workshopID int64) Workshop {
	return Workshop{db: s.db.WithContext(ctx).Set(boundKey, workshopID).Session(&gorm.Session{}), id: workshopID}
}

// InTx runs f in one transaction, which is undone when f fails.
func (w Workshop) InTx(f func(Workshop) error) error {
	return w.db.Transaction(func(tx *gorm.DB) error { return f(Workshop{db: tx, id: w.id}) })
}

// InTx runs f on a store whose every statement is part of one transaction.
func (s *Store) InTx(ctx context.Context, f func(*Store) error) error {
	return s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error { return f(&Store{db: tx}) })
}
