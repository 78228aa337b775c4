package classes

import (
	"strconv"
	"time"

	"chalkstep/app/desk"
	"chalkstep/core/run"
	"chalkstep/paper"
)

// Wrap sums a class up, however far it is.
func (d Desk) Wrap(classID int64) (RunPage, run.Report, error) {
	if err := d.Need(desk.See); err != nil {
		return RunPage{}, run.Report{}, err
	}
	page, err := d.runs(classID)
	if err != nil {
		return page, run.Report{}, err
	}
	return page, page.State.Report(), nil
}

// WrapCSV lists every step of everybody: who, at which machine, from when to when, and
// the minutes planned and real. Times are in the workshop's zone; what has not happened
// is empty.
func (d Desk) WrapCSV(classID int64) ([]byte, error) {
	if err := d.Need(desk.See); err != nil {
		return nil, err
	}
	page, report, err := d.Wrap(classID)
	if err != nil {
		return nil, err
	}
	rows := [][]string{{"student", "step", "machine", "planned_minutes", "real_minutes", "begun", "done", "skipped"}}
	for _, o := range report.Students {
		for k, step := range o.Steps {
			machine, _ := page.Plan.Machine(step.Station)
			row := []string{o.Name, step.Step, machine.Name, minutes(step.End - step.Start), "", "", "", ""}
			if k < o.Next {
				real := o.Real[k]
				row[6] = real.Ended.In(d.Who.Zone).Format(time.RFC3339)
				if real.Timed() {
					row[4], row[5] = minutes(real.Ended.Sub(real.Begun).Minutes()), real.Begun.In(d.Who.Zone).Format(time.RFC3339)
				}
				if real.Skipped {
					row[7] = "yes"
				}
			}
			rows = append(rows, row)
		}
	}
	return paper.CSV(rows)
}

func minutes(n float64) string { return strconv.FormatFloat(n, 'f', 1, 64) }
