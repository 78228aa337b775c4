package actor

import (
	"context"
	"errors"
	"fmt"

	lru "github.com/hashicorp/golang-lru/v2"
	"golang.org/x/sync/singleflight"

	"chalkstep/core/card"
	"chalkstep/core/classday"
	"chalkstep/core/cutplan"
	"chalkstep/core/live"
	"chalkstep/core/schedule"
)

// A Memo keeps what follows from its key alone and takes long to work out:
// plans and layouts, by the hash of what they are made from. It is never
// wrong, so copies of the application need not share it.
type Memo struct {
	Plans   *lru.Cache[[32]byte, schedule.Plan]
	Layouts *lru.Cache[[32]byte, Laid]
	// Runs are running classes, by what they follow from.
	Runs *lru.Cache[RunKey, live.Page]
	// Offers to those who will be late in them.
	Offers *lru.Cache[RunKey, []live.Offer]
	// Cards of students at a machine, for as long as a minute.
	Cards *lru.Cache[CardKey, card.Card]
	// Levers of classes at a revision of the workshop, with what of them was picked.
	Levers  *lru.Cache[LeversKey, Levers]
	prints  *lru.Cache[[32]byte, []byte]
	working singleflight.Group
}

func newMemo() *Memo {
	const most = 512
	// New fails for a size below 1 only.
	plans, _ := lru.New[[32]byte, schedule.Plan](most)
	layouts, _ := lru.New[[32]byte, Laid](most)
	runs, _ := lru.New[RunKey, live.Page](mostRuns)
	cards, _ := lru.New[CardKey, card.Card](most)
	levers, _ := lru.New[LeversKey, Levers](mostRuns)
	prints, _ := lru.New[[32]byte, []byte](keptPrints)
	offers, _ := lru.New[RunKey, []live.Offer](mostRuns)
	return &Memo{Plans: plans, Layouts: layouts, Runs: runs, Offers: offers, Levers: levers, Cards: cards, prints: prints}
}

// mostRuns are kept: of the classes that go on, the last few seconds.
const mostRuns = 64

// A RunKey says what a running class follows from: its log at a revision of the workshop,
// and the time, to a few seconds.
type RunKey struct{ WorkshopID, Revision, ClassID, Clock int64 }

// A LeversKey says what the levers of a class follow from.
type LeversKey struct {
	WorkshopID, Revision, ClassID int64
	Picked                        string
}

// Levers are what would help a class, and what some of it would give together.
type Levers struct {
	Each     []classday.Lever
	Together *classday.Lever
}

// A CardKey says whose card it is, of which class as it was saved, at which minute.
type CardKey struct {
	WorkshopID, ClassID int64
	Version             int
	StudentID, Minute   int64
}

// A Laid is pieces on a material, and those that found no room.
type Laid struct {
	Layout cutplan.Layout
	Rest   []cutplan.Piece
}

// Shared does what several ask for at once one time, by its key. Whoever began it may
// go away meanwhile, which ends the work: those who still wait begin again.
func Shared[V any](d Actor, key string, work func() (V, error)) (V, error) {
	for {
		made, err, shared := d.app.memo.working.Do(key, func() (any, error) { return work() })
		leftAlone := errors.Is(err, context.Canceled) || errors.Is(err, context.DeadlineExceeded)
		if !shared || !leftAlone || d.ctx.Err() != nil {
			return made.(V), err
		}
	}
}

// Remembered is what a cache has for a key, or what is made for it now: when several ask at
// once, one makes it. What fails is not kept. What says which cache it is.
func Remembered[K comparable, V any](d Actor, cache *lru.Cache[K, V], what string, key K, makeIt func() (V, error)) (V,
	error) {
	if known, found := cache.Get(key); found {
		return known, nil
	}
	return Shared(d, fmt.Sprint(what, " ", key), func() (V, error) {
		if known, found := cache.Get(key); found {
			return known, nil
		}
		made, err := makeIt()
		if err == nil {
			cache.Add(key, made)
		}
		return made, err
	})
}

// Memo of the application.
func (d Actor) Memo() *Memo { return d.app.memo }

// App the actor belongs to.
func (d Actor) App() *App { return d.app }

// PlanHashes are those of the plans that are remembered.
func (m *Memo) PlanHashes() [][]byte {
	keys := m.Plans.Keys()
	hashes := make([][]byte, len(keys))
	for i := range keys {
		hashes[i] = keys[i][:]
	}
	return hashes
}
