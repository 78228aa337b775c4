package desk

import (
	"context"
	"crypto/hmac"
	"crypto/sha256"
	"encoding/base64"
	"fmt"
	"strconv"
	"strings"

	"chalkstep/core/crew"
)

// A Place is a machine of a class, beside which a phone lies.
type Place struct{ ClassID, MachineID int64 }

// stationMAC is how much of the signature a link carries: 96 bits.
const stationMAC = 12

func (p Place) sign(key []byte) []byte {
	mac := hmac.New(sha256.New, key)
	_, _ = fmt.Fprintf(mac, "chalkstep station %d %d", p.ClassID, p.MachineID)
	return mac.Sum(nil)[:stationMAC]
}

// Token is what the link of a phone beside a machine carries: it opens that machine in
// that class, without an account, and nothing else.
func (p Place) Token(key []byte) string {
	return fmt.Sprintf("%d.%d.%s", p.ClassID, p.MachineID, base64.RawURLEncoding.EncodeToString(p.sign(key)))
}

// Sender is what a press of the phone is called, whichever phone of the class sent it.
func (p Place) Sender(press string) string {
	sum := sha256.Sum256([]byte(fmt.Sprintf("%d\x00%s", p.MachineID, press)))
	return base64.RawURLEncoding.EncodeToString(sum[:18])
}

// Station finds what the link of a phone opens; [ErrNotFound] for one that was not signed
// here, or with a key that was renewed.
func (a *App) Station(ctx context.Context, token string) (Who, error) {
	const longest = 80
	parts := strings.Split(token, ".")
	if len(parts) != 3 || len(token) > longest {
		return Who{}, NotFound("the station")
	}
	var p Place
	var err error
	if p.ClassID, err = strconv.ParseInt(parts[0], 10, 64); err != nil {
		return Who{}, NotFound("the station")
	}
	if p.MachineID, err = strconv.ParseInt(parts[1], 10, 64); err != nil {
		return Who{}, NotFound("the station")
	}
	signed, err := base64.RawURLEncoding.DecodeString(parts[2])
	if err != nil {
		return Who{}, NotFound("the station")
	}
	found, err := a.store.StationsOf(ctx, p.ClassID)
	if err != nil {
		return Who{}, err
	}
	if !hmac.Equal(signed, p.sign(found.Key)) {
		return Who{}, NotFound("the station")
	}
	who, err := newWho(crew.Person{Role: crew.Station}, found.Workshop)
	who.Place, who.Revision, who.settings = p, found.Revision, &found.Workshop
	return who, err
}
