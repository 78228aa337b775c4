package classday

import "strings"

// Called is the shortest that tells somebody of the class from everybody else in it: their first name,
// or as much of the rest as it takes.
func (c Class) Called(name string) string {
	words := strings.Fields(name)
	if len(words) < 2 {
		return name
	}
	last := []rune(words[len(words)-1])
	for _, short := range []string{words[0], words[0] + " " + string(last[:1]) + "."} {
		alike := 0
		for _, p := range c.Places {
			if p.Name != name && calledSo(p.Name, short) {
				alike++
			}
		}
		if alike == 0 {
			return short
		}
	}
	return name
}

// calledSo tells whether somebody could be meant by a short name.
func calledSo(name, short string) bool {
	words, said := strings.Fields(name), strings.Fields(short)
	if len(words) == 0 || !strings.EqualFold(words[0], said[0]) {
		return false
	}
	if len(said) == 1 {
		return true
	}
	last := []rune(words[len(words)-1])
	return strings.EqualFold(string(last[:1])+".", said[1])
}
