package stitch

import (
	"crypto/sha256"
	"encoding/binary"
)

// Fingerprint is the same for designs that sew the same: every penetration
// from the first on, and every stop, whatever the format, the colours and the
// place on the table.
func (a Analysis) Fingerprint() [sha256.Size]byte {
	hash := sha256.New()
	var first *Move
	var buffer []byte
	for _, s := range a.Stops {
		buffer = buffer[:0]
		for i := range s.Moves {
			m := &s.Moves[i]
			if m.Kind != Stitch {
				continue
			}
			if first == nil {
				first = m
			}
			buffer = binary.LittleEndian.AppendUint32(buffer, uint32(m.X-first.X))
			buffer = binary.LittleEndian.AppendUint32(buffer, uint32(m.Y-first.Y))
		}
		var length [8]byte
		binary.LittleEndian.PutUint64(length[:], uint64(len(buffer)))
		hash.Write(length[:])
		hash.Write(buffer)
	}
	return [sha256.Size]byte(hash.Sum(nil))
}
