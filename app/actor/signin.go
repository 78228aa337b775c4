package actor

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"errors"
	"fmt"
	"net/netip"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"github.com/alexedwards/argon2id"
	"golang.org/x/sync/semaphore"

	"chalkstep/app/form"
	"chalkstep/store"
)

// Errors of signing in.
var (
	// ErrSignIn means the e-mail and password do not belong together. It does
	// not say which of them is wrong.
	ErrSignIn = errors.New("e-mail and password do not belong together")
	// ErrTries means that too many were wrong from one place.
	ErrTries = errors.New("too many tries")
	// ErrBusy means that too many sign in at this moment.
	ErrBusy = errors.New("too many sign in at once")
)

// Wrong passwords allowed within triesWindow: for one e-mail from one address,
// from one address in all, and for the present one where a person sets a new
// one. The first two count by address, so that nobody locks out others by
// guessing at their e-mail.
const (
	// Longest that can be an e-mail address, and a password.
	LongestEmail    = 254
	LongestPassword = 200
	TriesPerEmail   = 6
	triesPerAddress = 60
	triesWindow     = 5 * time.Minute
)

// SessionLength is how long a session lives that is not used.
const SessionLength = 12 * time.Hour

// hashing works on few passwords at a time; more wait, and many more are sent
// away. One takes 64 MiB.
type hashing struct {
	atOnce  *semaphore.Weighted
	waiting atomic.Int64
}

const (
	hashesAtOnce = 2
	mostWaiting  = 64
)

func newHashing() *hashing { return &hashing{atOnce: semaphore.NewWeighted(hashesAtOnce)} }

// do waits for its turn and works.
func (h *hashing) do(ctx context.Context, work func() error) error {
	if h.waiting.Add(1) > mostWaiting {
		h.waiting.Add(-1)
		return ErrBusy
	}
	err := h.atOnce.Acquire(ctx, 1)
	h.waiting.Add(-1)
	if err != nil {
		return fmt.Errorf("%w: %w", ErrBusy, err)
	}
	defer h.atOnce.Release(1)
	return work()
}

// HashPassword makes what is kept of a password.
func HashPassword(password string) (string, error) {
	hash, err := argon2id.CreateHash(password, argon2id.DefaultParams)
	if err != nil {
		return "", fmt.Errorf("hashing a password: %w", err)
	}
	return hash, nil
}

// decoyHash is compared with when there is no such account, so that an
// answer takes as long either way.
var decoyHash = sync.OnceValues(func() (string, error) { return HashPassword("no such account") })

// A SignInInput is who wants in, from where.
type SignInInput struct {
	Email, Password string
	Address         netip.Addr
	// Agent is the browser's own name.
	Agent string
	// Before is the token of the session the browser had, which ends.
	Before string
	// Known is what the browser has of earlier sign-ins.
	Known string
}

// A SignedIn browser has the token of a session, which is for it alone, and what it is Known
// by at the next sign-in.
type SignedIn struct{ Token, Known string }

// SignIn checks an e-mail and a password and begins a session. A browser at which the account
// has signed in before has a counter of its own for wrong passwords, and is not held up by
// what others try at its address.
func (a *App) SignIn(ctx context.Context, in SignInInput) (SignedIn, error) {
	limits := []Limit{{triesKey(in.Address, ""), triesPerAddress}, {triesKey(in.Address, in.Email), TriesPerEmail}}
	browser, err := a.recognise(ctx, in.Known, in.Email)
	if err != nil {
		return SignedIn{}, err
	}
	if browser != nil {
		limits = []Limit{{browser.triesKey(), TriesPerEmail}}
	}
	account, err := a.CheckPassword(ctx, in.Email, in.Password, limits...)
	if err != nil {
		return SignedIn{}, err
	}
	if in.Before != "" {
		if err := a.SignOut(ctx, in.Before); err != nil {
			return SignedIn{}, err
		}
	}
	out := SignedIn{Token: rand.Text()}
	if out.Known, err = a.remember(ctx, in.Known, browser, account); err != nil {
		return SignedIn{}, err
	}
	now := a.now()
	return out, a.store.BeginSession(ctx, account, tokenHash(out.Token),
		store.Session{BeganAt: now, SeenAt: now, Agent: form.Shortened(form.Cleaned(in.Agent), 200)})
}

// A Limit is how many wrong passwords one key may try within triesWindow.
type Limit struct {
	Key  []byte
	Most int
}

// reached tells whether one of some limits is.
func (a *App) reached(ctx context.Context, limits []Limit) error {
	for _, l := range limits {
		tries, err := a.store.Tries(ctx, l.Key, a.now())
		if err != nil {
			return err
		}
		if tries >= l.Most {
			return ErrTries
		}
	}
	return nil
}

