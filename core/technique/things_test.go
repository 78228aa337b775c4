package technique_test

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"chalkstep/core/supply"
	"chalkstep/core/technique"
)

// tools are told by the words of the steps and lines that use them.
var tools = []struct {
	key   supply.Key
	words []string
}{
	{supply.Named(supply.Tool, "scissors"), []string{"cut close", "trim the seam", "trim along", "cut its inside out"}},
	{supply.Named(supply.Tool, "hand needle"), []string{"sew it down by hand", "trimmed, turned out and closed"}},
	{supply.Named(supply.Tool, "sewing thread"), []string{"sew it down by hand", "trimmed, turned out and closed"}},
	{supply.Named(supply.Tool, "pressing cloth"), []string{"on through a cloth", "under a cloth"}},
	{supply.Named(supply.Tool, "turning tool"), []string{"turn it right side out"}},
	{supply.Key{Kind: supply.Tape}, []string{"tape"}},
}

// Every tool that a step of a technique uses is on its list, and what is on the list is used.
func TestToolsAreOnTheListOfWhatUsesThem(t *testing.T) {
	for _, one := range technique.All {
		texts := []string{one.Name.String(), one.What.String()}
		for _, step := range one.Steps {
			texts = append(texts, step.Title.String())
			for _, note := range step.Notes {
				texts = append(texts, note.String())
			}
		}
		for _, line := range one.Lines {
			texts = append(texts, line.Text.String())
		}
		if one.Key == "grip-tape" {
			continue // a tape of its own
		}
		text := strings.ToLower(strings.Join(texts, " / "))
		for _, tool := range tools {
			uses := slices.ContainsFunc(tool.words, func(word string) bool { return strings.Contains(text, word) })
			has := slices.ContainsFunc(one.Things, func(thing technique.Thing) bool { return thing.Key == tool.key })
			assert.Equal(t, uses, has, "%s: %s, of %s", one.Key, tool.key.Say(), text)
		}
	}
}
