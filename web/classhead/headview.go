// Package classhead is what the pages of a class have in common: its head, and some words.
package classhead

import (
	"fmt"

	"chalkstep/app/actor"
	"chalkstep/core/classday"
	"chalkstep/web/ui"
)

// What a page of a class shows is put into words here, so that templates only
// place it.

// A Head is what stands above every part of a class.
type Head struct {
	ID, ProjectID int64
	// DesignID is what the class sews first, 0 when it is gone.
	DesignID       int64
	Name, Project  string
	When, Who      string
	Part, Sub      string
	PlanDone       bool
	Problem, Boxes string
	Parts          []prepPart
	Cancelled      bool
	// MayChange tells that the reader may change classes, MayAlter that this one
	// may be changed yet.
	MayChange, MayAlter bool
	IsOver              bool
}

func NewHead(d actor.Actor, plan classday.Plan, part, sub string, boxes string) Head {
	p, c := ui.P{Printer: d.Printer()}, plan.Class
	h := Head{MayChange: d.Who.May(actor.ChangeClasses),
		ID: c.ID, ProjectID: c.Project.ID, DesignID: c.Project.Design().ID, Name: c.Name, Project: c.Project.Name, Part: part,
		Sub: sub, PlanDone: plan.Planned() && plan.Result.Fits, Boxes: boxes, Parts: prepParts,
		When: p.When(c.StartsAt, c.EndsAt),
		Who:  fmt.Sprintf("%s, %s", p.N(len(c.Places), "student"), p.N(len(c.Machines), "machine")),
	}
	h.Cancelled = c.Off()
	h.IsOver = c.Over(d.Now)
	h.MayAlter = h.MayChange && !h.IsOver
	if !plan.Planned() {
		h.Problem = p.Say(plan.Why)
	}
	return h
}

// A prepPart is one page of preparing a class.
type prepPart struct{ Key, Name, Path string }

var prepParts = []prepPart{{"bring", "What to bring", "prep"}, {"shelf", "From the shelf and cut", "shelf"},
	{"kits", "Kits", "kits"}}

// Area is what the pages of a class are under.
const Area = "Classes"
