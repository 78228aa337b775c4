package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"regexp"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"chalkstep/demo"
	"chalkstep/device/machine"
)

// A simulation is a class of a running Chalk Step that is played.
type simulation struct {
	URL, Email, Password string
	Class                int64
	Speed, Breaks, Slow  float64
	Seed                 uint64
}

func newSimulate() *cobra.Command {
	s := simulation{URL: "http://127.0.0.1:8080", Email: demo.Logins[0].Email, Password: demo.Logins[0].Password, Class: 2,
		Speed: 60, Breaks: 0.5, Seed: 1}
	cmd := &cobra.Command{
		Use:   "simulate --url URL --class ID",
		Short: "Play a class of a running Chalk Step with simulated machines, until it is done",
		Args:  usageArgs(cobra.NoArgs),
		RunE: func(cmd *cobra.Command, _ []string) error {
			return s.run(cmd.Context(), cmd.OutOrStdout())
		},
	}
	flags := cmd.Flags()
	flags.StringVar(&s.URL, "url", s.URL, "where the application is")
	flags.Int64Var(&s.Class, "class", s.Class, "the number of the class, as its address has it")
	flags.Float64Var(&s.Speed, "speed", s.Speed,
		"how many times as fast as on the wall the clock of the class goes, 1 to 3600")
	flags.Float64Var(&s.Breaks, "breaks", s.Breaks, "how often something breaks in an hour of sewing")
	flags.Float64Var(&s.Slow, "slow", s.Slow, "the share of students who take half as long again")
	flags.Uint64Var(&s.Seed, "seed", s.Seed, "chance: the same seed plays the same class")
	flags.StringVar(&s.Email, "email", s.Email, "who runs the class; one of the demo's people where nothing else is said")
	flags.StringVar(&s.Password, "password", s.Password, "their password")
	return cmd
}

var (
	formToken   = regexp.MustCompile(`name="_csrf" value="([^"]+)"`)
	stationLink = regexp.MustCompile(`href="(/station/[^"]+)"`)
)

// run signs in, has the class begin where it has not, sets its clock, and has its machines
// sew until everybody is done.
func (s simulation) run(ctx context.Context, out io.Writer) error {
	base := strings.TrimRight(s.URL, "/")
	if at, err := url.Parse(base); err != nil || at.Host == "" {
		return usageError{fmt.Errorf("address %q: expected one such as http://127.0.0.1:8080", s.URL)}
	}
	if s.Speed < 1 || s.Speed > 3600 || s.Breaks < 0 || s.Slow < 0 || s.Slow > 1 {
		return usageError{errors.New("expected --speed from 1 to 3600, --breaks from 0, --slow from 0 to 1")}
	}
	jar, err := cookiejar.New(nil)
	if err != nil {
		return fmt.Errorf("starting: %w", err)
	}
	b := browser{base, &http.Client{Jar: jar, Timeout: 30 * time.Second}}
	if _, err := b.send(ctx, "/sign-in", "/sign-in",
		url.Values{"email": {s.Email}, "password": {s.Password}}); err != nil {
		return fmt.Errorf("signing in as %s: %w", s.Email, err)
	}
	run := fmt.Sprintf("/classes/%d/run", s.Class)
	page, err := b.page(ctx, run)
	if err != nil {
		return fmt.Errorf("opening class %d: %w", s.Class, err)
	}
	if strings.Contains(page, `value="started 0`) {
		if _, err := b.send(ctx, run, run, url.Values{"press": {"started 0 - 0"}}); err != nil {
			return fmt.Errorf("starting class %d: %w", s.Class, err)
		}
	}
	setClock := func(ctx context.Context, speed float64) error {
		_, err := b.send(ctx, run, run, url.Values{"what": {"clocked"}, "speed": {fmt.Sprint(speed)}})
		return err
	}
	if err := setClock(ctx, s.Speed); err != nil {
		return fmt.Errorf("setting the clock of class %d, which has to run: %w", s.Class, err)
	}
	// Afterwards the clock goes on as that on the wall.
	defer func() { _ = setClock(context.WithoutCancel(ctx), 1) }()
	if page, err = b.page(ctx, fmt.Sprintf("/classes/%d/stations", s.Class)); err != nil {
		return fmt.Errorf("opening the stations of class %d: %w", s.Class, err)
	}
	room := machine.Room{BreaksPerHour: s.Breaks, SlowShare: s.Slow, Seed: s.Seed, HTTP: b.http, Say: func(text string) {
		fmt.Fprintln(out, text)
	}}
	for _, found := range stationLink.FindAllStringSubmatch(page, -1) {
		room.Links = append(room.Links, base+found[1])
	}
	if err := room.Play(ctx); err != nil {
		return fmt.Errorf("playing class %d: %w", s.Class, err)
	}
	fmt.Fprintln(out, "Everybody who is there is done.")
	return nil
}

// A browser is somebody at the application's pages.
type browser struct {
	base string
	http *http.Client
}

func (b browser) page(ctx context.Context, path string) (string, error) {
	request, err := http.NewRequestWithContext(ctx, http.MethodGet, b.base+path, nil)
	if err != nil {
		return "", err
	}
	return b.answer(request)
}

// send sends a form of a page to a path.
func (b browser) send(ctx context.Context, from, path string, form url.Values) (string, error) {
	page, err := b.page(ctx, from)
	if err != nil {
		return "", err
	}
	token := formToken.FindStringSubmatch(page)
	if token == nil {
		return "", errors.New("the page has no form")
	}
	form.Set("_csrf", token[1])
	request, err := http.NewRequestWithContext(ctx, http.MethodPost, b.base+path, strings.NewReader(form.Encode()))
	if err != nil {
		return "", err
	}
	request.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	return b.answer(request)
}

func (b browser) answer(request *http.Request) (string, error) {
	const most = 1 << 20
	answer, err := b.http.Do(request)
	if err != nil {
		return "", err
	}
	defer answer.Body.Close()
	body, err := io.ReadAll(io.LimitReader(answer.Body, most))
	if err != nil {
		return "", err
	}
	if answer.StatusCode != http.StatusOK {
		return "", fmt.Errorf("%s %s: %s", request.Method, request.URL.Path, answer.Status)
	}
	return string(body), nil
}
