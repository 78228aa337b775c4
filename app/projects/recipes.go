package projects

import (
	"fmt"
	"slices"
	"strings"

	"chalkstep/app/actor"
	"chalkstep/core/recipe"
	"chalkstep/core/say"
	"chalkstep/core/stitch"
	"chalkstep/core/technique"
)

// A HouseRecipe is what the house does with some fabrics, or one kind of work.
type HouseRecipe struct {
	Names  say.List
	Recipe recipe.Recipe
	Ways   []technique.Proposal
}

// A RecipesPage is the house's recipes, by fabric and by kind of work, and the
// techniques that the workshop wrote.
type RecipesPage struct {
	Fabrics, Kinds []HouseRecipe
	Written        []technique.Written
	// Otherwise counts the rules in which the house differs from what is usual.
	Otherwise int
	House     recipe.Rules
	Workshop  string
}

// kinds of work that have a recipe whatever the fabric (handbook, Stabilizer and
// topper).
var kinds = []struct {
	name   say.Text
	fabric recipe.Fabric
	uses   []recipe.Use
	inHoop bool
	roles  []stitch.Role
}{
	{say.T("worn by a child, or next to the skin"), recipe.Jersey, []recipe.Use{recipe.Child, recipe.Washed}, false, nil},
	{say.T("seen from both sides"), recipe.Linen, []recipe.Use{recipe.BothSides, recipe.Washed}, false, nil},
	{say.T("built in the hoop"), recipe.WovenCotton, nil, true, nil},
	{say.T("appliqué on a woven"), recipe.WovenCotton, nil, false,
		[]stitch.Role{stitch.Placement, stitch.TackDown, stitch.Cover}},
	{say.T("film under open fill"), recipe.WovenCotton, []recipe.Use{recipe.FilmOverlay}, false,
		[]stitch.Role{stitch.Placement}},
}

// typical is a medium design that recipes are told for where there is none.
func typical(fabric recipe.Fabric, house recipe.Rules) recipe.Request {
	return recipe.Request{Fabric: fabric, WidthMM: 80, HeightMM: 80, Stitches: 5000, Colors: 3,
		HoopMM: [2]float64{100, 100}, Density: stitch.Medium, House: house}
}

// Recipes opens the recipes of the house.
func (d UseCases) Recipes() (RecipesPage, error) {
	if err := d.Need(actor.See); err != nil {
		return RecipesPage{}, err
	}
	settings, err := d.Settings()
	if err != nil {
		return RecipesPage{}, err
	}
	page := RecipesPage{House: settings.House.Rules, Workshop: settings.Name}
	if page.Written, err = d.Workshop.Techniques(); err != nil {
		return page, err
	}
	for _, q := range recipe.Questions {
		if q.Choice(settings.House.Rules) != q.Schools[0].Value {
			page.Otherwise++
		}
	}
	for _, f := range recipe.Fabrics {
		r := typical(f, settings.House.Rules)
		made, err := houseRecipe(say.T("%s", say.Word(strings.ReplaceAll(string(f), "-", " "))), r)
		if err != nil {
			return page, err
		}
		if i := slices.IndexFunc(page.Fabrics, made.alike); i >= 0 {
			page.Fabrics[i].Names = append(page.Fabrics[i].Names, made.Names...)
		} else {
			page.Fabrics = append(page.Fabrics, made)
		}
	}
	for _, k := range kinds {
		r := typical(k.fabric, settings.House.Rules)
		r.Uses, r.InHoop, r.Roles = k.uses, k.inHoop, k.roles
		made, err := houseRecipe(k.name, r)
		if err != nil {
			return page, err
		}
		page.Kinds = append(page.Kinds, made)
	}
	return page, nil
}

func houseRecipe(name say.Text, r recipe.Request) (HouseRecipe, error) {
	made, err := recipe.For(r)
	if err != nil {
		return HouseRecipe{}, fmt.Errorf("the house's recipe for %s: %w", name, err)
	}
	return HouseRecipe{say.List{name}, made, technique.Propose(technique.WorkFor(r, made))}, nil
}

// alike tells whether two fabrics are treated alike: what goes under, over and
// through, how they are held, and by which ways.
func (r HouseRecipe) alike(o HouseRecipe) bool {
	a, b := r.Recipe, o.Recipe
	return slices.Equal(a.Under, b.Under) && (a.Over == nil) == (b.Over == nil) && a.Needle == b.Needle &&
		a.TopThread == b.TopThread && a.Bobbin == b.Bobbin && a.Hooping == b.Hooping && a.Tightness == b.Tightness &&
		slices.EqualFunc(a.Reasons, b.Reasons, func(x, y recipe.Reason) bool {
			return x.Because.String() == y.Because.String()
		}) &&
		slices.EqualFunc(r.Ways, o.Ways, func(x, y technique.Proposal) bool { return x.Key == y.Key })
}
