//go:build attack

package attack

import (
	"fmt"
	"net/http"
	"net/url"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/store"
	"chalkstep/store/storetest"
)

// Two hundred clients reach for one slot at once, fifty times, on one program and on two:
// one has it, and every other is told when the machine is free instead.
func TestARaceForASlot(t *testing.T) {
	const rounds, clients = 50, 200
	for _, programs := range []int{1, 2} {
		t.Run(fmt.Sprintf("%d programs", programs), func(t *testing.T) {
			address := storetest.URL(t)
			var people []*client
			for i := range programs {
				p := run(t, []string{"demo"}, "DATABASE_URL="+address)
				for range 8 / programs {
					people = append(people, signedIn(t, p.base, []store.Role{store.Owner, store.Instructor}[i%2]))
				}
			}
			tokens := make([]string, len(people))
			for i, c := range people {
				tokens[i] = c.token(t, "/machines/bookings")
			}
			winners, told := 0, 0
			begin := time.Now()
			for round := range rounds {
				day := time.Now().AddDate(0, 0, 3+round).Format(time.DateOnly)
				var won, others atomic.Int64
				var wait sync.WaitGroup
				for n := range clients {
					wait.Go(func() {
						i := n % len(people)
						status, body, err := people[i].post("/machines/bookings", url.Values{
							"_csrf": {tokens[i]}, "machine": {"3"}, "care": {"yes"}, "note": {fmt.Sprint("client ", n)}, "date": {day},
							"from": {"10:00"}, "to": {"11:00"},
						})
						if !assert.NoError(t, err) {
							return
						}
						switch {
						case status == http.StatusOK:
							won.Add(1)
						case strings.Contains(body, "Lantern is booked 10:00–11:00") && strings.Contains(body, "It is free"):
							others.Add(1)
						default:
							t.Errorf("client %d: %d %.300s", n, status, body)
						}
					})
				}
				wait.Wait()
				require.EqualValues(t, 1, won.Load(), "round %d", round)
				winners, told = winners+int(won.Load()), told+int(others.Load())
			}
			row(fmt.Sprintf("%d × %d clients race for one slot on %d programs", rounds, clients, programs),
				fmt.Sprintf("%d winners, %d told when it is free, %v", winners, told, time.Since(begin).Round(time.Second)),
				fmt.Sprintf("%d, %d", rounds, rounds*(clients-1)))
			assert.Equal(t, rounds*(clients-1), told)
		})
	}
}
