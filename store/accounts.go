package store

import (
	"context"
	"fmt"
	"strings"
	"time"

	"chalkstep/core/house"
	"chalkstep/core/kit"
	"chalkstep/core/pace"
	"chalkstep/core/recipe"
)

// A WorkshopRow is a workshop's own settings.
type WorkshopRow struct {
	ID       int64
	Name     string
	TimeZone string
	Figures  Figures      `gorm:"serializer:json"`
	House    recipe.House `gorm:"serializer:json"`
	// Units and Clock are for those who have not chosen.
	Units   string `gorm:"default:mm"`
	Clock   string `gorm:"default:24"`
	Version int
}

// TableName tells GORM the table.
func (WorkshopRow) TableName() string { return "workshops" }

// Figures are the numbers a workshop plans by.
type Figures struct {
	Pace pace.Figures
	Kit  kit.Figures
}

// MarshalJSON writes the document that is kept.
func (f Figures) MarshalJSON() ([]byte, error) {
	return house.Rules{Pace: f.Pace, Kit: f.Kit}.FiguresJSON()
}

// UnmarshalJSON reads a document over the handbook's figures.
func (f *Figures) UnmarshalJSON(data []byte) error {
	var rules house.Rules
	if err := rules.ReadFigures(data); err != nil {
		return err
	}
	f.Pace, f.Kit = rules.Pace, rules.Kit
	return nil
}

// DefaultFigures are the handbook's.
func DefaultFigures() Figures { return Figures{Pace: pace.Defaults(), Kit: kit.Defaults()} }

// An Account is someone who signs in.
type Account struct {
	ID           int64
	WorkshopID   int64
	Email        string
	Name         string
	Role         string
	PasswordHash string
	// Units and Clock are what they chose, empty for the workshop's.
	Units string
	Clock string
	// RemovedAt is when somebody left, nil for those who are here.
	RemovedAt *time.Time
}

// The roles of an account.
const (
	Owner      = "owner"
	Instructor = "instructor"
	Assistant  = "assistant"
)

// CreateWorkshop makes an empty workshop with the default figures.
func (s *Store) CreateWorkshop(ctx context.Context, name, timeZone string) (WorkshopRow, error) {
	row := WorkshopRow{Name: name, TimeZone: timeZone, Figures: DefaultFigures(), Version: 1}
	return row, explain("creating the workshop "+name, s.db.WithContext(ctx).Create(&row).Error)
}

// CountWorkshops tells how many workshops there are.
func (s *Store) CountWorkshops(ctx context.Context) (n int64, err error) {
	return n, explain("counting workshops", s.db.WithContext(ctx).Model(&WorkshopRow{}).Count(&n).Error)
}

// AccountByEmail finds who signs in, in whatever workshop.
func (s *Store) AccountByEmail(ctx context.Context, email string) (Account, error) {
	var a Account
	err := s.db.WithContext(ctx).Set(boundKey, anyWorkshop{}).Where("email = ? AND removed_at IS NULL", cleanEmail(email)).First(&a).Error
	return a, explain("finding the account", err)
}

// cleanEmail is an e-mail address as it is kept.
func cleanEmail(email string) string { return strings.ToLower(strings.TrimSpace(email)) }

// Accounts lists who may sign in, by name.
func (w Workshop) Accounts() ([]Account, error) {
	var accounts []Account
	return accounts, explain("listing the people", w.db.Omit("PasswordHash").Where("removed_at IS NULL").Order("name, id").Find(&accounts).Error)
}

// Account finds one of those who may sign in.
func (w Workshop) Account(id int64) (Account, error) {
	var a Account
	return a, explain("finding the account", w.db.Where("removed_at IS NULL").First(&a, id).Error)
}

// AddAccount adds someone who can sign in.
func (w Workshop) AddAccount(a *Account) error {
	a.Email = cleanEmail(a.Email)
	return explain("adding the account "+a.Email, w.db.Create(a).Error)
}

// SetPassword changes what an account signs in with.
func (w Workshop) SetPassword(accountID int64, hash string) error {
	return found("changing the password", w.db.Model(&Account{}).Where("id = ? AND removed_at IS NULL", accountID).Update("password_hash", hash))
}

// SetUnits changes what somebody measures in and how they read the clock.
func (w Workshop) SetUnits(accountID int64, units, clock string) error {
	return found("changing the units", w.db.Model(&Account{}).Where("id = ? AND removed_at IS NULL", accountID).Updates(map[string]any{"units": units, "clock": clock}))
}

// RemoveAccount keeps someone from signing in again; what they signed and
// moved stays theirs. A workshop keeps at least one owner.
func (w Workshop) RemoveAccount(id int64, now time.Time) error {
	const doing = "removing the account"
	return w.InTx(func(tx Workshop) error {
		// All owners are locked, so that no two remove each other.
		var owners []int64
		err := tx.db.Raw("SELECT id FROM accounts WHERE workshop_id = ? AND role = ? AND removed_at IS NULL ORDER BY id FOR NO KEY UPDATE", w.id, Owner).Scan(&owners).Error
		if err != nil {
			return explain(doing, err)
		}
		if len(owners) == 1 && owners[0] == id {
			return fmt.Errorf("%s: %w", doing, ErrLastOwner)
		}
		if err := found(doing, tx.db.Model(&Account{}).Where("id = ? AND removed_at IS NULL", id).Update("removed_at", now)); err != nil {
			return err
		}
		return tx.EndSessionsOf(id, 0)
	})
}

// Settings reads the workshop's own row.
func (w Workshop) Settings() (WorkshopRow, error) {
	var row WorkshopRow
	return row, explain("reading the workshop", w.db.First(&row, w.id).Error)
}

// SaveSettings changes the workshop's own row, unless someone else did.
func (w Workshop) SaveSettings(row WorkshopRow) error {
	was := row.Version
	row.Version++
	return updated("saving the workshop", w.db.Model(&WorkshopRow{}).Where("id = ? AND version = ?", w.id, was).
		Select("Name", "TimeZone", "Figures", "House", "Units", "Clock", "Version").Updates(row))
}
