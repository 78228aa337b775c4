package store_test

import (
	"errors"
	"math/rand/v2"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/stock"
	"chalkstep/core/supply"
	"chalkstep/store"
	"chalkstep/store/storetest"
)

// lay puts an item on the shelf, with so many of it, and gives its ID.
func lay(t *testing.T, w store.Workshop, f fixture, name string, n float64) int64 {
	t.Helper()
	id, err := w.SaveStockItem(stock.Item{Key: supply.Named(supply.Blank, name), Form: stock.Each, Name: name, Pack: 1})
	require.NoError(t, err)
	require.NoError(t, w.Move(stock.Move{ItemID: id, Kind: stock.Bought, Quantity: n, ByID: f.person, At: morning}))
	return id
}

func reserve(f fixture, itemID int64, n float64) stock.Move {
	return stock.Move{ItemID: itemID, Kind: stock.Promised, Reserved: n, ClassID: f.class, ByID: f.person, At: morning}
}

// Fifty people reach for the last seven at once: exactly seven get one.
func TestFiftyReachForTheLastSeven(t *testing.T) {
	w, f := shop(t, storetest.Open(t), "rush")
	item := lay(t, w, f, "tote", 7)
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
	after, err := w.StockItem(item)
	require.NoError(t, err)
	assert.Equal(t, []float64{7, 7, 0}, []float64{after.OnHand, after.Reserved, after.Available()})
	moves, err := w.Ledger(item)
	require.NoError(t, err)
	require.Len(t, moves, 8, "the refused ones left nothing behind")
	assert.Equal(t, []string{"Totes", "Ola"}, []string{moves[0].Class, moves[0].By})
}

// Whatever is done, the balance is the sum of the ledger, nothing goes below
// nothing, and no more is spoken for than is there.
func TestTheLedgerAndTheBalanceAgree(t *testing.T) {
	w, f := shop(t, storetest.Open(t), "ledger")
	rng := rand.New(rand.NewPCG(4, 4))
	item := lay(t, w, f, "hoop tape", 5)
	onHand, reserved := 5.0, 0.0
	for range 250 {
		n := float64(1 + rng.IntN(4))
		m := stock.Move{ItemID: item, ByID: f.person, At: morning}
		switch rng.IntN(6) {
		case 0:
			m.Kind, m.Quantity = stock.Bought, n
		case 1:
			m.Kind, m.Quantity = stock.Spoiled, -n
		case 2:
			m = reserve(f, item, n)
		case 3:
			m.Kind, m.Reserved, m.ClassID = stock.Released, -n, f.class
		case 4:
			m.Kind, m.Quantity, m.Reserved, m.ClassID = stock.Used, -n, -n, f.class
		default:
			m.Kind, m.Quantity, m.ClassID = stock.Returned, n, f.class
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
	after, err := w.StockItem(item)
	require.NoError(t, err)
	assert.InDelta(t, onHand, after.OnHand, 1e-9)
	assert.InDelta(t, reserved, after.Reserved, 1e-9)
	require.NoError(t, w.Count(stock.Move{ItemID: item, ByID: f.person, At: morning}, onHand+3))
	after, err = w.StockItem(item)
	require.NoError(t, err)
	assert.InDelta(t, onHand+3, after.OnHand, 1e-9, "counting sets what is there")
	if reserved > 0 {
		assert.ErrorIs(t, w.Count(stock.Move{ItemID: item, ByID: f.person, At: morning}, 0), store.ErrShort,
			"less than is spoken for")
	}
}

// A line fails with all its fellows, and no other workshop's shelf is seen.
func TestMovesAreAllOrNone(t *testing.T) {
	s := storetest.Open(t)
	w, f := shop(t, s, "all")
	other, g := shop(t, s, "none")
	a, b := lay(t, w, f, "felt", 10), lay(t, w, f, "tape", 1)
	err := w.Move(reserve(f, a, 4), reserve(f, b, 2))
	assert.True(t, errors.Is(err, store.ErrShort))
	after, err := w.StockItem(a)
	require.NoError(t, err)
	assert.Zero(t, after.Reserved)
	require.NoError(t, w.Move(reserve(f, a, 4), reserve(f, b, 1)))
	by, err := w.ReservedFor(f.class)
	require.NoError(t, err)
	assert.Equal(t, map[int64]map[int64]float64{f.class: {a: 4, b: 1}}, by)

	items, err := other.Stock()
	require.NoError(t, err)
	assert.Empty(t, items)
	_, err = other.StockItem(a)
	assert.ErrorIs(t, err, store.ErrNotFound)
	assert.ErrorIs(t, other.Move(stock.Move{ItemID: a, Kind: stock.Bought, Quantity: 1, ByID: g.person, At: morning}),
		store.ErrInUse)
}
