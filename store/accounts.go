package store

import (
	"context"
	"strings"

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
	Version  int
}

// TableName tells GORM the table.
func (WorkshopRow) TableName() string { return "workshops" }

// Figures are the numbers a workshop plans by.
type Figures struct {
	Pace pace.Figures
	Kit  kit.Figures
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
	err := s.db.WithContext(ctx).Set(boundKey, anyWorkshop{}).Where("email = ?", strings.ToLower(strings.TrimSpace(email))).First(&a).Error
	return a, explain("finding the account", err)
}

// Account finds one of the workshop's accounts.
func (w Workshop) Account(id int64) (Account, error) {
	var a Account
	return a, explain("finding the account", w.db.First(&a, id).Error)
}

// AddAccount adds someone who can sign in.
func (w Workshop) AddAccount(a *Account) error {
	a.Email = strings.ToLower(strings.TrimSpace(a.Email))
	return explain("adding the account "+a.Email, w.db.Create(a).Error)
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
		Select("Name", "TimeZone", "Figures", "House", "Version").Updates(row))
}
