package floor

// LowerBound is what no plan can beat, as it was before any plan was known.
func LowerBound(p Problem) (float64, error) {
	s, err := compile(p)
	if err != nil {
		return 0, err
	}
	return toMinutes(s.lowerBound()), nil
}
