package app

import (
	"fmt"
	"slices"
	"strings"

	"chalkstep/core/blank"
	"chalkstep/core/kit"
	"chalkstep/core/recipe"
	"chalkstep/core/skill"
	"chalkstep/store"
)

// fillContent puts a project's content in, checked, or keeps what is there.
func (d Desk) fillContent(p *store.Project, content *store.ProjectContent) error {
	if content == nil && p.ID != 0 {
		was, err := d.shop.Project(p.ID)
		if err != nil {
			return err
		}
		p.Content = was.Content
	}
	if content != nil {
		p.Content = *content
	}
	problems := Problems{}
	checkContent(problems, p.Content)
	p.Again = nil
	for i, h := range p.Content.Hoopings {
		again, err := d.shop.Design(h.DesignID)
		if err != nil {
			problems["hoopings"] = fmt.Sprintf("Hooping %d: choose its design.", i+2)
			continue
		}
		p.Again = append(p.Again, again)
	}
	if err := problems.orNil(); err != nil {
		return err
	}
	_, problem := markOf(*p)
	if problem != "" && p.Content.Shape != "" {
		return Problems{"spot": problem}
	}
	return nil
}

// checkContent says what of a project's content cannot be meant.
func checkContent(problems Problems, c store.ProjectContent) {
	between(problems, "level", float64(c.Level), 0, 5, "Choose a level from the list.")
	for _, key := range c.Teaches {
		if _, ok := skill.ByKey(key); !ok {
			problems["teaches"] = "Choose steps of the ladder."
		}
	}
	for i, h := range c.Hoopings {
		if strings.TrimSpace(h.Title) == "" {
			problems["hoopings"] = fmt.Sprintf("Hooping %d: say what it sews, such as the back.", i+2)
		}
	}
	for i, l := range c.Layers {
		if !slices.Contains(kit.LayerKinds, l.What) {
			problems["layers"] = fmt.Sprintf("Layer %d: choose what is laid.", i+1)
		}
		if l.Fabric != "" && !knownFabric(l.Fabric) {
			problems["layers"] = fmt.Sprintf("Layer %d: choose a fabric from the list.", i+1)
		}
		if l.BeforeStop < 0 || l.WidthMM < 0 || l.HeightMM < 0 || l.WidthMM > 5000 || l.HeightMM > 5000 {
			problems["layers"] = fmt.Sprintf("Layer %d: write sizes up to 5,000 mm and a stop of the design.", i+1)
		}
	}
	for i, part := range c.Parts {
		if strings.TrimSpace(part.Name) == "" || part.Count < 1 || part.Count > 100 {
			problems["parts"] = fmt.Sprintf("Part %d: a name and 1 to 100 of it.", i+1)
		}
	}
	for i, w := range c.Work {
		if strings.TrimSpace(w.Title) == "" || !(w.Minutes >= 0 && w.Minutes <= 600) {
			problems["work"] = fmt.Sprintf("Work %d: say what is done, and 0 to 600 minutes.", i+1)
		}
	}
	if len(c.Hoopings) > 8 || len(c.Layers) > 30 || len(c.Parts) > 30 || len(c.Work) > 20 {
		problems[""] = "That is more than one project can hold: at most 9 hoopings, 30 layers, 30 parts and 20 steps off the machine."
	}
}

// SaveContent changes a project's content alone.
func (d Desk) SaveContent(id int64, version int, change func(*store.ProjectContent)) error {
	if err := d.mayChange(); err != nil {
		return err
	}
	p, err := d.shop.Project(id)
	if err != nil {
		return err
	}
	content := p.Content
	change(&content)
	in := ProjectInput{
		ID: id, Version: version, Name: p.Name, Blank: p.Blank, DesignID: p.DesignID, Width: fmt.Sprint(p.BlankWidthMM), Height: fmt.Sprint(p.BlankHeightMM),
		Fabric: p.Fabric, Uses: p.Uses, Minutes: map[string]string{}, Content: &content,
	}
	// Minutes that a person set stay with the steps that stay.
	for _, s := range p.Steps {
		in.Minutes[s.Key] = fmt.Sprint(s.Minutes)
	}
	for i := range content.Work {
		delete(in.Minutes, fmt.Sprintf("work:%d", i+1))
		delete(in.Minutes, fmt.Sprintf("iron:%d", i+1))
	}
	_, err = d.SaveProject(in)
	return err
}

// SavePhoto puts a photo to a project, or takes it away.
func (d Desk) SavePhoto(id int64, photo []byte) error {
	if err := d.mayChange(); err != nil {
		return err
	}
	problems := Problems{}
	kind := photoType(problems, photo)
	if err := problems.orNil(); err != nil {
		return err
	}
	if len(photo) == 0 {
		return Problems{"photo": "No photo arrived. Choose one and add it again."}
	}
	return d.shop.SavePhoto(id, photo, kind)
}

// ProjectPhoto gives a project's photo with its type.
func (d Desk) ProjectPhoto(id int64) (kind string, data []byte, err error) {
	p, err := d.shop.ProjectPhoto(id)
	return p.PhotoType, p.Photo, err
}

// markOf finds where on its blank a project's design goes.
func markOf(p store.Project) (blank.Mark, string) {
	c := p.Content
	if c.Shape == "" {
		return blank.Mark{}, "Say what shape the blank has."
	}
	mark, err := blank.Place(blank.Request{
		Shape: c.Shape, Size: c.Size, WidthMM: p.BlankWidthMM, HeightMM: p.BlankHeightMM, Spot: c.Spot,
		DesignWidthMM: p.Design.WidthMM, DesignHeightMM: p.Design.HeightMM, MoveXMM: c.MoveXMM, MoveYMM: c.MoveYMM,
	})
	if err != nil {
		return mark, Sentence(err.Error())
	}
	return mark, ""
}

// layersOf are a project's layers as the kit cuts them.
func layersOf(p store.Project) []kit.Layer {
	var layers []kit.Layer
	for _, l := range p.Content.Layers {
		fabric := l.Fabric
		if fabric == "" {
			fabric = string(recipe.WovenCotton)
		}
		layers = append(layers, kit.Layer{What: l.What, Fabric: fabric, WidthMM: l.WidthMM, HeightMM: l.HeightMM, Stop: l.BeforeStop})
	}
	return layers
}
