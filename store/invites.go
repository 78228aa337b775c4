package store

import (
	"context"
	"fmt"
	"time"
)

// Invite lets whoever has a token, of which this is the hash, choose the password of an
// account until a moment; a link of before ends.
func (w Workshop) Invite(accountID int64, tokenHash []byte, until time.Time) error {
	return explain("inviting somebody",
		w.db.Exec(`INSERT INTO invites (workshop_id, account_id, token_hash, expires_at) VALUES (?, ?, ?, ?)
		ON CONFLICT (account_id) DO UPDATE SET token_hash = excluded.token_hash, expires_at = excluded.expires_at`, w.id,
			accountID, tokenHash, until).Error)
}

// An Invited is whom a link invites, and where.
type Invited struct {
	Person
	WorkshopID int64
	Workshop   string
}

// Invited finds whom a link invites.
func (s *Store) Invited(ctx context.Context, tokenHash []byte, now time.Time) (Invited, error) {
	const doing = "finding an invitation"
	var row struct {
		Account  accountRow `gorm:"embedded;embeddedPrefix:account_"`
		Workshop string
	}
	result := s.db.WithContext(
		ctx).Raw(`SELECT a.id AS account_id, a.workshop_id AS account_workshop_id, a.email AS account_email,
			a.name AS account_name, a.role AS account_role, w.name AS workshop
		FROM invites i JOIN accounts a ON a.id = i.account_id JOIN workshops w ON w.id = i.workshop_id
		WHERE i.token_hash = ? AND i.expires_at > ? AND a.removed_at IS NULL`, tokenHash, now).Scan(&row)
	if result.Error == nil && result.RowsAffected == 0 {
		return Invited{}, fmt.Errorf("%s: %w", doing, ErrNotFound)
	}
	return Invited{row.Account.value(), row.Account.WorkshopID, row.Workshop}, explain(doing, result.Error)
}

// Accept keeps the password that an invited person chose, once, and ends what is open of
// theirs.
func (w Workshop) Accept(accountID int64, tokenHash []byte, passwordHash string) error {
	return w.InTx(func(tx Workshop) error {
		if err := tx.Acting(accountID, 0); err != nil {
			return err
		}
		if err := found("accepting an invitation",
			tx.db.Exec("DELETE FROM invites WHERE account_id = ? AND token_hash = ? AND workshop_id = ?", accountID, tokenHash,
				w.id)); err != nil {
			return err
		}
		if err := tx.SetPassword(accountID, passwordHash); err != nil {
			return err
		}
		return tx.EndSessionsOf(accountID, 0)
	})
}
