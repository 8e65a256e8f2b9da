# Falda. The two commands are `make demo` and `make test`; everything else serves them.
GO ?= go
ADDR ?= 127.0.0.1:8087
DATA ?= demo-data

.PHONY: demo test test-race test-rest testdeps build check fmt audit generate bench fuzz faults deps web licences clean

# Go files that people write.
GOFILES = $(shell find . -name '*.go' -not -name '*.gen.go' -not -path './web/node_modules/*')

demo: build
	bin/falda demo --addr $(ADDR) --data $(DATA)

# All tests. What is concurrent runs under the race detector; its tests with much data, and all other packages, beside it.
test: testdeps web check
	@$(MAKE) --no-print-directory -j2 test-race test-rest

RACED = ./internal/device/... ./internal/work/... ./internal/api/...
# The atlas' files are decoded side by side: under the race detector it is loaded, and made to refuse.
LOADING = 'TestSplitClosesExactly|LoaderRefuses'
BULK = 'TestNoQuestionReadsAWholeShop|TestLongListsGoOn|TestHistoryOfAYearIsSmall|TestUpkeepReachesEveryResult'

test-race:
	CGO_ENABLED=1 $(GO) test -race -short -count=1 -timeout 50m $(RACED)
	CGO_ENABLED=1 $(GO) test -race -count=1 -timeout 30m -run $(LOADING) ./internal/core/atlas

# The browser drives a program that Go does not know it depends on, hence -count=1.
test-rest:
	$(GO) test -count=1 -timeout 50m $$($(GO) list ./... | grep -vE '/internal/(device|work|api)(/|$$)')
	$(GO) test -count=1 -timeout 30m -run $(BULK) ./internal/api ./internal/work

build: deps web
	$(GO) build -o bin/falda ./cmd/falda
	@sh scripts/sizes.sh

# The Debian package, into dist/.
.PHONY: deb
deb: build
	@sh scripts/deb.sh dist

# Debian packages that are missing: MariaDB's server; for the tests Chromium, GLPK's solver and a C compiler too.
deps:
	@sh scripts/deps.sh

testdeps:
	@sh scripts/deps.sh tests

web: deps web/node_modules/.stamp
	cd web && npm run --silent build -- --logLevel warn

web/node_modules/.stamp: web/package.json web/package-lock.json
	cd web && npm ci --no-audit --no-fund --loglevel=error
	@touch $@

check: web/node_modules/.stamp
	@test -z "$$(gofmt -l .)" || { gofmt -l .; echo 'not formatted: make fmt does it'; exit 1; }
	@$(GO) run ./scripts/wrap -l $(GOFILES) || { echo 'lines too long: make fmt breaks them'; exit 1; }
	@$(GO) run ./scripts/longfuncs $(filter-out %_test.go,$(GOFILES))
	$(GO) vet ./...
	$(GO) tool staticcheck ./...
	cd web && npm run --silent check

# Formats Go files (gofmt, and lines of more than 120 characters broken) and the front end (Prettier).
fmt: web/node_modules/.stamp
	@$(GO) run ./scripts/wrap $(GOFILES)
	@cd web && npm run --silent format

# Go and TypeScript types from api/openapi.yaml; a test fails when they are stale.
generate: web/node_modules/.stamp
	$(GO) tool oapi-codegen -config api/oapi-codegen.yaml -o internal/api/contract/contract.gen.go api/openapi.yaml
	cd web && npm run --silent types

# Known vulnerabilities in what Falda is built from; says so where the lists cannot be reached.
audit: web/node_modules/.stamp
	@GO='$(GO)' sh scripts/audit.sh

# THIRD_PARTY.md: what ships that others made, and their licences; a test fails when one is missing.
licences: web/node_modules/.stamp
	@GO='$(GO)' node scripts/licences.mjs

# Fuzzes every parser for a while: FUZZTIME each.
FUZZTIME ?= 20s
fuzz:
	@for target in $$(grep -rho --include='*_test.go' '^func Fuzz[A-Za-z]*' internal | sed 's/func //' | sort); do \
	  dir=$$(grep -rl --include='*_test.go' "^func $$target(" internal | head -1 | xargs dirname); \
	  echo "$$target in $$dir"; \
	  $(GO) test -run '^$$' -fuzz "^$$target$$" -fuzztime $(FUZZTIME) -timeout 10m ./$$dir || exit 1; \
	done

# A hundred thousand odd requests, for every route and everybody; ODD says how many, SEED which ones.
ODD ?= 100000
SEED ?= 1
.PHONY: fuzz-api
fuzz-api: testdeps
	FALDA_ODD=$(ODD) FALDA_SEED=$(SEED) $(GO) test -count=1 -v -timeout 60m -run '^TestOddRequests$$' ./internal/api

# A thousand shops of a thousand pieces beside one of a hundred: SCALE says how many of how many. It takes 20 GB of disk,
# 16 GB of memory and, by the disk, 40 minutes or more.
SCALE ?= 1000x1000
.PHONY: scale
scale: testdeps
	FALDA_SCALE=$(SCALE) $(GO) test -count=1 -v -timeout 90m -run '^TestScale$$' ./internal/api

# What is measured: ratios within one run, not seconds.
bench:
	$(GO) test -run '^$$' -bench . -benchtime 2s ./internal/...
	FALDA_LOAD=60 $(GO) test -count=1 -v -run TestFiftyBenches ./internal/api

clean:
	rm -rf bin web/node_modules
	find web/dist -mindepth 1 ! -name .keep -delete

# What is acknowledged survives 50 kills of the program and 20 of its database at random moments.
faults: web
	FALDA_FAULTS=50 $(GO) test -count=1 -v -timeout 30m -run TestNothingAcknowledged ./test/browser

# Two programs on a Galera cluster of three nodes, all on loopback, while nodes, programs and a link die and come back,
# each so many times; tells what a cluster costs.
TIMES ?= 3
.PHONY: cluster
cluster: web testdeps
	FALDA_CLUSTER=$(TIMES) $(GO) test -count=1 -v -timeout 60m -run '^Test(ACluster|AReplica.*)$$' ./test/browser

# A year of a shop's work, entered through the interface by a clock of its own; WEEKS says how long it is. The pictures
# of docs/year.md are taken from it.
WEEKS ?= 52
.PHONY: year
year: web testdeps
	FALDA_WEEKS=$(WEEKS) FALDA_PICTURES=$(CURDIR)/docs/year $(GO) test -count=1 -v -timeout 60m -run '^TestAYear$$' ./test/year

# Takes every picture of docs/screenshots anew, from demo data on a day that never changes.
.PHONY: pictures
pictures: build testdeps
	@$(GO) run ./scripts/pictures
