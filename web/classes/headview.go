package classes

import (
	"fmt"

	"chalkstep/app/actor"
	"chalkstep/app/classes"
	"chalkstep/core/classday"
)

// What a page of a class shows is put into words here, so that templates only
// place it.

// A head is what stands above every part of a class.
type head struct {
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

func newHead(d classes.UseCases, plan classday.Plan, part, sub string, boxes string) head {
	p, c := printer(d), plan.Class
	h := head{MayChange: d.Who.May(actor.ChangeClasses),
		ID: c.ID, ProjectID: c.Project.ID, DesignID: c.Project.Design().ID, Name: c.Name, Project: c.Project.Name, Part: part, Sub: sub, PlanDone: plan.Planned() && plan.Result.Fits, Boxes: boxes, Parts: prepParts,
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
