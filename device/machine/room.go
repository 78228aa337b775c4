package machine

import (
	"context"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"net/http"
	"time"

	"chalkstep/core/live/phone"
)

// A Room is a class that is played: its machines, its benches and how the hands are.
type Room struct {
	// Links of the stations, the benches' among them.
	Links []string
	// BreaksPerHour of sewing, a fifth of which are bobbins that run out; SlowShare of the
	// students take half as long again.
	BreaksPerHour, SlowShare float64
	Seed                     uint64
	HTTP                     *http.Client
	// Say is told what happens; nil for nobody.
	Say func(string)
}

// How what is played varies and goes on.
const (
	slowFactor    = 1.5
	spread        = 0.12
	repairMinutes = 6
	bobbinShare   = 0.2
	// lookEvery is how much of the class's time passes between two looks, leastLook how
	// little of that on the wall.
	lookEvery = 20 * time.Second
	leastLook = 30 * time.Millisecond
	// mostLost looks in a row that find nobody end it.
	mostLost = 200
)

// ErrLost means that the class did not answer for long.
var ErrLost = errors.New("the class does not answer")

// A task is what somebody is at, until when, by the clock of the class.
type task struct {
	what  string
	due   time.Time
	broke time.Time
	press phone.Press
	// repaired is when a break that was told is mended, zero for none.
	repaired time.Time
}

// A player has a class played.
type player struct {
	Room
	tasks map[int64]*task
	slow  map[int64]bool
	log   func(format string, args ...any)
}

// Play has a class that runs go on until everybody who is there is done. What cannot be
// told just now is told later, under the same name.
func (r Room) Play(ctx context.Context) error {
	p := &player{Room: r, tasks: map[int64]*task{}, slow: map[int64]bool{}, log: func(format string, args ...any) {
		if r.Say != nil {
			r.Say(fmt.Sprintf(format, args...))
		}
	}}
	lost := 0
	for {
		finished, speed, err := p.look(ctx)
		switch {
		case ctx.Err() != nil:
			return ctx.Err()
		case err != nil:
			if lost++; lost > mostLost {
				return fmt.Errorf("%w: %w", ErrLost, err)
			}
		case finished:
			return nil
		default:
			lost = 0
		}
		wait := max(leastLook, time.Duration(float64(lookEvery)/max(1, speed)))
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(wait):
		}
	}
}

// look goes round all stations once.
func (p *player) look(ctx context.Context) (finished bool, speed float64, err error) {
	for _, link := range p.Links {
		s := Station{link, p.HTTP}
		state, asking := s.State(ctx)
		if asking != nil {
			err = errors.Join(err, asking)
			continue
		}
		finished, speed = state.Finished, state.Speed
		if !state.Running {
			continue
		}
		for _, person := range state.People {
			if told := p.goOn(ctx, s, state, person); told != nil {
				err = errors.Join(err, told)
			}
		}
	}
	return finished && err == nil, speed, err
}

// goOn has somebody do what they are at, and say so when it is done.
func (p *player) goOn(ctx context.Context, s Station, state phone.State, person phone.Person) error {
	what := fmt.Sprintf("%s %s %d", person.Presence, person.Step, person.Stop)
	t := p.tasks[person.Student]
	if t == nil || t.what != what {
		t = p.begin(state, person, what)
		if t == nil {
			return nil
		}
		p.tasks[person.Student] = t
	}
	switch {
	case !t.repaired.IsZero():
		if state.Clock.Before(t.repaired) {
			return nil
		}
		_, err := p.tell(ctx, s, state, person,
			phone.Press{ID: t.press.ID + "-going", Kind: "going", Student: person.Student})
		if err == nil {
			t.due = t.due.Add(t.repaired.Sub(t.broke))
			t.repaired, t.broke = time.Time{}, time.Time{}
		}
		return err
	case !t.broke.IsZero() && !state.Clock.Before(t.broke):
		reason := "thread-broke"
		if p.rng(person, what+" bobbin").Float64() < bobbinShare {
			reason = "bobbin-out"
		}
		_, err := p.tell(ctx, s, state, person,
			phone.Press{ID: t.press.ID + "-hand", Kind: "hand-up", Student: person.Student, Reason: reason})
		if err == nil {
			t.repaired = t.broke.Add(time.Duration(repairMinutes * float64(time.Minute)))
		}
		return err
	case state.Clock.Before(t.due):
		return nil
	}
	refused, err := p.tell(ctx, s, state, person, t.press)
	if err == nil && refused != "" {
		delete(p.tasks, person.Student) // the class went on otherwise: look again
	}
	return err
}

// begin is somebody who comes to something new; nil where they wait.
func (p *player) begin(state phone.State, person phone.Person, what string) *task {
	rng := p.rng(person, what)
	if _, known := p.slow[person.Student]; !known {
		p.slow[person.Student] = p.rng(person, "slow").Float64() < p.SlowShare
	}
	minutes := person.Minutes
	t := &task{what: what, press: phone.Press{ID: name(), Kind: "done", Student: person.Student, Step: person.Step}}
	switch {
	case person.Presence == "awaited":
		minutes, t.press = 4*rng.Float64(), phone.Press{ID: t.press.ID, Kind: "here", Student: person.Student}
	case person.Presence != "here" || !person.Begun:
		return nil
	case len(person.Stops) > 1:
		minutes = person.Stops[0].Minutes
		t.press.Kind, t.press.Stop = "stop-done", person.Stop
	}
	length := minutes * math.Exp(spread*rng.NormFloat64())
	if p.slow[person.Student] && len(person.Stops) == 0 {
		length *= slowFactor
	}
	t.due = state.Clock.Add(time.Duration(length * float64(time.Minute)))
	if after := rng.ExpFloat64() * 60 / max(p.BreaksPerHour, 1e-9); len(person.Stops) > 0 && after < length {
		t.broke = state.Clock.Add(time.Duration(after * float64(time.Minute)))
	}
	return t
}

// tell presses under a name that stays the same however often it has to be sent.
func (p *player) tell(ctx context.Context, s Station, state phone.State, person phone.Person,
	press phone.Press) (refused string,
	err error) {
	refused, err = s.Press(ctx, press)
	if err == nil {
		p.log("%s %s: %s %s%s%s", state.Clock.Format("15:04"), person.Name, press.Kind, press.Step, press.Reason,
			told(refused))
	}
	return refused, err
}

func told(refused string) string {
	if refused == "" {
		return ""
	}
	return " (" + refused + ")"
}

// rng is what chance has for somebody at something: the same for the same seed.
func (p *player) rng(person phone.Person, what string) *rand.Rand {
	hash := uint64(14695981039346656037)
	for _, b := range []byte(fmt.Sprintf("%d %s", person.Student, what)) {
		hash = (hash ^ uint64(b)) * 1099511628211
	}
	return rand.New(rand.NewPCG(p.Seed, hash))
}

// name is another for each press, whatever the seed.
func name() string { return fmt.Sprintf("%016x%08x", rand.Uint64(), rand.Uint32()) }
