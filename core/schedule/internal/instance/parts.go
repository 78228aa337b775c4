package instance

import "slices"

// part cuts a block where its job leaves a machine to come back to it, and returns its parts, or the
// whole block where it cannot be cut. Parts after the first take nothing that others hold from
// operation to operation, so that they never wait without an end.
func (j *CompiledJob) part(b *Block, taken map[int]bool) []Block {
	var cuts []int
	for _, c := range b.Chains {
		if c.Tied >= 0 {
			first, _ := j.ChainSpan(c.Index)
			for first--; j.Operations[first].Chain < 0; first-- {
			}
			cuts = append(cuts, first+1)
		} else if len(cuts) > 0 {
			return []Block{*b}
		}
	}
	if len(cuts) == 0 {
		return []Block{*b}
	}
	for _, h := range b.Holds {
		if h.isNothing() {
			continue
		}
		if h.From >= cuts[0] || h.Chain >= 0 && slices.Equal(h.ByOption, j.optionsOf(b, h.Chain)) && h.To >= cuts[0] {
			return []Block{*b}
		}
	}
	for k := cuts[0]; k < b.To; k++ {
		o := &j.Operations[k]
		if slices.ContainsFunc(o.Needs, func(c Claim) bool { return taken[c.Resource] }) ||
			slices.ContainsFunc(o.OneOf, func(r int) bool { return taken[r] }) {
			return []Block{*b}
		}
	}
	var parts []Block
	from := b.From
	for i, to := range append(cuts, b.To) {
		part := Block{From: from, To: to, Parted: b, Parts: len(cuts) + 1 - i, Later: i > 0}
		for _, h := range b.Holds {
			if !h.isNothing() && h.From >= from && h.From < to {
				part.Holds = append(part.Holds, h)
			}
		}
		for _, c := range b.Chains {
			if first, _ := j.ChainSpan(c.Index); first >= from && first < to {
				c.Length, c.Windows = nil, make([][]Window, len(c.Options))
				j.measure(&part, &c)
				part.Chains = append(part.Chains, c)
			}
		}
		parts, from = append(parts, part), to
	}
	return parts
}

// optionsOf are the options of a chain of a block.
func (j *CompiledJob) optionsOf(b *Block, index int) []int {
	for _, c := range b.Chains {
		if c.Index == index {
			return c.Options
		}
	}
	return nil
}
