package floor

// A Practice is something useful that somebody can do in a wait, once.
type Practice struct {
	Minutes float64 `json:"minutes"`
	// Early is what is of use only before they first sit down at a station.
	Early bool `json:"early,omitempty"`
}

// Waits over fillOver are filled (handbook, Waiting); for breath, between two things,
// somebody puts the one away.
const (
	fillOver tick = 10 * ticksPerMinute
	breath   tick = 1 * ticksPerMinute
)

// mostPractice of somebody are kept track of bit by bit.
const mostPractice = 32

// A Filled is what of somebody's list of practice they do, and from when to when.
type Filled struct {
	Practice   int
	Start, End float64
}

// Fill fills somebody's waits, in order, with what comes first on their list, is not done
// yet and fits; sits is when they first sit down at a station.
func Fill(waits []Span, sits float64, list []Practice) [][]Filled {
	practice, done := practised(list), uint32(0)
	out := make([][]Filled, len(waits))
	for i, w := range waits {
		_, done = fill(practice, done, ticks(w.From), ticks(w.To), ticks(min(sits, longestMinutes)), func(n int, at tick) {
			out[i] = append(out[i], Filled{n, toMinutes(at), toMinutes(at + practice[n].length)})
		})
	}
	return out
}

// A practice is a Practice in ticks.
type practice struct {
	length tick
	early  bool
}

func practised(list []Practice) []practice {
	var out []practice
	for _, p := range list {
		out = append(out, practice{ticks(p.Minutes), p.Early})
	}
	return out
}

// fill fills a wait, of which each piece is told with when it begins, where each is not
// nil. It gives the longest stretch of it that stays idle, and what is done by then: a bit
// for each of the list.
func fill(list []practice, done uint32, from, to, sits tick, each func(n int, at tick)) (idle tick, then uint32) {
	at := from
	for to-at > fillOver {
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
