package store

import (
	"strings"

	"gorm.io/gorm"
)

// Rows are the part of a long list that a page shows.
type Rows struct{ From, Limit int }

// counted is a row's id and version, and how many rows there are in all.
type counted struct {
	ID      int64
	Version int
	Total   int
}

// total is how many rows there are beside those of the stretch.
func total(rows []counted) int {
	if len(rows) == 0 {
		return 0
	}
	return rows[0].Total
}

// escapeLike takes the meaning from what a person typed into a search.
func escapeLike(words string) string {
	return strings.NewReplacer(`\`, `\\`, `%`, `\%`, `_`, `\_`).Replace(words)
}

// names lists names that hold words, those that begin with them first.
func (w Workshop) names(q *gorm.DB, words string, limit int) ([]string, error) {
	var names []string
	like := escapeLike(strings.TrimSpace(words))
	err := q.Where("name ILIKE ?", "%"+like+"%").Order(gorm.Expr("name NOT ILIKE ?, name", like+"%")).Limit(limit).Pluck(
		"name", &names).Error
	return names, explain("suggesting names", err)
}

// valuesOf are the values of rows.
func valuesOf[R, V any](rows []R, value func(R) V) []V {
	values := make([]V, len(rows))
	for i, r := range rows {
		values[i] = value(r)
	}
	return values
}
