package store

import (
	"context"
	"fmt"
	"strings"
	"time"

	"chalkstep/core/pace"
	"chalkstep/core/policy"
)

// A workshopRow is a workshop's own settings.
type workshopRow struct {
	ID       int64
	Name     string
	TimeZone string
	Figures  figures      `gorm:"serializer:json"`
	House    policy.House `gorm:"serializer:json"`
	// Learned are the factors that classes taught.
	Learned pace.Learned `gorm:"serializer:json"`
	Units   string       `gorm:"default:mm"`
	Clock   string       `gorm:"default:24"`
	Version int
}

func (w workshopRow) value() policy.Workshop {
	rules := policy.Rules(w.Figures)
	rules.House, rules.Learned = w.House, w.Learned
	return policy.Workshop{ID: w.ID, Version: w.Version, Name: w.Name, Zone: w.TimeZone, Units: w.Units, Clock: w.Clock,
		Rules: rules}
}

func workshopRowOf(w policy.Workshop) workshopRow {
	return workshopRow{ID: w.ID, Version: w.Version, Name: w.Name, TimeZone: w.Zone, Units: w.Units, Clock: w.Clock,
		House: w.House, Figures: figures(w.Rules)}
}

// figures are the numbers of a workshop's rules, which are a document of their
// own.
type figures policy.Rules

// MarshalJSON writes the document that is kept.
func (f figures) MarshalJSON() ([]byte, error) { return policy.Rules(f).FiguresJSON() }

// UnmarshalJSON reads a document over the handbook's figures.
func (f *figures) UnmarshalJSON(data []byte) error { return (*policy.Rules)(f).ReadFigures(data) }

// An accountRow is someone who signs in.
type accountRow struct {
	ID           int64
	WorkshopID   int64
	Email        string
	Name         string
	Role         string
	PasswordHash string
	Units        string
	Clock        string
	// RemovedAt is when somebody left, nil for those who are here.
	RemovedAt *time.Time
}

func (a accountRow) value() Person {
	return Person{ID: a.ID, Email: a.Email, Name: a.Name, Role: Role(a.Role), Units: a.Units, Clock: a.Clock}
}

// CreateWorkshop makes an empty workshop with the handbook's figures.
func (s *Store) CreateWorkshop(ctx context.Context, name, timeZone string) (policy.Workshop, error) {
	row := workshopRow{Name: name, TimeZone: timeZone, Figures: figures(policy.Defaults()), Version: 1}
	err := s.db.WithContext(ctx).Create(&row).Error
	return row.value(), explain("creating the workshop "+name, err)
}

// CountWorkshops tells how many workshops there are.
func (s *Store) CountWorkshops(ctx context.Context) (n int64, err error) {
	return n, explain("counting workshops", s.db.WithContext(ctx).Model(&workshopRow{}).Count(&n).Error)
}

// Credentials are what somebody signs in with, and who and where they are.
type Credentials struct {
	Person
	WorkshopID   int64
	PasswordHash string
}

// AccountByEmail finds who signs in, in whatever workshop.
func (s *Store) AccountByEmail(ctx context.Context, email string) (Credentials, error) {
	var a accountRow
	err := s.db.WithContext(ctx).Set(boundKey, anyWorkshop{}).Where("email = ? AND removed_at IS NULL",
		cleanEmail(email)).First(&a).Error
	return Credentials{a.value(), a.WorkshopID, a.PasswordHash}, explain("finding the account", err)
}

// BrowserKey is what browsers are known by at which an account has signed in, if the e-mail
// is that account's; it is nil where it is not.
func (s *Store) BrowserKey(ctx context.Context, accountID int64, email string) (key []byte, err error) {
	var keys [][]byte
	err = s.db.WithContext(ctx).Raw(
		"SELECT w.feed_key FROM accounts a JOIN workshops w ON w.id = a.workshop_id WHERE a.id = ? AND a.email = ? AND "+
			"a.removed_at IS NULL", accountID, cleanEmail(email)).Scan(&keys).Error
	if err != nil || len(keys) == 0 {
		return nil, explain("finding what browsers are known by", err)
	}
	return keys[0], nil
}

// cleanEmail is an e-mail address as it is kept.
func cleanEmail(email string) string { return strings.ToLower(strings.TrimSpace(email)) }

// Accounts lists who may sign in, by name.
func (w Workshop) Accounts() ([]Person, error) {
	var accounts []accountRow
	err := w.db.Omit("PasswordHash").Where("removed_at IS NULL").Order("name, id").Find(&accounts).Error
	return valuesOf(accounts, accountRow.value), explain("listing the people", err)
}

// Account finds one of those who may sign in.
func (w Workshop) Account(id int64) (Person, error) {
	var a accountRow
	err := w.db.Where("removed_at IS NULL").First(&a, id).Error
	return a.value(), explain("finding the account", err)
}

// AddAccount adds someone who can sign in, with the hash of their password,
// and gives their ID.
func (w Workshop) AddAccount(p Person, passwordHash string) (int64, error) {
	a := accountRow{Email: cleanEmail(p.Email), Name: p.Name, Role: string(p.Role), Units: p.Units, Clock: p.Clock,
		PasswordHash: passwordHash}
	err := w.db.Create(&a).Error
	return a.ID, explain("adding the account "+a.Email, err)
}

// SetPassword changes what an account signs in with.
func (w Workshop) SetPassword(accountID int64, hash string) error {
	return found("changing the password",
		w.db.Model(&accountRow{}).Where("id = ? AND removed_at IS NULL", accountID).Update("password_hash", hash))
}

// SetUnits changes what somebody measures in and how they read the clock.
func (w Workshop) SetUnits(accountID int64, units, clock string) error {
	return found("changing the units",
		w.db.Model(&accountRow{}).Where("id = ? AND removed_at IS NULL",
			accountID).Updates(map[string]any{"units": units, "clock": clock}))
}

// RemoveAccount keeps someone from signing in again; what they signed and
// moved stays theirs. A workshop keeps at least one owner.
func (w Workshop) RemoveAccount(id int64, now time.Time) error {
	const doing = "removing the account"
	return w.InTx(func(tx Workshop) error {
		// All owners are locked, so that no two remove each other.
		var owners []int64
		err := tx.db.Raw("SELECT id FROM accounts WHERE workshop_id = ? AND role = ? AND removed_at IS NULL ORDER BY id "+
			"FOR NO KEY UPDATE", w.id, Owner).Scan(&owners).Error
		if err != nil {
			return explain(doing, err)
		}
		if len(owners) == 1 && owners[0] == id {
			return fmt.Errorf("%s: %w", doing, ErrLastOwner)
		}
		if err := found(doing,
			tx.db.Model(&accountRow{}).Where("id = ? AND removed_at IS NULL", id).Update("removed_at", now)); err != nil {
			return err
		}
		return tx.EndSessionsOf(id, 0)
	})
}

// Settings reads what the workshop holds to.
func (w Workshop) Settings() (policy.Workshop, error) {
	var row workshopRow
	err := w.db.First(&row, w.id).Error
	return row.value(), explain("reading the workshop", err)
}

// SaveSettings changes what the workshop holds to, unless someone else did.
func (w Workshop) SaveSettings(settings policy.Workshop) error {
	row := workshopRowOf(settings)
	row.Version++
	return updated("saving the workshop",
		w.db.Model(&workshopRow{}).Where("id = ? AND version = ?", w.id, settings.Version).
			Select("Name", "TimeZone", "Figures", "House", "Units", "Clock", "Version").Updates(row))
}
