package live

// Going is that a machine sews, or sews again: a piece is laid or trimmed, a thread is
// back, or nothing was heard of it for long.
const Going Kind = "going"

var _ = declare(Going, declaration{
	has: Fields{Student: true}, phone: OwnPhone,
	refused: notedBefore,
	said:    about("all goes well with %s"),
	ofStudent: func(s *State, at *Standing, e Event) bool {
		if at.Presence != Present || !at.Begun {
			return false
		}
		s.sewsAgain(at, e.At)
		return true
	},
})
