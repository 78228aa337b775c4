package project

import (
	"fmt"
	"slices"
	"strings"

	"chalkstep/core/design"
	"chalkstep/core/policy"
	"chalkstep/core/say"
)

// MadeAs is what a project is made by, as a text that changes with it: fabric,
// design, what goes under, over and through it, and its techniques. A test of
// another such text was a test of something else.
func (p Project) MadeAs(rules policy.Rules) string {
	if p.Gone() {
		return ""
	}
	r, err := p.Recipe(0, anyField, rules)
	if err != nil {
		return ""
	}
	parts := []string{"fabric=" + string(p.Fabric)}
	for _, h := range p.Hoopings {
		parts = append(parts, fmt.Sprintf("design=%d", h.Design.ID))
	}
	for _, u := range r.Under {
		parts = append(parts, fmt.Sprintf("under=%s/%d/%s", u.Key(), u.Sheets, u.How))
	}
	if r.Over != nil {
		parts = append(parts, "over="+r.Over.Key().String())
	}
	parts = append(parts, "needle="+r.Needle.Key().String(), "thread="+r.TopThread)
	for _, t := range p.Techniques {
		parts = append(parts, "technique="+string(t.Key))
	}
	return strings.Join(parts, "|")
}

// Tested says how far a project was tested, by its tests, the newest first.
type Tested struct {
	// Newest test of the project as it is made now, nil for none.
	Now *design.StitchOut
	// Before is the newest test of it as it was made before, nil for none.
	Before *design.StitchOut
	// Differs is what has changed since then.
	Differs []say.Text
}

// TestedBy sorts the tests of a project by whether they are of what it is now.
func (p Project) TestedBy(tests []design.StitchOut, rules policy.Rules) Tested {
	var t Tested
	now := p.MadeAs(rules)
	for i := range tests {
		run := &tests[i]
		switch {
		case run.Test == nil || run.Test.ProjectID != p.ID:
		case run.Test.MadeAs == now && t.Now == nil:
			t.Now = run
		case run.Test.MadeAs != now && t.Before == nil:
			t.Before, t.Differs = run, differs(run.Test.MadeAs, now)
		}
	}
	return t
}

// partNames say what a part of [Project.MadeAs] is.
var partNames = []struct {
	key  string
	word say.Word
}{{"fabric", "the fabric"}, {"design", "the design"}, {"under", "what goes under"}, {"over", "what goes over"},
	{"needle", "the needle"}, {"thread", "the thread"}, {"technique", "how it is made"}}

// differs says which parts of two such texts are not alike.
func differs(a, b string) []say.Text {
	of := func(text, key string) []string {
		var values []string
		for part := range strings.SplitSeq(text, "|") {
			if value, is := strings.CutPrefix(part, key+"="); is {
				values = append(values, value)
			}
		}
		return values
	}
	var texts []say.Text
	for _, part := range partNames {
		if !slices.Equal(of(a, part.key), of(b, part.key)) {
			texts = append(texts, say.T("%s", part.word))
		}
	}
	return texts
}
