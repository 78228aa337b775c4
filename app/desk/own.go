package desk

import (
	"context"
	"crypto/hmac"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"errors"
	"fmt"
	"net/netip"
	"strconv"
	"strings"
	"time"

	"github.com/alexedwards/argon2id"

	"chalkstep/core/crew"
	"chalkstep/store"
)

// A StudentLink is the personal link of a student, of a version.
type StudentLink struct {
	WorkshopID, StudentID int64
	Version               int
}

func (l StudentLink) sign(key []byte) []byte {
	mac := hmac.New(sha256.New, key)
	_, _ = fmt.Fprintf(mac, "chalkstep student %d %d %d", l.WorkshopID, l.StudentID, l.Version)
	return mac.Sum(nil)[:feedMAC]
}

// Token is what the link carries: with the student's PIN it opens their own pages, and
// nothing else.
func (l StudentLink) Token(key []byte) string {
	return fmt.Sprintf("%d.%d.%d.%s", l.WorkshopID, l.StudentID, l.Version, base64.RawURLEncoding.EncodeToString(l.sign(key)))
}

// A Door is what a personal link leads to.
type Door struct {
	Name, Workshop string
	// HasPIN tells that the student chose one: until then the link asks for it.
	HasPIN bool
	access store.Access
}

// Door finds what a student's link leads to; [ErrNotFound] for one that was not signed here,
// or was renewed.
func (a *App) Door(ctx context.Context, token string) (Door, error) {
	const longest = 100
	parts := strings.Split(token, ".")
	if len(parts) != 4 || len(token) > longest {
		return Door{}, NotFound("the link")
	}
	var l StudentLink
	var bad [3]error
	l.WorkshopID, bad[0] = strconv.ParseInt(parts[0], 10, 64)
	l.StudentID, bad[1] = strconv.ParseInt(parts[1], 10, 64)
	l.Version, bad[2] = strconv.Atoi(parts[2])
	signed, err := base64.RawURLEncoding.DecodeString(parts[3])
	if errors.Join(bad[0], bad[1], bad[2], err) != nil {
		return Door{}, NotFound("the link")
	}
	found, err := a.store.Access(ctx, l.WorkshopID, l.StudentID)
	if err != nil {
		return Door{}, err
	}
	if found.Version != l.Version || !hmac.Equal(signed, l.sign(found.Key)) {
		return Door{}, NotFound("the link")
	}
	return Door{found.Name, found.Workshop.Name, found.PINHash != "", found}, nil
}

// Lengths of a PIN.
const (
	ShortestPIN, LongestPIN = 4, 12
	triesPerPIN             = 5
)

// Enter opens a student's own pages to who has their link and their PIN, and gives the token
// of what is opened. The first PIN that comes is the one that is kept. [ErrSignIn] means a
// wrong one, [ErrTries] too many of them.
func (a *App) Enter(ctx context.Context, link, pin string, from netip.Addr) (session string, err error) {
	door, err := a.Door(ctx, link)
	if err != nil {
		return "", err
	}
	pin = strings.TrimSpace(pin)
	if len(pin) < ShortestPIN || len(pin) > LongestPIN || strings.Trim(pin, "0123456789") != "" {
		return "", Problems{"pin": "A PIN has 4 to 12 digits."}
	}
	shop := a.store.For(ctx, door.access.Workshop.ID)
	key := sha256.Sum256(fmt.Appendf(nil, "pin\x00%d", door.access.StudentID))
	limits := []Limit{{triesKey(from, ""), triesPerAddress}, {key[:], triesPerPIN}}
	if err := a.reached(ctx, limits); err != nil {
		return "", err
	}
	if !door.HasPIN {
		hash, err := a.Hash(ctx, pin)
		if err != nil {
			return "", err
		}
		if err := shop.SetPIN(door.access.StudentID, door.access.Version, hash); errors.Is(err, store.ErrChanged) {
			return "", Problems{"pin": "Somebody chose a PIN with this link meanwhile. If that was not you, ask for a new link."}
		} else if err != nil {
			return "", err
		}
	} else if err := a.checkPIN(ctx, door.access.PINHash, pin, limits); err != nil {
		return "", err
	}
	session = rand.Text()
	return session, shop.BeginAccess(door.access.StudentID, tokenHash(session), a.now())
}

// checkPIN compares a PIN in its turn; a wrong one counts.
func (a *App) checkPIN(ctx context.Context, hash, pin string, limits []Limit) error {
	return a.hashing.do(ctx, func() error {
		if err := a.reached(ctx, limits); err != nil {
			return err
		}
		same, err := argon2id.ComparePasswordAndHash(pin, hash)
		if err != nil || same {
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

// ownFor is how long a student's own pages stay open on a phone.
const ownFor = 90 * 24 * time.Hour

// Student finds whose own pages a session opens; [ErrNotFound] when nobody's, any more.
func (a *App) Student(ctx context.Context, session string) (Who, error) {
	found, err := a.store.AccessBy(ctx, tokenHash(session), a.now().Add(-ownFor))
	if err != nil {
		return Who{}, err
	}
	who, err := newWho(crew.Person{Name: found.Name, Role: crew.Student, Units: found.Units}, found.Workshop)
	who.StudentID, who.Revision, who.settings = found.StudentID, found.Revision, &found.Workshop
	return who, err
}

// Leave closes a student's own pages.
func (a *App) Leave(ctx context.Context, session string) error {
	return a.store.EndAccess(ctx, tokenHash(session))
}
