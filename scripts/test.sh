#!/usr/bin/env bash
# Sets up and runs everything that must pass.
set -euo pipefail
cd "$(dirname "$0")/.."
say() { printf '\n== %s\n' "$*"; }

scripts/setup.sh tests
say "Formatting and lints"
cargo fmt --all -- --check
cargo clippy --quiet --locked --workspace --all-targets -- -D warnings
say "Generated files"
scripts/generate.sh check
say "Interface: types, lint, format, build"
(cd web && npm run --silent typecheck && npm run --silent lint && npm run --silent format)
(cd e2e && npm run --silent typecheck)
scripts/build.sh
say "Rust tests"
scripts/with-database.sh cargo test --quiet --locked --workspace
say "Browser tests"
scripts/with-database.sh bash -c 'cd e2e && npm test --silent'
