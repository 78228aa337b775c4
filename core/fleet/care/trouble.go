package care

import (
	"math"

	"chalkstep/core/say"
)

// A Tally is how often thread broke in so many stitches.
type Tally struct{ Breaks, Stitches int }

// Rate is breaks in 10,000 stitches.
func (t Tally) Rate() float64 {
	if t.Stitches == 0 {
		return 0
	}
	return float64(t.Breaks) * 10_000 / float64(t.Stitches)
}

// A Trouble is how a machine stands among the others.
type Trouble struct {
	Own, Others Tally
	// Machines that were compared.
	Machines int
	// Chance is how likely the machine would have so many breaks or more, were it like the
	// others: the exact test of two Poisson rates, in which the breaks of all fall on
	// stitches of each alike. 1 where there is nothing to compare with.
	Chance float64
}

// unlikely is below what chance a machine is said to need a look, shared among all that are
// compared so that a large room has no more false alarms than a small one: a figure of
// ours.
const unlikely = 0.05

// TroubleOf compares a machine with the other machines of the room, each by its number.
func TroubleOf(id int64, tallies map[int64]Tally) Trouble {
	t := Trouble{Own: tallies[id], Chance: 1}
	for other, tally := range tallies {
		if tally.Stitches == 0 {
			continue
		}
		t.Machines++
		if other != id {
			t.Others.Breaks += tally.Breaks
			t.Others.Stitches += tally.Stitches
		}
	}
	if t.Own.Stitches > 0 && t.Others.Stitches > 0 {
		share := float64(t.Own.Stitches) / float64(t.Own.Stitches+t.Others.Stitches)
		t.Chance = atLeast(t.Own.Breaks, t.Own.Breaks+t.Others.Breaks, share)
	}
	return t
}

// StandsOut tells that the machine breaks thread more often than chance explains.
func (t Trouble) StandsOut() bool {
	return t.Machines > 1 && t.Chance*float64(t.Machines) < unlikely && t.Own.Rate() > t.Others.Rate()
}

// Say tells the numbers, and by which test it stands out where it does.
func (t Trouble) Say() say.Text {
	rate := func(of Tally) say.Decimal { return say.Decimal{Value: of.Rate(), Places: 1} }
	own := say.T("%s in %s stitches, %s in 10,000", say.N{N: t.Own.Breaks, Noun: "break"}, say.Count(t.Own.Stitches),
		rate(t.Own))
	if t.Others.Stitches == 0 {
		return own
	}
	both := say.T("%s; the others %s", own, rate(t.Others))
	if !t.StandsOut() {
		return both
	}
	chance := say.T("1 time in %s", say.Count(int(math.Min(math.Round(1/t.Chance), 1e6))))
	return say.T("%s. Were it like the others, so many would come by chance %s (exact test of two Poisson rates, %s "+
		"compared)", both, chance, say.N{N: t.Machines, Noun: "machine"})
}

// atLeast is the chance of k or more of n falling on a share of the whole (binomial).
func atLeast(k, n int, share float64) float64 {
	if k <= 0 {
		return 1
	}
	logs := func(n int) float64 { g, _ := math.Lgamma(float64(n) + 1); return g }
	sum := 0.0
	for i := k; i <= n; i++ {
		sum += math.Exp(logs(n) - logs(i) - logs(n-i) + float64(i)*math.Log(share) + float64(n-i)*math.Log1p(-share))
	}
	return math.Min(sum, 1)
}
