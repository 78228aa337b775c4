package form

import (
	"strings"

	"chalkstep/store"
)

// Pages says which stretch of a long list is shown, and of what search.
type Pages struct {
	Words string
	// Page counts from 1.
	Page, OnPage int
	// Total rows there are of the search.
	Total int
}

// MostSuggested names are suggested while one is typed.
const MostSuggested = 20

// mostPages keeps an address from asking for rows beyond counting.
const mostPages = 100_000

// NewPages reads which stretch of a list somebody asks for.
func NewPages(words string, page, onPage int) Pages {
	return Pages{Words: strings.TrimSpace(Shortened(Cleaned(words), LongestName)), Page: min(max(1, page), mostPages),
		OnPage: onPage}
}

// Rows is what the store is asked for.
func (p Pages) Rows() store.Rows {
	return store.Rows{From: (p.Page - 1) * p.OnPage, Limit: p.OnPage}
}

// From and To are the first and the last row shown, counted from 1.
func (p Pages) From() int { return min((p.Page-1)*p.OnPage+1, p.Total) }

// To is the last row shown.
func (p Pages) To() int { return min(p.Page*p.OnPage, p.Total) }

// Earlier is the page before, 0 for none; Later the one after.
func (p Pages) Earlier() int { return p.Page - 1 }

// Later is the page after this one, 0 for none.
func (p Pages) Later() int {
	if p.Page*p.OnPage >= p.Total {
		return 0
	}
	return p.Page + 1
}

// Several tells that the list does not fit one page.
func (p Pages) Several() bool { return p.Total > p.OnPage || p.Page > 1 }
