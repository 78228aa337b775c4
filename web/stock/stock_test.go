package stock

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"chalkstep/core/supply"
)

// Every kind that can lie on the shelf has a name there; step cards are
// printed.
func TestEveryKindOfTheShelfHasAName(t *testing.T) {
	names := map[string]bool{}
	for _, c := range kindChoices() {
		names[c.Value] = true
	}
	for _, kind := range supply.Kinds {
		assert.Equal(t, kind != supply.StepCard, names[string(kind)], kind)
	}
}
