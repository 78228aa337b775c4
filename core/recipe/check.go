package recipe

// BeforeStart is what is looked at before the start button is pressed
// (handbook, Before the start button).
func (r Recipe) BeforeStart() []string {
	start := "Needle over the template's cross"
	if r.StartLine == "marks" {
		start = "Needle over the hoop's marks, corrected for this hoop"
	}
	list := []string{
		"The right hoop told to the machine", start, "Corners traced, nothing under the hoop", "Bobbin full, thread in the tension discs, foot down",
	}
	if r.Over != nil {
		list = append(list, "Topper over the whole design")
	}
	return append(list, "Hold the thread tail for three stitches")
}

// Inspection is what is looked at when the hoop is off (handbook,
// Inspecting).
func (r Recipe) Inspection() []string {
	list := []string{"Outline meets fill, no gap over 1 mm", "No loops, no puckers", "On the back, bobbin thread is the middle third of satin"}
	if r.Applique != "" {
		list = append(list, "Raw edges hidden")
	}
	return append(list, "Jumps snipped, marks gone")
}
