package store

import (
	"errors"
	"fmt"
	"strings"
	"time"

	"github.com/jackc/pgx/v5/pgconn"
	"gorm.io/gorm"

	"chalkstep/core/supply"
)

// A StockItem is one thing on the shelf.
type StockItem struct {
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

// What moves stock.
const (
	Bought       = "bought"
	ReservedMove = "reserved"
	Released     = "released"
	Used         = "used"
	Returned     = "returned"
	Spoiled      = "spoiled"
	Counted      = "counted"
)

// A StockMovement is a line of the ledger: what it changes of what is there,
// and of what is spoken for.
type StockMovement struct {
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
	MovedBy    Account `gorm:"foreignKey:MovedByID"`
	Class      *Class
	Item       StockItem `gorm:"foreignKey:ItemID"`
}

// ErrShort means that there is not so much of it, or that it is spoken for.
var ErrShort = errors.New("not so much of it is there and free")

// short finds a refusal of the ledger in an error.
func short(doing string, err error) error {
	var pg *pgconn.PgError
	if errors.As(err, &pg) && pg.Code == checkViolation && strings.HasSuffix(pg.ConstraintName, "stock_never_below_nothing") {
		return fmt.Errorf("%s: %w", doing, ErrShort)
	}
	return explain(doing, err)
}

// withBalances adds what is there and spoken for to items.
func withBalances(db *gorm.DB) *gorm.DB {
	return db.Select("stock_items.*, b.on_hand, b.reserved").Joins("JOIN stock_balances AS b ON b.item_id = stock_items.id")
}

// Stock lists what is on the shelf, with balances.
func (w Workshop) Stock() ([]StockItem, error) {
	var items []StockItem
	err := withBalances(w.db).Order("key, name").Find(&items).Error
	return items, explain("listing the stock", err)
}

// StockItem finds one, with its balance.
func (w Workshop) StockItem(id int64) (StockItem, error) {
	var item StockItem
	return item, explain("finding the stock item", withBalances(w.db).Where("stock_items.id = ?", id).First(&item).Error)
}

// SaveStockItem adds an item (ID 0) or changes it; its balance is the
// ledger's alone.
func (w Workshop) SaveStockItem(i *StockItem) error {
	if i.ID == 0 {
		i.Version = 1
		return explain("adding "+i.Name, w.db.Create(i).Error)
	}
	was := i.Version
	i.Version++
	result := w.db.Model(&StockItem{}).Where("id = ? AND version = ?", i.ID, was).
		Select("Key", "Form", "Name", "WidthMM", "HeightMM", "Metres", "Grain", "Pack", "PackCents", "ReorderPoint", "Supplier", "Place", "Version").Updates(i)
	return updated("saving "+i.Name, result)
}

// Move writes lines into the ledger, all or none. ErrShort means that one of
// them asks for more than is there and free.
func (w Workshop) Move(moves ...StockMovement) error {
	return w.InTx(func(tx Workshop) error {
		for i := range moves {
			if err := tx.db.Omit("MovedBy", "Class", "Item").Create(&moves[i]).Error; err != nil {
				return short("moving stock", err)
			}
		}
		return nil
	})
}

// Count sets what is there of an item, by a movement of the difference.
func (w Workshop) Count(m StockMovement, counted float64) error {
	return w.InTx(func(tx Workshop) error {
		// One at a time, so that the difference is of what is really there.
		if err := tx.LockStock(m.ItemID); err != nil {
			return err
		}
		item, err := tx.StockItem(m.ItemID)
		if err != nil {
			return err
		}
		m.Kind, m.Quantity = Counted, counted-item.OnHand
		return short("counting stock", tx.db.Omit("MovedBy", "Class", "Item").Create(&m).Error)
	})
}

// LockStock lets one transaction at a time move these items. Everyone locks
// in the order of the ids.
func (w Workshop) LockStock(itemIDs ...int64) error {
	var locked []int64
	err := w.db.Raw("SELECT item_id FROM stock_balances WHERE workshop_id = ? AND item_id IN ? ORDER BY item_id FOR NO KEY UPDATE", w.id, itemIDs).Scan(&locked).Error
	return explain("locking the shelf", err)
}

// LockClass lets one transaction at a time decide on a class.
func (w Workshop) LockClass(id int64) error {
	var locked []int64
	err := w.db.Raw("SELECT id FROM classes WHERE workshop_id = ? AND id = ? FOR NO KEY UPDATE", w.id, id).Scan(&locked).Error
	if err == nil && len(locked) == 0 {
		return fmt.Errorf("locking the class: %w", ErrNotFound)
	}
	return explain("locking the class", err)
}

// KeptOffcuts tells whether a class's off-cuts of a material are on the shelf,
// or have been.
func (w Workshop) KeptOffcuts(classID int64, material supply.Key) (kept bool, err error) {
	err = w.db.Raw(`SELECT EXISTS (SELECT 1 FROM stock_movements m JOIN stock_items i ON i.id = m.item_id
		WHERE m.workshop_id = ? AND m.class_id = ? AND m.kind = ? AND i.remnant AND i.key = ?)`, w.id, classID, Returned, material.String()).Scan(&kept).Error
	return kept, explain("looking for off-cuts of the class", err)
}

// Ledger lists an item's movements, newest first.
func (w Workshop) Ledger(itemID int64) ([]StockMovement, error) {
	var moves []StockMovement
	err := w.db.Preload("MovedBy").Preload("Class").Where("item_id = ?", itemID).Order("id DESC").Limit(200).Find(&moves).Error
	return moves, explain("reading the ledger", err)
}

// ReservedFor is what each of some classes has spoken for, by item.
func (w Workshop) ReservedFor(classIDs ...int64) (map[int64]map[int64]float64, error) {
	var rows []struct {
		ClassID, ItemID int64
		Reserved        float64
	}
	err := w.db.Raw("SELECT class_id, item_id, reserved FROM class_stock WHERE workshop_id = ? AND class_id IN ? AND reserved > 1e-6", w.id, classIDs).Scan(&rows).Error
	by := map[int64]map[int64]float64{}
	for _, r := range rows {
		if by[r.ClassID] == nil {
			by[r.ClassID] = map[int64]float64{}
		}
		by[r.ClassID][r.ItemID] = r.Reserved
	}
	return by, explain("reading what classes have reserved", err)
}
