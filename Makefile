.PHONY: demo test torture dev check bench shots generate serve

demo:      ## set up, build, start the database, load the demo, serve
	@scripts/demo.sh demo

serve:     ## the same without demo data
	@scripts/demo.sh serve

test:      ## set up and pass everything that CI runs
	@scripts/test.sh

torture:   ## minutes of kills and nonsense: nothing acknowledged is lost, nothing panics
	@scripts/torture.sh

check:     ## quick checks without a database or a browser
	cargo fmt --all -- --check
	cargo clippy --workspace --all-targets -- -D warnings
	cd web && npm run --silent typecheck && npm run --silent lint
	@scripts/test-share.sh

dev:       ## interface with reload at port 5173, beside a running "make demo"
	cd web && npm run dev

generate:  ## rewrite the files made from the program
	@scripts/generate.sh

bench:     ## measure and print
	@scripts/bench.sh

shots:     ## refresh docs/screenshots from the demo data
	@scripts/shots.sh
