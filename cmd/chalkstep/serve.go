package main

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/netip"
	"net/url"
	"os"
	"path/filepath"
	"strings"
	"syscall"
	"time"

	"github.com/caarlos0/env/v11"
	"github.com/gofiber/fiber/v3"
	"github.com/spf13/cobra"

	"chalkstep/app/actor"
	"chalkstep/demo"
	"chalkstep/store"
	"chalkstep/store/cluster"
	"chalkstep/web"
)

// settings come from the environment; flags go before them.
type settings struct {
	Address     string `env:"CHALKSTEP_ADDRESS" envDefault:"127.0.0.1:8080"`
	Data        string `env:"CHALKSTEP_DATA" envDefault:"data"`
	DatabaseURL string `env:"DATABASE_URL"`
	// Public is the address people use, where it is not the one listened on.
	Public string `env:"CHALKSTEP_PUBLIC"`
	// Proxies are addresses or networks, with commas between.
	Proxies []string `env:"CHALKSTEP_PROXIES"`
	// Secure marks cookies for HTTPS only, whatever the public address says.
	Secure   bool          `env:"CHALKSTEP_SECURE"`
	Patience time.Duration `env:"CHALKSTEP_PATIENCE" envDefault:"20s"`
	Log      string        `env:"CHALKSTEP_LOG" envDefault:"info"`
}

// public reads the address people use: a scheme and a host, and no more.
func (s settings) public() (*url.URL, error) {
	if s.Public == "" {
		return nil, nil
	}
	u, err := url.Parse(s.Public)
	if err != nil || u.Scheme != "http" && u.Scheme != "https" || u.Host == "" || strings.Trim(u.Path, "/") != "" ||
		u.RawQuery != "" {
		return nil, usageError{fmt.Errorf("public address %q: expected one such as https://class.example.org", s.Public)}
	}
	return u, nil
}

// proxies reads the networks of trusted proxies.
func (s settings) proxies() ([]netip.Prefix, error) {
	var networks []netip.Prefix
	for _, text := range s.Proxies {
		text = strings.TrimSpace(text)
		if text == "" {
			continue
		}
		if address, err := netip.ParseAddr(text); err == nil {
			networks = append(networks, netip.PrefixFrom(address, address.BitLen()))
			continue
		}
		network, err := netip.ParsePrefix(text)
		if err != nil {
			return nil, usageError{
				fmt.Errorf("trusted proxy %q: expected an address such as 127.0.0.1 or a network such as 10.0.0.0/8", text)}
		}
		networks = append(networks, network)
	}
	return networks, nil
}

// databaseFlags adds the flags that say which database to use.
func (s *settings) databaseFlags(cmd *cobra.Command) {
	cmd.Flags().StringVar(&s.Data, "data", s.Data, "data folder of the private database (CHALKSTEP_DATA)")
	cmd.Flags().StringVar(&s.DatabaseURL, "database-url", s.DatabaseURL,
		"use this PostgreSQL server instead of a private one (DATABASE_URL)")
}

func newServe(name, short string, withDemo bool) *cobra.Command {
	s, envError := env.ParseAs[settings]()
	cmd := &cobra.Command{
		Use: name, Short: short, Args: usageArgs(cobra.NoArgs),
		RunE: func(cmd *cobra.Command, _ []string) error {
			if envError != nil {
				return usageError{fmt.Errorf("reading the settings from the environment: %w", envError)}
			}
			return serve(cmd.Context(), s, withDemo)
		},
	}
	cmd.Flags().StringVar(&s.Address, "address", s.Address, "where to listen (CHALKSTEP_ADDRESS)")
	cmd.Flags().StringVar(&s.Public, "public", s.Public,
		"the address people use, where it is another, such as https://class.example.org (CHALKSTEP_PUBLIC)")
	cmd.Flags().StringSliceVar(&s.Proxies, "proxies", s.Proxies,
		"addresses or networks of proxies to believe (CHALKSTEP_PROXIES)")
	cmd.Flags().DurationVar(&s.Patience, "patience", s.Patience, "how long a request may take (CHALKSTEP_PATIENCE)")
	cmd.Flags().StringVar(&s.Log, "log", s.Log, "least level to log: debug, info, warn or error (CHALKSTEP_LOG)")
	s.databaseFlags(cmd)
	return cmd
}

