package web

import (
	"net"
	"testing"

	"github.com/gofiber/fiber/v3"
	"github.com/stretchr/testify/require"
)

// Stopping ends the serving whenever it comes, also before it has begun.
func TestStoppingAtOnce(t *testing.T) {
	for range 50 {
		l, err := net.Listen("tcp", "127.0.0.1:0")
		require.NoError(t, err)
		f := fiber.New()
		done := make(chan error, 1)
		ready := make(chan bool)
		f.Hooks().OnListen(func(fiber.ListenData) error { close(ready); return nil })
		go func() { done <- Serve(f, l) }()
		<-ready
		require.NoError(t, f.Shutdown())
		require.NoError(t, <-done)
	}
}
