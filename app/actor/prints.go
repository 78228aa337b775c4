package actor

import (
	"context"
	"crypto/sha256"
	"encoding/json"
	"fmt"
	"strings"

	"chalkstep/core/design"
	"chalkstep/core/stitch"
	"chalkstep/core/stitch/outline"
	"chalkstep/paper"
)

const (
	// printsAtOnce are drawn at a time: drawing is work for the processor.
	printsAtOnce = 2
	// keptPrints of at most keptPrintBytes are remembered.
	keptPrints     = 48
	keptPrintBytes = 1 << 20
)

// Print draws something for paper, or gives what was drawn of the same before: what is told
// apart by its content, which says all that draw draws. Two are drawn at a time, the others
// wait; nobody waits who has gone.
func Print(ctx context.Context, d Actor, content any, draw func() ([]byte, error)) ([]byte, error) {
	text, err := json.Marshal(content)
	if err != nil {
		return nil, fmt.Errorf("writing down what is printed: %w", err)
	}
	key := sha256.Sum256(text)
	kept := d.app.memo.prints
	if data, drawn := kept.Get(key); drawn {
		return data, nil
	}
	return Shared(d, "print "+string(key[:]), func() ([]byte, error) {
		if err := d.app.printing.Acquire(ctx, 1); err != nil {
			return nil, fmt.Errorf("waiting to print: %w", err)
		}
		defer d.app.printing.Release(1)
		if data, drawn := kept.Get(key); drawn {
			return data, nil
		}
		data, err := draw()
		if err == nil && len(data) <= keptPrintBytes {
			kept.Add(key, data)
		}
		return data, err
	})
}

// PrintTemplate prints a template with the lines of a design at a size in percent: on sheets
// of paper as PDF, or in one piece as SVG where the sheet has no name.
func PrintTemplate(ctx context.Context, d Actor, t paper.Template, of design.Design, percent int, name,
	sheetName string) (fileName string, data []byte, err error) {
	name += ".svg"
	draw := paper.Template.SVG
	if sheetName != "" {
		sheet, err := Sheet(sheetName)
		if err != nil {
			return "", nil, err
		}
		name = strings.TrimSuffix(name, ".svg") + ".pdf"
		draw = func(t paper.Template) ([]byte, error) { return t.PDF(ctx, sheet) }
	}
	data, err = Print(ctx, d, []any{"template", t, of.ID, of.Version, percent, sheetName}, func() ([]byte, error) {
		pattern, err := d.Pattern(of)
		if err != nil {
			return nil, err
		}
		if percent != 100 {
			pattern = stitch.Resized(pattern, percent)
		}
		a := stitch.Analyse(pattern)
		t.WidthMM, t.HeightMM, t.Outline, t.Stitches = a.WidthMM, a.HeightMM, outline.Silhouette(a), a.Lines()
		return draw(t)
	})
	return name, data, err
}
