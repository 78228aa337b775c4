package classday_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"chalkstep/core/classday"
	"chalkstep/core/skill"
)

// What a name is short for, by who else is in the class.
func TestNamesThatLookAlikeAreToldApart(t *testing.T) {
	for _, c := range []struct {
		name   string
		others []string
		want   string
	}{
		{"Kit Aldana", []string{"Ana Thorne", "Noor Haddad"}, "Kit"},
		{"Kit Aldana", []string{"Kit Brandt"}, "Kit A."},
		{"kit Aldana", []string{"Kit Brandt"}, "kit A."},
		{"Kit Aldana", []string{"Kit Brandt", "Kit Adler"}, "Kit Aldana"},
		{"Kit Maria Aldana", []string{"Kit Brandt"}, "Kit A."},
		{"Kit", []string{"Kit Brandt"}, "Kit"},
		{"Kit Brandt", []string{"Kit"}, "Kit B."},
		{"Øya Ünal", []string{"Øya Ås"}, "Øya Ü."},
		{"", []string{"Kit"}, ""},
	} {
		var class classday.Class
		for i, name := range append(c.others, c.name) {
			class.Places = append(class.Places, classday.Place{Student: skill.Student{ID: int64(i + 1), Name: name}})
		}
		assert.Equal(t, c.want, class.Called(c.name), "%s beside %v", c.name, c.others)
	}
}
