package store

import (
	"errors"
	"reflect"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// boundKey names the setting that carries the workshop a statement is bound
// to; its value is the workshop's id, or anyWorkshop.
const boundKey = "chalkstep:workshop"

// anyWorkshop is for the few statements that come before one is known: the
// look-up of an account at sign-in.
type anyWorkshop struct{}

var errUnbound = errors.New("a statement on a workshop's rows was not bound to a workshop")

// bindToWorkshop installs the callbacks that make every statement on rows
// with a WorkshopID concern the bound workshop only, and refuse the unbound.
func bindToWorkshop(db *gorm.DB) error {
	callbacks := db.Callback()
	return errors.Join(
		callbacks.Query().Before("gorm:query").Register("chalkstep:bind", bindWhere),
		callbacks.Row().Before("gorm:row").Register("chalkstep:bind", bindWhere),
		callbacks.Update().Before("gorm:update").Register("chalkstep:bind", bindWhere),
		callbacks.Delete().Before("gorm:delete").Register("chalkstep:bind", bindWhere),
		callbacks.Create().Before("gorm:create").Register("chalkstep:bind", bindCreate),
	)
}

// bound finds the workshop of a statement; ok is false when its rows belong
// to none or it may see all.
func bound(db *gorm.DB) (id int64, ok bool) {
	if db.Statement.Schema == nil || db.Statement.Schema.LookUpField("WorkshopID") == nil {
		return 0, false
	}
	value, _ := db.Get(boundKey)
	switch v := value.(type) {
	case int64:
		return v, true
	case anyWorkshop:
		return 0, false
	}
	_ = db.AddError(errUnbound)
	return 0, false
}

func bindWhere(db *gorm.DB) {
	if id, ok := bound(db); ok {
		db.Statement.AddClause(clause.Where{Exprs: []clause.Expression{
			clause.Eq{Column: clause.Column{Table: clause.CurrentTable, Name: "workshop_id"}, Value: id},
		}})
	}
}

func bindCreate(db *gorm.DB) {
	id, ok := bound(db)
	if !ok {
		return
	}
	field := db.Statement.Schema.LookUpField("WorkshopID")
	set := func(row reflect.Value) {
		_ = db.AddError(field.Set(db.Statement.Context, reflect.Indirect(row), id))
	}
	switch rows := db.Statement.ReflectValue; rows.Kind() {
	case reflect.Slice, reflect.Array:
		for i := range rows.Len() {
			set(rows.Index(i))
		}
	case reflect.Struct:
		set(rows)
	}
}
