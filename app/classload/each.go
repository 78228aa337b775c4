package classload

import (
	"fmt"
	"runtime"
	"runtime/debug"

	"golang.org/x/sync/errgroup"
)

// each does something for so many, as many at once as there are processors. What panics
// does so where each was called, so that it ends one request and not the application.
func each(n int, do func(i int)) {
	var all errgroup.Group
	all.SetLimit(runtime.GOMAXPROCS(0))
	for i := range n {
		all.Go(func() (err error) {
			defer func() {
				if caught := recover(); caught != nil {
					err = fmt.Errorf("%v\n%s", caught, debug.Stack())
				}
			}()
			do(i)
			return nil
		})
	}
	if err := all.Wait(); err != nil {
		panic(err)
	}
}
