package e2e

import (
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/tls"
	"crypto/x509"
	"crypto/x509/pkix"
	"encoding/pem"
	"fmt"
	"math/big"
	"net"
	"net/http"
	"net/http/cookiejar"
	"net/netip"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/actor"
	"chalkstep/demo"
	"chalkstep/demo/demotest"
	"chalkstep/store"
	"chalkstep/web"
)

// behindProxy serves the demo workshop as the documentation says: behind
// nginx, which speaks HTTPS. It gives the public address.
func behindProxy(t *testing.T) string {
	t.Helper()
	nginx, err := exec.LookPath("nginx")
	if err != nil {
		nginx = "/usr/sbin/nginx"
	}
	front := strings.Split(freeAddress(t), ":")[1]
	public := "https://localhost:" + front
	db, err := store.Open(t.Context(), demotest.URL(t))
	require.NoError(t, err)
	base, _ := listen(t, db,
		web.Config{App: actor.New(db, nowClock), Public: parsed(t, public),
			Proxies: []netip.Prefix{netip.MustParsePrefix("127.0.0.1/32")}})

	dir := t.TempDir()
	certificate(t, dir)
	documented, err := os.ReadFile("../docs/nginx.conf")
	require.NoError(t, err)
	server := strings.NewReplacer(
		"listen 443 ssl", "listen 127.0.0.1:"+front+" ssl", "server_name class.example.org", "server_name localhost",
		"/etc/ssl/class.example.org.pem", dir+"/cert.pem", "/etc/ssl/class.example.org.key", dir+"/key.pem",
		"http://127.0.0.1:8080", base,
	).Replace(string(documented))
	conf := fmt.Sprintf("daemon off;\npid %[1]s/pid;\nerror_log %[1]s/error.log;\nevents {}\nhttp {\naccess_log "+
		"off;\nclient_body_temp_path %[1]s/body;\nproxy_temp_path %[1]s/proxy;\nfastcgi_temp_path "+
		"%[1]s/f;\nuwsgi_temp_path %[1]s/u;\nscgi_temp_path %[1]s/s;\n%[2]s}\n", dir, server)
	file := filepath.Join(dir, "nginx.conf")
	require.NoError(t, os.WriteFile(file, []byte(conf), 0o600))
	cmd := exec.Command(nginx, "-c", file, "-p", dir, "-e", dir+"/error.log")
	cmd.Stderr = os.Stderr
	require.NoError(t, cmd.Start(), "nginx is not installed: install Debian's package nginx")
	t.Cleanup(func() {
		require.NoError(t, cmd.Process.Signal(os.Interrupt))
		_ = cmd.Wait()
	})
	require.Eventually(t, func() bool {
		conn, err := net.Dial("tcp", "127.0.0.1:"+front)
		if err == nil {
			conn.Close()
		}
		return err == nil
	}, patience, 20*time.Millisecond)
	return public
}

// certificate writes one that nobody has signed.
func certificate(t *testing.T, dir string) {
	t.Helper()
	key, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	require.NoError(t, err)
	template := &x509.Certificate{SerialNumber: big.NewInt(1), Subject: pkix.Name{CommonName: "localhost"},
		DNSNames: []string{"localhost"}, NotBefore: time.Now().Add(-time.Hour), NotAfter: time.Now().Add(time.Hour)}
	cert, err := x509.CreateCertificate(rand.Reader, template, template, &key.PublicKey, key)
	require.NoError(t, err)
	der, err := x509.MarshalECPrivateKey(key)
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(dir+"/cert.pem", pem.EncodeToMemory(&pem.Block{Type: "CERTIFICATE", Bytes: cert}),
		0o600))
	require.NoError(t, os.WriteFile(dir+"/key.pem", pem.EncodeToMemory(&pem.Block{Type: "EC PRIVATE KEY", Bytes: der}),
		0o600))
}

// A real browser signs in and sends forms over HTTPS.
func TestABrowserBehindAProxy(t *testing.T) {
	public := behindProxy(t)
	v := visit(t, public, "ignore-certificate-errors")
	v.signIn("owner")
	v.open("/students")
	v.write("#name", "Nell Starling")
	v.enter("form[action='/students'] button.main")
	v.sees("h1", "Next for Nell Starling")
	cookies, err := v.page.Cookies(nil)
	require.NoError(t, err)
	for _, c := range cookies {
		assert.True(t, c.Secure && c.HTTPOnly, c.Name)
	}
	assert.NotEmpty(t, cookies)
}

// fromAddress is a client whose packets come from an address of its own.
func fromAddress(t *testing.T, base, address string) *client {
	t.Helper()
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	dialer := &net.Dialer{LocalAddr: &net.TCPAddr{IP: net.ParseIP(address)}}
	return &client{base: base,
		http: &http.Client{Jar: jar,
			Transport: &http.Transport{DialContext: dialer.DialContext, TLSClientConfig: &tls.Config{InsecureSkipVerify: true}}}}
}

// Behind the proxy the limit on guessing sees the real client, whatever that
// says of itself, and locks out no other.
func TestTheSignInLimitSeesTheRealClient(t *testing.T) {
	public := behindProxy(t)
	guesser := fromAddress(t, public, "127.0.0.2")
	token := guesser.token(t, "/sign-in")
	for i := range 9 {
		r, err := http.NewRequest(http.MethodPost, public+"/sign-in",
			strings.NewReader(url.Values{"_csrf": {token}, "email": {demo.Logins[0].Email}, "password": {"guess"}}.Encode()))
		require.NoError(t, err)
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		r.Header.Set("X-Forwarded-For", fmt.Sprintf("198.51.100.%d, 127.0.0.1", i))
		answer, err := guesser.http.Do(r)
		require.NoError(t, err)
		answer.Body.Close()
		if i >= 6 {
			assert.Equal(t, http.StatusTooManyRequests, answer.StatusCode)
		}
	}
	owner := fromAddress(t, public, "127.0.0.3")
	status, page := owner.post(t, "/sign-in",
		url.Values{"_csrf": {owner.token(t, "/sign-in")}, "email": {demo.Logins[0].Email},
			"password": {demo.Logins[0].Password}})
	assert.Equal(t, http.StatusOK, status)
	assert.Contains(t, page, "Sign out")
}
