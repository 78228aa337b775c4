package recipe_test

import (
	"encoding/json"
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/recipe"
)

// request is an open 80 × 90 mm design in a 150 mm hoop.
func request(fabric recipe.Fabric, uses ...recipe.Use) recipe.Request {
	return recipe.Request{Fabric: fabric, Uses: uses, WidthMM: 80, HeightMM: 90, Stitches: 2400, Colors: 4,
		HoopMM: [2]float64{150, 150}}
}

func dense(r recipe.Request) recipe.Request {
	r.Stitches = 7000
	return r
}

func house(r recipe.Request, h recipe.Rules) recipe.Request {
	r.House = h
	return r
}

func TestWhatGoesUnderOverAndThrough(t *testing.T) {
	const none, film = "", recipe.Film
	for name, c := range map[string]struct {
		request recipe.Request
		under   string
		sheets  int
		over    string
		needle  recipe.Needle
		hooping string
	}{
		"practice cotton": {request("woven-cotton"), "tear-away", 1, none,
			recipe.Needle{Point: "embroidery", Size: "75/11"}, "hooped"},
		"practice cotton, dense": {dense(request("woven-cotton")), "tear-away", 2, none,
			recipe.Needle{Point: "embroidery", Size: "75/11"}, "hooped"},
		"linen, house of two": {house(request("linen"), recipe.Rules{Wovens: "two"}), "tear-away", 2, none,
			recipe.Needle{Point: "embroidery", Size: "75/11"}, "hooped"},
		"linen, house of cut-away": {house(request("linen"), recipe.Rules{Wovens: "cut-away"}), "cut-away", 1, none,
			recipe.Needle{Point: "embroidery", Size: "75/11"}, "hooped"},
		"T-shirt": {request("jersey", "worn"), "cut-away", 1, none,
			recipe.Needle{Point: "ballpoint", Size: "80/12"}, "hooped"},
		"T-shirt, topper on knits": {house(request("jersey", "worn"), recipe.Rules{Topper: "every-knit"}), "cut-away", 1,
			film, recipe.Needle{Point: "ballpoint", Size: "80/12"}, "hooped"},
		"T-shirt, floated": {house(request("jersey", "worn"), recipe.Rules{Garments: "float"}), "cut-away", 1, none,
			recipe.Needle{Point: "ballpoint", Size: "80/12"}, "floated"},
		"rib": {request("rib", "worn"), "cut-away", 1, film,
			recipe.Needle{Point: "ballpoint", Size: "80/12"}, "hooped"},
		"sweatshirt": {request("sweatshirt", "worn"), "cut-away", 1, film,
			recipe.Needle{Point: "ballpoint", Size: "80/12"}, "hooped"},
		"child's T-shirt": {request("jersey", "worn", "child"), "mesh cut-away", 1, none,
			recipe.Needle{Point: "ballpoint", Size: "80/12"}, "hooped"},
		"towel": {request("terry", "washed"), "tear-away", 1, film,
			recipe.Needle{Point: "embroidery", Size: "75/11"}, "hooped"},
		"towel seen from both": {request("terry", "both-sides"), "wash-away", 1, film,
			recipe.Needle{Point: "embroidery", Size: "75/11"}, "hooped"},
		"canvas tote": {request("canvas"), "tear-away", 1, none,
			recipe.Needle{Point: "embroidery", Size: "90/14"}, "hooped"},
		"denim jacket": {request("denim", "worn"), "cut-away", 1, none,
			recipe.Needle{Point: "embroidery", Size: "90/14"}, "hooped"},
		"denim, stable is enough": {house(request("denim", "worn"), recipe.Rules{Worn: "tear-away"}), "tear-away", 1, none,
			recipe.Needle{Point: "embroidery", Size: "90/14"}, "hooped"},
		"felt badge": {request("felt"), "tear-away", 1, none, recipe.Needle{Point: "embroidery", Size: "75/11"},
			"floated"},
		"vinyl": {request("vinyl"), "tear-away", 1, none,
			recipe.Needle{Point: "embroidery", Size: "75/11"}, "floated"},
		"velvet": {request("velvet"), "tear-away", 1, film,
			recipe.Needle{Point: "embroidery", Size: "75/11"}, "hooped"},
		"sheer scarf": {request("sheer", "both-sides"), "wash-away", 1, none,
			recipe.Needle{Point: "embroidery", Size: "75/11"}, "hooped"},
		"film overlay on practice": {request("woven-cotton", "film-overlay"), "tear-away", 1, none,
			recipe.Needle{Point: "embroidery", Size: "75/11"}, "hooped"},
	} {
		t.Run(name, func(t *testing.T) {
			got, err := recipe.For(c.request)
			require.NoError(t, err)
			assert.Equal(t, c.under, got.Under[0].What)
			assert.Equal(t, c.sheets, got.Under[0].Sheets)
			assert.Equal(t, c.needle, got.Needle)
			assert.Equal(t, c.hooping, got.Hooping)
			assert.Equal(t, [2]float64{200, 200}, got.Under[0].CutMM, "25 mm larger than the hoop on every side")
			if c.over == none {
				assert.Nil(t, got.Over)
			} else {
				assert.Equal(t, c.over, got.Over.What)
			}
		})
	}
}

