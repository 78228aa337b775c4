package supply_test

import (
	"encoding/json"
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/recipe"
	"chalkstep/core/stitch"
	"chalkstep/core/supply"
)

var (
	red  = stitch.RGB{R: 0xc0, G: 0x3a, B: 0x2a}
	keys = map[string]supply.Key{
		"stabilizer;material=tear-away;weight=light":     supply.Sheet(supply.TearAway, supply.Light),
		"stabilizer;material=mesh+cut-away;weight=light": supply.Sheet(supply.MeshCutAway, supply.Light),
		"topper":                       {Kind: supply.Topper},
		"fabric;material=woven-cotton": supply.Cloth("woven-cotton"),
		"batting":                      {Kind: supply.Batting},
		"thread;fibre=polyester+40;color=%23c03a2a": supply.Spool(supply.Polyester, red),
		"thread;fibre=cotton+40;color=%23000000":    supply.Spool(supply.Cotton, stitch.RGB{}),
		"bobbin;style=low%2C+clear":                 supply.Bobbins("Low,  clear"),
		"needle;style=ballpoint;size=75%2F11":       supply.Needles(supply.Ballpoint, "75/11"),
		"blank;name=canvas+tote":                    supply.Named(supply.Blank, " Canvas  tote"),
		"part;name=pin%3B+a%3Db+%E2%80%9C%E2%80%9D": supply.Named(supply.Part, "Pin; a=b “”"),
		"step-card": {Kind: supply.StepCard},
	}
)

// A key is kept as text and read back as it was.
func TestKeysAreKeptAsText(t *testing.T) {
	for text, k := range keys {
		assert.Equal(t, text, k.String())
		back, err := supply.Parse(text)
		require.NoError(t, err)
		assert.Equal(t, k, back)
	}
	data, err := json.Marshal(map[supply.Key]int{supply.Cloth("linen"): 2})
	require.NoError(t, err)
	assert.JSONEq(t, `{"fabric;material=linen":2}`, string(data))
	var back map[supply.Key]int
	require.NoError(t, json.Unmarshal(data, &back))
	assert.Equal(t, 2, back[supply.Cloth("linen")])
}

func TestWhatIsNoKeyIsRefused(t *testing.T) {
	for _, text := range []string{
		"", "spaceship", "needle", "needle;style=ballpoint", "fabric;material=", "fabric;material=linen;weight=light",
		"blank;name=Tote", "stabilizer;material",
		"thread;fibre=cotton+40;color=red", "fabric;material=linen;color=%23c03a2a", "blank;name=%zz", "topper;x=1",
	} {
		_, err := supply.Parse(text)
		assert.Error(t, err, text)
	}
}

func FuzzParse(f *testing.F) {
	for text := range keys {
		f.Add(text)
	}
	f.Fuzz(func(t *testing.T, text string) {
		k, err := supply.Parse(text)
		if err != nil {
			return
		}
		back, err := supply.Parse(k.String())
		require.NoError(t, err)
		assert.Equal(t, k, back)
	})
}

// What may be taken for what is wanted.
func TestWhatStandsInForWhat(t *testing.T) {
	light, medium := supply.Sheet(supply.TearAway, supply.Light), supply.Sheet(supply.TearAway, supply.Medium)
	for name, c := range map[string]struct {
		have, want supply.Key
		ok, same   bool
	}{
		"the same":                   {medium, medium, true, true},
		"tear-away light for medium": {light, medium, true, false},
		"no cut-away for tear-away":  {supply.Sheet(supply.CutAway, supply.Medium), medium, false, false},
		"no heavy tear-away":         {supply.Sheet(supply.TearAway, supply.Heavy), medium, false, false},
		"another red": {supply.Spool(supply.Polyester, stitch.RGB{R: 0xc8, G: 0x40, B: 0x30}),
			supply.Spool(supply.Polyester, red), true, false},
		"no polyester where heat comes": {supply.Spool(supply.Polyester, red), supply.Spool(supply.Cotton, red), false,
			false},
		"a ballpoint of the next size": {supply.Needles(supply.Ballpoint, "75/11"),
			supply.Needles(supply.Ballpoint, "80/12"), true, false},
		"no sharp needle for a ballpoint": {supply.Needles(supply.EmbroideryPoint, "80/12"),
			supply.Needles(supply.Ballpoint, "80/12"), false, false},
		"no other style of bobbin": {supply.Bobbins("tall, steel"), supply.Bobbins("low, clear"), false, false},
		"one name in other capitals": {supply.Named(supply.Blank, "CANVAS TOTE"),
			supply.Named(supply.Blank, "canvas tote"), true, true},
		"no fabric for batting": {supply.Cloth("linen"), supply.Key{Kind: supply.Batting}, false, false},
	} {
		got, ok := supply.StandsIn(c.have, c.want)
		assert.Equal(t, c.ok, ok, name)
		assert.Equal(t, c.same, got.Same, name)
		assert.Equal(t, ok && !got.Same, !got.Why.Silent(), "%s: what is not the same says why", name)
	}
}

