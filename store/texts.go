package store

import (
	"database/sql/driver"

	"github.com/lib/pq"
)

// Texts is a column of PostgreSQL's type text[]. Nil is the empty list.
type Texts []string

// Value implements driver.Valuer.
func (t Texts) Value() (driver.Value, error) {
	if t == nil {
		return "{}", nil
	}
	return pq.StringArray(t).Value()
}

// Scan implements sql.Scanner.
func (t *Texts) Scan(src any) error { return (*pq.StringArray)(t).Scan(src) }
