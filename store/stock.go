package store

import (
	"errors"
	"fmt"
	"strings"
	"time"

	"github.com/jackc/pgx/v5/pgconn"
	"gorm.io/gorm"

	"chalkstep/core/stock"
	"chalkstep/core/supply"
)

// A stockItemRow is one thing on the shelf.
type stockItemRow struct {
	ID         int64
	WorkshopID int64
	Key        supply.Key `gorm:"serializer:text"`
	// Form is how it lies there: see [shelf.Form].
	Form     string
	Name     string
	WidthMM  float64 `gorm:"column:width_mm"`
	HeightMM float64 `gorm:"column:height_mm"`
	// Metres on one spool of thread.
	Metres  float64
	Grain   bool
	Remnant bool
	// Pack is how many are bought at once, PackCents what that costs.
	Pack         float64
	PackCents    int
	ReorderPoint float64
	Supplier     string
	Place        string
	Version      int
	// OnHand and Reserved are the sums of its movements.
	OnHand   float64 `gorm:"->;-:migration"`
	Reserved float64 `gorm:"->;-:migration"`
}

func (i stockItemRow) value() stock.Item {
	return stock.Item{
		ID: i.ID, Version: i.Version, Key: i.Key, Form: stock.Form(i.Form), Name: i.Name, WidthMM: i.WidthMM,
		HeightMM: i.HeightMM, Metres: i.Metres, Grain: i.Grain, Remnant: i.Remnant,
		Pack: i.Pack, PackCents: i.PackCents, ReorderPoint: i.ReorderPoint, Supplier: i.Supplier, Place: i.Place,
		OnHand: i.OnHand, Reserved: i.Reserved,
	}
}

func stockItemOf(i stock.Item) stockItemRow {
	return stockItemRow{
		ID: i.ID, Version: i.Version, Key: i.Key, Form: string(i.Form), Name: i.Name, WidthMM: i.WidthMM,
		HeightMM: i.HeightMM, Metres: i.Metres, Grain: i.Grain, Remnant: i.Remnant,
		Pack: i.Pack, PackCents: i.PackCents, ReorderPoint: i.ReorderPoint, Supplier: i.Supplier, Place: i.Place,
	}
}

// A stockMovementRow is a line of the ledger: what it changes of what is there,
// and of what is spoken for.
type stockMovementRow struct {
	ID         int64
	WorkshopID int64
	ItemID     int64
	Kind       string
	Quantity   float64
	Reserved   float64
	ClassID    *int64
	Note       string
	MovedByID  int64 `gorm:"column:moved_by"`
	MovedAt    time.Time
}

func movementOf(m stock.Move) stockMovementRow {
	row := stockMovementRow{ItemID: m.ItemID, Kind: string(m.Kind), Quantity: m.Quantity, Reserved: m.Reserved,
		Note: m.Note, MovedByID: m.ByID, MovedAt: m.At}
	if m.ClassID != 0 {
		row.ClassID = &m.ClassID
	}
	return row
}

// ErrShort means that there is not so much of it, or that it is spoken for.
var ErrShort = errors.New("not so much of it is there and free")

// short finds a refusal of the ledger in an error.
func short(doing string, err error) error {
	var pg *pgconn.PgError
	if errors.As(err, &pg) && pg.Code == checkViolation &&
		strings.HasSuffix(pg.ConstraintName, "stock_never_below_nothing") {
		return fmt.Errorf("%s: %w", doing, ErrShort)
	}
	return explain(doing, err)
}

// withBalances adds what is there and spoken for to items.
func withBalances(db *gorm.DB) *gorm.DB {
	return db.Select("stock_items.*, b.on_hand, b.reserved").Joins(
		"JOIN stock_balances AS b ON b.item_id = stock_items.id")
}

// Stock lists what is on the shelf, with balances.
func (w Workshop) Stock() ([]stock.Item, error) {
	var items []stockItemRow
	err := withBalances(w.db).Where("retired_at IS NULL").Order("key, name").Find(&items).Error
	return valuesOf(items, stockItemRow.value), explain("listing the stock", err)
}

// StockItem finds one, with its balance.
func (w Workshop) StockItem(id int64) (stock.Item, error) {
	var item stockItemRow
	err := withBalances(w.db).Where("stock_items.id = ?", id).First(&item).Error
	return item.value(), explain("finding the stock item", err)
}

// SaveStockItem adds an item (ID 0) or changes it, and gives its ID; its
// balance is the ledger's alone.
func (w Workshop) SaveStockItem(i stock.Item) (int64, error) {
	row := stockItemOf(i)
	row.Version++
	if i.ID == 0 {
		err := w.db.Create(&row).Error
		return row.ID, explain("adding "+i.Name, err)
	}
	result := w.db.Model(&stockItemRow{}).Where("id = ? AND version = ?", i.ID, i.Version).
		Select("Key", "Form", "Name", "WidthMM", "HeightMM", "Metres", "Grain", "Pack", "PackCents", "ReorderPoint",
			"Supplier", "Place", "Version").Updates(row)
	return i.ID, updated("saving "+i.Name, result)
}

