//go:build shots

package e2e

import (
	"fmt"
	"os"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"chalkstep/app/actor"
	"chalkstep/demo/demotest"
	"chalkstep/store"
	"chalkstep/web"
)

var tags = regexp.MustCompile(`(?s)<script.*?</script>|<style.*?</style>|<[^>]+>`)
var spaces = regexp.MustCompile(`\s+`)

func TestMoments(t *testing.T) {
	db, err := store.Open(t.Context(), demotest.URL(t))
	require.NoError(t, err)
	start := time.Date(2026, 11, 28, 10, 0, 0, 0, time.UTC)
	minute := -5.0
	clock := func() time.Time { return start.Add(time.Duration(minute * float64(time.Minute))) }
	base, _ := listen(t, db, web.Config{App: actor.New(db, clock)})
	c := signedInAs(t, base, store.Instructor)
	own := signedInAs(t, base, store.Instructor)
	own.openOwn(t, 1)
	press := func(m float64, what string) {
		minute = m
		page := c.get(t, "/classes/3/run")
		if i := strings.Index(page, `data-seq="`); i > 0 {
			seq := page[i+10:]
			what = strings.Replace(what, "SEQ", seq[:strings.IndexByte(seq, '"')], 1)
		}
		c.post(t, "/classes/3/run", map[string][]string{"_csrf": {c.token(t, "/classes/3/run")}, "press": {what}})
	}
	stations := regexp.MustCompile(`(?s)<h2>([^<]+)</h2>.*?href="(/station/[^"]+)"`).FindAllStringSubmatch(c.get(t, "/classes/3/stations"), -1)
	dump := func(name string) {
		for _, path := range []string{"/", "/classes", "/classes/3", "/classes/3/roster", "/classes/3/run", "/classes/3/big", "/classes/3/prep", "/classes/3/wrap", "/machines", "/students/1"} {
			page := c.get(t, path)
			if i := strings.Index(page, "<main"); i > 0 { page = page[i:] }
			text := spaces.ReplaceAllString(tags.ReplaceAllString(page, " "), " ")
			os.WriteFile("/tmp/moments/"+name+strings.ReplaceAll(path, "/", "_")+".txt", []byte(text), 0o644)
		}
		page := own.get(t, "/me")
		os.WriteFile("/tmp/moments/"+name+"_me.txt", []byte(spaces.ReplaceAllString(tags.ReplaceAllString(page, " "), " ")), 0o644)
		for _, s := range stations {
			page := own.get(t, s[2])
			os.WriteFile("/tmp/moments/"+name+"_st_"+s[1]+".txt", []byte(spaces.ReplaceAllString(tags.ReplaceAllString(page, " "), " ")), 0o644)
		}
	}
	dump("0")
	press(-5, "started 0 - 0")
	press(-4, "here 1 - SEQ"); press(-4, "here 2 - SEQ"); press(-4, "here 3 - SEQ"); press(-4, "here 4 - SEQ");press(-4, "here 5 - SEQ")
	minute = 12
	dump("1")
	press(25, "all-done 0 - SEQ")
	press(32, "failed 1 - SEQ")
	minute = 40
	dump("2")
	press(90, "ended 0 - SEQ")
	minute = 95
	dump("3")
	fmt.Println("ok")
}
