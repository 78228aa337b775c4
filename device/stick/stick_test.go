package stick_test

import (
	"archive/zip"
	"bytes"
	"io"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/device/stick"
)

func TestAStickInSittingOrder(t *testing.T) {
	at := time.Date(2026, 12, 5, 10, 0, 0, 0, time.UTC)
	data, err := stick.Write("Kettle", []stick.File{
		{Label: "Buoy badge", For: "Iris, 10:14", Format: "exp", Data: []byte{1}},
		{Label: "Rope-knot sampler", For: "Juno, 10:42", Format: "exp", Data: []byte{2, 3}},
		{Label: "Étoile", For: "Bo, 11:00", Format: "exp", Data: []byte{4}},
	}, at)
	require.NoError(t, err)
	archive, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	require.NoError(t, err)
	var names []string
	var index []byte
	for _, f := range archive.File {
		names = append(names, f.Name)
		if f.Name == "INDEX.TXT" {
			r, err := f.Open()
			require.NoError(t, err)
			index, err = io.ReadAll(r)
			require.NoError(t, err)
		}
	}
	assert.Equal(t, []string{"01BUOYBA.EXP", "02ROPEKN.EXP", "03TOILE.EXP", "INDEX.TXT"}, names)
	assert.Contains(t, string(index), "02ROPEKN.EXP  Rope-knot sampler, Juno, 10:42")
	_, err = stick.Write("Kettle", nil, at)
	assert.ErrorContains(t, err, "expected 1 to 99")
}
