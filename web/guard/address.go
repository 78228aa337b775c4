package guard

import (
	"log/slog"
	"net/netip"
	"strings"
	"sync"

	"github.com/gofiber/fiber/v3"
)

var warnOnce sync.Once

// Address is where a request comes from: the peer, or where the peer is a
// trusted proxy, what it says. What a proxy appends stands last, so the list
// is read from the end up to the first address that is no trusted proxy;
// whatever a client wrote itself stands before that and is not looked at.
func (g *Guard) Address(c fiber.Ctx) netip.Addr {
	peer, ok := netip.AddrFromSlice(c.RequestCtx().RemoteIP())
	if !ok {
		return netip.IPv6Unspecified()
	}
	peer = peer.Unmap()
	said := c.Get(fiber.HeaderXForwardedFor)
	if !g.trusted(peer) {
		if said != "" {
			warnOnce.Do(func() {
				slog.Warn("a request says where it comes from, but by way of no trusted proxy, so that is not believed: name "+
					"the proxy in CHALKSTEP_PROXIES if it is one", "proxy", peer)
			})
		}
		return peer
	}
	hops := strings.Split(said, ",")
	client := peer
	for i := len(hops) - 1; i >= 0; i-- {
		hop, err := netip.ParseAddr(strings.TrimSpace(hops[i]))
		if err != nil {
			return client
		}
		if client = hop.Unmap(); !g.trusted(client) {
			return client
		}
	}
	return client
}

func (g *Guard) trusted(a netip.Addr) bool {
	for _, p := range g.cfg.Proxies {
		if p.Contains(a) {
			return true
		}
	}
	return false
}
