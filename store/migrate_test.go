package store_test

import (
	"math"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/kit"
	"chalkstep/core/pace"
	"chalkstep/core/policy"
	"chalkstep/core/project"
	"chalkstep/core/stock"
	"chalkstep/core/supply"
	"chalkstep/store"
	"chalkstep/store/storetest"
)

// earlier is the demo workshop as an earlier version kept it, with stock
// reserved for two classes, kits packed, and somebody who is late.
const earlier = "testdata/demo-at-migration-5.sql.gz"

// What an earlier version kept is all there, and guarded as it is today.
func TestAnEarlierWorkshopIsCarriedOver(t *testing.T) {
	s := storetest.OpenAt(t, earlier, "")
	w := s.For(t.Context(), 1)
	designs, total, err := w.Designs(store.DesignFilter{}, all)
	require.NoError(t, err)
	assert.Equal(t, 7, total)
	for _, d := range designs {
		assert.NotEmpty(t, d.Stops, d.Name)
	}
	assert.NoError(t, w.DeleteDesign(5), "nothing is made of the single buoy")
	assert.ErrorIs(t, w.DeleteDesign(2), store.ErrInUse)
	class, err := w.Class(3)
	require.NoError(t, err)
	assert.Len(t, class.Places, 8)
	assert.Equal(t, "Buoy badges, six in one hoop", class.Project.Design().Name)
	packed := 0
	for _, s := range class.Places {
		if s.Kit == kit.Packed {
			packed++
			assert.Contains(t, s.Packed, kit.ItemID("@:step-card"))
		}
	}
	assert.Equal(t, 2, packed)

	settings, err := w.Settings()
	require.NoError(t, err)
	assert.Equal(t, policy.Defaults().Kit, settings.Kit)
	assert.Equal(t, policy.Defaults().Pace, settings.Pace)
	badges := class.Project
	assert.Equal(t, []project.Part{{Name: "badge pin", Count: 6}}, badges.Parts)
	assert.Len(t, badges.Work, 1)
	assert.Equal(t, pace.Defaults().HoopWoven, badges.Minutes[pace.StepHoop])

	by, err := w.ReservedFor(3, 4)
	require.NoError(t, err)
	items, err := w.Stock()
	require.NoError(t, err)
	keys := map[string]string{}
	for _, item := range items {
		keys[item.Name] = item.Key.String()
		assert.NoError(t, item.Key.Check(), item.Name)
		assert.InDelta(t, by[3][item.ID]+by[4][item.ID], item.Reserved, 1e-6, item.Name)
	}
	assert.NotEmpty(t, by[3])
	assert.NotEmpty(t, by[4])
	for name, key := range map[string]supply.Key{
		"Tear-away medium, 50 cm": supply.Sheet(supply.TearAway, supply.Medium),
		"Bobbins, tall steel":     supply.Bobbins("tall, steel"), "Badge pins": supply.Named(supply.Part, "badge pin"),
		"Needles 80/12 ballpoint": supply.Needles(supply.Ballpoint, "80/12"),
		"Canvas totes":            supply.Named(supply.Blank, "canvas tote"),
	} {
		assert.Equal(t, key.String(), keys[name], name)
	}

	spools := 0
	for _, item := range items {
		if item.Key.Kind != supply.Thread {
			continue
		}
		spools++
		assert.Equal(t, stock.Spool, item.Form, item.Name)
		assert.Equal(t, 1000.0, item.Metres, item.Name)
		assert.Zero(t, math.Mod(item.OnHand, 1_000_000), "%s: whole spools, in millimetres, not %v", item.Name, item.OnHand)
		assert.GreaterOrEqual(t, item.OnHand, 1_000_000.0, item.Name)
	}
	assert.Positive(t, spools)

	machines, err := w.Machines()
	require.NoError(t, err)
	runs := 0
	for _, m := range machines {
		runs += m.Logged.Count
		assert.GreaterOrEqual(t, m.Logged.TookMinutes, 0.0)
	}
	assert.Equal(t, 4, runs)
}

// yesterdays is the demo workshop as the version before calling off could be taken back kept
// it, with a class called off that is over, and one that is to come.
const yesterdays = "testdata/demo-at-migration-34.sql.gz"

// What was called off stays so, also where that would be refused today.
func TestWhatWasCalledOffStaysSo(t *testing.T) {
	w := storetest.OpenAt(t, yesterdays, "").For(t.Context(), 1)
	for id, off := range map[int64]bool{1: true, 2: false, 3: false, 4: true} {
		class, err := w.Class(id)
		require.NoError(t, err)
		assert.Equal(t, off, class.Off(), class.Name)
		assert.Equal(t, class.OffAt, class.FreedAt, "its slots are free")
	}
	class, err := w.Class(4)
	require.NoError(t, err)
	require.NoError(t, w.Reinstate(class, []int64{class.Machines[0].ID}, nil, nil))
	class, err = w.Class(4)
	require.NoError(t, err)
	assert.False(t, class.Off())
	assert.ErrorIs(t, w.CallOff(2, class.StartsAt, 1), store.ErrRefused, "it has begun")
	assert.ErrorIs(t, w.CallOff(3, class.EndsAt.AddDate(1, 0, 0), 1), store.ErrRefused, "it is over then")
}

// Sums that two at once had driven apart before the database held to them
// agree again, and every class can be put right.
func TestSumsThatWereBookedTwiceAgreeAgain(t *testing.T) {
	s := storetest.OpenAt(t, earlier, `
		INSERT INTO stock_movements (workshop_id, item_id, kind, quantity, reserved, class_id, moved_by, moved_at)
		SELECT workshop_id, item_id, 'used', -reserved / 2, -reserved, class_id, 1, now() FROM stock_movements
		WHERE kind = 'reserved' AND class_id = 3;
		INSERT INTO stock_movements (workshop_id, item_id, kind, quantity, reserved, class_id, moved_by, moved_at)
		SELECT m.workshop_id, m.item_id, 'used', -1, -1, 3, 1, now() FROM stock_movements m
		JOIN stock_items i ON i.id = m.item_id WHERE m.kind = 'reserved' AND m.class_id = 4 AND i.kind = 'blank';`)
	w := s.For(t.Context(), 1)
	by, err := w.ReservedFor(3, 4)
	require.NoError(t, err)
	assert.Empty(t, by[3])
	require.NotEmpty(t, by[4])
	for itemID, held := range by[4] {
		require.NoError(t, w.Move(stock.Move{ItemID: itemID, Kind: stock.Used, Quantity: -held, Reserved: -held, ClassID: 4,
			ByID: 1, At: morning}))
	}
	items, err := w.Stock()
	require.NoError(t, err)
	for _, item := range items {
		assert.InDelta(t, 0, item.Reserved, 1e-6, item.Name)
	}
}

// Fifteen processes that open one empty database at once all get in, and the
// tables are made once.
func TestFifteenOpenAnEmptyDatabaseAtOnce(t *testing.T) {
	url := storetest.URL(t)
	var wait sync.WaitGroup
	errs := make(chan error, 15)
	for range 15 {
		wait.Go(func() {
			s, err := store.Open(t.Context(), url)
			if err == nil {
				err = s.Close()
			}
			errs <- err
		})
	}
	wait.Wait()
	close(errs)
	for err := range errs {
		assert.NoError(t, err)
	}
}
