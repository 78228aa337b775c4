package store

import (
	"errors"
	"fmt"
	"time"

	"github.com/jackc/pgx/v5/pgconn"
	"gorm.io/gorm"
)

// Kinds of things on the shelf. Rolls and fabric are counted in millimetres
// of their length, thread in spools, the rest in pieces.
const (
	StockRoll   = "roll"
	StockSheet  = "sheet"
	StockFabric = "fabric"
	StockThread = "thread"
	StockBobbin = "bobbin"
	StockNeedle = "needle"
	StockBlank  = "blank"
	StockSundry = "sundry"
)

// StockKinds in the order a page lists them.
var StockKinds = []string{StockRoll, StockSheet, StockFabric, StockThread, StockBobbin, StockNeedle, StockBlank, StockSundry}

// A StockItem is one thing on the shelf.
type StockItem struct {
	ID         int64
	WorkshopID int64
	Kind       string
	Name       string
	// Matches is what recipes and kits call it.
	Matches  string
	WidthMM  float64 `gorm:"column:width_mm"`
	HeightMM float64 `gorm:"column:height_mm"`
	Color    string
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

// Available is what nobody has spoken for.
func (i StockItem) Available() float64 { return i.OnHand - i.Reserved }

// ByLength tells whether it is counted in millimetres.
func (i StockItem) ByLength() bool { return i.Kind == StockRoll || i.Kind == StockFabric }

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

const checkViolation = "23514"

// short finds a refusal of the ledger in an error.
func short(doing string, err error) error {
	var pg *pgconn.PgError
	if errors.As(err, &pg) && pg.Code == checkViolation && pg.ConstraintName == "stock_never_below_nothing" {
		return fmt.Errorf("%s: %w", doing, ErrShort)
	}
	return explain(doing, err)
}

// withBalances adds the sums of the movements to items.
func withBalances(db *gorm.DB) *gorm.DB {
	return db.Select("stock_items.*, coalesce(sums.on_hand, 0) AS on_hand, coalesce(sums.reserved, 0) AS reserved").
		Joins("LEFT JOIN (SELECT item_id, sum(quantity) AS on_hand, sum(reserved) AS reserved FROM stock_movements GROUP BY item_id) AS sums ON sums.item_id = stock_items.id")
}

// Stock lists what is on the shelf, with balances.
func (w Workshop) Stock() ([]StockItem, error) {
	var items []StockItem
	err := withBalances(w.db).Order("kind, matches, name").Find(&items).Error
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
		Select("Kind", "Name", "Matches", "WidthMM", "HeightMM", "Color", "Metres", "Grain", "Pack", "PackCents", "ReorderPoint", "Supplier", "Place", "Version").Updates(i)
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
		var locked StockItem
		if err := tx.db.Raw("SELECT id FROM stock_items WHERE id = ? AND workshop_id = ? FOR NO KEY UPDATE", m.ItemID, w.id).Scan(&locked).Error; err != nil {
			return explain("counting stock", err)
		}
		item, err := tx.StockItem(m.ItemID)
		if err != nil {
			return err
		}
		m.Kind, m.Quantity = Counted, counted-item.OnHand
		return short("counting stock", tx.db.Omit("MovedBy", "Class", "Item").Create(&m).Error)
	})
}

// Ledger lists an item's movements, newest first.
func (w Workshop) Ledger(itemID int64) ([]StockMovement, error) {
	var moves []StockMovement
	err := w.db.Preload("MovedBy").Preload("Class").Where("item_id = ?", itemID).Order("id DESC").Limit(200).Find(&moves).Error
	return moves, explain("reading the ledger", err)
}

// ReservedFor sums what a class has spoken for, by item.
func (w Workshop) ReservedFor(classID int64) (map[int64]float64, error) {
	var sums []struct {
		ItemID   int64
		Reserved float64
	}
	err := w.db.Model(&StockMovement{}).Select("item_id, sum(reserved) AS reserved").Where("class_id = ?", classID).Group("item_id").Having("sum(reserved) > 1e-6").Scan(&sums).Error
	by := map[int64]float64{}
	for _, s := range sums {
		by[s.ItemID] = s.Reserved
	}
	return by, explain("reading what the class has reserved", err)
}
