// Package phone is what the phone beside a machine and the server say to each other, as JSON
// (docs/formats.md): what the page sends, and whatever else plays a machine.
package phone

import "time"

// A State is what a station is at.
type State struct {
	Class    int64     `json:"class"`
	Machine  int64     `json:"machine"`
	Clock    time.Time `json:"clock"`
	Speed    float64   `json:"speed"`
	Running  bool      `json:"running"`
	Finished bool      `json:"finished"`
	// Seq is that of the last event of the class.
	Seq      int64     `json:"seq"`
	People   []Person  `json:"people"`
	Sittings []Sitting `json:"sittings"`
}

// A Person is somebody at a station.
type Person struct {
	Student  int64   `json:"student"`
	Name     string  `json:"name"`
	Presence string  `json:"presence"`
	Step     string  `json:"step,omitempty"`
	Begun    bool    `json:"begun"`
	Minutes  float64 `json:"minutes"`
	Stop     int     `json:"stop,omitempty"`
	Stops    []Stop  `json:"stops,omitempty"`
	Hand     string  `json:"hand,omitempty"`
}

// A Stop that is left of what somebody sews.
type Stop struct {
	N       int     `json:"n"`
	Minutes float64 `json:"minutes"`
}

// A Sitting is who may sit down there, and when.
type Sitting struct {
	Student int64     `json:"student"`
	At      time.Time `json:"at"`
}

// Presses are what a phone sends at once, in order.
type Presses struct {
	Presses []Press `json:"presses"`
}

// A Press is something that happened; ID is the phone's own, so that it counts once.
type Press struct {
	ID      string `json:"id"`
	Kind    string `json:"kind"`
	Student int64  `json:"student,omitempty"`
	Step    string `json:"step,omitempty"`
	Stop    int    `json:"stop,omitempty"`
	Reason  string `json:"reason,omitempty"`
	// AgoMS is how many milliseconds ago it was pressed.
	AgoMS int64 `json:"ago_ms,omitempty"`
}

// An Answer says what became of each press, or why none was looked at.
type Answer struct {
	Pressed []Pressed `json:"pressed"`
	Error   string    `json:"error,omitempty"`
}

// A Pressed is what became of a press: Refused says why it does not count, empty where it does.
type Pressed struct {
	ID      string `json:"id"`
	Refused string `json:"refused,omitempty"`
}
