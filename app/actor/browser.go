package actor

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"fmt"
	"strconv"
	"strings"

	"chalkstep/app/form"
	"chalkstep/store"
)

// A knownBrowser is one at which an account has signed in, by a name of its own.
type knownBrowser struct {
	accountID int64
	name      string
}

// mostKnown accounts are remembered by one browser: several people sign in at the
// computer of a room.
const mostKnown = 8

// knownSeparator stands between the accounts that a browser knows.
const knownSeparator = "~"

func (b knownBrowser) link() sealed {
	return sealed{"browser", longMAC, []string{strconv.FormatInt(b.accountID, 10), b.name}}
}

// triesKey counts wrong passwords of this browser alone.
func (b knownBrowser) triesKey() []byte {
	sum := sha256.Sum256(fmt.Appendf(nil, "browser\x00%d\x00%s", b.accountID, b.name))
	return sum[:]
}

// recognise finds in what a browser has the account that an e-mail belongs to; it is nil where
// that account has not signed in there.
func (a *App) recognise(ctx context.Context, known, email string) (*knownBrowser, error) {
	const longest = 90
	for _, token := range knownTokens(known) {
		parts, signed, ok := takenApart(token, 2, longest)
		if !ok {
			continue
		}
		id, err := strconv.ParseInt(parts[0], 10, 64)
		if err != nil || form.Cleaned(email) != email || len(email) > LongestEmail {
			continue
		}
		key, err := a.store.BrowserKey(ctx, id, email)
		if err != nil {
			return nil, err
		}
		if b := (knownBrowser{id, parts[1]}); key != nil && b.link().isSealed(key, signed) {
			return &b, nil
		}
	}
	return nil, nil
}

// remember adds an account to what a browser has; one that it knows it goes on knowing by the
// same name.
func (a *App) remember(ctx context.Context, known string, browser *knownBrowser, account store.Credentials) (string,
	error) {
	if browser != nil {
		return known, nil
	}
	key, err := a.store.BrowserKey(ctx, account.ID, account.Email)
	if err != nil {
		return "", err
	}
	tokens := []string{knownBrowser{account.ID, rand.Text()}.link().token(key)}
	own := strconv.FormatInt(account.ID, 10) + "."
	for _, token := range knownTokens(known) {
		if len(tokens) < mostKnown && !strings.HasPrefix(token, own) {
			tokens = append(tokens, token)
		}
	}
	return strings.Join(tokens, knownSeparator), nil
}

// knownTokens are those that a browser has, no more than it may have.
func knownTokens(known string) []string {
	tokens := strings.Split(known, knownSeparator)
	return tokens[:min(len(tokens), mostKnown)]
}
