package store

import (
	"context"
	"errors"
	"fmt"
	"strconv"
	"time"

	"github.com/jackc/pgx/v5"
)

// lookAlive is how often a connection that hears nothing shows that it is there.
const lookAlive = 15 * time.Second

// Listen tells of every class in which something happens, in whatever process, until the
// context or the connection ends. It tells of class 0 once it listens: anything may have
// happened before.
func (s *Store) Listen(ctx context.Context, told func(classID int64)) error {
	config := s.config.Copy()
	config.Tracer = nil // it asks nothing
	c, err := pgx.ConnectConfig(ctx, config)
	if err != nil {
		return fmt.Errorf("listening to what happens in classes: %w", err)
	}
	defer func() { _ = c.Close(context.WithoutCancel(ctx)) }()
	if _, err := c.Exec(ctx, "LISTEN class_events"); err != nil {
		return fmt.Errorf("listening to what happens in classes: %w", err)
	}
	told(0)
	for {
		waiting, cancel := context.WithTimeout(ctx, lookAlive)
		news, err := c.WaitForNotification(waiting)
		cancel()
		switch {
		case err == nil:
			id, err := strconv.ParseInt(news.Payload, 10, 64)
			if err != nil {
				return fmt.Errorf("reading what happened in a class: %w", err)
			}
			told(id)
		case ctx.Err() != nil:
			return ctx.Err()
		case errors.Is(err, context.DeadlineExceeded):
			if err := c.Ping(ctx); err != nil {
				return fmt.Errorf("listening to what happens in classes: %w", err)
			}
		default:
			return fmt.Errorf("listening to what happens in classes: %w", err)
		}
	}
}
