package actor

import (
	"context"
	"crypto/sha256"
	"encoding/base64"
	"errors"
	"fmt"
	"strconv"

	"chalkstep/store"
)

// A Place is a machine of a class, beside which a phone lies.
type Place struct{ ClassID, MachineID int64 }

// stationMAC is how much of the signature a link carries: 96 bits.
const stationMAC = 12

func (p Place) link() sealed {
	return sealed{"station", stationMAC, []string{strconv.FormatInt(p.ClassID, 10), strconv.FormatInt(p.MachineID, 10)}}
}

// Token is what the link of a phone beside a machine carries: it opens that machine in
// that class, without an account, and nothing else.
func (p Place) Token(key []byte) string { return p.link().token(key) }

// Sender is what a press of the phone is called, whichever phone of the class sent it.
func (p Place) Sender(press string) string {
	sum := sha256.Sum256([]byte(fmt.Sprintf("%d\x00%s", p.MachineID, press)))
	return base64.RawURLEncoding.EncodeToString(sum[:18])
}

// Station finds what the link of a phone opens; [ErrNotFound] for one that was not signed
// here, or with a key that was renewed.
func (a *App) Station(ctx context.Context, token string) (Who, error) {
	parts, signed, ok := takenApart(token, 2, 80)
	if !ok {
		return Who{}, NotFound("the station")
	}
	var p Place
	var bad [2]error
	p.ClassID, bad[0] = strconv.ParseInt(parts[0], 10, 64)
	p.MachineID, bad[1] = strconv.ParseInt(parts[1], 10, 64)
	if errors.Join(bad[:]...) != nil {
		return Who{}, NotFound("the station")
	}
	found, err := a.store.StationsOf(ctx, p.ClassID)
	if err != nil {
		return Who{}, err
	}
	if !p.link().isSealed(found.Key, signed) {
		return Who{}, NotFound("the station")
	}
	who, err := newWho(store.Person{Role: store.StationPhone}, found.Workshop)
	who.Place, who.Revision, who.settings = p, found.Revision, &found.Workshop
	return who, err
}
