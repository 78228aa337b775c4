package live

// Settled is that somebody came to a student whose hand was up.
const Settled Kind = "settled"

var _ = declare(Settled, declaration{
	has: Fields{Student: true}, phone: OwnPhone,
	refused:   notedBefore,
	said:      about("%s's hand was settled"),
	ofStudent: func(s *State, at *Standing, e Event) bool { return s.settle(at, e.At) },
})
