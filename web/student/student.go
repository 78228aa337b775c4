// Package student is the face of a student's own pages: opened by a personal link and a PIN
// on their own phone, showing what is theirs and nothing else.
package student

import (
	"errors"
	"fmt"
	"math"
	"slices"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/actor"
	"chalkstep/app/bookings"
	"chalkstep/app/people"
	"chalkstep/app/prep"
	"chalkstep/core/measure"
	"chalkstep/core/skill"
	"chalkstep/web/guard"
	face "chalkstep/web/prep"
	"chalkstep/web/ui"
)

// Routes of the face. A personal link is not among the areas: who has it is not signed in.
func Routes(f *fiber.App, a *actor.App, g *guard.Guard) {
	own := with(a)
	f.Get("/me", own, ui.With(func(c fiber.Ctx, d people.UseCases) error {
		return show(c, d, bookings.BookingInput{}, nil)
	}))
	f.Get("/me/card", own, ui.With(func(c fiber.Ctx, d prep.UseCases) error { return face.ShowOwnCard(c, d) }))
	f.Get("/me/rehearsal", own, ui.With(func(c fiber.Ctx, d prep.UseCases) error { return face.ShowRehearsal(c, d) }))
	f.Get("/me/picture/:design/:n", own,
		ui.With(func(c fiber.Ctx, d prep.UseCases) error { return face.OwnPicture(c, d) }))
	f.Post("/me/book", own, ui.With(book))
	f.Post("/me/bookings/:id/cancel", own, ui.WithID(cancel))
	f.Post("/me/bookings/:id/sat", own,
		ui.WithID(func(c fiber.Ctx, d bookings.UseCases, id int64) error { return backToBookings(c, d.SatDownOwn(id)) }))
	f.Post("/me/waits/:id/end", own,
		ui.WithID(func(c fiber.Ctx, d bookings.UseCases, id int64) error { return backToBookings(c, d.EndOwnWait(id)) }))
	f.Post("/me/messages/read", own, ui.With(func(c fiber.Ctx, d bookings.UseCases) error {
		return backToBookings(c, d.ReadOwn(ui.Number(c.FormValue("up-to"))))
	}))
	f.Post("/me/leave", func(c fiber.Ctx) error {
		if err := a.Leave(c.Context(), guard.OwnToken(c)); err != nil {
			return err
		}
		g.SetOwn(c, "")
		return c.Redirect().Status(fiber.StatusSeeOther).To("/me")
	})
	f.Get("/me/:link", func(c fiber.Ctx) error { return door(c, a, nil) })
	f.Post("/me/:link", func(c fiber.Ctx) error { return enter(c, a, g) })
}

// with opens the use cases of the student whose pages the browser has open; others are told how
// to open theirs.
func with(a *actor.App) fiber.Handler {
	return func(c fiber.Ctx) error {
		who, err := a.Student(c.Context(), guard.OwnToken(c))
		if errors.Is(err, actor.ErrNotFound) {
			c.Status(fiber.StatusForbidden)
			return ui.Render(c, "student/closed", "", "Your own page", nil)
		}
		if err != nil {
			return err
		}
		ui.SetDesk(c, a.For(c.Context(), who))
		c.Set(fiber.HeaderCacheControl, "no-store")
		return c.Next()
	}
}

func door(c fiber.Ctx, a *actor.App, problems *ui.Refused) error {
	found, err := a.Door(c.Context(), c.Params("link"))
	if err != nil {
		return err
	}
	c.Set(fiber.HeaderCacheControl, "no-store")
	return ui.Render(c, "student/door", "", found.Name,
		fiber.Map{"Door": found, "Link": c.Params("link"), "Problems": problems})
}

func enter(c fiber.Ctx, a *actor.App, g *guard.Guard) error {
	session, err := a.Enter(c.Context(), c.Params("link"), c.FormValue("pin"), g.Address(c), c.Get(fiber.HeaderUserAgent))
	switch {
	case err == nil:
		g.SetOwn(c, session)
		return c.Redirect().Status(fiber.StatusSeeOther).To("/me")
	case errors.Is(err, actor.ErrSignIn):
		c.Status(fiber.StatusUnprocessableEntity)
		return door(c, a, ui.Refuse("pin", "That is not the PIN you chose. If you forgot it, ask for a new link."))
	case errors.Is(err, actor.ErrTries):
		c.Status(fiber.StatusTooManyRequests)
		words := "Too many tries from here. Wait five minutes, then try again."
		var wait actor.WaitError
		if errors.As(err, &wait) {
			minutes := math.Ceil(wait.Until.Sub(a.Now()).Minutes())
			words = fmt.Sprintf("Too many wrong PINs. Wait %s, then try again, or ask for a new link.", measure.Minutes(minutes))
		}
		return door(c, a, ui.Refuse("pin", words))
	}
	return ui.Again(c, err, func(p *ui.Refused) error { return door(c, a, p) })
}

func book(c fiber.Ctx, d bookings.UseCases) error {
	in := bookings.BookingInput{MachineID: ui.Number(c.FormValue("machine")), Date: c.FormValue("date"),
		From: c.FormValue("from"), To: c.FormValue("to"), Wait: c.FormValue("wait") != ""}
	if err := d.BookOwn(in); err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error { return show(c, people.UseCases{Actor: d.Actor}, in, p) })
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/me#bookings")
}

