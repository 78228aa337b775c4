package actor

import (
	"context"

	"chalkstep/store"
)

// Watched are the program itself in the workshops where somebody waits for a
// machine, or is expected at one.
func (a *App) Watched(ctx context.Context) ([]Actor, error) {
	ids, err := a.store.Watched(ctx, a.now())
	if err != nil {
		return nil, err
	}
	var desks []Actor
	for _, id := range ids {
		settings, err := a.store.For(ctx, id).Settings()
		if err != nil {
			return nil, err
		}
		who, err := newWho(store.Person{Role: store.Keeper}, settings)
		if err != nil {
			return nil, err
		}
		who.settings = &settings
		desks = append(desks, a.For(ctx, who))
	}
	return desks, nil
}
