package projects

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"chalkstep/app/projects"
)

// Every form of a project is read.
func TestEveryPartIsRead(t *testing.T) {
	for _, part := range projects.ProjectParted {
		assert.NotNil(t, readParts[part], part)
	}
	assert.Len(t, readParts, len(projects.ProjectParted))
}
