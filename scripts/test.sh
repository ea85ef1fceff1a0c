#!/usr/bin/env bash
# Sets up and runs everything that must pass. What is independent runs side by side.
set -euo pipefail
cd "$(dirname "$0")/.."
start=$SECONDS
say() { printf '\n== %s (%d s)\n' "$*" $((SECONDS - start)); }

interface() {
    (cd web && npm run --silent typecheck && npm run --silent lint && npm run --silent format)
    (cd e2e && npm run --silent typecheck)
    scripts/build.sh interface
}

scripts/setup.sh tests
said=$(mktemp)
trap 'rm -f "$said"' EXIT
interface >"$said" 2>&1 &
beside=$!
say "Formatting and lints"
cargo fmt --all -- --check
cargo clippy --quiet --locked --workspace --all-targets -- -D warnings
say "Building the program and its tests"
cargo test --quiet --locked --workspace --no-run
say "Generated files"
scripts/generate.sh check
say "Interface: types, lint, format, build"
wait $beside || { cat "$said"; exit 1; }
cat "$said"
say "Rust tests"
scripts/with-database.sh cargo test --quiet --locked --workspace
say "Browser tests"
scripts/with-database.sh bash -c 'cd e2e && npm test --silent'
say "Passed"
