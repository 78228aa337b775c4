package fleet

import (
	"slices"
	"strings"
	"time"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/fleet"
	"chalkstep/core/fleet/care"
	"chalkstep/core/policy"
	"chalkstep/core/say"
	"chalkstep/paper"
)

// A CareLine is a kind of care of a machine, and why it is due; silent where it is not.
type CareLine struct {
	care.State
	Due say.Text
}

// An Upkeep is how a machine stands: what is due, and whether it is in trouble more often
// than the others.
type Upkeep struct {
	Care    []CareLine
	Trouble care.Trouble
}

// Due are the kinds of care that are.
func (u Upkeep) Due() []CareLine {
	return slices.DeleteFunc(slices.Clone(u.Care), func(l CareLine) bool { return l.Due.Silent() })
}

// upkeep is how the machines stand by the rules of the house, by their numbers.
func (d UseCases) upkeep(settings policy.Workshop) (map[int64]Upkeep, error) {
	states, tallies, err := d.Workshop.CareStates()
	if err != nil {
		return nil, err
	}
	all := map[int64]Upkeep{}
	for id, kinds := range states {
		u := Upkeep{Trouble: care.TroubleOf(id, tallies)}
		for _, s := range kinds {
			u.Care = append(u.Care, CareLine{s, s.Due(settings.Care, d.Now)})
		}
		all[id] = u
	}
	return all, nil
}

// A CarePage is how a machine stands, and what was done to it.
type CarePage struct {
	Upkeep
	Done []care.Done
	// Outages that are not over.
	Outages []fleet.Outage
}

// Care opens how a machine of the list stands.
func (d UseCases) Care(m fleet.Machine) (CarePage, error) {
	if err := d.Need(actor.See); err != nil {
		return CarePage{}, err
	}
	settings, err := d.Settings()
	if err != nil {
		return CarePage{}, err
	}
	all, err := d.upkeep(settings)
	if err != nil {
		return CarePage{}, err
	}
	page := CarePage{Upkeep: all[m.ID]}
	page.Outages = slices.DeleteFunc(slices.Clone(m.Outages), func(o fleet.Outage) bool {
		return o.EndsAt != nil && !o.EndsAt.After(d.Now)
	})
	const newest = 20
	page.Done, err = d.Workshop.CaredFor(m.ID, newest)
	return page, err
}

// CareFor writes down what was done to a machine just now.
func (d UseCases) CareFor(machineID int64, kind care.Kind, note string) error {
	if err := d.Need(actor.RunClasses); err != nil {
		return err
	}
	problems := form.Problems{}
	if !slices.Contains(care.Kinds, kind) {
		problems["care"] = "Choose what was done."
	}
	note = form.Text(problems, "care-note", note, 200)
	if err := problems.OrNil(); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error {
		if _, err := d.Workshop.Machine(machineID); err != nil {
			return err
		}
		return d.Workshop.CareFor(machineID,
			care.Done{Kind: kind, At: d.Now.Truncate(time.Second), Note: strings.TrimSpace(note)}, d.Who.AccountID)
	})
}

// A SheetPage is what is printed for a machine, to lie beside it.
type SheetPage struct {
	Machine fleet.Machine
	Manners []fleet.Manner
}

// MachineSheet opens what is printed for a machine.
func (d UseCases) MachineSheet(id int64) (SheetPage, error) {
	if err := d.Need(actor.See); err != nil {
		return SheetPage{}, err
	}
	m, err := d.Workshop.Machine(id)
	if err != nil {
		return SheetPage{}, err
	}
	machines, err := d.Workshop.Machines()
	return SheetPage{Machine: m, Manners: m.Manners(machines)}, err
}

// MachineCode is the code of a machine's page below a site, as a PNG.
func (d UseCases) MachineCode(id int64, site string) ([]byte, error) {
	if err := d.Need(actor.See); err != nil {
		return nil, err
	}
	if _, err := d.Workshop.Machine(id); err != nil {
		return nil, err
	}
	return paper.Code(site + MachinePath(id))
}
