package app

import (
	"sync"

	lru "github.com/hashicorp/golang-lru/v2"
	"golang.org/x/sync/singleflight"

	"chalkstep/core/floor"
)

// A memo keeps what follows from its key alone and takes long to work out:
// plans and layouts, by the hash of what they are made from. It is never
// wrong, so copies of the application need not share it.
type memo struct {
	plans   *lru.Cache[[32]byte, floor.Result]
	layouts *lru.Cache[[32]byte, laid]
	// working lets one work out what several ask for at once.
	working singleflight.Group
	// photos are made one at a time.
	photos sync.Mutex
}

func newMemo() *memo {
	const most = 512
	// New fails for a size below 1 only.
	plans, _ := lru.New[[32]byte, floor.Result](most)
	layouts, _ := lru.New[[32]byte, laid](most)
	return &memo{plans: plans, layouts: layouts}
}
