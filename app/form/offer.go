package form

// An Offer is what saving a form would do besides, which somebody has to have seen first.
type Offer struct {
	// Field is where it is shown, and Words what it says.
	Field, Words string
	// Key names what is offered: sent with the form, it is agreed to.
	Key string
}

func (o Offer) Error() string { return o.Words }
