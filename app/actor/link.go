package actor

import (
	"crypto/hmac"
	"crypto/sha256"
	"encoding/base64"
	"strings"
)

// A sealed link opens one thing to whoever has it, without an account: parts that say what,
// and a signature of them for a purpose. What a link is for is so never taken for another.
type sealed struct {
	purpose string
	// bytes of the signature it carries.
	bytes int
	parts []string
}

func (l sealed) sign(key []byte) []byte {
	mac := hmac.New(sha256.New, key)
	_, _ = mac.Write([]byte("chalkstep " + l.purpose + " " + strings.Join(l.parts, " ")))
	return mac.Sum(nil)[:l.bytes]
}

// token is what the link carries.
func (l sealed) token(key []byte) string {
	return strings.Join(l.parts, ".") + "." + base64.RawURLEncoding.EncodeToString(l.sign(key))
}

// isSealed tells whether a signature that came with the link was made with a key.
func (l sealed) isSealed(key, signed []byte) bool { return hmac.Equal(signed, l.sign(key)) }

// takenApart is a token as so many parts and their signature; ok is false for what is no
// token of so many parts, or is longer than one can be.
func takenApart(token string, parts, longest int) (said []string, signed []byte, ok bool) {
	said = strings.Split(token, ".")
	if len(said) != parts+1 || len(token) > longest {
		return nil, nil, false
	}
	signed, err := base64.RawURLEncoding.DecodeString(said[parts])
	return said[:parts], signed, err == nil
}
