package store

import (
	"context"
	"errors"
	"fmt"
	"sync/atomic"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"
)

// ErrFull means that the disk of the database has no room: what is there can be
// read, and nothing can be saved.
var ErrFull = errors.New("the disk of the database is full")

// diskFull is PostgreSQL's code for it.
const diskFull = "53100"

// WhileRoom lets nothing be saved while room gives an error: a server that runs
// out of disk in the middle of its work ends, and cannot even be read.
func WhileRoom(room func() error) Option { return func(o *options) { o.room = room } }

// A disk is what is known of the database's.
type disk struct {
	room func() error
	// full is set once the server said so, until something could be written again.
	full atomic.Bool
}

// Room is an [ErrFull] while nothing can be saved.
func (w Workshop) Room() error { return w.disk.check() }

func (d *disk) check() error {
	if err := d.room(); err != nil {
		return fmt.Errorf("%w: %w", ErrFull, err)
	}
	return nil
}

// probe tells whether there is room, by writing where the server said that there
// was none: a megabyte that nobody sees.
func (s *Store) probe(ctx context.Context) error {
	if err := s.disk.check(); err != nil || !s.disk.full.Load() {
		return err
	}
	err := s.InTx(ctx, func(tx *Store) error {
		return explain("looking whether there is room",
			tx.db.Exec("CREATE TEMPORARY TABLE room ON COMMIT DROP AS SELECT repeat(md5(n::text), 8) FROM generate_series(1, "+
				"4000) n").Error)
	})
	if err == nil {
		s.disk.full.Store(false)
	}
	return err
}

// A tracer hears of every statement.
type tracer struct {
	on   func(sql string)
	disk *disk
}

// TraceQueryStart implements [pgx.QueryTracer].
func (t tracer) TraceQueryStart(ctx context.Context, _ *pgx.Conn, data pgx.TraceQueryStartData) context.Context {
	if t.on != nil {
		t.on(data.SQL)
	}
	return ctx
}

// TraceQueryEnd implements [pgx.QueryTracer].
func (t tracer) TraceQueryEnd(_ context.Context, _ *pgx.Conn, data pgx.TraceQueryEndData) {
	var answer *pgconn.PgError
	if errors.As(data.Err, &answer) && answer.Code == diskFull {
		t.disk.full.Store(true)
	}
}