// Move writes lines into the ledger, all or none. ErrShort means that one of
// them asks for more than is there and free.
func (w Workshop) Move(moves ...stock.Move) error {
	return w.InTx(func(tx Workshop) error {
		for _, m := range moves {
			row := movementOf(m)
			if err := tx.db.Create(&row).Error; err != nil {
				return short("moving stock", err)
			}
		}
		return nil
	})
}

// Count sets what is there of an item, by a movement of the difference.
func (w Workshop) Count(m stock.Move, counted float64) error {
	return w.InTx(func(tx Workshop) error {
		// One at a time, so that the difference is of what is really there.
		if err := tx.LockStock(m.ItemID); err != nil {
			return err
		}
		item, err := tx.StockItem(m.ItemID)
		if err != nil {
			return err
		}
		m.Kind, m.Quantity = stock.Counted, counted-item.OnHand
		return tx.Move(m)
	})
}

// LockStock lets one transaction at a time move these items. Everyone locks
// in the order of the ids.
func (w Workshop) LockStock(itemIDs ...int64) error {
	var locked []int64
	err := w.db.Raw("SELECT item_id FROM stock_balances WHERE workshop_id = ? AND item_id IN ? ORDER BY item_id FOR NO "+
		"KEY UPDATE", w.id, itemIDs).Scan(&locked).Error
	return explain("locking the shelf", err)
}

// LockClass lets one transaction at a time decide on a class.
func (w Workshop) LockClass(id int64) error {
	var locked []int64
	err := w.db.Raw("SELECT id FROM classes WHERE workshop_id = ? AND id = ? FOR NO KEY UPDATE", w.id,
		id).Scan(&locked).Error
	if err == nil && len(locked) == 0 {
		return fmt.Errorf("locking the class: %w", ErrNotFound)
	}
	return explain("locking the class", err)
}

// KeptOffcuts tells whether a class's off-cuts of a material are on the shelf,
// or have been.
func (w Workshop) KeptOffcuts(classID int64, material supply.Key) (kept bool, err error) {
	err = w.db.Raw(`SELECT EXISTS (SELECT 1 FROM stock_movements m JOIN stock_items i ON i.id = m.item_id
		WHERE m.workshop_id = ? AND m.class_id = ? AND m.kind = ? AND i.remnant AND i.key = ?)`, w.id, classID,
		stock.Returned, material.String()).Scan(&kept).Error
	return kept, explain("looking for off-cuts of the class", err)
}

// Ledger lists an item's newest movements, newest first.
func (w Workshop) Ledger(itemID int64) ([]stock.Move, error) {
	const most = 200
	var rows []struct {
		Row        stockMovementRow `gorm:"embedded"`
		ClassName  string
		PersonName string
	}
	err := w.db.Raw(`SELECT m.*, coalesce(c.name, '') AS class_name, a.name AS person_name
		FROM stock_movements m JOIN accounts a ON a.id = m.moved_by LEFT JOIN classes c ON c.id = m.class_id
		WHERE m.workshop_id = ? AND m.item_id = ? ORDER BY m.id DESC LIMIT ?`, w.id, itemID, most).Scan(&rows).Error
	moves := make([]stock.Move, len(rows))
	for i, r := range rows {
		moves[i] = stock.Move{ItemID: r.Row.ItemID, Kind: stock.MoveKind(r.Row.Kind), Quantity: r.Row.Quantity,
			Reserved: r.Row.Reserved, Class: r.ClassName, Note: r.Row.Note, ByID: r.Row.MovedByID, By: r.PersonName,
			At: r.Row.MovedAt}
		if r.Row.ClassID != nil {
			moves[i].ClassID = *r.Row.ClassID
		}
	}
	return moves, explain("reading the ledger", err)
}

// ReservedFor is what each of some classes has spoken for, by item.
func (w Workshop) ReservedFor(classIDs ...int64) (map[int64]map[int64]float64, error) {
	var rows []struct {
		ClassID, ItemID int64
		Reserved        float64
	}
	err := w.db.Raw("SELECT class_id, item_id, reserved FROM class_stock WHERE workshop_id = ? AND class_id IN ? AND "+
		"reserved > 1e-6", w.id, classIDs).Scan(&rows).Error
	by := map[int64]map[int64]float64{}
	for _, r := range rows {
		if by[r.ClassID] == nil {
			by[r.ClassID] = map[int64]float64{}
		}
		by[r.ClassID][r.ItemID] = r.Reserved
	}
	return by, explain("reading what classes have reserved", err)
}
