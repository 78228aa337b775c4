SHELL := bash
.SHELLFLAGS := -eu -o pipefail -c

.PHONY: demo serve build test unit store race fuzz browser pictures bench attack

# Starts the application with the demo workshop.
demo: build
	@exec bin/chalkstep demo

# Starts the application with a workshop of your own.
serve: build
	@exec bin/chalkstep serve

build:
	@scripts/setup
	@scripts/assets
	@go build -o bin/chalkstep ./cmd/chalkstep

# Everything: format, vet, lint, unit, store and browser tests.
test:
	@scripts/test

# One layer of it.
unit store race fuzz browser:
	@scripts/test $@

# The browser tests, which keep the pictures of the documents instead of
# comparing them.
pictures:
	@CHALKSTEP_PICTURES=yes scripts/test browser

# The bars the product is held to, as a table.
bench:
	@scripts/setup test
	@scripts/assets
	@HOSTILE_INPUTS=1000000 go test ./core/stitch -run TestHostileInputs -count=1 -v | grep -E 'inputs, at most|^(ok|FAIL|---)'
	@go test -tags bench ./bench -count=1 -v
	@SEQUENCES=10000 go test ./core/live -run TestAnySequenceOfEvents -count=1
	@SMALL_DAYS=200 go test ./core/schedule/search -run TestSmallDaysAreOptimal -count=1
	@go test ./core/stitch -run 'TestAtLeast95|TestPiecesIn|TestColourOrder' -bench 'ThirtyCopies|Coverages' -count=1 -v | grep -E 'right|^(Benchmark|ok|FAIL|---)'
	@go test ./core/stitch/outline ./core/stock ./core/schedule/search -run 'TestRoundHoles|TestOffsetsAre|TestRemnantsAreChosen|TestNoPlanBeats' -bench Ragged -count=1 -v | grep -E 'go:[0-9]+: .* of |^(Benchmark|ok|FAIL|---)'
	@go test -tags bench ./e2e -run 'TestPagesAreLight|TestALargeDesign' -bench Pages -count=1 -v | grep -E 'load|frames|^(Benchmark|ok|FAIL|---)'

# Races, kills, floods, growth and load, as a table.
attack:
	@scripts/setup test
	@scripts/assets
	@go test -tags attack -timeout 30m ./attack -count=1 -v | grep -vE '^(=== |--- PASS|PASS)'
	@go test ./paper ./core/stitch -run '^$$' -bench 'ALongWord|WideStops' -benchtime 3x | grep -E '^(Benchmark|FAIL)'
