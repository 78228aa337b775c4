package actor

import (
	"context"
	"reflect"

	"chalkstep/core/pace"
	"chalkstep/store"
)

// Learn has every workshop in which no class runs learn from its classes. Any copy of the
// application may, one at a time.
func (a *App) Learn(ctx context.Context) error {
	ids, err := a.store.Quiet(ctx, a.now())
	if err != nil {
		return err
	}
	for _, id := range ids {
		if err := LearnIn(a.store.For(ctx, id), nil); err != nil {
			return err
		}
	}
	return nil
}

// LearnIn learns from the classes of a workshop, after what is changed of what was learned
// before, nil for nothing.
func LearnIn(shop store.Workshop, change func(*pace.Learned) error) error {
	return shop.InTx(func(tx store.Workshop) error {
		before, err := tx.LockLearned()
		if err != nil {
			return err
		}
		if change != nil {
			if err := change(&before); err != nil {
				return err
			}
		}
		observed, err := tx.Observed()
		if err != nil {
			return err
		}
		now := pace.Learn(observed, before)
		if now.Thread, err = tx.ThreadUsed(); err != nil {
			return err
		}
		now.Thread.Aside = before.Thread.Aside
		if change == nil && (len(observed) == 0 && now.Thread == before.Thread || reflect.DeepEqual(now, before)) {
			return nil // what is planned stays as it is
		}
		return tx.SaveLearned(now)
	})
}
