package store

import (
	"context"
	"fmt"
	"time"

	"chalkstep/core/policy"
)

// A sessionRow is someone signed in at a browser, as far as the database knows
// it: the token is with the browser alone.
type sessionRow struct {
	ID         int64
	TokenHash  []byte
	WorkshopID int64
	AccountID  int64
	BeganAt    time.Time
	SeenAt     time.Time
	Agent      string
}

func (s sessionRow) value() Session {
	return Session{ID: s.ID, BeganAt: s.BeganAt, SeenAt: s.SeenAt, Agent: s.Agent}
}

// workshopColumns are those of a workshop w with its revision r, for a row that embeds it.
const workshopColumns = `w.id AS workshop_id, w.name AS workshop_name, w.time_zone AS workshop_time_zone,
	w.figures AS workshop_figures, w.house AS workshop_house, w.learned AS workshop_learned, w.units AS workshop_units,
	w.clock AS workshop_clock, w.version AS workshop_version, coalesce(r.revision, 0) AS revision`

// A SignedIn is a session with whose it is, as every request needs it.
type SignedIn struct {
	Session  Session
	Person   Person
	Workshop policy.Workshop
	// Revision moves on with every change of the workshop.
	Revision int64
}

// BeginSession adds a session of somebody, whose token has a hash.
func (s *Store) BeginSession(ctx context.Context, of Credentials, tokenHash []byte, begun Session) error {
	row := sessionRow{TokenHash: tokenHash, WorkshopID: of.WorkshopID, AccountID: of.ID, BeganAt: begun.BeganAt,
		SeenAt: begun.SeenAt, Agent: begun.Agent}
	return explain("beginning a session", s.db.WithContext(ctx).Set(boundKey, of.WorkshopID).Create(&row).Error)
}

// FindSession finds a live session by its token's hash, used since a moment,
// of an account that has not been removed.
func (s *Store) FindSession(ctx context.Context, tokenHash []byte, since time.Time) (SignedIn, error) {
	var row struct {
		Row      sessionRow  `gorm:"embedded"`
		Account  accountRow  `gorm:"embedded;embeddedPrefix:account_"`
		Workshop workshopRow `gorm:"embedded;embeddedPrefix:workshop_"`
		Revision int64
	}
	result := s.db.WithContext(ctx).Raw(`SELECT s.id, s.token_hash, s.workshop_id, s.account_id, s.began_at, s.seen_at,
			a.id AS account_id, a.workshop_id AS account_workshop_id, a.email AS account_email, a.name AS account_name,
			a.role AS account_role, a.units AS account_units, a.clock AS account_clock,
			`+workshopColumns+`
		FROM sessions s JOIN accounts a ON a.id = s.account_id JOIN workshops w ON w.id = s.workshop_id LEFT
		JOIN revisions r ON r.workshop_id = w.id
		WHERE s.token_hash = ? AND s.seen_at > ? AND a.removed_at IS NULL`, tokenHash, since).Scan(&row)
	if result.Error == nil && result.RowsAffected == 0 {
		return SignedIn{}, fmt.Errorf("finding the session: %w", ErrNotFound)
	}
	return SignedIn{row.Row.value(), row.Account.value(), row.Workshop.value(), row.Revision},
		explain("finding the session", result.Error)
}

// SeeSession notes that a session is in use. One that has ended stays ended:
// this changes a row, and never adds one.
func (s *Store) SeeSession(ctx context.Context, tokenHash []byte, now time.Time) error {
	return explain("noting the session's use",
		s.db.WithContext(ctx).Exec("UPDATE sessions SET seen_at = ? WHERE token_hash = ?", now, tokenHash).Error)
}

// EndSession ends a session for good.
func (s *Store) EndSession(ctx context.Context, tokenHash []byte) error {
	return explain("ending the session",
		s.db.WithContext(ctx).Exec("DELETE FROM sessions WHERE token_hash = ?", tokenHash).Error)
}

// SessionsOf lists an account's sessions in use since a moment, newest first.
func (w Workshop) SessionsOf(accountID int64, since time.Time) ([]Session, error) {
	var sessions []sessionRow
	const most = 50
	err := w.db.Where("account_id = ? AND seen_at > ?", accountID,
		since).Order("seen_at DESC").Limit(most).Find(&sessions).Error
	return valuesOf(sessions, sessionRow.value), explain("listing the sessions", err)
}

// CountSessions counts the sessions of each account in use since a moment.
func (w Workshop) CountSessions(since time.Time) (map[int64]int, error) {
	var rows []struct {
		AccountID int64
		N         int
	}
	err := w.db.Model(&sessionRow{}).Select("account_id, count(*) AS n").Where("seen_at > ?",
		since).Group("account_id").Scan(&rows).Error
	counts := map[int64]int{}
	for _, r := range rows {
		counts[r.AccountID] = r.N
	}
	return counts, explain("counting the sessions", err)
}

// EndSessionsOf ends an account's sessions, but for the one to keep (0 for
// none).
func (w Workshop) EndSessionsOf(accountID, keepID int64) error {
	return explain("ending the sessions",
		w.db.Where("account_id = ? AND id <> ?", accountID, keepID).Delete(&sessionRow{}).Error)
}

// CountTry counts a wrong attempt under a key, within the window that the
// first of them opened.
func (s *Store) CountTry(ctx context.Context, key []byte, now time.Time, window time.Duration) error {
	err := s.db.WithContext(ctx).Exec(`INSERT INTO sign_in_tries AS t (tries, key, until) VALUES (1, ?, ?)
		ON CONFLICT (key) DO UPDATE SET tries = CASE WHEN t.until < ? THEN 1 ELSE t.tries + 1 END, until = CASE
		WHEN t.until < ? THEN excluded.until ELSE t.until END`,
		key, now.Add(window), now, now).Error
	return explain("counting a try", err)
}

// Tries tells how many wrong attempts a key has made in its window.
func (s *Store) Tries(ctx context.Context, key []byte, now time.Time) (tries int, err error) {
	err = s.db.WithContext(ctx).Raw("SELECT coalesce(sum(tries), 0) FROM sign_in_tries WHERE key = ? AND until >= ?", key,
		now).Scan(&tries).Error
	return tries, explain("counting the tries", err)
}

// Tidy removes what time has made useless: sessions not used since sessionsOld,
// tries that are over, forms sent before formsOld, and own pages opened before ownOld.
func (s *Store) Tidy(ctx context.Context, now, sessionsOld, formsOld, ownOld time.Time) error {
	db := s.db.WithContext(ctx)
	for _, old := range []struct {
		statement string
		before    time.Time
	}{
		{"DELETE FROM sessions WHERE seen_at < ?", sessionsOld},
		{"DELETE FROM sign_in_tries WHERE until < ?", now},
		{"DELETE FROM sent_forms WHERE sent_at < ?", formsOld},
		{"DELETE FROM student_sessions WHERE began_at < ?", ownOld},
	} {
		if err := db.Exec(old.statement, old.before).Error; err != nil {
			return explain("tidying up", err)
		}
	}
	return nil
}
