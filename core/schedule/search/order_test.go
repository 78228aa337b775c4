package search_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"

	"chalkstep/core/schedule/search"
)

// Turns are put in order by time, and by person where times are the same; nobody is lost
// however far away a time is.
func TestTurnsInOrder(t *testing.T) {
	const far = math.MaxInt64
	for name, c := range map[string]struct {
		times []int64
		order []int
	}{
		"as they are":    {[]int64{0, 5, 9}, []int{0, 1, 2}},
		"the other way":  {[]int64{9, 5, 0}, []int{2, 1, 0}},
		"the same":       {[]int64{4, 4, 0, 0}, []int{2, 3, 0, 1}},
		"as far as goes": {[]int64{far, 1, 0, far}, []int{2, 1, 0, 3}},
	} {
		t.Run(name, func(t *testing.T) { assert.Equal(t, c.order, search.InOrder(c.times)) })
	}
}
