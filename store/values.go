package store

import (
	"maps"
	"slices"

	"chalkstep/core/day"
	"chalkstep/core/design"
	"chalkstep/core/hoop"
	"chalkstep/core/house"
	"chalkstep/core/kit"
	"chalkstep/core/project"
	"chalkstep/core/recipe"
	"chalkstep/core/room"
	"chalkstep/core/shelf"
	"chalkstep/core/skill"
	"chalkstep/core/stitch"
	"chalkstep/core/supply"
)

// What rows are to the core.

// Rules are what the workshop holds to.
func (w WorkshopRow) Rules() house.Rules {
	return house.Rules{House: w.House, Pace: w.Figures.Pace, Kit: w.Figures.Kit}
}

// Value of the hoop.
func (h Hoop) Value() room.Hoop {
	return room.Hoop{ID: h.ID, Version: h.Version, Name: h.Name, Field: hoop.Field{WidthMM: h.WidthMM, HeightMM: h.HeightMM}, Count: h.Count}
}

// Value of the machine.
func (m Machine) Value() room.Machine {
	machine := room.Machine{
		ID: m.ID, Version: m.Version, Name: m.Name, Formats: m.Formats, TopSpeedSPM: m.TopSpeedSPM, ChangeSeconds: m.ChangeSeconds, Needles: m.Needles,
		AutoTrim: m.AutoTrim, BobbinStyle: m.BobbinStyle, BobbinMetres: m.BobbinMetres, Pace: m.Pace,
	}
	for _, h := range m.Hoops {
		machine.Hoops = append(machine.Hoops, room.Held{Hoop: h.Hoop.Value(), OffXMM: h.DXMM, OffYMM: h.DYMM})
	}
	return machine
}

// Value of the design. Colours are as the database holds them to be.
func (d Design) Value() design.Design {
	v := design.Design{
		ID: d.ID, Version: d.Version, Name: d.Name, FileName: d.FileName, Format: d.Format, WidthMM: d.WidthMM, HeightMM: d.HeightMM,
		Stitches: d.Stitches, Jumps: d.Jumps, Trims: d.Trims, ColourChanges: d.ColorChanges, Coverage: d.Coverage,
		Lengths: stitch.Lengths{Short: d.ShortStitches, Long: d.LongStitches, NarrowestSatinMM: d.NarrowestSatinMM}, LetteringMM: d.LetteringMM,
		Warnings: d.Warnings, Level: d.Level, Tags: d.Tags, AddedAt: d.AddedAt, RetiredAt: d.RetiredAt,
	}
	for _, f := range d.Files {
		v.Files = append(v.Files, design.File{Format: f.Format, Name: f.FileName})
	}
	for _, c := range d.Charts {
		v.Charts = append(v.Charts, c.FileName)
	}
	for _, s := range d.Stops {
		color, _ := stitch.ParseRGB(s.Color)
		v.Stops = append(v.Stops, design.Stop{
			Stop: stitch.Stop{
				N: s.N, Role: stitch.Role(s.Role), Stitches: s.Stitches, Jumps: s.Jumps, Trims: s.Trims, Snips: s.Snips, ThreadMM: s.ThreadMM,
				Bounds: stitch.Bounds{Left: s.LeftMM, Bottom: s.BottomMM, Right: s.RightMM, Top: s.TopMM},
			},
			Color: color, Sews: s.Sews, Coverage: s.Coverage,
		})
	}
	return v
}

// Value of the project.
func (p Project) Value() project.Project {
	c := p.Content
	v := project.Project{
		ID: p.ID, Version: p.Version, Name: p.Name, Fabric: recipe.Fabric(p.Fabric), House: c.House, Level: c.Level, Teaches: c.Teaches, InHoop: c.InHoop, Photo: p.PhotoType != "",
		Blank:    project.Blank{Name: p.Blank, WidthMM: p.BlankWidthMM, HeightMM: p.BlankHeightMM, Shape: c.Shape, Size: c.Size, Spot: c.Spot, MoveXMM: c.MoveXMM, MoveYMM: c.MoveYMM},
		Hoopings: []project.Hooping{{Design: p.Design.Value()}}, Minutes: maps.Clone(c.Minutes),
	}
	for _, u := range p.Uses {
		v.Uses = append(v.Uses, recipe.Use(u))
	}
	for i, h := range c.Hoopings {
		hooping := project.Hooping{Title: h.Title}
		if i < len(p.Again) {
			hooping.Design = p.Again[i].Value()
		}
		v.Hoopings = append(v.Hoopings, hooping)
	}
	for _, l := range c.Layers {
		v.Layers = append(v.Layers, project.Layer{As: l.What, Fabric: l.Fabric, Under: l.Under, Tape: l.Tape, BeforeStop: l.BeforeStop, SizeMM: [2]float64{l.WidthMM, l.HeightMM}})
	}
	for _, part := range c.Parts {
		v.Parts = append(v.Parts, project.Part(part))
	}
	for _, w := range c.Work {
		v.Work = append(v.Work, project.Work(w))
	}
	return v
}

