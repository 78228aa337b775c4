package live

import "chalkstep/core/say"

// checks are what is tried, in this order, when something goes wrong (handbook, Fixing).
var checks = map[Reason][]say.Text{
	Break: {
		say.T("Rethread with the foot up."), say.T("Is the thread caught on the spool, or is the cap the wrong one?"),
		say.T("A new needle."),
		say.T("Sew slower."), say.T("Another thread."), say.T("Tension last, by a small step."),
	},
	Nest: {
		say.T("Rethread the top with the foot up, so that it lies in the discs."),
		say.T("Is the bobbin seated, and wound evenly?"), say.T("Clean the bobbin case."), say.T("A new needle."),
	},
	Bobbin: {
		say.T("Take the hoop off without unhooping."), say.T("Put a full bobbin in."),
		say.T("Step back about ten stitches, and sew over."),
	},
	Strike: {
		say.T("Power off."), say.T("Find every piece of the needle."),
		say.T("A straight needle of the right size, flat to the back."), say.T("Was it the hoop, a pin or a dense spot?"),
	},
}

// Checks are what to try when a hand is up, in order; none where somebody else decides.
func (r Reason) Checks() []say.Text { return checks[r] }
