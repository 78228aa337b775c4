package live

import (
	"chalkstep/app/actor"
	"chalkstep/app/classload"
	"chalkstep/core/live"
)

// Run opens a class as it runs, with what would help those who will be late.
func (d UseCases) Run(classID int64) (classload.RunPage, error) {
	if err := d.Need(actor.See); err != nil {
		return classload.RunPage{}, err
	}
	page, err := d.load().Runs(classID)
	_, ended := page.Ended()
	wanted := len(page.Forecast.Late(page.State)) > 0 || len(page.Forecast.Stuck) > 0
	if err != nil || ended || !wanted {
		return page, err
	}
	if d.Who.Revision == 0 { // what it follows from is not known
		page.Offers = page.State.Offers(page.Now, page.Forecast)
		return page, nil
	}
	page.Offers, err = actor.Remembered(d.Actor, d.Memo().Offers, "offers", d.load().RunKey(classID),
		func() ([]live.Offer, error) {
			return page.State.Offers(page.Now, page.Forecast), nil
		})
	return page, err
}
