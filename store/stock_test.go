package store_test

import (
	"errors"
	"math/rand/v2"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/supply"
	"chalkstep/store"
	"chalkstep/store/storetest"
)

// shelf adds an item with so many of it.
func shelf(t *testing.T, w store.Workshop, f fixture, name string, n float64) store.StockItem {
	t.Helper()
	item := store.StockItem{Key: supply.Named(supply.Blank, name), Form: "each", Name: name, Pack: 1}
	require.NoError(t, w.SaveStockItem(&item))
	require.NoError(t, w.Move(store.StockMovement{ItemID: item.ID, Kind: store.Bought, Quantity: n, MovedByID: f.account.ID, MovedAt: morning}))
	return item
}

func reserve(f fixture, item store.StockItem, n float64) store.StockMovement {
	return store.StockMovement{ItemID: item.ID, Kind: store.ReservedMove, Reserved: n, ClassID: &f.class.ID, MovedByID: f.account.ID, MovedAt: morning}
}

// Fifty people reach for the last seven at once: exactly seven get one.
func TestFiftyReachForTheLastSeven(t *testing.T) {
	w, f := shop(t, storetest.Open(t), "rush")
	item := shelf(t, w, f, "tote", 7)
	var wait sync.WaitGroup
	results := make(chan error, 50)
	for range 50 {
		wait.Go(func() { results <- w.Move(reserve(f, item, 1)) })
	}
	wait.Wait()
	close(results)
	granted := 0
	for err := range results {
		if err == nil {
			granted++
			continue
		}
		assert.ErrorIs(t, err, store.ErrShort)
	}
	assert.Equal(t, 7, granted)
	after, err := w.StockItem(item.ID)
	require.NoError(t, err)
	assert.Equal(t, []float64{7, 7, 0}, []float64{after.OnHand, after.Reserved, after.Value().Available()})
	moves, err := w.Ledger(item.ID)
	require.NoError(t, err)
	assert.Len(t, moves, 8, "the refused ones left nothing behind")
}

// Whatever is done, the balance is the sum of the ledger, nothing goes below
// nothing, and no more is spoken for than is there.
func TestTheLedgerAndTheBalanceAgree(t *testing.T) {
	w, f := shop(t, storetest.Open(t), "ledger")
	rng := rand.New(rand.NewPCG(4, 4))
	item := shelf(t, w, f, "hoop tape", 5)
	onHand, reserved := 5.0, 0.0
	for range 250 {
		n := float64(1 + rng.IntN(4))
		m := store.StockMovement{ItemID: item.ID, MovedByID: f.account.ID, MovedAt: morning}
		switch rng.IntN(6) {
		case 0:
			m.Kind, m.Quantity = store.Bought, n
		case 1:
			m.Kind, m.Quantity = store.Spoiled, -n
		case 2:
			m = reserve(f, item, n)
		case 3:
			m.Kind, m.Reserved, m.ClassID = store.Released, -n, &f.class.ID
		case 4:
			m.Kind, m.Quantity, m.Reserved, m.ClassID = store.Used, -n, -n, &f.class.ID
		default:
			m.Kind, m.Quantity, m.ClassID = store.Returned, n, &f.class.ID
		}
		err := w.Move(m)
		nextOnHand, nextReserved := onHand+m.Quantity, reserved+m.Reserved
		if nextOnHand < 0 || nextReserved < 0 || nextReserved > nextOnHand {
			require.ErrorIs(t, err, store.ErrShort, "%v with %v there and %v spoken for", m, onHand, reserved)
			continue
		}
		require.NoError(t, err)
		onHand, reserved = nextOnHand, nextReserved
	}
	after, err := w.StockItem(item.ID)
	require.NoError(t, err)
	assert.InDelta(t, onHand, after.OnHand, 1e-9)
	assert.InDelta(t, reserved, after.Reserved, 1e-9)
	require.NoError(t, w.Count(store.StockMovement{ItemID: item.ID, MovedByID: f.account.ID, MovedAt: morning}, onHand+3))
	after, err = w.StockItem(item.ID)
	require.NoError(t, err)
	assert.InDelta(t, onHand+3, after.OnHand, 1e-9, "counting sets what is there")
	if reserved > 0 {
		assert.ErrorIs(t, w.Count(store.StockMovement{ItemID: item.ID, MovedByID: f.account.ID, MovedAt: morning}, 0), store.ErrShort, "less than is spoken for")
	}
}

// A line fails with all its fellows, and no other workshop's shelf is seen.
func TestMovesAreAllOrNone(t *testing.T) {
	s := storetest.Open(t)
	w, f := shop(t, s, "all")
	other, g := shop(t, s, "none")
	a, b := shelf(t, w, f, "felt", 10), shelf(t, w, f, "tape", 1)
	err := w.Move(reserve(f, a, 4), reserve(f, b, 2))
	assert.True(t, errors.Is(err, store.ErrShort))
	after, err := w.StockItem(a.ID)
	require.NoError(t, err)
	assert.Zero(t, after.Reserved)
	require.NoError(t, w.Move(reserve(f, a, 4), reserve(f, b, 1)))
	by, err := w.ReservedFor(f.class.ID)
	require.NoError(t, err)
	assert.Equal(t, map[int64]map[int64]float64{f.class.ID: {a.ID: 4, b.ID: 1}}, by)

	items, err := other.Stock()
	require.NoError(t, err)
	assert.Empty(t, items)
	_, err = other.StockItem(a.ID)
	assert.ErrorIs(t, err, store.ErrNotFound)
	assert.ErrorIs(t, other.Move(store.StockMovement{ItemID: a.ID, Kind: store.Bought, Quantity: 1, MovedByID: g.account.ID, MovedAt: morning}), store.ErrInUse)
}
