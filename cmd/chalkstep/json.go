package main

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"strings"
)

// readJSON fills v from a file that holds one JSON object and nothing else.
// Unknown fields are refused by name; errors say where in the file.
func readJSON(path string, v any) error {
	data, err := os.ReadFile(path)
	if err != nil {
		return fmt.Errorf("reading %s: %w", path, unwrapPath(err))
	}
	decoder := json.NewDecoder(bytes.NewReader(data))
	decoder.DisallowUnknownFields()
	if err := decoder.Decode(v); err != nil {
		return fmt.Errorf("reading %s, %s: %s", path, place(data, offsetOf(data, err, decoder)), explain(err))
	}
	if _, err := decoder.Token(); !errors.Is(err, io.EOF) {
		return fmt.Errorf("reading %s, %s: expected the end of the file after one JSON object", path,
			place(data, decoder.InputOffset()))
	}
	return nil
}

// explain puts the JSON package's errors into words of what was expected.
func explain(err error) string {
	var wrongType *json.UnmarshalTypeError
	if errors.As(err, &wrongType) {
		return fmt.Sprintf("field %s: expected %s, found %s", wrongType.Field, kindWords(wrongType.Type.String()),
			wrongType.Value)
	}
	if errors.Is(err, io.EOF) || errors.Is(err, io.ErrUnexpectedEOF) {
		return "expected one whole JSON object, found the end of the file"
	}
	return strings.TrimPrefix(err.Error(), "json: ")
}

func kindWords(goType string) string {
	switch {
	case strings.HasPrefix(goType, "float"), strings.HasPrefix(goType, "int"):
		return "a number"
	case goType == "string":
		return "text"
	case goType == "bool":
		return "true or false"
	case strings.HasPrefix(goType, "[]"), strings.HasPrefix(goType, "["):
		return "a list"
	}
	return "an object"
}

// offsetOf finds where in the data an error lies. The decoder stops behind an
// unknown field, so that one is looked for by its name.
func offsetOf(data []byte, err error, decoder *json.Decoder) int64 {
	if _, name, found := strings.Cut(err.Error(), "unknown field "); found {
		if at := bytes.Index(data, []byte(name)); at >= 0 {
			return int64(at)
		}
	}
	var syntax *json.SyntaxError
	var wrongType *json.UnmarshalTypeError
	switch {
	case errors.As(err, &syntax):
		return syntax.Offset
	case errors.As(err, &wrongType):
		return wrongType.Offset
	}
	return decoder.InputOffset()
}

// place turns a byte offset into a line and column.
func place(data []byte, offset int64) string {
	before := data[:min(max(0, offset), int64(len(data)))]
	return fmt.Sprintf("line %d column %d", bytes.Count(before, []byte("\n"))+1,
		len(before)-bytes.LastIndexByte(before, '\n'))
}

// printJSON writes one object, and nothing else, to standard output.
func printJSON(w io.Writer, v any) error {
	encoder := json.NewEncoder(w)
	encoder.SetEscapeHTML(false)
	return encoder.Encode(v)
}

// unwrapPath drops the path from a file error, for messages that name it already.
func unwrapPath(err error) error {
	var pathError *os.PathError
	if errors.As(err, &pathError) {
		return pathError.Err
	}
	return err
}