func cancel(c fiber.Ctx, d bookings.UseCases, id int64) error {
	return backToBookings(c, d.CancelOwn(id))
}

// backToBookings goes on where a press came from.
func backToBookings(c fiber.Ctx, err error) error {
	if err != nil {
		return err
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/me#bookings")
}

// A view is a student's own page.
type view struct {
	Answer, Note string
	Class        *classView
	Kit          string
	Bookings     []bookingLine
	Machines     []machineChoice
	Cannot       []string
	Next         string
	LookFor      string
	Steps        []stepLine
	Feed         string
	Today        string
	Waits        []waitLine
	Messages     []string
	// UpTo is the newest of the messages.
	UpTo int64
}

type classView struct {
	Project string
	Steps   []timeLine
}

type timeLine struct{ At, Title, Where string }

type bookingLine struct {
	ID         int64
	Text       string
	MayCancel  bool
	CancelName string
	// MaySit tells that it is time to sit down, Sits that they have.
	MaySit, Sits bool
}

// A waitLine is what somebody waits for.
type waitLine struct {
	ID   int64
	Text string
}

type machineChoice struct {
	ID   int64
	Name string
	Here bool
}

type stepLine struct {
	Title, Says string
	Level       skill.Level
}

// levelWords are the levels as one says them to oneself.
var levelWords = map[skill.Level]string{"": "not yet", skill.Shown: "I was shown it",
	skill.Helped: "I did it with help", skill.Alone: "I did it alone", skill.Teaches: "I can teach it"}

func show(c fiber.Ctx, d people.UseCases, in bookings.BookingInput, problems *ui.Refused) error {
	page, err := d.Mine()
	if err != nil {
		return err
	}
	return ui.Render(c, "student/show", "", page.Student.Name,
		fiber.Map{"View": newView(ui.P{Printer: d.Printer()}, d, page, in), "In": in, "Problems": problems})
}

func newView(p ui.P, d people.UseCases, page people.MinePage, in bookings.BookingInput) view {
	v := view{Feed: page.Feed, Today: d.Date(), Answer: fmt.Sprintf("Hello %s.", page.Student.Name),
		Note: "No class is planned for you."}
	if o := page.Class; o != nil {
		v.Note = fmt.Sprintf("%s, %s.", o.Name, p.When(o.StartsAt, o.EndsAt))
		cv := &classView{Project: o.Project}
		for _, s := range o.Steps {
			cv.Steps = append(cv.Steps, timeLine{p.Clock(s.At), p.Sentence(s.Title), s.Machine})
		}
		i := slices.IndexFunc(o.Steps, func(s people.OwnStep) bool { return s.Machine != "" })
		if !o.Tells.Silent() {
			v.Answer = p.Say(o.Tells)
		} else if i == 0 && o.Runs && !o.Steps[i].At.After(d.Now) {
			v.Answer = fmt.Sprintf("You are at %s.", o.Steps[i].Machine)
		} else if i >= 0 {
			v.Answer = fmt.Sprintf("You sit at %s at %s.", o.Steps[i].Machine, p.Clock(o.Steps[i].At))
		} else if o.Runs && !o.Done.IsZero() {
			v.Answer = fmt.Sprintf("You are done at %s.", p.Clock(o.Done))
		}
		if !o.Done.IsZero() {
			how := "as planned"
			if o.Runs {
				how = "as it goes"
			}
			v.Note += fmt.Sprintf(" You are done at %s, %s.", p.Clock(o.Done), how)
		}
		v.Class, v.Kit = cv, string(o.Kit)
	}
	for _, b := range page.Bookings {
		text := p.When(b.StartsAt, b.EndsAt) + ", " + b.Machine.Name
		v.Bookings = append(v.Bookings,
			bookingLine{b.ID, text, b.StartsAt.After(d.Now), "Cancel " + text, b.Awaited(d.Now), b.Sits(d.Now)})
	}
	for _, x := range page.Waits {
		v.Waits = append(v.Waits, waitLine{x.ID, p.When(x.StartsAt, x.EndsAt) + ", " + x.Machine.Name})
	}
	for _, m := range page.Messages {
		v.Messages, v.UpTo = append(v.Messages, p.Say(m.Say())), max(v.UpTo, m.ID)
	}
	for _, m := range page.Machines {
		v.Machines = append(v.Machines, machineChoice{m.ID, m.Name, m.ID == in.MachineID})
	}
	for _, kind := range skill.Kinds {
		if why, is := page.Why[kind]; is {
			v.Cannot = append(v.Cannot, fmt.Sprintf("%s machines alone: %s", kind, p.Say(why)))
		}
	}
	if !page.Top {
		v.Next, v.LookFor = string(page.Next.Title), string(page.Next.LookFor)
	}
	for _, step := range page.Ladder.Steps() {
		best := page.Standings[step.Key].Best
		v.Steps = append(v.Steps, stepLine{string(step.Title), levelWords[best], best})
	}
	return v
}
