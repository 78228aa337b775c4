package store

import (
	"database/sql/driver"
	"fmt"

	"github.com/jackc/pgx/v5/pgtype"
)

// texts is a column of PostgreSQL's type text[]. Nil is the empty list.
type texts []string

// Value implements driver.Valuer.
func (t texts) Value() (driver.Value, error) {
	if t == nil {
		return "{}", nil
	}
	text, err := pgtype.NewMap().Encode(pgtype.TextArrayOID, pgtype.TextFormatCode, []string(t), nil)
	if err != nil {
		return nil, fmt.Errorf("writing a list of texts: %w", err)
	}
	return string(text), nil
}

// Scan implements sql.Scanner.
func (t *texts) Scan(src any) error {
	return pgtype.NewMap().SQLScanner((*[]string)(t)).Scan(src)
}
