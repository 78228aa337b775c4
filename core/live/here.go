package live

// Here is that a student came, or came back.
const Here Kind = "here"

var _ = declare(Here, declaration{
	has: Fields{Student: true}, phone: AnyPhone,
	refused: notedBefore,
	said:    about("%s came"),
	ofStudent: func(_ *State, at *Standing, e Event) bool {
		if at.Presence == Present {
			return false
		}
		at.Presence, at.free, at.Begun = Present, e.At, false
		return true
	},
})