// triesKey names an address, and whom it tries to be, by a hash: what a
// person typed may be long, and is nobody's to read. A network of IPv6 counts
// as one address, as any of its hosts has them all.
func triesKey(address netip.Addr, email string) []byte {
	const network = 64
	where := address.Unmap().String()
	if address.Unmap().Is6() {
		if prefix, err := address.WithZone("").Prefix(network); err == nil {
			where = prefix.String()
		}
	}
	sum := sha256.Sum256([]byte("sign-in\x00" + where + "\x00" + strings.ToLower(strings.TrimSpace(email))))
	return sum[:]
}

// CheckPassword finds the account that an e-mail and a password open. Wrong
// ones count towards the limits, which are looked at again when a password's
// turn has come: of many sent at once, no more are tried than of many in a
// row, and right ones hold nobody up.
func (a *App) CheckPassword(ctx context.Context, email, password string, limits ...Limit) (store.Credentials, error) {
	if err := a.reached(ctx, limits); err != nil {
		return store.Credentials{}, err
	}
	var account store.Credentials
	known := false
	if form.Cleaned(email) == email && len(email) <= LongestEmail && len(password) <= LongestPassword {
		var err error
		account, err = a.store.AccountByEmail(ctx, email)
		known = err == nil
		if err != nil && !errors.Is(err, store.ErrNotFound) {
			return store.Credentials{}, err
		}
	} else {
		password = "" // no such account can be, and long ones take long
	}
	hash := func() (string, error) { return account.PasswordHash, nil }
	if !known {
		hash = decoyHash
	}
	err := a.compare(ctx, password, known, hash, limits)
	if err != nil {
		return store.Credentials{}, fmt.Errorf("checking a password: %w", err)
	}
	return account, nil
}

// compare looks in its turn whether a secret is the one of a hash, and counts a wrong one,
// and one of somebody who is not known, towards the limits.
func (a *App) compare(ctx context.Context, secret string, known bool, hash func() (string, error),
	limits []Limit) error {
	return a.hashing.do(ctx, func() error {
		if err := a.reached(ctx, limits); err != nil {
			return err
		}
		kept, err := hash()
		if err != nil {
			return err
		}
		same, err := argon2id.ComparePasswordAndHash(secret, kept)
		if err != nil || same && known {
			return err
		}
		for _, l := range limits {
			if err := a.store.CountTry(ctx, l.Key, a.now(), triesWindow); err != nil {
				return err
			}
		}
		return ErrSignIn
	})
}

// SignOut ends a session for good.
func (a *App) SignOut(ctx context.Context, token string) error {
	return a.store.EndSession(ctx, tokenHash(token))
}

// seenEvery is how often the use of a session is noted.
const seenEvery = 10 * time.Minute

// Session finds who a token belongs to; [ErrNotFound] when it belongs to
// nobody, any more.
func (a *App) Session(ctx context.Context, token string) (Who, error) {
	now := a.now()
	found, err := a.store.FindSession(ctx, tokenHash(token), now.Add(-SessionLength))
	if err != nil {
		return Who{}, err
	}
	if now.Sub(found.Session.SeenAt) > seenEvery {
		if err := a.store.SeeSession(ctx, tokenHash(token), now); err != nil && !errors.Is(err, ErrFull) {
			return Who{}, err
		}
	}
	who, err := newWho(found.Person, found.Workshop)
	who.SessionID, who.Revision, who.settings = found.Session.ID, found.Revision, &found.Workshop
	return who, err
}

// Who is one of a workshop's people, for what runs without a session.
func (a *App) Who(ctx context.Context, workshopID, accountID int64) (Who, error) {
	shop := a.store.For(ctx, workshopID)
	account, err := shop.Account(accountID)
	if err != nil {
		return Who{}, err
	}
	workshop, err := shop.Settings()
	if err != nil {
		return Who{}, err
	}
	return newWho(account, workshop)
}

// tokenHash is what the database knows a token by.
func tokenHash(token string) []byte {
	sum := sha256.Sum256([]byte(token))
	return sum[:]
}

// Tidy removes what time has made useless. Any copy of the application may.
func (a *App) Tidy(ctx context.Context) error {
	const formsFor = 48 * time.Hour
	now := a.now()
	return a.store.Tidy(ctx, now, now.Add(-SessionLength), now.Add(-formsFor), now.Add(-ownFor))
}

// Hash is HashPassword in its turn.
func (a *App) Hash(ctx context.Context, password string) (hash string, err error) {
	err = a.hashing.do(ctx, func() error {
		hash, err = HashPassword(password)
		return err
	})
	return hash, err
}
