package store

import (
	lru "github.com/hashicorp/golang-lru/v2"

	"chalkstep/core/design"
)

// A cache keeps what cannot change any more under its key: a design at a
// version, a project at a version. Nothing in it is ever wrong, so copies of
// the application need not know of each other's.
type cache struct {
	designs  *lru.Cache[versioned, design.Design]
	projects *lru.Cache[versioned, projectSnapshot]
}

// versioned names a row of a workshop as it was at a version.
type versioned struct {
	workshop, id int64
	version      int
}

func newCache() (*cache, error) {
	const most = 512
	designs, err := lru.New[versioned, design.Design](most)
	if err != nil {
		return nil, err
	}
	projects, err := lru.New[versioned, projectSnapshot](most)
	return &cache{designs, projects}, err
}
