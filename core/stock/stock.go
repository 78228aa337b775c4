package stock

import (
	"sync"

	"chalkstep/core/supply"
)

// A Stock is a shelf that classes take from, one after the other. It remembers
// what it found for each thing, as one class wants what another did; it is for
// one goroutine.
type Stock struct {
	items []Item
	keys  []supply.Key
	// found is asked by classes that are worked out at once.
	mu    sync.Mutex
	found map[supply.Key][]supply.StandIn
}

// Of makes a Stock of what lies on a shelf.
func Of(items []Item) *Stock {
	s := &Stock{items: items, keys: make([]supply.Key, len(items)), found: map[supply.Key][]supply.StandIn{}}
	for i, item := range items {
		s.keys[i] = item.Key
	}
	return s
}

// nearest lists the items that may be taken for a thing, the best first: what
// was wanted before what stands in for it.
func (s *Stock) nearest(want supply.Key) []supply.StandIn {
	s.mu.Lock()
	defer s.mu.Unlock()
	found, known := s.found[want]
	if !known {
		found = supply.StandIns(s.keys, want)
		s.found[want] = found
	}
	return found
}
