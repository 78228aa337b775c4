// Package machine is a stand-in for the machines of a class and the hands at them: it sews
// the class's own files stop by stop, as its clock goes, through the same links as the
// phones beside real machines.
package machine

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"time"
)

// A State is what the link of a station says (docs/formats.md).
type State struct {
	Machine  int64     `json:"machine"`
	Clock    time.Time `json:"clock"`
	Speed    float64   `json:"speed"`
	Running  bool      `json:"running"`
	Finished bool      `json:"finished"`
	// Seq is that of the last event of the class.
	Seq    int64    `json:"seq"`
	People []Person `json:"people"`
}

// A Person is somebody at a station.
type Person struct {
	Student  int64   `json:"student"`
	Name     string  `json:"name"`
	Presence string  `json:"presence"`
	Step     string  `json:"step"`
	Begun    bool    `json:"begun"`
	Minutes  float64 `json:"minutes"`
	Stop     int     `json:"stop"`
	Stops    []struct {
		N       int     `json:"n"`
		Minutes float64 `json:"minutes"`
	} `json:"stops"`
	Hand string `json:"hand"`
}

// A Press is what a station is told.
type Press struct {
	ID      string `json:"id"`
	Kind    string `json:"kind"`
	Student int64  `json:"student,omitempty"`
	Step    string `json:"step,omitempty"`
	Stop    int    `json:"stop,omitempty"`
	Reason  string `json:"reason,omitempty"`
}

// A Station is the link of a phone.
type Station struct {
	// Link is its whole address.
	Link string
	HTTP *http.Client
}

// State asks what the station is at.
func (s Station) State(ctx context.Context) (State, error) {
	var state State
	return state, s.ask(ctx, http.MethodGet, "/state", nil, &state)
}

// Press tells the station what happened; refused says why it does not count, empty where
// it does.
func (s Station) Press(ctx context.Context, p Press) (refused string, err error) {
	var answer struct {
		Pressed []struct {
			Refused string `json:"refused"`
		} `json:"pressed"`
	}
	if err := s.ask(ctx, http.MethodPost, "/press", map[string][]Press{"presses": {p}}, &answer); err != nil {
		return "", err
	}
	if len(answer.Pressed) != 1 {
		return "", fmt.Errorf("pressing at a station: %d answers to one press", len(answer.Pressed))
	}
	return answer.Pressed[0].Refused, nil
}

// mostAnswer is more than a station has to say.
const mostAnswer = 1 << 20

func (s Station) ask(ctx context.Context, method, path string, body, into any) error {
	var sent io.Reader
	if body != nil {
		data, err := json.Marshal(body)
		if err != nil {
			return fmt.Errorf("asking a station: %w", err)
		}
		sent = bytes.NewReader(data)
	}
	request, err := http.NewRequestWithContext(ctx, method, s.Link+path, sent)
	if err != nil {
		return fmt.Errorf("asking a station: %w", err)
	}
	if body != nil {
		request.Header.Set("Content-Type", "application/json")
	}
	answer, err := s.HTTP.Do(request)
	if err != nil {
		return fmt.Errorf("asking a station: %w", err)
	}
	defer answer.Body.Close()
	data, err := io.ReadAll(io.LimitReader(answer.Body, mostAnswer))
	if err != nil {
		return fmt.Errorf("asking a station: %w", err)
	}
	if answer.StatusCode != http.StatusOK {
		return fmt.Errorf("asking a station: %s", answer.Status)
	}
	if err := json.Unmarshal(data, into); err != nil {
		return fmt.Errorf("reading what a station says: %w", err)
	}
	return nil
}
