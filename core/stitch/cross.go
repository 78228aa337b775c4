package stitch

// crossStitch is 2 mm, in tenths of a millimetre.
const crossStitch = 20

// Cross is a cross in running stitch with four arms of so many stitches of 2 mm, whose
// middle is where the needle starts: sewn on a scrap, it shows how far the marks of a hoop
// miss the needle.
func Cross(arm int32) *Pattern {
	p := &Pattern{Name: "cross", Moves: []Move{{0, 0, Stitch}}}
	for _, way := range [][2]int32{{1, 0}, {0, 1}, {-1, 0}, {0, -1}} {
		for i := range 2 * arm { // out and back
			at := min(i+1, 2*arm-i-1) * crossStitch
			p.Moves = append(p.Moves, Move{way[0] * at, way[1] * at, Stitch})
		}
	}
	return p
}
