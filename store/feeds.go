package store

import (
	"context"
	"fmt"
	"time"

	"chalkstep/core/booking"
	"chalkstep/core/classday"
	"chalkstep/core/policy"
)

// A FeedOf is what the link of a calendar is signed with, and where it is.
type FeedOf struct {
	Key      []byte
	Version  int
	Workshop policy.Workshop
	Revision int64
}

// Feed finds the calendar that a link says: whose it is, is known only then. One that was
// never renewed is of version 1.
func (s *Store) Feed(ctx context.Context, workshopID int64, of booking.Calendar) (FeedOf, error) {
	var row struct {
		Key      []byte
		Version  int
		Workshop workshopRow `gorm:"embedded;embeddedPrefix:workshop_"`
		Revision int64
	}
	result := s.db.WithContext(ctx).Raw(`SELECT w.feed_key AS key, coalesce(f.version, 1) AS version, `+workshopColumns+`
		FROM workshops w LEFT JOIN revisions r ON r.workshop_id = w.id LEFT JOIN feeds f ON f.workshop_id = w.id
		AND f.kind = ? AND f.of_id = ?
		WHERE w.id = ? AND (? <> ? OR EXISTS (SELECT FROM students s WHERE s.workshop_id = w.id AND s.id = ?
		AND s.retired_at IS NULL))
			AND (? <> ? OR EXISTS (SELECT FROM machines m WHERE m.workshop_id = w.id AND m.id = ? AND m.retired_at IS NULL))`,
		of.Kind, of.ID, workshopID, of.Kind, booking.OfStudent, of.ID, of.Kind, booking.OfMachine, of.ID).Scan(&row)
	if result.Error == nil && result.RowsAffected == 0 {
		return FeedOf{}, fmt.Errorf("finding the calendar: %w", ErrNotFound)
	}
	return FeedOf{row.Key, row.Version, row.Workshop.value(), row.Revision}, explain("finding the calendar", result.Error)
}

// FeedKeys are what the links of calendars are signed with: the key of the workshop, and
// the versions of those that were renewed.
type FeedKeys struct {
	Key     []byte
	renewed map[booking.Calendar]int
}

// Version of a calendar: one that was never renewed is of version 1.
func (k FeedKeys) Version(of booking.Calendar) int { return max(1, k.renewed[of]) }

// FeedKeys finds what the links of the workshop's calendars are signed with.
func (w Workshop) FeedKeys() (FeedKeys, error) {
	var keys [][]byte
	if err := w.db.Raw("SELECT feed_key FROM workshops WHERE id = ?", w.id).Scan(&keys).Error; err != nil ||
		len(keys) == 0 {
		return FeedKeys{}, explain("finding the calendars", err)
	}
	var rows []struct {
		Kind    booking.CalendarKind
		OfID    int64
		Version int
	}
	err := w.db.Raw("SELECT kind, of_id, version FROM feeds WHERE workshop_id = ?", w.id).Scan(&rows).Error
	found := FeedKeys{keys[0], map[booking.Calendar]int{}}
	for _, r := range rows {
		found.renewed[booking.Calendar{Kind: r.Kind, ID: r.OfID}] = r.Version
	}
	return found, explain("finding the calendars", err)
}

// RenewFeed ends the link of a calendar.
func (w Workshop) RenewFeed(of booking.Calendar) error {
	return explain("renewing the link of a calendar",
		w.db.Exec(`INSERT INTO feeds (workshop_id, kind, of_id, version) VALUES (?, ?, ?, 2)
		ON CONFLICT (workshop_id, kind, of_id) DO UPDATE SET version = feeds.version + 1`, w.id, of.Kind, of.ID).Error)
}

// MostEntries are in a calendar.
const MostEntries = 2000

// Entries are what a calendar has from a moment on: classes, those that were called off
// too, and bookings. A student's are those of the classes they do not miss.
func (w Workshop) Entries(of booking.Calendar, since time.Time) ([]booking.Entry, error) {
	var rows []struct {
		ID               int64
		IsClass          bool
		Name, Machines   string
		Version          int
		Cancelled        bool
		StartsAt, EndsAt time.Time
	}
	args := map[string]any{"w": w.id, "since": since, "id": of.ID, "most": MostEntries, "absent": classday.Absent}
	classes, bookings := "", ""
	switch of.Kind {
	case booking.OfMachine:
		classes = "AND EXISTS (SELECT 1 FROM class_machines cm WHERE cm.class_id = c.id AND cm.machine_id = @id)"
		bookings = "AND b.machine_id = @id"
	case booking.OfStudent:
		classes = "AND EXISTS (SELECT 1 FROM class_students cs WHERE cs.class_id = c.id AND cs.student_id = @id AND " +
			"cs.attendance <> @absent)"
		bookings = "AND b.student_id = @id"
	}
	err := w.db.Raw(`SELECT c.id, true AS is_class, c.name, coalesce((SELECT string_agg(m.name, ', ' ORDER BY m.name)
		FROM bookings b JOIN machines m ON m.id = b.machine_id WHERE b.class_id = c.id), '') AS machines,
				c.version, c.off_at IS NOT NULL AS cancelled, c.starts_at, c.ends_at
			FROM classes c WHERE c.workshop_id = @w AND c.ends_at > @since `+classes+`
		UNION ALL SELECT b.id, false, coalesce(s.name, ''), m.name, 1, false, b.starts_at, b.ends_at
			FROM bookings b JOIN machines m ON m.id = b.machine_id LEFT JOIN students s ON s.id = b.student_id
			WHERE b.workshop_id = @w AND b.class_id IS NULL AND b.ends_at > @since `+bookings+`
		ORDER BY starts_at, is_class, id LIMIT @most`, args).Scan(&rows).Error
	entries := make([]booking.Entry, len(rows))
	for i, r := range rows {
		entries[i] = booking.Entry{ID: r.ID, Class: r.IsClass, Name: r.Name, Machines: r.Machines, Version: r.Version,
			Cancelled: r.Cancelled, Span: booking.Span{From: r.StartsAt, To: r.EndsAt}}
	}
	return entries, explain("reading a calendar", err)
}
