package thread

import (
	"math"

	"chalkstep/core/stitch"
)

// Plain names of colours, as people ask each other for a spool. They are ours,
// and name no maker's range.
var names = []struct {
	name  string
	color stitch.RGB
}{
	{"white", stitch.RGB{R: 0xff, G: 0xff, B: 0xff}}, {"off-white", stitch.RGB{R: 0xf2, G: 0xee, B: 0xe2}},
	{"cream", stitch.RGB{R: 0xf3, G: 0xe6, B: 0xc4}},
	{"sand", stitch.RGB{R: 0xd8, G: 0xc6, B: 0xa0}}, {"light grey", stitch.RGB{R: 0xc8, G: 0xca, B: 0xcb}},
	{"grey", stitch.RGB{R: 0x8c, G: 0x8f, B: 0x92}},
	{"grey green", stitch.RGB{R: 0x7c, G: 0x8a, B: 0x80}}, {"grey blue", stitch.RGB{R: 0x74, G: 0x8a, B: 0x9c}},
	{"dark grey", stitch.RGB{R: 0x4c, G: 0x50, B: 0x54}}, {"black", stitch.RGB{R: 0x10, G: 0x10, B: 0x10}},
	{"yellow", stitch.RGB{R: 0xf6, G: 0xd4, B: 0x2c}}, {"pale yellow", stitch.RGB{R: 0xf8, G: 0xee, B: 0x9c}},
	{"golden yellow", stitch.RGB{R: 0xdc, G: 0x9e, B: 0x20}}, {"ochre", stitch.RGB{R: 0xae, G: 0x7d, B: 0x24}},
	{"orange", stitch.RGB{R: 0xee, G: 0x7c, B: 0x1e}}, {"peach", stitch.RGB{R: 0xf6, G: 0xc0, B: 0x98}},
	{"salmon", stitch.RGB{R: 0xee, G: 0x8c, B: 0x78}}, {"rust", stitch.RGB{R: 0xc0, G: 0x52, B: 0x2a}},
	{"red", stitch.RGB{R: 0xd0, G: 0x20, B: 0x24}}, {"brick red", stitch.RGB{R: 0xb2, G: 0x3c, B: 0x30}},
	{"dark red", stitch.RGB{R: 0x80, G: 0x18, B: 0x1c}}, {"wine", stitch.RGB{R: 0x5e, G: 0x1c, B: 0x36}},
	{"pink", stitch.RGB{R: 0xee, G: 0x92, B: 0xb0}}, {"pale pink", stitch.RGB{R: 0xf8, G: 0xd4, B: 0xdc}},
	{"deep pink", stitch.RGB{R: 0xd6, G: 0x34, B: 0x78}}, {"lilac", stitch.RGB{R: 0xc2, G: 0xa6, B: 0xd6}},
	{"violet", stitch.RGB{R: 0x74, G: 0x40, B: 0x98}}, {"dark violet", stitch.RGB{R: 0x42, G: 0x26, B: 0x60}},
	{"plum", stitch.RGB{R: 0x8c, G: 0x4a, B: 0x6c}},
	{"pale blue", stitch.RGB{R: 0xc4, G: 0xde, B: 0xf0}}, {"sky blue", stitch.RGB{R: 0x7e, G: 0xb8, B: 0xe0}},
	{"sea blue", stitch.RGB{R: 0x46, G: 0x82, B: 0xaa}}, {"blue", stitch.RGB{R: 0x24, G: 0x58, B: 0xb8}},
	{"dark blue", stitch.RGB{R: 0x24, G: 0x42, B: 0x66}}, {"navy", stitch.RGB{R: 0x18, G: 0x24, B: 0x40}},
	{"ink blue", stitch.RGB{R: 0x22, G: 0x38, B: 0x48}},
	{"turquoise", stitch.RGB{R: 0x2c, G: 0xb0, B: 0xb4}}, {"pale turquoise", stitch.RGB{R: 0xac, G: 0xde, B: 0xdc}},
	{"sea green", stitch.RGB{R: 0x2a, G: 0x80, B: 0x78}},
	{"mint", stitch.RGB{R: 0xb0, G: 0xe0, B: 0xc0}}, {"light green", stitch.RGB{R: 0x94, G: 0xcc, B: 0x64}},
	{"green", stitch.RGB{R: 0x30, G: 0x94, B: 0x44}}, {"moss green", stitch.RGB{R: 0x66, G: 0x7c, B: 0x34}},
	{"olive", stitch.RGB{R: 0x60, G: 0x5e, B: 0x26}}, {"dark green", stitch.RGB{R: 0x1c, G: 0x50, B: 0x34}},
	{"light brown", stitch.RGB{R: 0xb8, G: 0x92, B: 0x64}}, {"brown", stitch.RGB{R: 0x7c, G: 0x54, B: 0x34}},
	{"dark brown", stitch.RGB{R: 0x42, G: 0x2c, B: 0x20}}, {"skin", stitch.RGB{R: 0xe6, G: 0xba, B: 0x98}},
}

// Name is a colour in plain words, such as "sea blue": that of the nearest with
// a name.
func Name(c stitch.RGB) string {
	best, least := "", math.Inf(1)
	for _, n := range names {
		if d := Difference(c, n.color); d < least {
			best, least = n.name, d
		}
	}
	return best
}