// The nearest colour comes first, what was wanted before all.
func TestStandInsAreInOrder(t *testing.T) {
	shelf := []supply.Key{
		supply.Spool(supply.Polyester, stitch.RGB{B: 0xff}), supply.Spool(supply.Cotton, red),
		supply.Spool(supply.Polyester, stitch.RGB{R: 0xc8, G: 0x40, B: 0x30}), supply.Spool(supply.Polyester, red),
	}
	var order []int
	for _, s := range supply.StandIns(shelf, supply.Spool(supply.Polyester, red)) {
		order = append(order, s.Index)
	}
	assert.Equal(t, []int{3, 2, 0}, order)
}

// The words that shelves were written with before there were keys.
func TestWordsBecomeKeys(t *testing.T) {
	var fabrics []string
	for _, f := range recipe.Fabrics {
		fabrics = append(fabrics, string(f))
	}
	for _, c := range []struct {
		kind, words, color string
		want               supply.Key
	}{
		{"roll", "Medium Tear-away", "", supply.Sheet(supply.TearAway, supply.Medium)},
		{"sheet", "light mesh cut-away", "", supply.Sheet(supply.MeshCutAway, supply.Light)},
		{"roll", "water-soluble topper", "", supply.Key{Kind: supply.Topper}},
		{"fabric", "linen", "", supply.Cloth("linen")},
		{"fabric", "batting", "", supply.Key{Kind: supply.Batting}},
		{"thread", "", "#C03A2A", supply.Spool(supply.Polyester, red)},
		{"bobbin", "low, clear", "", supply.Bobbins("low, clear")},
		{"needle", "75/11 embroidery", "", supply.Needles(supply.EmbroideryPoint, "75/11")},
		{"blank", "canvas tote", "", supply.Named(supply.Blank, "canvas tote")},
		{"sundry", "Badge pin", "", supply.Named(supply.Part, "badge pin")},
		{"needle", "a hook", "", supply.Named(supply.Part, "a hook")},
		{"roll", "sailcloth", "", supply.Named(supply.Part, "sailcloth")},
	} {
		got := supply.FromWords(c.kind, c.words, c.color, fabrics)
		assert.Equal(t, c.want, got, "%s %s", c.kind, c.words)
		assert.NoError(t, got.Check())
	}
}

func TestThingsAreSaidInWords(t *testing.T) {
	for text, want := range map[string]string{
		"stabilizer;material=tear-away;weight=light": "light tear-away",
		"needle;style=ballpoint;size=75%2F11":        "needles 75/11 ballpoint",
		"bobbin;style=low%2C+clear":                  "bobbins, low, clear", "topper": "water-soluble topper",
		"batting":                "batting",
		"blank;name=canvas+tote": "canvas tote", "step-card": "step card",
	} {
		assert.Equal(t, want, keys[text].Say().String())
	}
}

func ExampleStandsIn() {
	have := supply.Spool(supply.Polyester, stitch.RGB{R: 0x1d, G: 0x3a, B: 0x4d})
	want := supply.Spool(supply.Polyester, stitch.RGB{R: 0x28, G: 0x42, B: 0x54})
	s, ok := supply.StandsIn(have, want)
	fmt.Println(ok, s.Why)
	_, ok = supply.StandsIn(supply.Bobbins("tall, steel"), supply.Bobbins("low, clear"))
	fmt.Println(ok)
	// Output:
	// true hardly different
	// false
}
