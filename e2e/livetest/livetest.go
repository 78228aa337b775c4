// Package livetest reads the pages of a running class that keep themselves up to date, as a
// browser does, for tests.
package livetest

import (
	"bufio"
	"context"
	"io"
	"net/http"
	"strconv"
	"strings"
	"sync"
	"time"
)

// A Told part of a page came over a stream, with the number of the last event in it.
type Told struct {
	Seq  int64
	HTML string
}

// Follow reads a stream of server-sent events until the context ends, and comes back when
// it is cut, as a browser does.
func Follow(ctx context.Context, c *http.Client, address string, each func(Told)) {
	for ctx.Err() == nil {
		request, err := http.NewRequestWithContext(ctx, http.MethodGet, address, nil)
		if err != nil {
			return
		}
		answer, err := c.Do(request)
		if err != nil {
			select {
			case <-ctx.Done():
			case <-time.After(50 * time.Millisecond):
			}
			continue
		}
		ReadEvents(answer.Body, each)
		answer.Body.Close()
	}
}

// ReadEvents reads the parts of one stream until it ends.
func ReadEvents(body io.Reader, each func(Told)) {
	lines := bufio.NewScanner(body)
	lines.Buffer(nil, 1<<20)
	var part Told
	var kind string
	for lines.Scan() {
		line := lines.Text()
		switch {
		case strings.HasPrefix(line, "id: "):
			part.Seq, _ = strconv.ParseInt(line[len("id: "):], 10, 64)
		case strings.HasPrefix(line, "event: "):
			kind = line[len("event: "):]
		case strings.HasPrefix(line, "data: "):
			part.HTML += line[len("data: "):] + "\n"
		case line == "":
			if kind == "part" {
				each(part)
			}
			part, kind = Told{}, ""
		}
	}
}

// A Board is a page that is kept up to date, as far as it was told.
type Board struct {
	mu   sync.Mutex
	last Told
	seqs []int64
}

// Take is told a part.
func (b *Board) Take(part Told) {
	b.mu.Lock()
	defer b.mu.Unlock()
	b.last = part
	b.seqs = append(b.seqs, part.Seq)
}

// Seen is what the page shows.
func (b *Board) Seen() Told {
	b.mu.Lock()
	defer b.mu.Unlock()
	return b.last
}

// Seqs are the last events of the parts it was told, in order.
func (b *Board) Seqs() []int64 {
	b.mu.Lock()
	defer b.mu.Unlock()
	return b.seqs
}
