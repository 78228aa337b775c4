package schedule

import "math"

// Tick is the planner's unit of time: a millionth of a minute, so that sums
// of decimals are exact.
type Tick = int64

const TicksPerMinute = 1e6

func Ticks(minutes float64) Tick { return Tick(math.Round(minutes * TicksPerMinute)) }

func ToMinutes(t Tick) float64 { return float64(t) / TicksPerMinute }

const Never = Tick(1) << 60

const Hair = 1e-6
