package floor

import "slices"

// A mirror is the day from its end: everybody's steps backwards. What is placed in it
// as early as can be is as late as can be in the day, and an order made of that closes
// gaps that no single change does.
type mirror struct {
	*decoder
	day *schedule
}

// newMirror is none where the day is not the same from its end: where something is out,
// pinned or at a minute.
func newMirror(s *shop) *mirror {
	if len(s.pinned) > 0 || s.calendar() {
		return nil
	}
	back := *s
	back.people = nil
	for i := range s.people {
		if slices.ContainsFunc(s.people[i].steps, func(o op) bool { return o.at > 0 }) {
			return nil
		}
		back.people = append(back.people, s.people[i].backwards())
	}
	back.plain = back.newPlain()
	return &mirror{decoder: newDecoder(&back), day: back.newSchedule()}
}

func (j *job) backwards() job {
	n := len(j.steps)
	out := job{steps: slices.Clone(j.steps), blocks: slices.Clone(j.blocks)}
	slices.Reverse(out.steps)
	slices.Reverse(out.blocks)
	for i := range out.blocks {
		b := &out.blocks[i]
		b.from, b.to = n-b.to, n-b.from
		b.holds, b.chains = slices.Clone(b.holds), slices.Clone(b.chains)
		for k := range b.holds {
			h := &b.holds[k]
			h.from, h.to, h.sits = n-1-h.to, n-1-h.from, n-1-h.sits
		}
		for k := range b.chains {
			c := &b.chains[k]
			c.before, c.after = c.after, c.before
		}
		if b.sure {
			b.chains[0].reflect()
		} else {
			out.watch(b)
		}
	}
	out.cutTurns()
	return out
}

// reflect counts the windows of the chain of a sure block from its end: whatever is taken
// and given back within it is so at the same times.
func (c *chain) reflect() {
	forward := c.windows
	c.windows = nil
	for option, windows := range forward {
		back := slices.Clone(windows)
		for i, w := range windows {
			back[i].from, back[i].to = c.length[option]-w.to, c.length[option]-w.from
		}
		c.windows = append(c.windows, back)
	}
}

// justify makes the order to be tried that of now, placed as late as can be: most often
// at the stations it has.
func (s *search) justify() {
	if s.rng.IntN(10) < 7 {
		for i := range s.people {
			for k := range s.people[i].steps {
				if c := s.people[i].steps[k].chain; c >= 0 {
					s.tryChoice[c] = s.now.option[i][k]
				}
			}
		}
	}
	m := s.mirror
	s.tryOrder = s.turnsBy(s.tryOrder, func(i, blocks int) tick {
		j := &s.people[i]
		return -s.now.end[i][j.blocks[j.waiting(blocks)].to-1]
	})
	m.decode(s.tryOrder, s.tryChoice, m.day, never)
	s.tryOrder = s.said(s.turnsBy(s.tryOrder, func(i, blocks int) tick {
		j := &s.people[i]
		return -m.day.end[i][len(j.steps)-1-j.waits(blocks)]
	}))
}
