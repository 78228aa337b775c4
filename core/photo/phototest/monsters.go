// Package phototest writes small files of large pictures by hand, for tests: no
// encoder makes them.
package phototest

import (
	"bytes"
	"compress/zlib"
	"encoding/binary"
	"hash/crc32"
)

// PNG is a black picture; kind is the colour type and depth the bits of each part.
func PNG(w, h int, kind, depth byte, interlaced bool) []byte {
	var out bytes.Buffer
	chunk := func(name string, data []byte) {
		_ = binary.Write(&out, binary.BigEndian, uint32(len(data)))
		body := append([]byte(name), data...)
		_, _ = out.Write(body)
		_ = binary.Write(&out, binary.BigEndian, crc32.ChecksumIEEE(body))
	}
	_, _ = out.WriteString("\x89PNG\r\n\x1a\n")
	head := binary.BigEndian.AppendUint32(binary.BigEndian.AppendUint32(nil, uint32(w)), uint32(h))
	passes := [][4]int{{0, 0, 1, 1}} // where a pass begins, and its steps
	head = append(head, depth, kind, 0, 0, 0)
	if interlaced {
		head[len(head)-1] = 1
		passes = [][4]int{{0, 0, 8, 8}, {4, 0, 8, 8}, {0, 4, 4, 8}, {2, 0, 4, 4}, {0, 2, 2, 4}, {1, 0, 2, 2}, {0, 1, 1, 2}}
	}
	chunk("IHDR", head)
	if kind == 3 {
		chunk("PLTE", make([]byte, 3))
	}
	parts := map[byte]int{0: 1, 2: 3, 3: 1, 4: 2, 6: 4}[kind]
	var data bytes.Buffer
	z, _ := zlib.NewWriterLevel(&data, zlib.BestSpeed)
	for _, p := range passes {
		columns, rows := max(0, (w-p[0]+p[2]-1)/p[2]), max(0, (h-p[1]+p[3]-1)/p[3])
		row := make([]byte, 1+(columns*parts*int(depth)+7)/8)
		for range rows {
			if columns > 0 {
				_, _ = z.Write(row)
			}
		}
	}
	_ = z.Close()
	chunk("IDAT", data.Bytes())
	chunk("IEND", nil)
	return out.Bytes()
}

// JPEG is a grey picture in so many passes; colour is at half its size when halved.
func JPEG(w, h, passes int, halved bool) []byte {
	var out bytes.Buffer
	segment := func(marker byte, data []byte) {
		_, _ = out.Write([]byte{0xff, marker})
		_ = binary.Write(&out, binary.BigEndian, uint16(len(data)+2))
		_, _ = out.Write(data)
	}
	_, _ = out.Write([]byte{0xff, 0xd8})
	quantities := bytes.Repeat([]byte{1}, 65)
	quantities[0] = 0
	segment(0xdb, quantities)
	luma := byte(0x11)
	if halved {
		luma = 0x22
	}
	frame := binary.BigEndian.AppendUint16(binary.BigEndian.AppendUint16([]byte{8}, uint16(h)), uint16(w))
	segment(0xc2, append(frame, 3, 1, luma, 0, 2, 0x11, 0, 3, 0x11, 0))
	// One code of one bit each: for a block that is as the one before, and for a run of
	// 16,384 blocks or more of which nothing is said.
	table := func(class, symbol byte) []byte {
		return append(append([]byte{class << 4, 1}, make([]byte, 15)...), symbol)
	}
	segment(0xc4, table(0, 0))
	segment(0xc4, table(1, 0xe0))
	block := 8
	if halved {
		block = 16
	}
	columns, rows := (w+block-1)/block, (h+block-1)/block
	codes := 3 * columns * rows
	if halved {
		codes *= 2
	}
	segment(0xda, []byte{3, 1, 0, 2, 0, 3, 0, 0, 0, 0})
	_, _ = out.Write(make([]byte, (codes+7)/8))
	blocks := ((w + 7) / 8) * ((h + 7) / 8)
	var runs []byte
	var bits uint64
	n := 0
	for range blocks/16384 + 1 { // 0, and fourteen bits of how many more: none
		bits, n = bits<<15, n+15
		for ; n >= 8; n -= 8 {
			runs = append(runs, byte(bits>>(n-8)))
		}
	}
	runs = append(runs, 0)
	for range passes - 1 {
		segment(0xda, []byte{1, 1, 0, 1, 63, 0})
		_, _ = out.Write(runs)
	}
	_, _ = out.Write([]byte{0xff, 0xd9})
	return out.Bytes()
}

// WebP is a picture without loss whose pixels take no bits at all, turned by three of
// the format's transforms.
func WebP(w, h int) []byte {
	var data []byte
	var at uint
	put := func(value, bits uint) {
		for i := range bits {
			if at%8 == 0 {
				data = append(data, 0)
			}
			data[at/8] |= byte(value>>i&1) << (at % 8)
			at++
		}
	}
	oneSymbol := func() { // five codes of one symbol, 0
		for range 5 {
			put(1, 1)
			put(0, 1)
			put(0, 1)
			put(0, 1)
		}
	}
	put(0x2f, 8)
	put(uint(w-1), 14)
	put(uint(h-1), 14)
	put(0, 4)
	put(1, 1) // green taken off
	put(2, 2)
	for transform := range uint(2) { // predicted; mixed
		put(1, 1)
		put(transform, 2)
		put(0, 3) // for squares of four
		put(0, 1) // no cache of colours
		oneSymbol()
	}
	put(0, 1)
	put(0, 1) // no cache of colours
	put(0, 1) // the same codes everywhere
	oneSymbol()
	data = append(data, make([]byte, 8)...)
	out := binary.LittleEndian.AppendUint32([]byte("RIFF"), uint32(12+len(data)))
	out = binary.LittleEndian.AppendUint32(append(out, "WEBPVP8L"...), uint32(len(data)))
	return append(out, data...)
}
