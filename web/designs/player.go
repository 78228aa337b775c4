package designs

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/png"

	"github.com/gofiber/fiber/v3"

	"chalkstep/app/designs"
	"chalkstep/core/stitch"
)

// stitches gives the player its data.
func stitches(c fiber.Ctx, d designs.UseCases, id int64) error {
	data, err := d.Stitches(id)
	if err != nil {
		return err
	}
	c.Set(fiber.HeaderContentType, "application/vnd.chalkstep.reel")
	return c.Send(data)
}

// densityShades go from clear to brick, one for each density class.
var densityShades = map[stitch.DensityClass]color.NRGBA{
	stitch.Open: {0x9f, 0xc3, 0xb0, 0xff}, stitch.Medium: {0x5f, 0x92, 0xb8, 0xff}, stitch.Dense: {0xc9, 0x8a, 0x1a, 0xff},
	stitch.TooDense: {0xa3, 0x33, 0x20, 0xff},
}

// density draws the density map, a point for each cell. Too dense cells are
// hatched, so that they are told by shape too.
func density(c fiber.Ctx, d designs.UseCases, id int64) error {
	m, err := d.DensityMap(id)
	if err != nil {
		return err
	}
	const cell, grazed = 4, 0.05
	picture := image.NewNRGBA(image.Rect(0, 0, m.Columns*cell, m.Rows*cell))
	for row := range m.Rows {
		for column := range m.Columns {
			coverage := m.Coverage[row*m.Columns+column]
			if coverage <= grazed {
				continue
			}
			class := stitch.Class(coverage)
			for y := range cell {
				for x := range cell {
					if class == stitch.TooDense && (x+y)%cell == 0 {
						continue
					}
					picture.SetNRGBA(column*cell+x, (m.Rows-1-row)*cell+y, densityShades[class])
				}
			}
		}
	}
	var out bytes.Buffer
	if err := png.Encode(&out, picture); err != nil {
		return fmt.Errorf("drawing the density map: %w", err)
	}
	c.Set(fiber.HeaderContentType, "image/png")
	return c.Send(out.Bytes())
}
