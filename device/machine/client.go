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

	"chalkstep/core/live/phone"
)

// A Station is the link of a phone.
type Station struct {
	// Link is its whole address.
	Link string
	HTTP *http.Client
}

// State asks what the station is at.
func (s Station) State(ctx context.Context) (phone.State, error) {
	var state phone.State
	return state, s.ask(ctx, http.MethodGet, "/state", nil, &state)
}

// Press tells the station what happened; refused says why it does not count, empty where
// it does.
func (s Station) Press(ctx context.Context, p phone.Press) (refused string, err error) {
	var answer phone.Answer
	if err := s.ask(ctx, http.MethodPost, "/press", phone.Presses{Presses: []phone.Press{p}}, &answer); err != nil {
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