// Value of the student.
func (s Student) Value() skill.Student {
	v := skill.Student{ID: s.ID, Version: s.Version, Name: s.Name, FirstTimer: s.FirstTimer, Units: s.Units}
	for _, o := range s.SignOffs {
		v.SignOffs = append(v.SignOffs, skill.SignOff{Skill: skill.Key(o.Skill), On: skill.Kind(o.MachineKind), Date: o.SignedOn, Assessor: o.Assessor.Name})
	}
	return v
}

// Value of the place.
func (s ClassStudent) Value() day.Place {
	v := day.Place{Student: s.Student.Value(), Attendance: day.Attendance(s.Attendance), LateMinutes: s.LateMinutes, Kit: kit.State(s.KitState), Version: s.KitVersion}
	if s.Project != nil {
		p := s.Project.Value()
		v.Makes = &p
	}
	for _, text := range s.KitPacked {
		v.Packed = append(v.Packed, kit.ItemID(text))
	}
	return v
}

// Value of the class, at machines of the room: those that are not in the room
// any more are left out.
func (c Class) Value(machines []room.Machine) day.Class {
	v := day.Class{ID: c.ID, Version: c.Version, Name: c.Name, Project: c.Project.Value(), StartsAt: c.StartsAt, EndsAt: c.EndsAt, Instructors: c.Instructors, Irons: c.Irons}
	for _, s := range c.Students {
		v.Places = append(v.Places, s.Value())
	}
	for _, b := range c.Bookings {
		if i := slices.IndexFunc(machines, func(m room.Machine) bool { return m.ID == b.MachineID }); i >= 0 {
			v.Machines = append(v.Machines, machines[i])
		}
	}
	return v
}

// Value of the item.
func (i StockItem) Value() shelf.Item {
	return shelf.Item{
		ID: i.ID, Version: i.Version, Key: i.Key, Form: shelf.Form(i.Form), Name: i.Name, WidthMM: i.WidthMM, HeightMM: i.HeightMM, Metres: i.Metres, Grain: i.Grain, Remnant: i.Remnant,
		Pack: i.Pack, PackCents: i.PackCents, ReorderPoint: i.ReorderPoint, Supplier: i.Supplier, Place: i.Place, OnHand: i.OnHand, Reserved: i.Reserved,
	}
}

// ItemRow is the row of an item.
func ItemRow(i shelf.Item) StockItem {
	return StockItem{
		ID: i.ID, Version: i.Version, Key: i.Key, Form: string(i.Form), Name: i.Name, WidthMM: i.WidthMM, HeightMM: i.HeightMM, Metres: i.Metres, Grain: i.Grain, Remnant: i.Remnant,
		Pack: i.Pack, PackCents: i.PackCents, ReorderPoint: i.ReorderPoint, Supplier: i.Supplier, Place: i.Place,
	}
}

// fabricWords are the fabrics of recipes as the shelf wrote them.
func fabricWords() []string {
	words := make([]string, len(recipe.Fabrics))
	for i, f := range recipe.Fabrics {
		words[i] = string(f)
	}
	return words
}

// keyOfWords is the key that words of the shelf stood for.
func keyOfWords(kind, matches, color string) supply.Key {
	return supply.FromWords(kind, matches, color, fabricWords())
}

// DesignRow is the row of what was found in a file.
func DesignRow(d design.Design) Design {
	row := Design{
		WidthMM: d.WidthMM, HeightMM: d.HeightMM, Stitches: d.Stitches, Jumps: d.Jumps, Trims: d.Trims, ColorChanges: d.ColourChanges, Coverage: d.Coverage,
		ShortStitches: d.Lengths.Short, LongStitches: d.Lengths.Long, NarrowestSatinMM: d.Lengths.NarrowestSatinMM, LetteringMM: d.LetteringMM,
	}
	for _, s := range d.Stops {
		row.Stops = append(row.Stops, DesignStop{
			N: s.N, Color: s.Color.String(), Role: string(s.Role), Stitches: s.Stitches, Jumps: s.Jumps, Trims: s.Trims, Snips: s.Snips, ThreadMM: s.ThreadMM, Coverage: s.Coverage,
			LeftMM: s.Bounds.Left, BottomMM: s.Bounds.Bottom, RightMM: s.Bounds.Right, TopMM: s.Bounds.Top,
		})
	}
	return row
}