func TestThreadAndTightness(t *testing.T) {
	mat, err := recipe.For(request("woven-cotton", "heat"))
	require.NoError(t, err)
	assert.Equal(t, "cotton 40", mat.TopThread)
	assert.Equal(t, "drum", mat.Tightness)
	shirt, err := recipe.For(request("jersey", "worn"))
	require.NoError(t, err)
	assert.Equal(t, "polyester 40", shirt.TopThread)
	assert.Equal(t, "firm", shirt.Tightness)
	towel, err := recipe.For(request("terry", "both-sides"))
	require.NoError(t, err)
	assert.Equal(t, "match", towel.Bobbin)
}

func TestDenseStitchingOverMeshGetsAFloatedSheet(t *testing.T) {
	got, err := recipe.For(dense(request("jersey", "next-to-skin")))
	require.NoError(t, err)
	require.Len(t, got.Under, 2)
	assert.Equal(t, "tear-away", got.Under[1].What)
	assert.Equal(t, "floated", got.Under[1].How)
}

func TestEveryAnswerHasItsReason(t *testing.T) {
	for _, fabric := range recipe.Fabrics {
		for _, use := range recipe.Uses {
			got, err := recipe.For(request(fabric, use))
			require.NoError(t, err)
			require.NotEmpty(t, got.Under)
			assert.GreaterOrEqual(t, len(got.Reasons), 3)
			assert.NotEmpty(t, got.After)
			for _, reason := range got.Reasons {
				assert.NotEmpty(t, reason.Rule.String())
				assert.NotEmpty(t, reason.Because.String())
				assert.NotContains(t, fmt.Sprint(got), "%!")
			}
		}
	}
}

func TestWhatCannotBeMeantIsNamed(t *testing.T) {
	noSize := request("linen")
	noSize.HeightMM = 0
	for says, r := range map[string]recipe.Request{
		`fabric "silk" is not known`:   request("silk"),
		`use "thrown" is not known`:    request("linen", "thrown"),
		"height_mm is 0":               noSize,
		`house rule topper is "never"`: house(request("linen"), recipe.Rules{Topper: "never"}),
		"expected 0 or more":           house(request("linen"), recipe.Rules{TrimMM: -1}),
	} {
		_, err := recipe.For(r)
		assert.ErrorContains(t, err, says)
	}
}

func TestTheAnswerIsSpokenAsTheContractSays(t *testing.T) {
	got, err := recipe.For(request("jersey", "worn"))
	require.NoError(t, err)
	text, err := json.Marshal(got)
	require.NoError(t, err)
	assert.Contains(t, string(text),
		`"under":[{"what":"cut-away","weight":"medium","sheets":1,"how":"hooped","cut_mm":[200,200]}],"over":null,`+
			`"needle":{"point":"ballpoint","size":"80/12"},"top_thread":"polyester 40","bobbin":"light",`+
			`"hooping":"hooped","tightness":"firm"`)
}