// serve runs the application until the context ends. The address is taken
// first, so that a second start fails before it touches the database.
func serve(ctx context.Context, s settings, withDemo bool) (err error) {
	var level slog.Level
	if err := level.UnmarshalText([]byte(s.Log)); err != nil {
		return usageError{fmt.Errorf("log level %q: expected debug, info, warn or error", s.Log)}
	}
	slog.SetDefault(slog.New(slog.NewTextHandler(os.Stderr, &slog.HandlerOptions{Level: level})))

	public, err := s.public()
	if err != nil {
		return err
	}
	proxies, err := s.proxies()
	if err != nil {
		return err
	}
	if s.Patience < time.Second || s.Patience > time.Hour {
		return usageError{fmt.Errorf("patience %v: expected a second to an hour", s.Patience)}
	}
	listener, err := net.Listen("tcp", s.Address)
	if errors.Is(err, syscall.EADDRINUSE) {
		return fmt.Errorf("another program already listens on %s: stop it, or choose another address with --address",
			s.Address)
	}
	if err != nil {
		return fmt.Errorf("listening on %s: %w", s.Address, err)
	}
	defer listener.Close()

	db, closeDatabase, err := s.openDatabase(ctx)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, closeDatabase()) }()
	if withDemo {
		if _, err := demo.Load(ctx, db, time.Now()); err != nil {
			return err
		}
	}
	a := actor.New(db, time.Now)
	face, err := web.New(web.Config{App: a, Public: public, Proxies: proxies, Secure: s.Secure, Patience: s.Patience})
	if err != nil {
		return err
	}
	go tidy(ctx, a)
	go keep(ctx, a)
	go a.Follow(ctx)
	return run(ctx, face, listener, s.Patience, withDemo)
}

// tidy brings what older versions kept up to date, and removes now and then
// what time has made useless.
func tidy(ctx context.Context, a *actor.App) {
	const every = time.Hour
	if err := a.RemakePhotos(ctx); err != nil && ctx.Err() == nil {
		slog.Warn("making old photos anew", "error", err)
	}
	ticker := time.NewTicker(every)
	defer ticker.Stop()
	for {
		if err := a.Tidy(ctx); err != nil && ctx.Err() == nil {
			slog.Warn("tidying up", "error", err)
		}
		if err := a.Learn(ctx); err != nil && ctx.Err() == nil {
			slog.Warn("learning from classes", "error", err)
		}
		select {
		case <-ctx.Done():
			return
		case <-ticker.C:
		}
	}
}

// openDatabase connects to the server that was named, or starts the private
// one; closing ends in order whatever was started.
func (s settings) openDatabase(ctx context.Context) (db *store.Store, closing func() error, err error) {
	closing = func() error { return nil }
	address := s.DatabaseURL
	var options []store.Option
	if address == "" {
		unlock, err := lockFolder(s.Data)
		if err != nil {
			return nil, nil, err
		}
		private, err := cluster.Start(ctx, s.Data, cluster.Options{})
		if err != nil {
			unlock()
			return nil, nil, err
		}
		private.Watch()
		address = private.URL("postgres")
		options = append(options, store.WhileRoom(private.Room))
		closing = func() error {
			defer unlock()
			return private.Stop()
		}
	}
	db, err = store.Open(ctx, address, options...)
	if err != nil {
		return nil, nil, errors.Join(err, closing())
	}
	stopServer := closing
	return db, func() error { return errors.Join(db.Close(), stopServer()) }, nil
}

// run serves until the context ends, then lets requests under way finish.
func run(ctx context.Context, face *fiber.App, listener net.Listener, patience time.Duration, withDemo bool) error {
	done := make(chan error, 1)
	go func() { done <- web.Serve(face, listener) }()
	fmt.Printf("Chalk Step is at http://%s\n", listener.Addr())
	if withDemo {
		fmt.Println("Sign in to the demo workshop with one of:")
		for _, l := range demo.Logins {
			fmt.Printf("  %-26s %-14s %s\n", l.Email, l.Password, l.Role)
		}
	}
	fmt.Println("Ctrl-C stops it.")
	select {
	case err := <-done:
		return fmt.Errorf("serving: %w", err)
	case <-ctx.Done():
	}
	// Every request under way ends within the patience, done or given up.
	const answering = 5 * time.Second
	err := face.ShutdownWithTimeout(patience + answering)
	switch {
	case errors.Is(err, context.DeadlineExceeded):
		slog.Warn("stopping without some connections that did not finish asking")
	case err != nil:
		return fmt.Errorf("stopping: %w", err)
	}
	<-done
	fmt.Println("Stopped.")
	return nil
}

// lockFolder keeps two applications from running one private database.
func lockFolder(folder string) (unlock func(), err error) {
	if err := os.MkdirAll(folder, 0o755); err != nil {
		return nil, fmt.Errorf("making the data folder: %w", err)
	}
	file, err := os.OpenFile(filepath.Join(folder, "lock"), os.O_CREATE|os.O_RDWR, 0o644)
	if err != nil {
		return nil, fmt.Errorf("locking the data folder: %w", err)
	}
	if err := syscall.Flock(int(file.Fd()), syscall.LOCK_EX|syscall.LOCK_NB); err != nil {
		file.Close()
		return nil, fmt.Errorf(
			"another Chalk Step already runs from the data folder %s: stop it, or choose another folder with --data", folder)
	}
	return func() { file.Close() }, nil
}
