package actor

import (
	"context"
	"log/slog"
	"sync"
	"time"
)

// news tells whoever waits for it that something happened in a class.
type news struct {
	mu      sync.Mutex
	waiting map[int64]map[chan struct{}]bool
}

// tell wakes those who wait for a class, all for class 0. Whoever was told already and has
// not looked yet is not told twice.
func (n *news) tell(classID int64) {
	n.mu.Lock()
	defer n.mu.Unlock()
	for of, waiting := range n.waiting {
		if classID != 0 && of != classID {
			continue
		}
		for c := range waiting {
			select {
			case c <- struct{}{}:
			default:
			}
		}
	}
}

// News of a class come over the channel until done is called.
func (a *App) News(classID int64) (told <-chan struct{}, done func()) {
	c := make(chan struct{}, 1)
	a.news.mu.Lock()
	defer a.news.mu.Unlock()
	if a.news.waiting[classID] == nil {
		a.news.waiting[classID] = map[chan struct{}]bool{}
	}
	a.news.waiting[classID][c] = true
	return c, func() {
		a.news.mu.Lock()
		defer a.news.mu.Unlock()
		delete(a.news.waiting[classID], c)
		if len(a.news.waiting[classID]) == 0 {
			delete(a.news.waiting, classID)
		}
	}
}

// Follow hears what happens in classes, in this process and others, until the context ends.
// When the database was gone, everybody looks again once it is back.
func (a *App) Follow(ctx context.Context) {
	const again = 500 * time.Millisecond
	for ctx.Err() == nil {
		if err := a.store.Listen(ctx, a.news.tell); err != nil && ctx.Err() == nil {
			slog.Warn("not hearing of what happens in classes", "error", err)
		}
		select {
		case <-ctx.Done():
		case <-time.After(again):
		}
	}
}
