package live

import (
	"chalkstep/core/say"
)

// Undone takes another event back, as if it had not been: one after another, from the last.
const Undone Kind = "undone"

var _ = declare(Undone, declaration{
	has:     Fields{Undoes: true},
	refused: say.T("Something else happened since: take that back first."),
})
