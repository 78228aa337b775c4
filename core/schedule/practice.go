package schedule

// A Practice is something useful that somebody can do in a wait, once.
type Practice struct {
	Minutes float64 `json:"minutes"`
	// Early is what is of use only before they first sit down at a machine.
	Early bool `json:"early,omitempty"`
}

// Waits over FillOver are filled (handbook, Waiting); for breath, between two things,
// somebody puts the one away.
const (
	FillOver Tick = 10 * TicksPerMinute
	breath   Tick = 1 * TicksPerMinute
)

// mostPractice of somebody are kept track of bit by bit.
const mostPractice = 32

// A Filled is what of somebody's list of practice they do, and from when to when.
type Filled struct {
	Practice   int
	Start, End float64
}

// Fill fills somebody's waits, in order, with what comes first on their list, is not done
// yet and fits; sits is when they first sit down at a machine.
func Fill(waits []Interval, sits float64, list []Practice) [][]Filled {
	practice, done := Activities(list), uint32(0)
	out := make([][]Filled, len(waits))
	for i, w := range waits {
		_, done = FillOne(practice, done, Ticks(w.From), Ticks(w.To), Ticks(min(sits, longestMinutes)), func(n int, at Tick) {
			out[i] = append(out[i], Filled{n, ToMinutes(at), ToMinutes(at + practice[n].length)})
		})
	}
	return out
}

// An Activity is a Practice in ticks.
type Activity struct {
	length Tick
	early  bool
}

func Activities(list []Practice) []Activity {
	var out []Activity
	for _, p := range list {
		out = append(out, Activity{Ticks(p.Minutes), p.Early})
	}
	return out
}

// FillOne fills a wait, of which each piece is told with when it begins, where each is not
// nil. It gives the longest stretch of it that stays idle, and what is done by then: a bit
// for each of the list.
func FillOne(list []Activity, done uint32, from, to, sits Tick, each func(n int, at Tick)) (idle Tick, then uint32) {
	at := from
	for to-at > FillOver {
		n := 0
		for n < len(list) && (done>>n&1 == 1 || list[n].length > to-at-breath || list[n].early && at >= sits) {
			n++
		}
		if n == len(list) {
			break
		}
		if each != nil {
			each(n, at)
		}
		done |= 1 << n
		idle = max(idle, at-from)
		from = at + list[n].length
		at = from + breath
	}
	return max(idle, to-from), done
}
